import { randomUUID } from 'node:crypto';
import type { Readable } from 'node:stream';
import { DomainError } from '$lib/core/errors/domain-error';
import { asPaper, PAPER_MAX_BYTES, safeFileName } from '$lib/core/papers/file-name';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { OpenPaper } from '../papers/papers';

/** A file of the firm that stands beside what is asked. */
export interface AttachmentLine {
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
): Promise<AttachmentLine> {
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
				`insert into attachment (id, firm_id, name, bytes, sha256, content_type, storage_key, added_by, added_at) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
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
export async function readAttachments(tx: Tx, ids: readonly string[]): Promise<Record<string, AttachmentLine>> {
	if (ids.length === 0) return {};
	const rows = await tx.rows<AttachmentLine>('select id, name, bytes, content_type as "contentType" from attachment where id = any ($1)', [ids]);
	return Object.fromEntries(rows.map((row) => [row.id, row]));
}

/** A file of the firm for somebody who may see it; what a client opens is noted on the item. @throws DomainError not_found */
export async function openAttachment(tx: Tx, actor: Actor, id: string): Promise<OpenPaper> {
	const row = await tx.first<OpenPaper>(
		'select name, content_type as "contentType", bytes, storage_key as "storageKey" from attachment where id = $1',
		[id]
	);
	if (!row) throw new DomainError('not_found', 'There is no such file.');
	if (actor.kind === 'contact') {
		const item = await tx.first<{ id: string; client_id: string; request_id: string }>(
			'select id, client_id, request_id from item where attachments @> array[$1::uuid] order by state_at desc limit 1',
			[id]
		);
		await recordEvent(tx, actor, {
			verb: 'attachment_opened',
			clientId: item!.client_id,
			itemId: item!.id,
			requestId: item!.request_id,
			details: { name: row.name }
		});
	}
	return row;
}
