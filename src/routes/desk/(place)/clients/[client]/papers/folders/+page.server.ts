import { z } from 'zod';
import { folderSchema } from '$lib/core/papers/folders';
import { changeFolder, readFolders, removeFolder } from '$lib/server/papers/folders';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const id = idParam(event.params.client);
	return inPage(() => desk.read((tx) => readFolders(tx, desk.actor, id)));
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
					contactIds: form.get('whom') === 'some' ? form.getAll('contactIds') : null
				})
			)
		),
	remove: (event) => deskForm(event, (tx, desk, form) => removeFolder(tx, desk.actor, folderId.parse(form.get('folderId'))))
};
