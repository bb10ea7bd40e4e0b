import { redirect } from '@sveltejs/kit';
import { READY_MADE_LISTS } from '$lib/core/requests/ready-made-lists';
import { may } from '$lib/core/people/roles';
import { requestListSchema } from '$lib/core/requests/request-list';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';
import { addList, copyList, readLists } from '$lib/server/library/request-lists';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => ({
		lists: (await readLists(tx, desk.actor)).map((list) => ({ ...list, changedAt: timeWords(firm.locale, list.changedAt, firm.calendar.timeZone) })),
		ready: READY_MADE_LISTS.map(({ id, name, about, lines }) => ({
			id,
			name,
			about,
			lines: lines.length,
			conditional: lines.filter((line) => line.condition).length,
			/** the first few, to know what it is like */
			first: lines.slice(0, 4).map((line) => line.title)
		})),
		mayKeep: may(desk.actor.role, 'keep_library')
	}));
};

export const actions = {
	/** A list of the firm's own from a ready-made one, or an empty one with a first line. */
	make: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const ready = form.get('ready');
			const copy = form.get('copy');
			const id = await desk.inFirm((tx) =>
				ready
					? copyList(tx, desk.actor, { readyMade: String(ready) })
					: copy
						? copyList(tx, desk.actor, { id: idParam(String(copy)) })
						: addList(
								tx,
								desk.actor,
								requestListSchema.parse({
									name: 'A new list',
									about: '',
									title: 'A few things, please',
									shared: 'person',
									lines: [
										{
											kind: 'paper',
											key: 'first',
											title: 'The first thing to ask for',
											required: true,
											due: { from: 'asked', offset: 8, unit: 'business_days', roll: 'none' },
											spec: { slots: [] }
										}
									]
								})
							)
			);
			redirect(303, `/desk/library/lists/${id}`);
		});
	}
};
