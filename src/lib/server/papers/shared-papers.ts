import { randomUUID } from 'node:crypto';
import type { Readable } from 'node:stream';
import { DomainError } from '$lib/core/errors/domain-error';
import { PAGED_TYPES, PAPER_MAX_BYTES, safeFileName } from '$lib/core/papers/file-name';
import type { FolderChoice } from '$lib/core/papers/folders';
import { namesByPattern, stemAndEnding, whatIsWrong } from '$lib/core/papers/name-pattern';
import { dateWords } from '$lib/words/dates';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { requireStaff, type Actor } from '../actor';
import { recordEvent, recordEvents } from '../audit/record-event';
import type { EventVerb } from '$lib/core/audit/event-words';
import { loadFirm } from '../firms/firm';
import type { Database, Tx } from '../platform/db/database';
import { openTo } from '../outbox/papers-to-tell';
import type { PaperStore } from '../platform/files/paper-store';
import { enqueue } from '../platform/queue';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { pageSources, pdfName, requireFewBytes } from './arrange-pages';
import { folderChosen } from './folders';
import { keepFile, renameRows, requireNew } from './keep-file';
import { requireHarmless, type Scan } from './scanning';

/** Papers that something is done with at once. */
const AT_ONCE_MOST = 200;

/** Whether the client sees something: whether they are told of it with the day's message, or find it by themselves. */
export const SHOWING = ['no', 'quietly', 'told'] as const;
export type Showing = (typeof SHOWING)[number];

async function requireClient(tx: Tx, clientId: string): Promise<void> {
	if (!(await tx.first('select 1 from client where id = $1', [clientId]))) throw new DomainError('not_found', 'There is no such client.');
}

/** Whether somebody may add a file to the papers of a client, and show it to them. @throws DomainError not_allowed, not_found */
export async function requireMayGive(tx: Tx, actor: Actor, to: { clientId: string; showing: Showing }): Promise<void> {
	requireStaff(actor, 'file_papers');
	if (to.showing !== 'no') requireStaff(actor, 'share_papers');
	await requireClient(tx, to.clientId);
}

/**
 * Takes in a file that somebody of the firm adds to the papers of a client. It is for the firm only unless it is shown.
 * @throws DomainError not_found, unreadable_file, too_many, storage_full
 */
export async function givePaper(
	place: { db: Database; papers: PaperStore },
	firmId: string,
	actor: Actor,
	input: {
		clientId: string;
		name: string;
		content: Readable;
		signal?: AbortSignal;
		folder: FolderChoice;
		showing: Showing;
		/** as of `takeInPaper` */ id?: string;
		/** the paper of which it is a newer version */ versionOf?: string | null;
	}
): Promise<{ id: string }> {
	await place.db.inFirm(firmId, (tx) => requireMayGive(tx, actor, input));
	return keepFile(place.papers, input, PAPER_MAX_BYTES, async ({ name, contentType, stored }) => {
		const id = input.id ?? randomUUID();
		await place.db.inFirm(firmId, async (tx) => {
			await requireClient(tx, input.clientId);
			await requireNew(tx, input.id);
			const old = input.versionOf ? (await lockPapers(tx, input.clientId, [input.versionOf]))[0] : null;
			if (old?.newerId) throw new DomainError('changed_meanwhile', `Somebody has added a newer version of ${old.name} meanwhile.`);
			const folderId = old ? old.folderId : await folderChosen(tx, actor, input.clientId, input.folder);
			await tx.rows(
				`insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, given_by_id, uploaded_at, folder_id, note)
				values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)`,
				[id, firmId, input.clientId, name, stored.bytes, stored.sha256, contentType, stored.key, actor.id, actor.now, folderId, old?.note ?? '']
			);
			if (old) await tx.rows('update paper set newer_id = $2 where id = $1 or newer_id = $1', [old.id, id]);
			await recordEvent(tx, actor, {
				verb: old ? 'paper_renewed' : 'paper_given',
				clientId: input.clientId,
				paperId: id,
				details: old ? { name, old: old.name } : { name }
			});
			if (input.showing !== 'no') await showPapers(tx, actor, { clientId: input.clientId, paperIds: [id], tell: input.showing === 'told' });
			await enqueue(tx, 'read_paper', { firmId, paperId: id });
		});
		return { id };
	});
}

interface LockedPaper {
	id: string;
	name: string;
	note: string;
	at: string;
	folderId: string | null;
	folder: string;
	place: string;
	shown: boolean;
	newerId: string | null;
	unasked: boolean;
	/** it is to be destroyed */
	going: boolean;
}

/**
 * Locks papers of a client that are here, in the order in which they are named.
 * @throws DomainError not_found if one of them is gone, too_many, changed_meanwhile for what a client has not handed in or nobody let in
 */
async function lockPapers(tx: Tx, clientId: string, paperIds: readonly string[]): Promise<LockedPaper[]> {
	const ids = [...new Set(paperIds)];
	if (ids.length === 0) throw new DomainError('invalid', 'Choose the papers first.');
	if (ids.length > AT_ONCE_MOST) throw new DomainError('too_many', `At most ${AT_ONCE_MOST} papers at once. Choose fewer.`);
	const rows = await tx.rows<LockedPaper & { begun: boolean }>(
		`select p.id, p.name, p.note, p.uploaded_at "at", p.folder_id "folderId", coalesce(f.name, '') folder, p.place, p.shown_at is not null shown, p.newer_id "newerId",
			p.unasked, p.destroy_on is not null going, p.item_id is not null and not p.unasked and coalesce(i.state in ('asked', 'seen', 'started'), false) begun
		from paper p left join folder f on f.id = p.folder_id left join item i on i.id = p.item_id
		where p.client_id = $1 and p.id = any ($2) and p.removed_at is null order by array_position($2, p.id) for update of p`,
		[clientId, ids]
	);
	if (rows.length < ids.length || rows.some(({ begun }) => begun))
		throw new DomainError('not_found', 'One of these papers is not here any more. Nothing was changed; choose again.');
	const waiting = rows.find(({ place }) => place === 'waits' || place === 'held');
	if (waiting) throw new DomainError('changed_meanwhile', `${waiting.name} has no place yet. Give it one in Arrivals first.`);
	return rows;
}

const record = (tx: Tx, actor: Actor, verb: EventVerb, clientId: string, papers: readonly { id: string; details: Record<string, unknown> }[]) =>
	recordEvents(
		tx,
		actor,
		papers.map(({ id, details }) => ({ verb, clientId, paperId: id, details }))
	);

/**
 * Shows papers to the client: those people find them on their pages for whom the folder of each is. What they see already stays as it is.
 * @param input.tell they are told with the day's message, unless they have found it until then
 * @returns how many were shown that were not, and how many of these lie in a folder in which the client sees nothing
 */
export async function showPapers(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; paperIds: readonly string[]; tell: boolean }
): Promise<{ shown: number; closed: number }> {
	requireStaff(actor, 'share_papers');
	const papers = (await lockPapers(tx, input.clientId, input.paperIds)).filter(({ shown }) => !shown);
	const away = papers.find(({ place }) => place === 'away');
	if (away) throw new DomainError('changed_meanwhile', `${away.name} is put away. Bring it back first.`);
	const ids = papers.map(({ id }) => id);
	if (ids.length === 0) return { shown: 0, closed: 0 };
	await tx.rows('update paper set shown_at = $2, shown_by_id = $3 where id = any ($1)', [ids, actor.now, actor.id]);
	if (input.tell)
		await tx.rows(
			`insert into paper_announcement (firm_id, paper_id, contact_id)
			select $1, p.id, cc.contact_id from paper p join client_contact cc on cc.client_id = p.client_id left join folder f on f.id = p.folder_id
			where p.id = any ($2) and ${openTo('cc.contact_id')}
			on conflict (paper_id, contact_id) do update set told_at = null`,
			[tx.firmId, ids]
		);
	const closed = await tx.first<{ n: number }>(
		`select count(*) n from paper p join folder f on f.id = p.folder_id and f.client_may = 'nothing' where p.id = any ($1)`,
		[ids]
	);
	await record(
		tx,
		actor,
		'paper_shown',
		input.clientId,
		papers.map(({ id, name }) => ({ id, details: { name } }))
	);
	return { shown: ids.length, closed: closed!.n };
}

/** Hides papers from the client again; whoever was not told of them yet is not told. @returns how many were hidden that were shown */
export async function hidePapers(tx: Tx, actor: Actor, input: { clientId: string; paperIds: readonly string[] }): Promise<number> {
	requireStaff(actor, 'share_papers');
	const papers = (await lockPapers(tx, input.clientId, input.paperIds)).filter(({ shown }) => shown);
	const ids = papers.map(({ id }) => id);
	await tx.rows('update paper set shown_at = null, shown_by_id = null where id = any ($1)', [ids]);
	await tx.rows('delete from paper_announcement where paper_id = any ($1) and told_at is null', [ids]);
	await record(
		tx,
		actor,
		'paper_hidden',
		input.clientId,
		papers.map(({ id, name }) => ({ id, details: { name } }))
	);
	return ids.length;
}

/** Moves papers into a folder, or out of all of them. @returns how many lay elsewhere */
export async function movePapers(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; paperIds: readonly string[]; folder: FolderChoice }
): Promise<number> {
	requireStaff(actor, 'file_papers');
	const papers = await lockPapers(tx, input.clientId, input.paperIds);
	const folderId = await folderChosen(tx, actor, input.clientId, input.folder);
	const moved = papers.filter((paper) => paper.folderId !== folderId);
	// a move that opens a paper to people who did not see it is showing it
	if (moved.some(({ shown }) => shown)) requireStaff(actor, 'share_papers');
	await tx.rows('update paper set folder_id = $2 where id = any ($1)', [moved.map(({ id }) => id), folderId]);
	const folder = folderId ? (await tx.first<{ name: string }>('select name from folder where id = $1', [folderId]))!.name : '';
	await record(
		tx,
		actor,
		'paper_moved',
		input.clientId,
		moved.map(({ id, name }) => ({ id, details: { name, to: folder || 'no folder' } }))
	);
	return moved.length;
}

/** Names papers by a pattern, in their order; see `namesByPattern`. @returns how many are called otherwise now */
export async function renamePapers(tx: Tx, actor: Actor, input: { clientId: string; paperIds: readonly string[]; pattern: string }): Promise<number> {
	requireStaff(actor, 'file_papers');
	const wrong = whatIsWrong(input.pattern);
	if (wrong) throw new DomainError('invalid', wrong, { pattern: wrong });
	const papers = await lockPapers(tx, input.clientId, input.paperIds);
	const { calendar } = await loadFirm(tx);
	const client = await tx.first<{ name: string }>('select name from client where id = $1', [input.clientId]);
	const names = namesByPattern(
		input.pattern,
		papers.map(({ name, at, folder }) => ({ name, came: localDate(at, calendar), client: client!.name, folder }))
	);
	const renamed = papers.map((paper, index) => ({ ...paper, becomes: names[index] })).filter(({ name, becomes }) => name !== becomes);
	await renameRows(
		tx,
		actor,
		renamed.map((paper) => ({ ...paper, clientId: input.clientId }))
	);
	return renamed.length;
}

/** Says what a paper is called and what it is. Its ending stays, so that it opens as before. @throws DomainError invalid */
export async function describePaper(tx: Tx, actor: Actor, input: { clientId: string; paperId: string; name: string; note: string }): Promise<void> {
	requireStaff(actor, 'file_papers');
	if (input.name.trim() === '') throw new DomainError('invalid', 'Write what the paper is called.', { name: 'Write a name.' });
	const [paper] = await lockPapers(tx, input.clientId, [input.paperId]);
	// braces are letters here, no parts of a pattern
	const { ending } = stemAndEnding(paper.name);
	const typed = input.name.replace(/[/\\]/g, '-').trim();
	const becomes = safeFileName(typed.toLowerCase().endsWith(ending.toLowerCase()) ? typed : `${typed}${ending}`);
	if (becomes !== paper.name) await renameRows(tx, actor, [{ id: paper.id, clientId: input.clientId, name: paper.name, becomes }]);
	if (input.note === paper.note) return;
	await tx.rows('update paper set note = $2 where id = $1', [paper.id, input.note]);
	await record(tx, actor, 'paper_noted', input.clientId, [{ id: paper.id, details: { name: becomes } }]);
}

/** Puts papers away: they are not among the others, and the client does not see them. What answers something that was asked stays with it. */
export async function putAwayPapers(tx: Tx, actor: Actor, input: { clientId: string; paperIds: readonly string[] }): Promise<number> {
	requireStaff(actor, 'file_papers');
	const papers = await lockPapers(tx, input.clientId, input.paperIds);
	const asked = papers.find(({ place }) => place === 'item');
	if (asked) throw new DomainError('changed_meanwhile', `${asked.name} answers what was asked, and stays with it. Nothing was put away.`);
	const kept = papers.filter(({ place }) => place === 'kept');
	const ids = kept.map(({ id }) => id);
	await tx.rows('update paper set put_away_at = $2, put_away_by_id = $3, kept = false, shown_at = null, shown_by_id = null where id = any ($1)', [
		ids,
		actor.now,
		actor.id
	]);
	await tx.rows('delete from paper_announcement where paper_id = any ($1) and told_at is null', [ids]);
	await record(
		tx,
		actor,
		'paper_put_away',
		input.clientId,
		kept.map(({ id, name }) => ({ id, details: { name } }))
	);
	return ids.length;
}

/** Brings back what was put away, among the papers of the client, where the firm alone sees it. */
export async function bringBackPapers(tx: Tx, actor: Actor, input: { clientId: string; paperIds: readonly string[] }): Promise<number> {
	requireStaff(actor, 'file_papers');
	const papers = (await lockPapers(tx, input.clientId, input.paperIds)).filter(({ place }) => place === 'away');
	const going = papers.find((paper) => paper.going);
	if (going)
		throw new DomainError('changed_meanwhile', `${going.name} is to be destroyed. An administrator can stop that; nothing was brought back.`);
	const ids = papers.map(({ id }) => id);
	await tx.rows(
		// what waited to be let in waits again; what the firm added was never put away for it
		`update paper set kept = unasked and not held, put_away_at = case when unasked and not held then put_away_at end,
			put_away_by_id = case when unasked and not held then put_away_by_id end where id = any ($1)`,
		[ids]
	);
	await record(
		tx,
		actor,
		'paper_brought_back',
		input.clientId,
		papers.map(({ id, name }) => ({ id, details: { name } }))
	);
	return ids.length;
}

/** Pages of papers that are joined to one, at most. */
const JOINED_PAGES_MOST = 2000;

/**
 * Joins papers of a client to one PDF with a table of contents, in the order in which they are named. It is ours only until it is shown; the
 * papers stay as they are.
 * @param input.name what it is called
 * @param scanning whether a scanner for harmful content is set up
 * @throws DomainError not_found, invalid, too_many, unreadable_file for what has no pages, is locked or damaged, storage_full
 */
export async function joinPapers(
	place: { db: Database; papers: PaperStore; pdf: Pick<PdfWork, 'join'> },
	firmId: string,
	actor: Actor,
	input: { clientId: string; paperIds: readonly string[]; name: string },
	scanning = false
): Promise<{ id: string; name: string; pages: number }> {
	requireStaff(actor, 'file_papers');
	if (input.paperIds.length < 2) throw new DomainError('invalid', 'Choose at least two papers to join.');
	if (input.name.trim() === '') throw new DomainError('invalid', 'Write what the joined paper is called.', { name: 'Write a name.' });
	const name = pdfName(input.name.trim());
	const { files, under, folderId } = await place.db.inFirm(firmId, async (tx) => {
		const papers = await lockPapers(tx, input.clientId, input.paperIds);
		const { calendar } = await loadFirm(tx);
		const client = await tx.first<{ name: string }>('select name from client where id = $1', [input.clientId]);
		const rows = await tx.rows<{ name: string; contentType: string; storageKey: string; bytes: number; scan: Scan }>(
			`select name, content_type "contentType", storage_key "storageKey", bytes, scan from paper where id = any ($1) order by array_position($1, id)`,
			[papers.map(({ id }) => id)]
		);
		const folders = new Set(papers.map((paper) => paper.folderId));
		return {
			files: rows,
			under: `${client!.name}, ${dateWords('en', localDate(actor.now, calendar), 'withYear')}`,
			folderId: folders.size === 1 ? papers[0].folderId : null
		};
	});
	for (const file of files) requireHarmless(file, scanning);
	const odd = files.find(({ contentType }) => !PAGED_TYPES.includes(contentType));
	if (odd) throw new DomainError('unreadable_file', `${odd.name} has no pages that could be joined. Leave it out; nothing was joined.`);
	requireFewBytes(files);
	const { pdf, pages } = await place.pdf.join(await pageSources(place.papers, files), {
		title: name.replace(/\.pdf$/, ''),
		under,
		pagesMost: JOINED_PAGES_MOST
	});
	const stored = await place.papers.putBuffer(pdf);
	try {
		const id = randomUUID();
		await place.db.inFirm(firmId, async (tx) => {
			await lockPapers(tx, input.clientId, input.paperIds);
			await tx.rows(
				`insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, given_by_id, uploaded_at, folder_id, pages)
				values ($1, $2, $3, $4, $5, $6, 'application/pdf', $7, $8, $9, (select id from folder where id = $10), $11)`,
				[id, firmId, input.clientId, name, stored.bytes, stored.sha256, stored.key, actor.id, actor.now, folderId, pages]
			);
			await recordEvent(tx, actor, { verb: 'papers_joined', clientId: input.clientId, paperId: id, details: { name, count: files.length } });
			await enqueue(tx, 'read_paper', { firmId, paperId: id });
		});
		return { id, name, pages };
	} catch (error) {
		await place.papers.remove(stored.key);
		throw error;
	}
}

/** Papers to be handed out together, with the folder of each; every one is noted as downloaded. */
export async function takeOutPapers(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; paperIds: readonly string[] | 'all' },
	scanning = false
): Promise<{ name: string; folder: string; storageKey: string; at: string }[]> {
	requireStaff(actor, 'look');
	const papers = await tx.rows<{ id: string; name: string; folder: string; storageKey: string; at: string; itemId: string | null; scan: Scan }>(
		`select p.id, p.name, coalesce(f.name, '') folder, p.storage_key "storageKey", p.uploaded_at "at", p.item_id "itemId", p.scan
		from paper p left join folder f on f.id = p.folder_id left join item i on i.id = p.item_id
		where p.client_id = $1 and ($2::uuid[] is null and p.newer_id is null and p.place in ('item', 'kept') or p.id = any ($2)) and p.removed_at is null and not p.held
			and (p.item_id is null or p.unasked or i.state not in ('asked', 'seen', 'started'))
		order by f.name nulls first, p.uploaded_at, p.id limit 5000`,
		[input.clientId, input.paperIds === 'all' ? null : input.paperIds.slice(0, AT_ONCE_MOST)]
	);
	if (papers.length === 0) throw new DomainError('not_found', 'None of these papers is here any more.');
	for (const paper of papers) requireHarmless(paper, scanning);
	await recordEvents(
		tx,
		actor,
		papers.map(({ id, name, itemId }) => ({ verb: 'paper_downloaded', clientId: input.clientId, paperId: id, itemId, details: { name } }))
	);
	return papers;
}
