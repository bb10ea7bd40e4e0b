import { error } from '@sveltejs/kit';
import { actsOnLeaf, LEAF_KINDS, readLeaf } from '$lib/server/rounds/read-leaf';
import { deskRequest } from '$lib/server/desk-request';
import { inPage } from '$lib/server/form-errors';

const KEY = new RegExp(`^(${LEAF_KINDS.join('|')})-([0-9a-f-]{36})$`);

export const load = async (event) => {
	event.depends('desk:live');
	const match = KEY.exec(event.params.key);
	if (!match) error(404, 'There is nothing here.');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const leaf = await readLeaf(tx, desk.actor, firm, match[1] as (typeof LEAF_KINDS)[number], match[2]);
			return { leaf, acts: await actsOnLeaf(tx, desk.actor, leaf) };
		})
	);
};
