import { randomUUID } from 'node:crypto';
import { buffer } from 'node:stream/consumers';
import { DomainError } from '$lib/core/errors/domain-error';
import { asPaper, PAGED_TYPES } from '$lib/core/papers/file-name';
import type { PagePlan } from '$lib/core/papers/page-plan';
import { requireStaff, type Actor } from '../actor';
import { recordEvents } from '../audit/record-event';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore, StoredFile } from '../platform/files/paper-store';
import type { PageSource } from '../platform/pdf/arrange-pages';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { enqueue } from '../platform/queue';
import { requireHarmless, type Scan } from './scanning';

/** Bytes of the files whose pages are put in order at once, at most: they are in memory as a whole. */
const BYTES_MOST = 100 * 1024 * 1024;

/** The name of a PDF that is made, as it was typed, with its ending. */
export const pdfName = (typed: string): string => asPaper(`${typed.replace(/[/\\]/g, '-').replace(/\.pdf$/i, '')}.pdf`, 'application/pdf')!.name;

/** @throws DomainError too_many if they are more than are held in memory at once */
export function requireFewBytes(files: readonly { bytes: number }[]): void {
	if (files.reduce((sum, { bytes }) => sum + bytes, 0) > BYTES_MOST)
		throw new DomainError('too_many', `These files are larger than ${BYTES_MOST / 1024 / 1024} MB together. Take fewer at once.`);
}

/** The files themselves, to be handed to the thread that takes their pages. */
export const pageSources = (papers: PaperStore, files: readonly { name: string; contentType: string; storageKey: string }[]): Promise<PageSource[]> =>
	Promise.all(files.map(async ({ name, contentType, storageKey }) => ({ name, contentType, bytes: await buffer(papers.read(storageKey)) })));

/** A file whose pages can be put in order. */
export interface PagedPaper {
	id: string;
	name: string;
	contentType: string;
	bytes: number;
}

/**
 * A file without a place whose pages are to be put in order, and the others of its client that wait and have pages.
 * @throws DomainError not_found, changed_meanwhile once it has its place, unreadable_file if it has no pages
 */
export async function readPagedPapers(
	tx: Tx,
	actor: Actor,
	paperId: string
): Promise<{ paper: PagedPaper; others: PagedPaper[]; clientId: string; clientName: string }> {
	requireStaff(actor, 'file_papers');
	const paper = await tx.first<PagedPaper & { waits: boolean; held: boolean; paged: boolean; clientId: string; clientName: string }>(
		`select p.id, p.name, p.content_type "contentType", p.bytes, p.waits, p.held, p.content_type = any ($2) paged, p.client_id "clientId", c.name "clientName"
		from paper p join client c on c.id = p.client_id where p.id = $1 and p.unasked`,
		[paperId, PAGED_TYPES]
	);
	if (!paper) throw new DomainError('not_found', 'This file is not here any more.');
	if (!paper.waits) throw new DomainError('changed_meanwhile', 'It has its place by now, or was taken back.');
	if (paper.held) throw new DomainError('changed_meanwhile', `${paper.name} came from somebody who is not known. Let it in first.`);
	if (!paper.paged) throw new DomainError('unreadable_file', `${paper.name} has no pages that could be put in order.`);
	const { waits: _waits, held: _held, paged: _paged, clientId, clientName, ...one } = paper;
	const others = await tx.rows<PagedPaper>(
		`select id, name, content_type "contentType", bytes from paper
		where client_id = $1 and waits and not held and id <> $2 and content_type = any ($3) order by uploaded_at, id limit 60`,
		[clientId, paperId, PAGED_TYPES]
	);
	return { paper: one, others, clientId, clientName };
}

interface Source extends PagedPaper {
	storageKey: string;
	clientId: string;
	contactId: string | null;
	folderId: string | null;
	mailId: string | null;
	note: string;
	at: string;
	scan: Scan;
}

/** Locks the files whose pages are wanted, in the order in which they are named first. @throws DomainError not_found, changed_meanwhile, unreadable_file */
async function lockSources(tx: Tx, plan: PagePlan): Promise<Source[]> {
	const ids = [...new Set(plan.flatMap(({ pages }) => pages.map(({ paperId }) => paperId)))];
	const rows = await tx.rows<Source & { waits: boolean; held: boolean; paged: boolean }>(
		`select id, name, content_type "contentType", bytes, storage_key "storageKey", client_id "clientId", uploaded_by_contact_id "contactId", folder_id "folderId",
			mail_id "mailId", note, uploaded_at "at", scan, waits, held, content_type = any ($2) paged
		from paper where id = any ($1) and unasked order by array_position($1, id) for update`,
		[ids, PAGED_TYPES]
	);
	const clients = new Set(rows.map(({ clientId }) => clientId));
	if (rows.length < ids.length || clients.size > 1)
		throw new DomainError('not_found', 'One of these files is not here any more. Nothing was changed.');
	const dealt = rows.find(({ waits }) => !waits);
	if (dealt) throw new DomainError('changed_meanwhile', `${dealt.name} has its place by now, or was taken back. Nothing was changed.`);
	if (rows.some(({ held, paged }) => held || !paged)) throw new DomainError('unreadable_file', 'One of these files has no pages that can be taken.');
	return rows;
}

/**
 * Makes files of the pages of what came and has no place yet: they wait for their places in its stead. What came is put away as it is, and can be
 * brought back.
 * @param scanning whether a scanner for harmful content is set up
 * @returns the ids of the files that were made, in their order
 * @throws DomainError not_found, changed_meanwhile if somebody was faster, unreadable_file for what is locked or damaged, too_many, storage_full
 */
export async function arrangePages(
	place: { db: Database; papers: PaperStore; pdf: Pick<PdfWork, 'arrange'> },
	firmId: string,
	actor: Actor,
	plan: PagePlan,
	scanning = false
): Promise<string[]> {
	requireStaff(actor, 'file_papers');
	const sources = await place.db.inFirm(firmId, (tx) => lockSources(tx, plan));
	for (const source of sources) requireHarmless(source, scanning);
	requireFewBytes(sources);
	const files = plan.map(({ name, pages }) => ({
		name: pdfName(name),
		pages: pages.map(({ paperId, page, turn }) => ({ source: sources.findIndex(({ id }) => id === paperId), page, turn }))
	}));
	const made = await place.pdf.arrange(
		await pageSources(place.papers, sources),
		files.map(({ name, pages }) => ({ title: name.replace(/\.pdf$/, ''), pages }))
	);
	const stored: StoredFile[] = [];
	try {
		for (const bytes of made) stored.push(await place.papers.putBuffer(bytes));
		return await place.db.inFirm(firmId, async (tx) => {
			await lockSources(tx, plan);
			return takeTheirPlace(tx, actor, sources, files, stored);
		});
	} catch (error) {
		for (const { key } of stored) await place.papers.remove(key);
		throw error;
	}
}

async function takeTheirPlace(
	tx: Tx,
	actor: Actor,
	sources: readonly Source[],
	files: readonly { name: string; pages: readonly { source: number }[] }[],
	stored: readonly StoredFile[]
): Promise<string[]> {
	const mark = randomUUID();
	const made = files.map(({ name, pages }, index) => {
		const { key, bytes, sha256 } = stored[index];
		// what is made of several files is from whoever sent the first page
		const { clientId, contactId, folderId, mailId, note, at } = sources[pages[0].source];
		const hash = sha256.toString('hex');
		return { id: randomUUID(), name, bytes, hash, key, clientId, contactId, folderId, mailId, note, at, pages: pages.length, index };
	});
	await tx.rows(
		`insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, uploaded_by_contact_id, uploaded_at, unasked, folder_id, mail_id,
			note, pages, arranged_from)
		select m.id, $1, m."clientId", m.name, m.bytes, decode(m.hash, 'hex'), 'application/pdf', m.key, m."contactId",
			-- one after the other in lists that are in the order in which things came
			m.at + m.index * interval '1 millisecond', true, m."folderId", m."mailId", m.note, m.pages, $2
		from jsonb_to_recordset($3) m (id uuid, name text, bytes bigint, hash text, key text, "clientId" uuid, "contactId" uuid, "folderId" uuid, "mailId" uuid,
			note text, at timestamptz, pages int, index int)`,
		[tx.firmId, mark, JSON.stringify(made)]
	);
	await tx.rows('update paper set put_away_at = $2, put_away_by_id = $3, arranged_in = $4 where id = any ($1)', [
		sources.map(({ id }) => id),
		actor.now,
		actor.id,
		mark
	]);
	await recordEvents(
		tx,
		actor,
		sources.map(({ id, clientId, name }, index) => ({
			verb: 'pages_arranged',
			clientId,
			paperId: id,
			details: {
				name,
				files: files
					.filter(({ pages }) => pages.some(({ source }) => source === index))
					.map((file) => file.name)
					.join(', ')
			}
		}))
	);
	await recordEvents(
		tx,
		actor,
		made.map(({ id, name, clientId, pages }) => ({ verb: 'paper_arranged', clientId, paperId: id, details: { name, pages } }))
	);
	for (const { id } of made) await enqueue(tx, 'read_paper', { firmId: tx.firmId, paperId: id });
	return made.map(({ id }) => id);
}

/**
 * Takes an arrangement of pages back: what came waits for its place as it did, and what was made of it is gone.
 * @throws DomainError changed_meanwhile once a file that was made of it has its place, or was taken apart again
 */
export async function takeArrangementBack(tx: Tx, actor: Actor, mark: string): Promise<void> {
	const parts = await tx.rows<{ id: string; name: string; place: string; again: boolean }>(
		`select id, name, place, arranged_in is not null again from paper where arranged_from = $1 and removed_at is null order by uploaded_at for update`,
		[mark]
	);
	const placed = parts.find(({ place, again }) => again || (place !== 'waits' && place !== 'away'));
	if (placed)
		throw new DomainError(
			'changed_meanwhile',
			`${placed.name} was made of its pages and ${placed.again ? 'was taken apart again' : 'has its place'}. Take that back first.`
		);
	await tx.rows('update paper set removed_at = $2 where id = any ($1)', [parts.map(({ id }) => id), actor.now]);
	const back = await tx.rows<{ id: string; name: string; clientId: string }>(
		`update paper set put_away_at = null, put_away_by_id = null, kept = false, shown_at = null, shown_by_id = null, arranged_in = null where arranged_in = $1 returning id, name, client_id "clientId"`,
		[mark]
	);
	await recordEvents(
		tx,
		actor,
		back.map(({ id, name, clientId }) => ({ verb: 'arrival_brought_back', clientId, paperId: id, details: { name } }))
	);
}
