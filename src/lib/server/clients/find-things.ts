import type { ItemState } from '$lib/core/requests/item-states';
import { requireStaff, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';
import { searchWords } from './find-clients';

export interface FoundThing {
	kind: 'item' | 'request' | 'paper';
	id: string;
	clientId: string;
	clientName: string;
	title: string;
	state: ItemState | null;
}

/**
 * Lines, requests and papers by the words of their titles and of their client's name, in any order and without accents; what is not
 * settled comes first, then the newest.
 */
export function findThings(tx: Tx, actor: Actor, typed: string, most: number): Promise<FoundThing[]> {
	requireStaff(actor, 'look');
	const [wanted] = searchWords(typed);
	return tx.rows<FoundThing>('select kind, id, client_id as "clientId", client_name as "clientName", title, state from search_things($1, $2)', [
		wanted,
		most
	]);
}
