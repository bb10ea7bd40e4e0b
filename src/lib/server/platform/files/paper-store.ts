import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Transform, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { fileTypeFromBuffer } from 'file-type';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';

/** A file that has reached the disk whole, under a key that nobody can guess. */
export interface StoredFile {
	key: string;
	bytes: number;
	sha256: Buffer;
	/** what its first bytes say it is, whatever it was called */
	contentType: string;
}

export interface PaperStore {
	/**
	 * Streams to disk, hashing on the way; nothing is left behind if it fails.
	 * @throws DomainError too_many if it is larger than maxBytes, storage_full if the disk is
	 */
	put(content: Readable, maxBytes: number, signal?: AbortSignal): Promise<StoredFile>;
	putBuffer(content: Uint8Array): Promise<StoredFile>;
	read(key: string): Readable;
	size(key: string): Promise<number>;
	remove(key: string): Promise<void>;
}

const SNIFFED_BYTES = 4100;

/** Papers as files in a folder, spread over 256 subfolders. */
export function folderStore(folder: string): PaperStore {
	const path = (key: string) => {
		if (!/^[0-9a-f-]{36}$/.test(key)) throw new Error('not a storage key');
		return join(folder, key.slice(0, 2), key);
	};
	const put: PaperStore['put'] = async (content, maxBytes, signal) => {
		const key = randomUUID();
		const target = path(key);
		const partial = `${target}.partial`;
		await mkdir(dirname(target), { recursive: true });
		const hash = createHash('sha256');
		const head: Buffer[] = [];
		let bytes = 0;
		const measure = new Transform({
			transform(chunk: Buffer, _encoding, done) {
				if (bytes < SNIFFED_BYTES) head.push(chunk.subarray(0, SNIFFED_BYTES - bytes));
				bytes += chunk.length;
				if (bytes > maxBytes) return done(new DomainError('too_many', saying('wrong.paper.large', { max: Math.floor(maxBytes / 1024 / 1024) })));
				hash.update(chunk);
				done(null, chunk);
			}
		});
		try {
			await pipeline(content, measure, createWriteStream(partial, { flags: 'wx' }), { signal });
			const handle = await open(partial, 'r');
			await handle.sync().finally(() => handle.close());
			await rename(partial, target);
		} catch (error) {
			await rm(partial, { force: true });
			if (['ENOSPC', 'EDQUOT'].includes((error as NodeJS.ErrnoException).code ?? ''))
				throw new DomainError('storage_full', saying('wrong.paper.noRoom'));
			throw error;
		}
		return { key, bytes, sha256: hash.digest(), contentType: await sniff(Buffer.concat(head)) };
	};
	return {
		put,
		async putBuffer(content) {
			const { Readable } = await import('node:stream');
			return put(Readable.from([Buffer.from(content)]), content.byteLength);
		},
		read: (key) => createReadStream(path(key)),
		size: async (key) => (await stat(path(key))).size,
		remove: (key) => rm(path(key), { force: true })
	};
}

/** Removes what uploads that were cut off by the end of a process left behind. */
export async function removePartialFiles(folder: string, olderThanMs: number): Promise<number> {
	let removed = 0;
	for (const entry of await readdir(folder, { recursive: true, withFileTypes: true }).catch(() => [])) {
		if (!entry.name.endsWith('.partial')) continue;
		const file = join(entry.parentPath, entry.name);
		const { mtimeMs } = await stat(file).catch(() => ({ mtimeMs: Infinity }));
		if (Date.now() - mtimeMs > olderThanMs) {
			await rm(file, { force: true });
			removed++;
		}
	}
	return removed;
}

/** Removes uploads that nobody went on with. @returns how many files went */
export async function removeOldUploads(folder: string, olderThanMs: number): Promise<number> {
	let removed = 0;
	for (const name of await readdir(folder).catch(() => [])) {
		const file = join(folder, name);
		const { mtimeMs } = await stat(file).catch(() => ({ mtimeMs: Infinity }));
		if (Date.now() - mtimeMs <= olderThanMs) continue;
		await rm(file, { force: true });
		removed++;
	}
	return removed;
}

/** The content type by the first bytes; text only if it is plain UTF-8 without markup of a page. */
export async function sniff(head: Buffer): Promise<string> {
	const known = await fileTypeFromBuffer(head);
	if (known) return known.mime;
	if (head.length === 0 || head.includes(0)) return 'application/octet-stream';
	const text = head.toString('utf8');
	const cut = text.replace(/\uFFFD{1,3}$/, '');
	if (cut.includes('\uFFFD')) return 'application/octet-stream';
	if (/<\s*(!doctype|html|svg|script|body|iframe|\?xml)/i.test(text)) return 'application/octet-stream';
	return 'text/plain';
}
