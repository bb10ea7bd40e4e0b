import { error } from '@sveltejs/kit';
import { LEAF_KEYS, readLeaf } from '$lib/server/rounds/read-leaf';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';

const KEY = new RegExp(`^(${LEAF_KEYS.join('|')})-([0-9a-f-]{36})$`);

export const load = async (event) => {
	event.depends('desk:live');
	const match = KEY.exec(event.params.key);
	if (!match) error(404, 'There is nothing here.');
	const desk = await deskRequest(event);
	return inPage(() => desk.read((tx, firm) => readLeaf(tx, desk.actor, firm, match[1], match[2])));
};
