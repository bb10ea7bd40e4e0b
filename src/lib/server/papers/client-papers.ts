import { DomainError } from '$lib/core/errors/domain-error';
import { foundAround } from '$lib/core/papers/found-around';
import type { ItemState } from '$lib/core/requests/item-states';
import { requireStaff, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';

/** Papers that are shown at once. */
const PAGE = 60;
/** Most words that are looked for, and the most letters of each. */
const WORDS_MOST = 6;
const LETTERS_MOST = 40;

/** Where a paper of a client is: it answers what was asked, is kept, waits for its place or to be let in, or needs no place. */
export type PaperPlace = 'item' | 'kept' | 'waits' | 'held' | 'away';

/** A paper among those of a client. */
export interface ClientPaper {
	id: string;
	name: string;
	bytes: number;
	note: string;
	sender: string;
	at: string;
	place: PaperPlace;
	itemId: string | null;
	title: string | null;
	state: ItemState | null;
	/** the words around what was looked for, where it stands inside; null where it does not */
	inside: string | null;
}

// what a client has not handed in yet is theirs
const HERE = `p.removed_at is null and (p.item_id is null or p.unasked or i.state not in ('asked', 'seen', 'started'))`;
const PLACE = `case when p.item_id is not null then 'item' when p.kept then 'kept' when p.put_away_at is not null then 'away' when p.held then 'held' else 'waits' end`;

/** What stands in a field in which papers are looked for, as words of which each must be found. */
const wordsOf = (typed: string): string[] =>
	typed
		.trim()
		.split(/[\s,;]+/)
		.filter((word) => word !== '')
		.slice(0, WORDS_MOST)
		.map((word) => word.slice(0, LETTERS_MOST));

/**
 * The papers of a client that are here, the newest first: all of them, or those in whose name, note, sender, title of what they answer, or
 * words inside all of some words stand.
 * @param looking what is typed, and the last paper that was shown, from which it goes on
 */
export async function readClientPapers(
	tx: Tx,
	actor: Actor,
	clientId: string,
	looking: { typed?: string; before?: string | null } = {}
): Promise<{ papers: ClientPaper[]; more: boolean }> {
	requireStaff(actor, 'look');
	const { typed = '', before = null } = looking;
	const words = wordsOf(typed);
	const rows = await tx.rows<Omit<ClientPaper, 'inside'> & { words: string | null }>(
		`select p.id, p.name, p.bytes, p.note, coalesce(ct.name, nullif(m.from_address, ''), '') sender, p.uploaded_at "at", ${PLACE} place,
			p.item_id "itemId", i.title, i.state, case when $4::text[] <> '{}' then p.first_words end words
		from paper p left join item i on i.id = p.item_id left join contact ct on ct.id = p.uploaded_by_contact_id left join incoming_mail m on m.id = p.mail_id
		where p.client_id = $1 and ${HERE}
			and ($2::uuid is null or (p.uploaded_at, p.id) < (select uploaded_at, id from paper where id = $2))
			and not exists (select from unnest($4::text[]) w where strpos(
				plain(concat_ws(' ', p.name, p.note, ct.name, m.from_address, m.from_name, i.title, p.first_words)), plain(w)) = 0)
		order by p.uploaded_at desc, p.id desc limit $3`,
		[clientId, before, PAGE + 1, words]
	);
	return {
		papers: rows.slice(0, PAGE).map(({ words: inside, ...paper }) => ({ ...paper, inside: inside === null ? null : foundAround(inside, words) })),
		more: rows.length > PAGE
	};
}

/** How many papers of a client are here, how many of them have no place, and when the last one came. */
export async function countClientPapers(tx: Tx, actor: Actor, clientId: string): Promise<{ here: number; waiting: number; lastAt: string | null }> {
	requireStaff(actor, 'look');
	const count = await tx.first<{ here: number; waiting: number; lastAt: string | null }>(
		`select count(*) here, count(*) filter (where p.item_id is null and p.put_away_at is null) waiting, max(p.uploaded_at) "lastAt"
		from paper p left join item i on i.id = p.item_id where p.client_id = $1 and ${HERE}`,
		[clientId]
	);
	if (!count) throw new DomainError('not_found', 'This client is not here any more.');
	return count;
}
