import { DomainError } from '$lib/core/errors/domain-error';
import { aroundFound, type Piece } from '$lib/core/talk/find-written';
import { requireStaff, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';

/** Words that were written at a client, in which something was found. */
export interface FoundWords {
	id: string;
	/** what only the firm reads */ ours: boolean;
	by: string;
	writtenAt: string;
	/** what they are about, or the person with whom the talk is; null for a note about the client */
	about: string | null;
	itemId: string | null;
	/** with whom the talk is */ contactId: string | null;
	pieces: Piece[];
}
/** Most that are listed; there may be more. */
export const FOUND_MOST = 50;

/**
 * Finds what client and firm wrote to each other, and what the firm noted, by words that all have to be in it; without regard to case and
 * accents. The last come first.
 * @param terms as `findWrittenSchema` gives them
 * @throws DomainError not_found for a client that whoever asks may not see
 */
export async function findWritten(tx: Tx, actor: Actor, clientId: string, terms: readonly string[]): Promise<FoundWords[]> {
	requireStaff(actor, 'look');
	if (!(await tx.first('select 1 from client where id = $1', [clientId]))) throw new DomainError('not_found', 'There is no such client.');
	if (terms.length === 0) return [];
	const found = await tx.rows<Omit<FoundWords, 'pieces'> & { words: string }>(
		`with wanted as materialized (
			select array_agg('%' || replace(replace(replace(plain(t), '\\', '\\\\'), '%', '\\%'), '_', '\\_') || '%') patterns from unnest($2::text[]) t
		), written as (
			select m.id, false ours, m.words, coalesce(s.name, c.name, '') as by, m.written_at, m.item_id, m.with_contact_id, m.number
			from remark m left join staff s on s.id = m.staff_id left join contact c on c.id = m.contact_id where m.client_id = $1
			union all
			select n.id, true, n.words, s.name, n.written_at, n.item_id, n.with_contact_id, n.number
			from client_note n join staff s on s.id = n.written_by_id where n.client_id = $1 and n.removed_at is null
		)
		select w.id, w.ours, w.words, w.by, w.written_at "writtenAt", w.item_id "itemId", w.with_contact_id "contactId", coalesce(i.title, wc.name) about
		from written w left join item i on i.id = w.item_id left join contact wc on wc.id = w.with_contact_id
		where plain(w.words) like all (array(select unnest(patterns) from wanted)) order by w.written_at desc, w.number desc limit $3`,
		[clientId, terms, FOUND_MOST]
	);
	return found.map(({ words, ...one }) => ({ ...one, pieces: aroundFound(words, terms) }));
}
