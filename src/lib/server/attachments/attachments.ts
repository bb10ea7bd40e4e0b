import { randomUUID } from 'node:crypto';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { DomainError } from '$lib/core/errors/domain-error';
import { SIGNED_MOST_BYTES } from '$lib/core/items/kinds/letter';
import { asPaper, PAPER_MAX_BYTES, safeFileName } from '$lib/core/papers/file-name';
import { saying } from '$lib/words/sayings';
import { requireReader, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import type { EditionToCompare, NewEdition } from '../platform/pdf/new-edition';
import type { DocumentSurvey } from '../platform/pdf/survey-document';

export interface OpenPaper {
	name: string;
	contentType: string;
	bytes: number;
	storageKey: string;
}

/** A file of the firm that stands beside what is asked. */
export interface AttachmentRow {
	id: string;
	name: string;
	bytes: number;
	contentType: string;
}

/**
 * Takes in a file of the firm, to stand beside a line.
 * @throws DomainError unreadable_file, too_many, storage_full
 */
export async function takeInAttachment(
	place: { db: Database; papers: PaperStore },
	firmId: string,
	actor: Actor,
	input: { name: string; content: Readable; signal?: AbortSignal }
): Promise<AttachmentRow> {
	requireStaff(actor, 'send_request');
	const stored = await place.papers.put(input.content, PAPER_MAX_BYTES, input.signal);
	try {
		const given = safeFileName(input.name);
		if (stored.bytes === 0) throw new DomainError('unreadable_file', `${given} is empty. Choose it again.`);
		const kept = asPaper(given, stored.contentType);
		if (!kept) throw new DomainError('unreadable_file', `${given} is no file that can be shown safely: use a PDF, a picture or a document.`);
		const id = randomUUID();
		await place.db.inFirm(firmId, (tx) =>
			tx.rows(
				`insert into attachment (id, firm_id, name, bytes, sha256, content_type, storage_key, added_by_id, added_at) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
				[id, firmId, kept.name, stored.bytes, stored.sha256, kept.contentType, stored.key, actor.id, actor.now]
			)
		);
		return { id, bytes: stored.bytes, ...kept };
	} catch (error) {
		await place.papers.remove(stored.key);
		throw error;
	}
}

/** The files with these ids that whoever asks may see, by id. */
export async function readAttachments(tx: Tx, ids: readonly string[]): Promise<Record<string, AttachmentRow>> {
	if (ids.length === 0) return {};
	const rows = await tx.rows<AttachmentRow>('select id, name, bytes, content_type as "contentType" from attachment where id = any ($1)', [ids]);
	return Object.fromEntries(rows.map((row) => [row.id, row]));
}

/** No larger file is drawn: it would have to be read as a whole. */
const DRAWN_MOST_BYTES = 20 * 1024 * 1024;

/**
 * A picture of the first page of a PDF of the firm, for somebody who may see the file. Drawn when it is first asked for, once.
 * @param inTheirPlace a transaction of whoever asks: it sees no file that they may not see
 * @returns the storage key of a WebP picture, or null if there is none
 */
export async function firstPageOf(
	place: { db: Database; papers: PaperStore; pdf: Pick<PdfWork, 'firstPage'> },
	inTheirPlace: <T>(work: (tx: Tx) => Promise<T>) => Promise<T>,
	actor: Actor,
	id: string
): Promise<string | null> {
	requireReader(actor);
	const file = await inTheirPlace((tx) =>
		tx.first<{ firmId: string; key: string; bytes: number; contentType: string; firstPage: string | null; tried: string | null }>(
			`select firm_id as "firmId", storage_key as "key", bytes, content_type as "contentType", first_page as "firstPage", first_page_tried_at tried
			from attachment where id = $1`,
			[id]
		)
	);
	if (!file) throw new DomainError('not_found', 'There is no such file.');
	if (file.firstPage || file.tried || file.contentType !== 'application/pdf' || file.bytes > DRAWN_MOST_BYTES) return file.firstPage;
	const [mine] = await place.db.inFirm(file.firmId, (tx) =>
		tx.rows('update attachment set first_page_tried_at = $2 where id = $1 and first_page_tried_at is null returning id', [id, actor.now])
	);
	if (!mine) return null;
	const picture = await place.pdf.firstPage(await buffer(place.papers.read(file.key)));
	if (!picture) return null;
	const { key } = await place.papers.putBuffer(picture);
	await place.db.inFirm(file.firmId, (tx) => tx.rows('update attachment set first_page = $2 where id = $1', [id, key]));
	return key;
}

/**
 * Looks through a PDF of the firm that is to be signed; see `surveyDocument`.
 * @throws DomainError not_found, unreadable_file for what cannot be signed, with what to do instead
 */
export async function surveyAttachment(
	place: { db: Database; papers: PaperStore; pdf: PdfWork },
	firmId: string,
	actor: Actor,
	id: string
): Promise<DocumentSurvey> {
	requireStaff(actor, 'send_request');
	const file = requireSignable(await place.db.inFirm(firmId, (tx) => readAttachment(tx, id)));
	return place.pdf.survey(file.name, await buffer(place.papers.read(file.storageKey)));
}

/** Where the places of a PDF of the firm are on a new edition of it; see `compareEditions`. */
export interface EditionWanted {
	/** the old edition, and the new one */
	before: string;
	after: string;
	places: EditionToCompare['places'];
}

/**
 * Compares a PDF of the firm that is to be signed with its new edition, and carries the places over.
 * @throws DomainError not_found, unreadable_file for what cannot be signed
 */
export async function compareAttachments(
	place: { db: Database; papers: PaperStore; pdf: PdfWork },
	firmId: string,
	actor: Actor,
	wanted: EditionWanted
): Promise<NewEdition> {
	requireStaff(actor, 'send_request');
	const [before, after] = await place.db.inFirm(firmId, async (tx) => [
		requireSignable(await readAttachment(tx, wanted.before)),
		requireSignable(await readAttachment(tx, wanted.after))
	]);
	return place.pdf.edition({
		before: await buffer(place.papers.read(before.storageKey)),
		after: { name: after.name, pdf: await buffer(place.papers.read(after.storageKey)) },
		places: wanted.places
	});
}

/** @throws DomainError unreadable_file for what cannot be signed, with what to do instead */
function requireSignable(file: OpenPaper): OpenPaper {
	if (file.contentType !== 'application/pdf')
		throw new DomainError('unreadable_file', `${file.name} is no PDF. Save it as one, and add that; or put it beside the line to be read.`);
	if (file.bytes > SIGNED_MOST_BYTES)
		throw new DomainError('unreadable_file', `${file.name} is larger than 60 MB. Save it smaller, or have only its last pages signed.`);
	return file;
}

/** A file of the firm as it is sent to somebody, whoever that is. @throws DomainError not_found */
export async function readAttachment(tx: Tx, id: string): Promise<OpenPaper> {
	const row = await tx.first<OpenPaper>(
		'select name, content_type as "contentType", bytes, storage_key as "storageKey" from attachment where id = $1',
		[id]
	);
	if (!row) throw new DomainError('not_found', 'There is no such file.');
	return row;
}

/**
 * A file of the firm for somebody who may see it; what a client opens is noted on the item.
 * @param ofItem the one item whose files they may open; null for whatever is asked of them
 * @throws DomainError not_found
 */
export async function openAttachment(tx: Tx, actor: Actor, id: string, ofItem: string | null = null): Promise<OpenPaper> {
	requireReader(actor);
	const row = await readAttachment(tx, id);
	if (actor.kind === 'contact') {
		const item = await tx.first<{ id: string; client_id: string; request_id: string }>(
			'select id, client_id, request_id from item where attachments @> array[$1::uuid] and ($2::uuid is null or id = $2) order by state_at desc limit 1',
			[id, ofItem]
		);
		if (!item) throw new DomainError('not_found', saying('wrong.paper.unknown'));
		await recordEvent(tx, actor, {
			verb: 'attachment_opened',
			clientId: item.client_id,
			itemId: item.id,
			requestId: item.request_id,
			details: { name: row.name }
		});
	}
	return row;
}
