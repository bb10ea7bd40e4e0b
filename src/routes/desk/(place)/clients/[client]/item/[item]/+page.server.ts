import { error } from '@sveltejs/kit';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { readItemLeaf } from '$lib/server/rounds/item-leaf';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const leaf = await inPage(() => desk.read((tx, firm) => readItemLeaf(tx, desk.actor, firm, idParam(event.params.item))));
	if (leaf.item.clientId !== event.params.client) error(404, 'There is nothing here.');
	return { leaf };
};
