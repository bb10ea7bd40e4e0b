import { z } from 'zod';
import { CLIENT_MAY, folderNameField, FOLDERS_MOST } from '$lib/core/papers/folders';
import { keepYearsField } from '$lib/core/papers/retention';
import { readServiceUse } from '$lib/server/firms/services';
import { changeProposedFolders, firstFolders, readProposedFolders } from '$lib/server/papers/folders';
import { deskForm, deskRequest } from '$lib/web/desk-request';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx) => ({
		folders: await readProposedFolders(tx, desk.actor),
		first: firstFolders(),
		services: (await readServiceUse(tx)).map(({ id, name }) => ({ id, name }))
	}));
};

const schemeSchema = z
	.array(z.object({ name: folderNameField, clientMay: z.enum(CLIENT_MAY), services: z.array(z.uuid()).max(100), keepYears: keepYearsField }))
	.max(FOLDERS_MOST, `Propose at most ${FOLDERS_MOST} folders.`);

export const actions = {
	save: (event) =>
		deskForm(event, (tx, desk, form) => changeProposedFolders(tx, desk.actor, schemeSchema.parse(JSON.parse(String(form.get('folders') ?? '[]')))))
};
