import { join } from 'node:path';
import { DomainError } from '$lib/core/errors/domain-error';
import { PAPER_MAX_BYTES } from '$lib/core/papers/file-name';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../actor';
import type { Tx } from '../platform/db/database';

/** Where uploads are gathered, beside the papers. */
export const uploadsFolder = (papersFolder: string) => join(papersFolder, 'uploads');

/** How long an upload that was broken off may be gone on with. */
export const UPLOAD_KEPT_HOURS = 24;
/** What somebody may have begun and not finished: as many as an item takes, and not more than a few of the largest. */
const UNFINISHED_MOST = 200;
const UNFINISHED_MOST_BYTES = 10 * PAPER_MAX_BYTES;

/** Notes that somebody began an upload. @throws DomainError too_many */
export async function noteBegunUpload(tx: Tx, actor: Actor, id: string, bytes: number): Promise<void> {
	await tx.rows('select pg_advisory_xact_lock(hashtext($1))', [`uploads ${actor.id}`]);
	const going = await tx.first<{ count: number; bytes: number }>(
		'select count(*) count, coalesce(sum(bytes), 0)::bigint bytes from unfinished_upload where contact_id = $1 or staff_id = $1',
		[actor.id]
	);
	if (going!.count >= UNFINISHED_MOST || going!.bytes + bytes > UNFINISHED_MOST_BYTES)
		throw new DomainError('too_many', saying('wrong.paper.unfinished'));
	const [contactId, staffId] = actor.kind === 'contact' ? [actor.id, null] : [null, actor.id];
	await tx.rows('insert into unfinished_upload (id, firm_id, contact_id, staff_id, bytes) values ($1, $2, $3, $4, $5)', [
		id,
		tx.firmId,
		contactId,
		staffId,
		bytes
	]);
}

/** Deletes the rows of uploads whose files are gone because nobody continued them. */
export async function forgetOldUploads(tx: Tx): Promise<void> {
	await tx.rows('delete from unfinished_upload where firm_id = $1 and begun_at < clock_timestamp() - make_interval(hours => $2)', [
		tx.firmId,
		2 * UPLOAD_KEPT_HOURS
	]);
}

/** Deletes the row of an upload that is finished or given up. */
export async function forgetUpload(tx: Tx, uploadId: string): Promise<void> {
	await tx.rows('delete from unfinished_upload where id = $1', [uploadId]);
}

/** @returns the size of the paper that somebody's upload has become already; null if it is not there */
export async function bytesOfUpload(tx: Tx, actor: Actor, uploadId: string): Promise<number | null> {
	const paper = await tx.first<{ bytes: number }>('select bytes from paper where id = $1 and (uploaded_by_contact_id = $2 or given_by_id = $2)', [
		uploadId,
		actor.id
	]);
	return paper?.bytes ?? null;
}
