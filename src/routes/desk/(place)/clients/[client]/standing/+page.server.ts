import { redirect } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { READY_MADE_LISTS } from '$lib/core/requests/ready-made-lists';
import { inHand } from '$lib/core/requests/request-list';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { recurringSchema } from '$lib/core/schedules/recurring-form';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { readList, readLists } from '$lib/server/library/request-lists';
import { loadRecurringSheet, previewRecurring, typedRecurring } from '$lib/web/recurring-forms';
import { writeRecurring } from '$lib/server/schedules/change-recurring';

/** A new standing request: from a list of the Library, or an empty sheet. */
export const load = async (event) => {
	const desk = await deskRequest(event);
	idParam(event.params.client);
	const wanted = event.url.searchParams;
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const list = wanted.has('list') ? await readList(tx, desk.actor, idParam(wanted.get('list') ?? '')) : null;
			const ready = READY_MADE_LISTS.find((one) => one.id === wanted.get('ready'));
			const from = list ?? ready ?? null;
			const today = localDate(desk.actor.now, firm.calendar);
			return {
				...(await loadRecurringSheet(tx, desk.actor, firm)),
				chosen: from !== null || wanted.has('empty'),
				lists: (await readLists(tx, desk.actor)).map(({ id, name, about, lineCount }) => ({ id, name, about, lines: lineCount })),
				ready: READY_MADE_LISTS.map(({ id, name, about, lines }) => ({ id, name, about, lines: lines.length })),
				begun: {
					listId: list?.id ?? null,
					title: from ? (/\{period\}/.test(from.title) ? from.title : `${from.title}, {period}`) : 'Papers for {period}',
					message: '',
					// a letter is not asked for again and again
					lines: (from?.lines ?? []).filter((line) => line.kind !== 'letter').map((line) => inHand(line)),
					startsOn: addDays(today, 1)
				}
			};
		})
	);
};

export const actions = {
	save: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const clientId = idParam(event.params.client);
			const id = await desk.inFirm((tx) => writeRecurring(tx, desk.actor, clientId, recurringSchema.parse(typedRecurring(form)), null));
			if (!id) throw new DomainError('invalid', 'Nothing was set up. Please try again.');
			redirect(303, `/desk/clients/${clientId}/standing/${id}`);
		});
	},
	preview: (event) => previewRecurring(event)
};
