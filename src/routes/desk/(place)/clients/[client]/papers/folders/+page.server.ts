import { z } from 'zod';
import { folderSchema } from '$lib/core/papers/folders';
import { holdReasonField } from '$lib/core/papers/retention';
import { holdPapers, readHold } from '$lib/server/papers/retention';
import { changeFolder, readFolders, removeFolder } from '$lib/server/papers/folders';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const id = idParam(event.params.client);
	return inPage(() => desk.read(async (tx) => ({ ...(await readFolders(tx, desk.actor, id)), hold: await readHold(tx, desk.actor, id) })));
};

const folderId = z.uuid('Choose a folder.');

export const actions = {
	change: (event) =>
		deskForm(event, (tx, desk, form) =>
			changeFolder(
				tx,
				desk.actor,
				folderId.parse(form.get('folderId')),
				folderSchema.parse({
					name: form.get('name'),
					clientMay: form.get('clientMay'),
					contactIds: form.get('whom') === 'some' ? form.getAll('contactIds') : null,
					keepYears: form.get('keepYears')
				})
			)
		),
	hold: (event) =>
		deskForm(event, (tx, desk, form) =>
			holdPapers(tx, desk.actor, { clientId: idParam(event.params.client), reason: holdReasonField.parse(form.get('reason')) })
		),
	remove: (event) => deskForm(event, (tx, desk, form) => removeFolder(tx, desk.actor, folderId.parse(form.get('folderId'))))
};
