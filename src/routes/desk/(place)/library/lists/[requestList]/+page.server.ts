import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { chasePlanChoices } from '$lib/core/chasing/chase-plan';
import { READY_MADE_LETTER } from '$lib/core/letters/ready-made-letter';
import { may } from '$lib/core/people/roles';
import { inHand, requestListSchema } from '$lib/core/requests/request-list';
import { readWritingPlace } from '$lib/server/requests/writing-place';
import { readServices } from '$lib/server/clients/client-record';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage, jsonField } from '$lib/web/form-errors';
import { changeList, copyList, readList, readListShelves, readListVersions, removeList, restoreList } from '$lib/server/library/request-lists';
import { readGroups } from '$lib/server/people/groups';
import { readAttachments } from '$lib/server/attachments/attachments';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const list = await readList(tx, desk.actor, idParam(event.params.requestList));
			const time = (at: string) => timeWords(firm.locale, at, firm.calendar.timeZone);
			return {
				list: { ...list, changedAt: time(list.changedAt), lines: list.lines.map((line) => inHand(line)) },
				versions: (await readListVersions(tx, list.id)).map((version) => ({ ...version, keptAt: time(version.keptAt) })),
				files: await readAttachments(
					tx,
					list.lines.flatMap((line) => line.attachments)
				),
				services: (await readServices(tx)).map((service) => service.name),
				groups: (await readGroups(tx)).map(({ id, name }) => ({ id, name })),
				shelves: await readListShelves(tx),
				plans: chasePlanChoices(firm),
				letter: READY_MADE_LETTER,
				place: await readWritingPlace(tx, firm),
				mayKeep: may(desk.actor.role, 'keep_library')
			};
		})
	);
};

const versionField = z.coerce.number().int().positive();

export const actions = {
	save: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const typed = jsonField(form, 'list', 1_500_000, 'The list did not arrive whole. What you wrote is still here; please save it again.');
			await changeList(tx, desk.actor, idParam(event.params.requestList), versionField.parse(form.get('version')), requestListSchema.parse(typed));
		}),
	restore: (event) =>
		deskForm(event, (tx, desk, form) =>
			restoreList(tx, desk.actor, idParam(event.params.requestList), versionField.parse(form.get('restore')), versionField.parse(form.get('version')))
		),
	copy: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			redirect(303, `/desk/library/lists/${await desk.inFirm((tx) => copyList(tx, desk.actor, { id: idParam(event.params.requestList) }))}`);
		});
	},
	remove: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await desk.inFirm((tx) => removeList(tx, desk.actor, idParam(event.params.requestList)));
			redirect(303, '/desk/library/lists');
		});
	}
};
