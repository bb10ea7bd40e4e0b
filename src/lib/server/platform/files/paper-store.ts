import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { fileTypeFromBuffer } from 'file-type';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';

/** A file that has reached the store whole, under a key that nobody can guess. */
export interface StoredFile {
	key: string;
	bytes: number;
	sha256: Buffer;
	/** what its first bytes say it is, whatever it was called */
	contentType: string;
}

/** Bytes of a file, from the first to the last of them. */
export interface ByteRange {
	start: number;
	end: number;
}

export interface PaperStore {
	/**
	 * Streams into the store, hashing on the way; nothing is left behind if it fails.
	 * @param key under which it lies; a new one unless it comes from another store
	 * @throws DomainError too_many if it is larger than maxBytes, storage_full if there is no room, or the store does not answer
	 */
	put(content: Readable, maxBytes: number, signal?: AbortSignal, key?: string): Promise<StoredFile>;
	putBuffer(content: Uint8Array): Promise<StoredFile>;
	/**
	 * @param range only these bytes of it
	 * @param pieceBytes how much of it comes at once, where the store can choose
	 */
	read(key: string, range?: ByteRange, pieceBytes?: number): Readable;
	/** @throws Error if there is no such file */
	size(key: string): Promise<number>;
	remove(key: string): Promise<void>;
}

const SNIFFED_BYTES = 4100;

/** Whether something could not be written because there is no room, on the disk or for this user. */
export function isDiskFull(error: unknown): boolean {
	return ['ENOSPC', 'EDQUOT'].includes((error as NodeJS.ErrnoException).code ?? '');
}

/** Where in a store a file lies: spread over 256 folders, so that none of them holds too many. */
export function placeOfKey(key: string): string {
	if (!/^[0-9a-f-]{36}$/.test(key)) throw new Error('not a storage key');
	return `${key.slice(0, 2)}/${key}`;
}

/**
 * Measures a file on its way into a store.
 * @returns the stream to send it through, and what is known of it once it has gone
 */
export function measureOnTheWay(maxBytes: number): { measure: Transform; measured(): Promise<Omit<StoredFile, 'key'>> } {
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
	return { measure, measured: async () => ({ bytes, sha256: hash.digest(), contentType: await sniff(Buffer.concat(head)) }) };
}

/** Papers as files in a folder. */
export function folderStore(folder: string): PaperStore {
	const path = (key: string) => join(folder, placeOfKey(key));
	const put: PaperStore['put'] = async (content, maxBytes, signal, key = randomUUID()) => {
		const target = path(key);
		const partial = `${target}.partial`;
		const { measure, measured } = measureOnTheWay(maxBytes);
		try {
			await mkdir(dirname(target), { recursive: true });
			await pipeline(content, measure, createWriteStream(partial, { flags: 'wx' }), { signal });
			const handle = await open(partial, 'r');
			await handle.sync().finally(() => handle.close());
			await rename(partial, target);
		} catch (error) {
			await rm(partial, { force: true });
			if (isDiskFull(error)) throw new DomainError('storage_full', saying('wrong.paper.noRoom'));
			throw error;
		}
		return { key, ...(await measured()) };
	};
	return {
		put,
		putBuffer: (content) => put(Readable.from([Buffer.from(content)]), content.byteLength),
		read: (key, range, pieceBytes) => createReadStream(path(key), { ...range, highWaterMark: pieceBytes }),
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

/**
 * The content type by the first bytes. Text is what reads as text in UTF-8, UTF-16 with its mark, or the one-byte characters that banks
 * still write, and is no page a browser would run; files of banks in XML are text too.
 */
export async function sniff(head: Buffer): Promise<string> {
	// the mark of UTF-16 is the beginning of some music too
	const known = utf16Of(head) ? undefined : await fileTypeFromBuffer(head);
	if (known && known.mime !== 'application/xml') return known.mime;
	const text = textOf(head);
	if (text === null || /<\s*(!doctype|html|svg|script|body|iframe|xsl:|\?xml-stylesheet)/i.test(text)) return 'application/octet-stream';
	if (/<\s*\?xml/i.test(text) && !/<\?OFX|<OFX>|urn:iso:std:iso:20022:tech:xsd:camt/.test(text)) return 'application/octet-stream';
	return 'text/plain';
}

const UTF16_MARKS: Record<number, string> = { 0xfffe: 'utf-16le', 0xfeff: 'utf-16be' };
const utf16Of = (head: Buffer): string | null => (head.length > 1 ? (UTF16_MARKS[head.readUInt16BE(0)] ?? null) : null);

function textOf(head: Buffer): string | null {
	if (head.length === 0) return null;
	const utf16 = utf16Of(head);
	if (utf16) return textIn(utf16, head.subarray(0, head.length & ~1));
	// the last character may have been cut
	return textIn('utf-8', head, { stream: true }) ?? textIn('windows-1252', head);
}

function textIn(encoding: string, bytes: Buffer, options?: { stream: boolean }): string | null {
	try {
		const text = new TextDecoder(encoding, { fatal: true }).decode(bytes, options);
		// control characters that no text has; among them the five that windows-1252 leaves without a meaning
		return /[\u0000-\u0008\u000b\u000e-\u001f\u007f\u0081\u008d\u008f\u0090\u009d]/.test(text) ? null : text;
	} catch {
		return null;
	}
}
