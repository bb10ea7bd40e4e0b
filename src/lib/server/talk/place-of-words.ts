import { lockItem } from '../items/change-item';
import type { Tx } from '../platform/db/database';
import { requireTalk, type Talk } from './words';

/** What words are about: one thing that was asked, or nothing in particular, between the firm and one person. */
export type WordsOf = { itemId: string } | Talk;

/** Words `m` that are about what the first three parameters, a place's `ids`, say. */
export const OF_PLACE = '(m.item_id = $1 or m.item_id is null and m.client_id = $2 and m.with_contact_id = $3)';

export interface PlaceOfWords {
	ids: readonly [item: string | null, client: string | null, contact: string | null];
	/** the title of the thing, or the name of the person */ about: string;
	/** the same as history names it */ what: string;
	/** of what it is written in the history */ event: { clientId: string; contactId?: string; requestId?: string; itemId?: string };
}

/** The place of words, with the thing locked that they are about. @throws DomainError not_found */
export async function requirePlaceOfWords(tx: Tx, of: WordsOf): Promise<PlaceOfWords> {
	if ('itemId' in of) {
		const item = await lockItem(tx, of.itemId);
		const event = { clientId: item.client_id, requestId: item.request_id, itemId: item.id };
		return { ids: [item.id, null, null], about: item.title, what: `“${item.title}”`, event };
	}
	const { clientId, contactId, contactName } = await requireTalk(tx, of);
	return { ids: [null, clientId, contactId], about: contactName, what: contactName, event: { clientId, contactId } };
}
