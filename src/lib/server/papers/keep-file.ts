import type { Readable } from 'node:stream';
import { DomainError } from '$lib/core/errors/domain-error';
import { asPaper, safeFileName } from '$lib/core/papers/file-name';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../actor';
import { recordEvents } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import type { PaperStore, StoredFile } from '../platform/files/paper-store';

/** A file in the store, with the name and type under which it may be kept. */
export interface FileToKeep {
	name: string;
	contentType: string;
	stored: StoredFile;
}

/**
 * Streams a file to the store, looks at what it is, and only then has it written down: the row and the file appear together or not at all.
 * @param mostBytes size of the largest that is taken
 * @param write writes the row; if it fails the file is removed again
 * @throws DomainError too_many, unreadable_file, storage_full, and what `write` throws
 */
export async function keepFile<T>(
	papers: PaperStore,
	input: { name: string; content: Readable; signal?: AbortSignal },
	mostBytes: number,
	write: (file: FileToKeep) => Promise<T>
): Promise<T> {
	const stored = await papers.put(input.content, mostBytes, input.signal);
	try {
		if (stored.bytes === 0) throw new DomainError('unreadable_file', saying('wrong.paper.empty', { name: safeFileName(input.name) }));
		const kept = asPaper(input.name, stored.contentType);
		if (!kept) throw new DomainError('unreadable_file', saying('wrong.paper.kind', { name: safeFileName(input.name) }));
		return await write({ ...kept, stored });
	} catch (error) {
		await papers.remove(stored.key);
		throw error;
	}
}

/** Holds that an upload has not become a paper yet: its end may be reported more than once. @throws DomainError changed_meanwhile */
export async function requireNew(tx: Tx, uploadId: string | undefined): Promise<void> {
	if (uploadId && (await tx.first('select 1 from paper where id = $1', [uploadId])))
		throw new DomainError('changed_meanwhile', saying('wrong.paper.noMore'));
}

/** Gives papers their new names, with one line each in the history. */
export async function renameRows(
	tx: Tx,
	actor: Actor,
	renamed: readonly { id: string; clientId: string; name: string; becomes: string }[]
): Promise<void> {
	await tx.rows('update paper p set name = r.becomes from jsonb_to_recordset($1) r (id uuid, becomes text) where p.id = r.id', [
		JSON.stringify(renamed.map(({ id, becomes }) => ({ id, becomes })))
	]);
	await recordEvents(
		tx,
		actor,
		renamed.map(({ id, clientId, name, becomes }) => ({ verb: 'paper_renamed' as const, clientId, paperId: id, details: { name, to: becomes } }))
	);
}
