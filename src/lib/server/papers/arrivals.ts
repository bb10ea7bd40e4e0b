import { randomUUID } from 'node:crypto';
import type { Readable } from 'node:stream';
import { z } from 'zod';
import { isConfirmed, papersAddress, type Authentication } from '$lib/core/arrivals/incoming-mail';
import { isOfRule, ruleWords } from '$lib/core/arrivals/keeping-rules';
import { likelyPlaces, proposedPlace, surePlace, type LikelyPlace, type OpenPlace } from '$lib/core/arrivals/likely-places';
import { localDate } from '$lib/core/calendar/firm-calendar';
import type { PlaceOnPage } from '$lib/core/statements/printed/page-lines';
import type { StatementValue } from '$lib/core/statements/printed/read-printed';
import { DomainError } from '$lib/core/errors/domain-error';
import { kindOf } from '$lib/core/items/item-kinds';
import { isOfSlotType, PAPER_MAX_BYTES } from '$lib/core/papers/file-name';
import type { FolderChoice } from '$lib/core/papers/folders';
import { namesByPattern, whatIsWrong } from '$lib/core/papers/name-pattern';
import { optionalText } from '$lib/core/people/plain-fields';
import { isOpen, type ItemState } from '$lib/core/requests/item-states';
import { accountName } from '$lib/core/statements/accounts';
import { saying } from '$lib/words/sayings';
import { requireContact, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { lockItem, moveItem, withSpec, type LockedItem } from '../items/change-item';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import { readKeepingRules } from './filing-rules';
import { takeArrangementBack } from './arrange-pages';
import { folderChosen, readFolders } from './folders';
import { keepFile, renameRows, requireNew } from './keep-file';
import { readMailOfPaper, type MailOfPaper } from './papers-by-mail';
import { enqueue } from '../platform/queue';

/** Most files of one contact that wait for their place at once. */
export const WAITING_MOST = 60;
/** Characters that somebody may say of a file. */
const NOTE_MAX = 300;
export const noteField = optionalText('the note', NOTE_MAX).transform((text) => text ?? '');

/** @throws DomainError not_found for a client that is not theirs, changed_meanwhile for a closed one, too_many */
async function requireRoom(tx: Tx, actor: Actor, clientId: string): Promise<void> {
	requireContact(actor);
	const client = await tx.first<{ name: string; state: string }>('select name, state from client where id = $1', [clientId]);
	if (!client) throw new DomainError('not_found', saying('wrong.client.unknown'));
	if (client.state !== 'active') throw new DomainError('changed_meanwhile', saying('wrong.client.closed', { client: client.name }));
	const waiting = await tx.first<{ n: number }>(
		`select count(*) n from paper where firm_id = $1 and uploaded_by_contact_id = $2 and waits and arranged_from is null`,
		[tx.firmId, actor.id]
	);
	if (waiting!.n >= WAITING_MOST) throw new DomainError('too_many', saying('wrong.arrival.many', { max: WAITING_MOST }));
}

/**
 * Whether a contact may send one more file for a client, into a folder of theirs.
 * @throws DomainError not_found, changed_meanwhile, too_many
 */
export async function requireRoomForArrival(tx: Tx, actor: Actor, to: { clientId: string; folderId?: string | null }): Promise<void> {
	requireContact(actor);
	await requireRoom(tx, actor, to.clientId);
	// a folder that is not open to them is not there for them
	const folder =
		to.folderId && (await tx.first(`select 1 from folder where id = $1 and client_id = $2 and client_may = 'add'`, [to.folderId, to.clientId]));
	if (to.folderId && !folder) throw new DomainError('not_found', saying('wrong.paper.folder'));
}

/**
 * Takes in a file that a contact sends without being asked. It waits for somebody of the firm to give it its place.
 * @throws DomainError not_found, changed_meanwhile, too_many, unreadable_file, storage_full
 */
export async function takeInArrival(
	place: { db: Database; papers: PaperStore },
	firmId: string,
	actor: Actor,
	input: {
		clientId: string;
		/** a folder that is open for them to add to */ folderId?: string | null;
		name: string;
		content: Readable;
		signal?: AbortSignal;
		/** as of `takeInPaper` */ id?: string;
	}
): Promise<{ id: string }> {
	requireContact(actor);
	const allowed = (tx: Tx) => requireRoomForArrival(tx, actor, input);
	await place.db.inFirm(firmId, allowed, actor.id);
	return keepFile(place.papers, input, PAPER_MAX_BYTES, async ({ name, contentType, stored }) => {
		const id = input.id ?? randomUUID();
		await place.db.inFirm(
			firmId,
			async (tx) => {
				await allowed(tx);
				await requireNew(tx, input.id);
				await tx.rows(
					`insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, uploaded_by_contact_id, uploaded_at, unasked, folder_id)
					values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, true, $11)`,
					[id, firmId, input.clientId, name, stored.bytes, stored.sha256, contentType, stored.key, actor.id, actor.now, input.folderId ?? null]
				);
				await recordEvent(tx, actor, { verb: 'paper_arrived', clientId: input.clientId, contactId: actor.id, paperId: id, details: { name } });
				await enqueue(tx, 'read_paper', { firmId, paperId: id });
			},
			actor.id
		);
		return { id };
	});
}

/** A file that a contact sent by themselves, as they see it. */
export interface OwnArrival {
	id: string;
	name: string;
	bytes: number;
	sha256: string;
	note: string;
	clientName: string;
	sentAt: string;
	/** what it was filed under */
	filedUnder: string | null;
	/** it waits, and can be taken back */
	waits: boolean;
}

/** What somebody sent by themselves, the newest first. */
export function readOwnArrivals(tx: Tx, actor: Actor): Promise<OwnArrival[]> {
	requireContact(actor);
	return tx.rows<OwnArrival>(
		`select p.id, p.name, p.bytes, encode(p.sha256, 'hex') sha256, p.note, c.name "clientName", p.uploaded_at "sentAt", 
			case when p.arranged_in is null then i.title else (select string_agg(distinct t.title, ', ') from paper m join item t on t.id = m.item_id
				where m.arranged_from = p.arranged_in and m.removed_at is null) end "filedUnder",
			p.waits
		from paper p join client c on c.id = p.client_id left join item i on i.id = p.item_id
		where p.firm_id = $1 and p.unasked and p.removed_at is null and p.uploaded_by_contact_id = $2
			-- what the firm made of its pages is the firm's order of it
			and p.arranged_from is null order by p.uploaded_at desc, p.id limit 60`,
		[tx.firmId, actor.id]
	);
}

/**
 * The clients for whom somebody may send something, with the address for what comes by mail.
 * @param domain of these addresses; undefined where no mail is received
 */
export async function readClientsToSendFor(
	tx: Tx,
	actor: Actor,
	domain: string | undefined
): Promise<{ id: string; name: string; address: string | null }[]> {
	requireContact(actor);
	const clients = await tx.rows<{ id: string; name: string; key: string }>(
		`select id, name, mail_key "key" from client where firm_id = $1 and state = 'active' order by lower(name), id`,
		[tx.firmId]
	);
	return clients.map(({ id, name, key }) => ({ id, name, address: domain ? papersAddress(key, domain) : null }));
}

/** The address from which what somebody sends by mail is known as theirs; null where they have none. */
export async function readOwnAddress(tx: Tx, actor: Actor): Promise<string | null> {
	requireContact(actor);
	return (await tx.first<{ email: string | null }>('select email from contact where id = $1', [actor.id]))?.email ?? null;
}

async function lockOwnWaiting(tx: Tx, actor: Actor, paperId: string): Promise<{ client_id: string; name: string }> {
	requireContact(actor);
	const paper = await tx.first<{ client_id: string; name: string; waits: boolean }>(
		`select client_id, name, waits from paper where id = $1 and unasked and uploaded_by_contact_id = $2 and arranged_from is null for update`,
		[paperId, actor.id]
	);
	if (!paper) throw new DomainError('not_found', saying('wrong.paper.unknown'));
	if (!paper.waits) throw new DomainError('changed_meanwhile', saying('wrong.arrival.dealt'));
	return paper;
}

/** Says what a file is that somebody sent by themselves. */
export async function noteArrival(tx: Tx, actor: Actor, input: { paperId: string; note: string }): Promise<void> {
	await lockOwnWaiting(tx, actor, input.paperId);
	await tx.rows('update paper set note = $2 where id = $1', [input.paperId, input.note]);
}

/** Takes back what somebody sent by themselves, until the firm has dealt with it. */
export async function takeBackArrival(tx: Tx, actor: Actor, paperId: string): Promise<void> {
	const { client_id, name } = await lockOwnWaiting(tx, actor, paperId);
	await tx.rows('update paper set removed_at = $2 where id = $1', [paperId, actor.now]);
	await recordEvent(tx, actor, { verb: 'arrival_taken_back', clientId: client_id, contactId: actor.id, paperId, details: { name } });
}

/** A file without a place, as the firm deals with it. */
export interface ArrivalRow {
	id: string;
	name: string;
	bytes: number;
	contentType: string;
	note: string;
	clientId: string;
	clientName: string;
	/** the person of the client, or whom the mail names that brought it; its address until it is let in, for a name may be anybody's */
	sender: string;
	sentAt: string;
	byMail: boolean;
	/** it waits to be let in */
	held: boolean;
	/** the folder into which whoever sent it put it */
	folder: string | null;
}
const ROW = `p.id, p.name, p.bytes, p.content_type "contentType", p.note, p.client_id "clientId", c.name "clientName",
	coalesce(ct.name, case when not p.held then nullif(m.from_name, '') end, m.from_address, '') sender, p.uploaded_at "sentAt", m.id is not null "byMail", p.held, f.name folder`;
const FROM = `from paper p join client c on c.id = p.client_id left join contact ct on ct.id = p.uploaded_by_contact_id
	left join incoming_mail m on m.id = p.mail_id left join folder f on f.id = p.folder_id`;

/** Counts files without a place; `$1` the firm, `$mine` whose clients alone, or null. */
export const countArrivals = (mine: number): string =>
	`select count(*) from paper p join client c on c.id = p.client_id where p.firm_id = $1 and p.waits and ($${mine}::uuid is null or c.responsible_id = $${mine})`;

/** The files without a place of the clients that this person sees, the oldest first. */
export function readArrivals(tx: Tx, limit: number, mineOf: string | null): Promise<ArrivalRow[]> {
	return tx.rows(
		`select ${ROW} ${FROM} where p.firm_id = $1 and p.waits and ($3::uuid is null or c.responsible_id = $3) order by p.uploaded_at, p.id limit $2`,
		[tx.firmId, limit, mineOf]
	);
}

export interface SeemingArrival extends ArrivalRow {
	/** the title of what it seems to answer; empty for nothing */
	seems: string;
	/** what it is a statement of, where nothing is asked that it answers */
	statement: ArrivedStatement | null;
}
/** The same with what each seems to be, in words; empty for what nothing says. */
export async function readArrivalsWithPlaces(tx: Tx, limit: number, mineOf: string | null): Promise<SeemingArrival[]> {
	const arrivals = await readArrivals(tx, limit, mineOf);
	const more = await tx.rows<{ id: string; words: string | null; contactId: string | null; answers: string | null }>(
		`select p.id, left(p.first_words, 3000) words, p.uploaded_by_contact_id "contactId", m.item_id answers
		from paper p left join incoming_mail m on m.id = p.mail_id where p.id = any ($1)`,
		[arrivals.map(({ id }) => id)]
	);
	const statements = await readArrivedStatements(
		tx,
		arrivals.map(({ id }) => id)
	);
	const places = await readPlaces(tx, [...new Set(arrivals.map(({ clientId }) => clientId))]);
	return arrivals.map((arrival) => {
		const { words, contactId, answers } = more.find(({ id }) => id === arrival.id)!;
		const open = places.get(arrival.clientId) ?? [];
		const proposed = proposedPlace(
			likelyPlaces({ name: arrival.name, note: arrival.note, words, contactId, answers, statements: statements.get(arrival.id) }, open)
		);
		const title = open.find(({ itemId }) => itemId === proposed?.itemId)?.title;
		const [statement] = statements.get(arrival.id) ?? [];
		if (arrival.held) return { ...arrival, seems: '', statement: null };
		return { ...arrival, seems: title ?? '', statement: title === undefined && statement?.account && statement.to ? statement : null };
	});
}

/** Something open that a file can be filed under. */
export interface PlaceChoice {
	itemId: string;
	title: string;
	contactName: string;
	dueOn: string | null;
	slots: string[];
}
/** A statement in a file without a place. */
export interface ArrivedStatement {
	id: string;
	accountId: string | null;
	account: { institution: string; lastFour: string } | null;
	lastFour: string | null;
	from: string | null;
	to: string | null;
	opening: string | null;
	closing: string | null;
	spots: Partial<Record<StatementValue, PlaceOnPage>>;
}
export interface ArrivalToFile {
	arrival: ArrivalRow;
	/** the mail that brought it */
	mail: MailOfPaper | null;
	places: PlaceChoice[];
	/** the places that it seems to belong to, the likeliest first, and why */
	likely: LikelyPlace[];
	proposed: LikelyPlace | null;
	/** whether its words could be read; null until somebody has tried */
	read: boolean | null;
	/** the statements that could be read in it */
	statements: ArrivedStatement[];
	/** the account whose statements could go there by themselves from now on */
	mayFileItself: { accountId: string; name: string } | null;
	/** the words by which what the same person sends under such a name could be kept by itself from now on */
	mayKeepItself: string[] | null;
	/** the folders of the client, and those that are proposed */
	folders: { folders: { id: string; name: string }[]; proposed: string[] };
	/** files of this client with the same content */
	same: { id: string; name: string; filedUnder: string | null }[];
}

/** A file without a place with where it may belong. @throws DomainError not_found, changed_meanwhile once it has one */
export async function readArrival(tx: Tx, actor: Actor, id: string): Promise<ArrivalToFile> {
	requireStaff(actor, 'look');
	const row = await tx.first<
		ArrivalRow & { waits: boolean; looked: boolean; words: string | null; contactId: string | null; sha256: Buffer; answers: string | null }
	>(
		`select ${ROW}, m.item_id answers, p.waits, p.words_read_at is not null looked, p.first_words words, p.uploaded_by_contact_id "contactId", p.sha256 ${FROM} where p.id = $1 and p.unasked`,
		[id]
	);
	if (!row) throw new DomainError('not_found', 'This file is not here any more.');
	if (!row.waits) throw new DomainError('changed_meanwhile', 'It has its place by now, or was taken back.');
	const open = (await readPlaces(tx, [row.clientId])).get(row.clientId) ?? [];
	const { words, contactId, sha256, looked, answers, waits: _waits, ...arrival } = row;
	const statements = (await readArrivedStatements(tx, [id])).get(id) ?? [];
	const likely = likelyPlaces({ name: row.name, note: row.note, words, contactId, statements, answers }, open);
	const sure = surePlace(likely);
	const byWords = ruleWords(row.name);
	const [only] = statements.length === 1 ? statements : [];
	const ruled = only?.accountId ? await tx.first('select 1 from filing_rule where account_id = $1 and off_at is null', [only.accountId]) : null;
	return {
		arrival,
		mail: arrival.byMail ? await readMailOfPaper(tx, actor, id) : null,
		statements,
		mayFileItself: sure && only?.account && only.accountId && !ruled ? { accountId: only.accountId, name: accountName(only.account) } : null,
		mayKeepItself: contactId && byWords.length > 0 && !(await readKeepingRules(tx, row.clientId)).some((one) => isOfRule(one, row)) ? byWords : null,
		places: open.map(({ itemId, title, contactName, dueOn, slots }) => ({ itemId, title, contactName, dueOn, slots: [...slots] })),
		likely,
		proposed: proposedPlace(likely),
		read: looked ? words !== null : null,
		folders: await readFolders(tx, actor, row.clientId),
		same: await tx.rows(
			`select p.id, p.name, i.title "filedUnder" from paper p left join item i on i.id = p.item_id
			where p.client_id = $1 and p.sha256 = $2 and p.id <> $3 and p.removed_at is null order by p.uploaded_at limit 5`,
			[row.clientId, sha256, id]
		)
	};
}

async function readArrivedStatements(tx: Tx, paperIds: readonly string[]): Promise<Map<string, ArrivedStatement[]>> {
	const rows = await tx.rows<Omit<ArrivedStatement, 'account'> & { paperId: string; institution: string | null; accountFour: string | null }>(
		`select t.id, t.paper_id "paperId", s.account_id "accountId", a.institution, a.last_four "accountFour", s.last_four "lastFour", s.covers_from "from",
			s.covers_to "to", s.opening, s.closing, t.spots
		from placed_statement s join statement t on t.id = s.id left join account a on a.id = s.account_id where s.paper_id = any ($1)
		order by s.paper_id, t.number`,
		[paperIds]
	);
	const byPaper = new Map<string, ArrivedStatement[]>();
	for (const { paperId, institution, accountFour, ...one } of rows)
		byPaper.set(paperId, [
			...(byPaper.get(paperId) ?? []),
			{ ...one, account: institution === null ? null : { institution, lastFour: accountFour ?? '' } }
		]);
	return byPaper;
}

type Place = OpenPlace & { contactName: string; dueOn: string | null };

/** What is open at some clients and takes files, by client. */
async function readPlaces(tx: Tx, clientIds: readonly string[]): Promise<Map<string, Place[]>> {
	const rows = await tx.rows<
		LockedItem & {
			contactName: string;
			request: string;
			institution: string | null;
			lastFour: string | null;
			from: string | null;
			to: string | null;
			accountId: string | null;
			closedBefore: string | null;
			filled: string[];
		}
	>(
		`select i.id, i.kind, i.title, i.state, i.version, i.due_on, i.client_id, i.request_id, i.contact_id, i.spec, i.attachments, i.accepts_itself, ct.name "contactName",
			r.title request, a.id "accountId", a.institution,
			(select s.closing from placed_statement s where s.account_id = a.id and s.covers_to = i.period_from - 1 and s.closing is not null limit 1) "closedBefore", a.last_four "lastFour", coalesce(i.period_from, r.period_from) "from", coalesce(i.period_to, r.period_to) "to",
			array(select p.slot from paper p where p.item_id = i.id and p.removed_at is null and p.slot is not null) filled
		from item i join contact ct on ct.id = i.contact_id join request r on r.id = i.request_id left join account a on a.id = i.account_id
		where i.client_id = any ($1) and i.phase = 'open' and i.kind = 'paper' order by i.due_on nulls last, i.position, i.id limit 5000`,
		[clientIds]
	);
	const byClient = new Map<string, Place[]>();
	for (const item of rows.map(withSpec)) {
		const place: Place = {
			itemId: item.id,
			title: item.title,
			request: item.request,
			contactId: item.contact_id,
			contactName: item.contactName,
			dueOn: item.due_on,
			account:
				item.institution === null || item.accountId === null
					? null
					: { id: item.accountId, institution: item.institution, lastFour: item.lastFour ?? '', closedBefore: item.closedBefore },
			period: item.from && item.to ? { from: item.from, to: item.to } : null,
			slots: slotsOf(item).filter((slot) => !item.filled.includes(slot))
		};
		byClient.set(item.client_id, [...(byClient.get(item.client_id) ?? []), place]);
	}
	return byClient;
}
const slotsOf = (item: LockedItem): string[] => (item.kind === 'paper' ? item.spec.slots.map(({ name }) => name) : []);

/** @throws DomainError changed_meanwhile for what came by mail and waits to be let in */
function requireLetIn({ held, name }: { held: boolean; name: string }): void {
	if (held) throw new DomainError('changed_meanwhile', `${name} came from somebody who is not known. Let it in first.`);
}

/** Locks a file that came by itself. */
async function lockUnasked(tx: Tx, paperId: string) {
	const paper = await tx.first<{
		client_id: string;
		name: string;
		content_type: string;
		item_id: string | null;
		gone: boolean;
		put_away: boolean;
		uploaded_by_contact_id: string | null;
		filed_by_rule_id: string | null;
		held: boolean;
		arranged_in: string | null;
		going: boolean;
	}>(
		`select client_id, name, content_type, item_id, filed_by_rule_id, held, arranged_in, destroy_on is not null going, removed_at is not null gone, put_away_at is not null put_away, uploaded_by_contact_id from paper where id = $1 and unasked for update`,
		[paperId]
	);
	if (!paper) throw new DomainError('not_found', 'This file is not here any more.');
	if (paper.gone) throw new DomainError('changed_meanwhile', `${paper.name} was taken back by who sent it.`);
	return paper;
}

/**
 * Files a paper under something that is open at the same client. What wants no other named file is handed in by it, and nobody is reminded of
 * it any more.
 * @throws DomainError not_found, changed_meanwhile if somebody was faster, too_many, unreadable_file where the named file is of another kind
 */
export async function fileArrival(tx: Tx, actor: Actor, input: { paperId: string; itemId: string; slot: string | null }): Promise<void> {
	requireStaff(actor, 'file_papers');
	await fileUnder(tx, actor, input);
}

async function fileUnder(tx: Tx, actor: Actor, input: { paperId: string; itemId: string; slot: string | null }): Promise<void> {
	const paper = await lockUnasked(tx, input.paperId);
	if (paper.item_id || paper.put_away) throw new DomainError('changed_meanwhile', `Somebody has dealt with ${paper.name} meanwhile.`);
	requireLetIn(paper);
	const item = await lockItem(tx, input.itemId);
	if (item.client_id !== paper.client_id || item.kind !== 'paper')
		throw new DomainError('not_found', 'This is not asked of the client any more. Choose another place.');
	if (!isOpen(item.state)) throw new DomainError('changed_meanwhile', `“${item.title}” is not open any more. Choose another place.`);
	const { filesMost, slot: slotNamed } = kindOf(item.kind);
	const there = await tx.rows<{ slot: string | null }>('select slot from paper where item_id = $1 and removed_at is null', [item.id]);
	if (there.length >= filesMost(item.spec)) throw new DomainError('too_many', `“${item.title}” has all the files that it takes.`);
	const slot = input.slot === null ? null : slotNamed(item.spec, input.slot);
	if (input.slot !== null && !slot) throw new DomainError('not_found', 'This file is not asked for any more. Choose another one.');
	if (slot && !isOfSlotType(paper.content_type, slot.accepts))
		throw new DomainError('unreadable_file', saying('wrong.paper.slot', { name: paper.name, slot: slot.name, type: slot.accepts }));
	await tx.rows('update paper set item_id = $2, slot = $3 where id = $1', [input.paperId, item.id, slot?.name ?? null]);
	const filled = [slot?.name, ...there.map((one) => one.slot)];
	const missing = slotsOf(item).filter((name) => !filled.includes(name));
	const details = { name: paper.name, title: item.title };
	await recordEvent(tx, actor, {
		verb: 'paper_filed',
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		paperId: input.paperId,
		details
	});
	if (missing.length === 0) await moveItem(tx, actor, await loadFirm(tx), item, 'file', { details: { name: paper.name } });
}

/**
 * Takes a paper out of the place that it was given: it waits again, and what it had handed in is open once more.
 * @throws DomainError changed_meanwhile once somebody has accepted it or sent it back
 */
export async function unfileArrival(tx: Tx, actor: Actor, paperId: string): Promise<void> {
	requireStaff(actor, 'file_papers');
	const paper = await lockUnasked(tx, paperId);
	if (paper.going) throw new DomainError('changed_meanwhile', `${paper.name} is to be destroyed. An administrator can stop that.`);
	if (paper.arranged_in) return takeArrangementBack(tx, actor, paper.arranged_in);
	if (paper.put_away) {
		await tx.rows(
			`update paper set put_away_at = null, put_away_by_id = null, kept = false, shown_at = null, shown_by_id = null, filed_by_rule_id = null,
				-- where a rule has put it says nothing any more
				folder_id = case when filed_by_rule_id is null then folder_id end
			where id = $1`,
			[paperId]
		);
		await noteTakenBack(tx, paper.filed_by_rule_id);
		await recordEvent(tx, actor, { verb: 'arrival_brought_back', clientId: paper.client_id, paperId, details: { name: paper.name } });
		return;
	}
	if (!paper.item_id) return;
	const item = await lockItem(tx, paper.item_id);
	const byItself = item.state === 'accepted' && item.accepts_itself;
	if (!isOpen(item.state) && item.state !== 'handed_in' && !byItself)
		throw new DomainError('changed_meanwhile', `“${item.title}” was dealt with meanwhile. Open it there first.`);
	await tx.rows('update paper set item_id = null, slot = null, filed_by_rule_id = null where id = $1', [paperId]);
	await noteTakenBack(tx, paper.filed_by_rule_id);
	await recordEvent(tx, actor, {
		verb: 'arrival_brought_back',
		clientId: paper.client_id,
		itemId: item.id,
		requestId: item.request_id,
		paperId,
		details: { name: paper.name }
	});
	if (!isOpen(item.state)) await moveItem(tx, actor, await loadFirm(tx), item, 'unfile');
}

/** Counts what a rule has filed and a person takes out again. */
async function noteTakenBack(tx: Tx, ruleId: string | null): Promise<void> {
	if (ruleId) await tx.rows('update filing_rule set taken_back = taken_back + 1 where id = $1', [ruleId]);
}

/** Says that a file needs no place at all. It can be brought back. */
export async function putAwayArrival(tx: Tx, actor: Actor, paperId: string): Promise<void> {
	requireStaff(actor, 'file_papers');
	await dealWith(tx, actor, paperId, false);
}

/**
 * Says that a file answers nothing that was asked and is kept among the papers of the client. It can be brought back.
 * @param folder where it lies; left out it stays in the folder into which whoever sent it put it
 */
export async function keepArrival(tx: Tx, actor: Actor, paperId: string, folder: FolderChoice = null): Promise<void> {
	requireStaff(actor, 'file_papers');
	const clientId = await dealWith(tx, actor, paperId, true);
	const folderId = await folderChosen(tx, actor, clientId, folder);
	if (folderId) await tx.rows('update paper set folder_id = $2 where id = $1', [paperId, folderId]);
}

/** Files that something is done with at once. */
const AT_ONCE_MOST = 200;

/** What was chosen, each once. @throws DomainError invalid, too_many */
function someIds(paperIds: readonly string[]): string[] {
	const ids = [...new Set(paperIds)];
	if (ids.length === 0) throw new DomainError('invalid', 'Choose the files first.');
	if (ids.length > AT_ONCE_MOST) throw new DomainError('too_many', `At most ${AT_ONCE_MOST} files at once. Choose fewer.`);
	return ids;
}

/**
 * Does the same with several files without a place: all of them, or none.
 * @param folder in which each is kept among the papers of its client, null in none; left out they need no place
 * @returns how many there were
 * @throws DomainError as for one of them, invalid, too_many
 */
export async function dealWithArrivals(tx: Tx, actor: Actor, paperIds: readonly string[], folder?: FolderChoice): Promise<number> {
	requireStaff(actor, 'file_papers');
	const ids = someIds(paperIds).sort();
	for (const id of ids) await (folder === undefined ? putAwayArrival(tx, actor, id) : keepArrival(tx, actor, id, folder));
	return ids.length;
}

/**
 * Names files without a place by a pattern, in their order; see `namesByPattern`.
 * @returns how many are called otherwise now
 * @throws DomainError invalid, too_many, not_found, changed_meanwhile for what has its place meanwhile, or is not let in
 */
export async function nameArrivals(tx: Tx, actor: Actor, paperIds: readonly string[], pattern: string): Promise<number> {
	requireStaff(actor, 'file_papers');
	const wrong = whatIsWrong(pattern);
	if (wrong) throw new DomainError('invalid', wrong, { pattern: wrong });
	const ids = someIds(paperIds);
	const rows = await tx.rows<ArrivalRow>(
		`select ${ROW} ${FROM} where p.id = any ($1) and p.unasked and p.waits order by array_position($1, p.id) for update of p`,
		[ids]
	);
	if (rows.length < ids.length)
		throw new DomainError('changed_meanwhile', 'Somebody has dealt with one of these files meanwhile. Nothing was changed; choose again.');
	for (const row of rows) requireLetIn(row);
	const { calendar } = await loadFirm(tx);
	const names = namesByPattern(
		pattern,
		rows.map(({ name, sentAt, clientName, folder }) => ({ name, came: localDate(sentAt, calendar), client: clientName, folder: folder ?? '' }))
	);
	const renamed = rows.map((row, index) => ({ ...row, becomes: names[index] })).filter(({ name, becomes }) => name !== becomes);
	await renameRows(tx, actor, renamed);
	return renamed.length;
}

async function dealWith(tx: Tx, actor: Actor, paperId: string, kept: boolean): Promise<string> {
	const paper = await lockUnasked(tx, paperId);
	if (paper.item_id || paper.put_away) throw new DomainError('changed_meanwhile', `Somebody has dealt with ${paper.name} meanwhile.`);
	if (kept) requireLetIn(paper);
	await tx.rows('update paper set put_away_at = $2, put_away_by_id = $3, kept = $4 where id = $1', [paperId, actor.now, actor.id, kept]);
	await recordEvent(tx, actor, {
		verb: kept ? 'arrival_kept' : 'arrival_put_away',
		clientId: paper.client_id,
		contactId: paper.uploaded_by_contact_id ?? undefined,
		paperId,
		details: { name: paper.name }
	});
	return paper.client_id;
}

/**
 * Files a paper by itself, where somebody has allowed it for the account and two signs that do not hang together say the same place.
 * @returns whether it found its place; else it waits for a person
 * @throws DomainError as `fileArrival`, if something stands against it
 */
export async function fileByItself(tx: Tx, by: Actor, paperId: string): Promise<boolean> {
	const row = await tx.first<
		ArrivalRow & { words: string | null; contactId: string | null; authentication: Authentication | null; answers: string | null; files: number }
	>(
		`select ${ROW}, p.first_words words, p.uploaded_by_contact_id "contactId", m.authentication, m.item_id answers,
			(select count(*) from paper o where o.mail_id = m.id) files ${FROM}
		where p.id = $1 and p.unasked and p.waits and not p.held and c.state = 'active' for update of p`,
		[paperId]
	);
	// whoever may only seem to have sent it must not hand in what is asked
	if (row?.byMail && !isConfirmed(row.authentication ?? {})) return false;
	if (!row) return false;
	const statements = (await readArrivedStatements(tx, [paperId])).get(paperId) ?? [];
	const open = (await readPlaces(tx, [row.clientId])).get(row.clientId) ?? [];
	const likely = likelyPlaces({ ...row, statements }, open);
	// the one file of an answer to a mail about one thing is that thing
	const answered = row.answers && row.files === 1 ? open.find(({ itemId }) => itemId === row.answers) : undefined;
	if (answered && answered.slots.length === 0) {
		await fileUnder(tx, by, { paperId, itemId: answered.itemId, slot: null });
		return true;
	}
	return (await fileAsStatement(tx, by, paperId, statements, open, likely)) || (await keepByRule(tx, by, row, likely));
}

/** Files a statement under what is asked for its account, where that is allowed. */
async function fileAsStatement(
	tx: Tx,
	by: Actor,
	paperId: string,
	statements: readonly ArrivedStatement[],
	open: readonly Place[],
	likely: LikelyPlace[]
): Promise<boolean> {
	// a file of two accounts is for a person
	const [statement] = statements;
	if (statements.length !== 1 || !statement.accountId) return false;
	const rule = await tx.first<{ id: string }>('select id from filing_rule where account_id = $1 and off_at is null', [statement.accountId]);
	if (!rule) return false;
	const sure = surePlace(likely);
	const place = sure && open.find(({ itemId }) => itemId === sure.itemId);
	if (!place || place.account?.id !== statement.accountId) return false;
	await fileUnder(tx, by, { paperId, itemId: place.itemId, slot: null });
	await tx.rows('update paper set filed_by_rule_id = $2 where id = $1', [paperId, rule.id]);
	return true;
}

/** Keeps a file where what regularly comes from its sender under this name is kept. What may answer something that is asked waits for a person. */
async function keepByRule(
	tx: Tx,
	by: Actor,
	file: { id: string; clientId: string; name: string; note: string; words: string | null; contactId: string | null; folder: string | null },
	likely: LikelyPlace[]
): Promise<boolean> {
	// where whoever sent it has put it is their word on it
	if (proposedPlace(likely) || file.folder) return false;
	const rule = (await readKeepingRules(tx, file.clientId)).find((one) => isOfRule(one, file));
	if (!rule) return false;
	await tx.rows('update paper set put_away_at = $2, put_away_by_id = $3, kept = true, folder_id = $4, filed_by_rule_id = $5 where id = $1', [
		file.id,
		by.now,
		rule.madeById,
		rule.folderId,
		rule.id
	]);
	await recordEvent(tx, by, {
		verb: 'arrival_kept',
		clientId: file.clientId,
		contactId: file.contactId ?? undefined,
		paperId: file.id,
		details: { name: file.name }
	});
	return true;
}

/** A file that has been dealt with. */
export interface DealtArrival extends ArrivalRow {
	itemId: string | null;
	filedUnder: string | null;
	state: ItemState | null;
	/** among the papers of the client, where it answers nothing that was asked */
	kept: boolean;
	/** files were made of its pages: how many */
	madeInto: number | null;
	by: string | null;
}

/** What was filed or put away lately, the newest first. */
export function readDealtArrivals(tx: Tx, actor: Actor, limit = 30): Promise<DealtArrival[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select ${ROW}, p.item_id "itemId", i.title "filedUnder", i.state, p.kept,
			case when p.arranged_in is not null then (select count(*) from paper m where m.arranged_from = p.arranged_in) end "madeInto",
			coalesce(st.name, (select e.actor_name from event e where e.paper_id = p.id and e.verb = 'paper_filed' order by e.at desc limit 1)) "by"
		${FROM} left join item i on i.id = p.item_id left join staff st on st.id = p.put_away_by_id
		where p.firm_id = $1 and p.unasked and p.removed_at is null and (p.item_id is not null or p.put_away_at is not null) order by p.uploaded_at desc, p.id limit $2`,
		[tx.firmId, limit]
	);
}

/** Where a file goes, as it is chosen. */
export const placeSchema = z.object({
	/** statements of this account go there by themselves from now on */
	always: z
		.union([z.uuid(), z.literal('')])
		.nullish()
		.transform((id) => id || null),
	itemId: z.uuid('Choose where it belongs.'),
	slot: z
		.string()
		.max(80)
		.nullish()
		.transform((slot) => slot || null)
});
