import { DomainError } from '$lib/core/errors/domain-error';
import { foundAround } from '$lib/core/papers/found-around';
import type { ItemState } from '$lib/core/requests/item-states';
import { requireStaff, type Actor } from '../actor';
import { openedBy, openTo } from '../outbox/papers-to-tell';
import type { Tx } from '../platform/db/database';

/** Papers that are shown at once. */
const PAGE = 60;
/** Most words of which the place inside is shown. */
const WORDS_MOST = 8;

/** Where a paper of a client is: it answers what was asked, is kept, waits for its place or to be let in, or needs no place. */
export type PaperPlace = 'item' | 'kept' | 'waits' | 'held' | 'away';

/** A paper among those of a client. */
export interface ClientPaper {
	id: string;
	clientId: string;
	clientName: string;
	name: string;
	bytes: number;
	contentType: string;
	note: string;
	sender: string;
	/** somebody of the firm added it */
	ours: boolean;
	at: string;
	place: PaperPlace;
	itemId: string | null;
	title: string | null;
	state: ItemState | null;
	folderId: string | null;
	folder: string | null;
	/** it was shown to the client; in a folder that is closed to them they do not see it all the same */
	shown: boolean;
	closed: boolean;
	/** what a scanner found in it; null for nothing */
	keptApart: string | null;
	/** how many versions came before it */
	earlier: number;
	/** the words around what was looked for, where it stands inside; null where it does not */
	inside: string | null;
}

/** What a paper may be, as it is looked for. */
export const PAPER_KINDS = ['pdf', 'picture', 'text', 'other'] as const;
export type PaperKind = (typeof PAPER_KINDS)[number];
/** Whom a paper is for, as it is looked for. */
export const PAPER_SEEN = ['client', 'ours'] as const;
export type PaperSeen = (typeof PAPER_SEEN)[number];

export interface PapersWanted {
	/** of one client; null for those of all that this person may see */
	clientId: string | null;
	typed?: string;
	/** the id of a folder, or what lies in none */
	folder?: string | 'none' | null;
	seen?: PaperSeen | null;
	kind?: PaperKind | null;
	/** first and last day on which it came, `YYYY-MM-DD`, in the firm's time zone */
	from?: string | null;
	to?: string | null;
	/** the last paper that was shown, from which it goes on */
	before?: string | null;
}

// what a client has not handed in yet is theirs
const HERE = `p.removed_at is null and (p.item_id is null or p.unasked or i.state not in ('asked', 'seen', 'started'))`;
const SEEN = `p.shown_at is not null and coalesce(f.client_may, 'see') <> 'nothing'`;
const KIND = `case when p.content_type = 'application/pdf' then 'pdf' when p.content_type like 'image/%' then 'picture' when p.content_type = 'text/plain' then 'text' else 'other' end`;

/** Papers with what they answer and where they lie, for `COLUMNS`. */
const BESIDE = `p.*, i.title, i.state, f.name folder, f.client_may from paper p left join item i on i.id = p.item_id left join folder f on f.id = p.folder_id`;
const NAMED = `join client c on c.id = p.client_id left join contact ct on ct.id = p.uploaded_by_contact_id
	left join staff st on st.id = p.given_by_id left join incoming_mail m on m.id = p.mail_id`;
const COLUMNS = `p.id, p.client_id "clientId", c.name "clientName", p.name, p.bytes, p.content_type "contentType", p.note, p.scan_found "keptApart",
	coalesce(ct.name, st.name, nullif(m.from_address, ''), '') sender, p.given_by_id is not null ours, p.uploaded_at "at", p.place,
	p.item_id "itemId", p.title, p.state, p.folder_id "folderId", p.folder, p.shown_at is not null shown, coalesce(p.client_may = 'nothing', false) closed,
	(select count(*) from paper o where o.newer_id = p.id) earlier`;

/** The words around the first of what was typed, or of the beginning of one, as it stands in another form. */
function placeInside(text: string, typed: string): string | null {
	const words = typed
		.trim()
		.split(/[\s,;]+/)
		.filter((word) => word !== '')
		.slice(0, WORDS_MOST);
	return (
		foundAround(text, words) ??
		foundAround(
			text,
			words.filter((word) => word.length > 4).map((word) => word.slice(0, Math.max(4, word.length - 3)))
		)
	);
}

/**
 * Papers that are here, the newest first: all of them, or those in whose name, note, sender, title of what they answer, folder or words inside
 * all of some words stand, in one of their forms. Of a paper with versions the newest stands for all.
 */
export async function readPapers(tx: Tx, actor: Actor, wanted: PapersWanted): Promise<{ papers: ClientPaper[]; more: boolean }> {
	requireStaff(actor, 'look');
	const { clientId, typed = '', folder = null, seen = null, kind = null, from = null, to = null, before = null } = wanted;
	// put together: with a word the index of words leads, without one the order of days
	const looking = typed.trim() !== '';
	const found = looking ? 'p.id in (select papers_found($3))' : `$3 = ''`;
	// a word that is rare would else be looked for day by day, through every paper of the firm
	const day = looking ? `p.uploaded_at + interval '0'` : 'p.uploaded_at';
	const rows = await tx.rows<Omit<ClientPaper, 'inside'> & { words: string | null }>(
		`select ${COLUMNS}, case when $3 <> '' then p.first_words end words
		from (select ${BESIDE}
			where p.firm_id = $1 and ($2::uuid is null or p.client_id = $2) and p.newer_id is null and ${HERE} and ${found}
				and ($4::text is null or case when $4 = 'none' then p.folder_id is null and p.place in ('item', 'kept') else p.folder_id::text = $4 end)
				and ($5::text is null or (${SEEN}) = ($5 = 'client')) and ($6::text is null or ${KIND} = $6)
				and ($7::date is null or p.uploaded_at >= $7::date::timestamp at time zone (select time_zone from firm where id = $1))
				and ($8::date is null or p.uploaded_at < ($8::date + 1)::timestamp at time zone (select time_zone from firm where id = $1))
				and ($9::uuid is null or (p.uploaded_at, p.id) < (select uploaded_at, id from paper where id = $9))
			order by ${day} desc, p.id desc limit $10) p
			${NAMED}
		order by p.uploaded_at desc, p.id desc`,
		[tx.firmId, clientId, typed.trim(), folder, seen, kind, from, to, before, PAGE + 1]
	);
	return {
		papers: rows.slice(0, PAGE).map(({ words, ...paper }) => ({ ...paper, inside: words === null ? null : placeInside(words, typed) })),
		more: rows.length > PAGE
	};
}

/** How many papers of a client are here, how many of them have no place, how many the client sees, and when the last one came. */
export async function countClientPapers(
	tx: Tx,
	actor: Actor,
	clientId: string
): Promise<{ here: number; waiting: number; shown: number; lastAt: string | null }> {
	requireStaff(actor, 'look');
	const count = await tx.first<{ here: number; waiting: number; shown: number; lastAt: string | null }>(
		`select count(*) here, count(*) filter (where p.waits) waiting, count(*) filter (where ${SEEN}) shown, max(p.uploaded_at) "lastAt"
		from paper p left join item i on i.id = p.item_id left join folder f on f.id = p.folder_id where p.client_id = $1 and p.newer_id is null and ${HERE}`,
		[clientId]
	);
	if (!count) throw new DomainError('not_found', 'This client is not here any more.');
	return count;
}

/** A paper with what is known of it. */
export interface PaperPage {
	paper: ClientPaper;
	/** all versions of it, the newest first */
	versions: { id: string; name: string; at: string; bytes: number; by: string; shown: boolean }[];
	/** what became of it, the newest first */
	history: { at: string; by: string; verb: string; details: Record<string, unknown> }[];
	/** people of the client who see it, and whether they have opened it */
	seenBy: { name: string; opened: boolean; toBeTold: boolean }[];
	/** papers beside which it may be laid, its versions first: of its folder, or under the same title */
	others: { id: string; name: string; contentType: string; at: string; version: boolean }[];
	/** pages of a PDF; null where it is none, or could not be opened */
	pages: number | null;
}

/** One paper of a client. @throws DomainError not_found */
export async function readPaperPage(tx: Tx, actor: Actor, clientId: string, paperId: string): Promise<PaperPage> {
	requireStaff(actor, 'look');
	const row = await tx.first<Omit<ClientPaper, 'inside'> & { pages: number | null }>(
		`select ${COLUMNS}, p.pages
		from (select ${BESIDE} where p.id = $1 and p.client_id = $2 and ${HERE}) p ${NAMED}`,
		[paperId, clientId]
	);
	if (!row) throw new DomainError('not_found', 'This paper is not here any more.');
	const { pages, ...paper } = row;
	const versions = await tx.rows<PaperPage['versions'][number]>(
		`select p.id, p.name, p.uploaded_at "at", p.bytes, coalesce(ct.name, st.name, '') "by", p.shown_at is not null shown
		from paper one join paper p on coalesce(p.newer_id, p.id) = coalesce(one.newer_id, one.id) and p.client_id = one.client_id and p.removed_at is null
			left join contact ct on ct.id = p.uploaded_by_contact_id left join staff st on st.id = p.given_by_id
		where one.id = $1 order by p.newer_id nulls first, p.uploaded_at desc, p.id`,
		[paperId]
	);
	const history = await tx.rows<PaperPage['history'][number]>(
		'select at, actor_name "by", verb, details from event where paper_id = $1 order by id desc limit 100',
		[paperId]
	);
	const seenBy = paper.shown
		? await tx.rows<PaperPage['seenBy'][number]>(
				`select ct.name, ${openedBy('ct.id')} opened,
					exists (select from paper_announcement a where a.paper_id = p.id and a.contact_id = ct.id and a.told_at is null) "toBeTold"
				from paper p join client_contact cc on cc.client_id = p.client_id join contact ct on ct.id = cc.contact_id left join folder f on f.id = p.folder_id
				where p.id = $1 and ${openTo('ct.id')} order by cc.rank, lower(ct.name)`,
				[paperId]
			)
		: [];
	const others = await tx.rows<PaperPage['others'][number]>(
		`select p.id, p.name, p.content_type "contentType", p.uploaded_at "at", coalesce(p.newer_id, p.id) = coalesce(one.newer_id, one.id) version
		from paper one left join item answered on answered.id = one.item_id join paper p on p.client_id = one.client_id and p.id <> one.id
			left join item i on i.id = p.item_id
		where one.id = $1 and ${HERE} and not p.held
			and (coalesce(p.newer_id, p.id) = coalesce(one.newer_id, one.id) or p.newer_id is null and (p.folder_id = one.folder_id or i.title = answered.title))
		order by version desc, p.uploaded_at desc, p.id limit 40`,
		[paperId]
	);
	return { paper: { ...paper, inside: null }, versions, history, seenBy, others, pages };
}
