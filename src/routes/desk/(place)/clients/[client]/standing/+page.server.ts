import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { READY_MADE_LISTS } from '$lib/core/requests/ready-made-lists';
import { inHand } from '$lib/core/requests/request-list';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { recurringSchema } from '$lib/core/schedules/recurring-form';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { readOpenLetters } from '$lib/server/letters/open-letters';
import { readList, readLists } from '$lib/server/library/request-lists';
import { loadRecurringSheet, previewRecurring, typedRecurring } from '$lib/web/recurring-forms';
import { moveRecurring, writeRecurring } from '$lib/server/schedules/change-recurring';

/** A new standing request: from a list of the Library, or an empty sheet. */
export const load = async (event) => {
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	const wanted = event.url.searchParams;
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const list = wanted.has('list') ? await readList(tx, desk.actor, idParam(wanted.get('list') ?? '')) : null;
			const ready = READY_MADE_LISTS.find((one) => one.id === wanted.get('ready'));
			const from = list ?? ready ?? null;
			const today = localDate(desk.actor.now, firm.calendar);
			return {
				...(await loadRecurringSheet(tx, desk.actor, firm)),
				openLetters: await readOpenLetters(tx, desk.actor, clientId),
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
			const afterLetters = z.array(z.uuid()).max(20).parse(form.getAll('afterLetter').filter(Boolean));
			const id = await desk.inFirm(async (tx) => {
				const made = await writeRecurring(tx, desk.actor, clientId, recurringSchema.parse(typedRecurring(form)), null);
				if (afterLetters.length > 0) await moveRecurring(tx, desk.actor, { id: made, to: 'paused', reason: '', afterLetters });
				return made;
			});
			redirect(303, `/desk/clients/${clientId}/standing/${id}`);
		});
	},
	preview: (event) => previewRecurring(event)
};
