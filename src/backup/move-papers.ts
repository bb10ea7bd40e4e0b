import { createHash } from 'node:crypto';
import { pipeline } from 'node:stream/promises';
import type { PaperStore } from '$lib/server/platform/files/paper-store';
import { asOwner } from './manifest';

/** A file that the database names; null where it does not know the hash. */
export interface NamedFile {
	key: string;
	sha256: Buffer | null;
}

/** Files that are on their way at once: enough to fill the line, few enough for the memory. */
const AT_ONCE = 4;

/** Every file that the database names. @throws BackupRefused if it cannot be reached */
export function readNamedFiles(databaseUrl: string): Promise<NamedFile[]> {
	return asOwner(databaseUrl, async (client) => {
		const { rows } = await client.query<NamedFile>(
			// what one row knows the hash of, another may only point to
			`select storage_key key, (array_agg(sha256) filter (where sha256 is not null))[1] sha256 from stored_file group by storage_key order by storage_key`
		);
		return rows;
	});
}

/** The hash of a file as it lies in a store; null if it is not there, or cannot be read to its end. */
async function hashIn(store: PaperStore, key: string): Promise<Buffer | null> {
	try {
		await store.size(key);
		const hash = createHash('sha256');
		await pipeline(store.read(key), hash);
		return hash.digest();
	} catch {
		return null;
	}
}

async function several<T>(all: readonly T[], work: (one: T) => Promise<void>): Promise<void> {
	let next = 0;
	await Promise.all(
		Array.from({ length: AT_ONCE }, async () => {
			while (next < all.length) await work(all[next++]);
		})
	);
}

export interface Moved {
	/** files that were copied */
	copied: number;
	bytes: number;
	/** files that were there already, whole */
	there: number;
	/** keys of files that are not where they should be, or are not what the database says */
	wrong: string[];
}

/**
 * Copies every file from one store to another, under its key, and reads it back from there: what is not the same by its SHA-256 counts as
 * wrong and is removed again. What is there already is read too, and not sent twice. Nothing is removed where it came from, so it can be
 * run again, and while the app runs.
 */
export async function movePapers(files: readonly NamedFile[], from: PaperStore, to: PaperStore): Promise<Moved> {
	const moved: Moved = { copied: 0, bytes: 0, there: 0, wrong: [] };
	await several(files, async ({ key, sha256 }) => {
		const [known, there] = [sha256 ?? (await hashIn(from, key)), await hashIn(to, key)];
		// where neither the database nor the place it came from can tell, what is there is all there is
		if (there && (!known || there.equals(known))) {
			moved.there++;
			return;
		}
		let sent = false;
		try {
			const bytes = await from.size(key);
			const stored = await to.put(from.read(key), bytes, undefined, key);
			sent = true;
			if (!known || !stored.sha256.equals(known) || !(await hashIn(to, key))?.equals(known)) throw new Error('another file than the database says');
			moved.copied++;
			moved.bytes += bytes;
		} catch {
			moved.wrong.push(key);
			// only what was sent by this run goes again
			if (sent) await to.remove(key).catch(() => undefined);
		}
	});
	moved.wrong.sort();
	return moved;
}

/** Reads every file in a store. @returns the keys of those that are not there, or are not what the database says */
export async function checkPapers(files: readonly NamedFile[], store: PaperStore): Promise<string[]> {
	const wrong: string[] = [];
	await several(files, async ({ key, sha256 }) => {
		const found = await hashIn(store, key);
		if (!found || (sha256 && !found.equals(sha256))) wrong.push(key);
	});
	return wrong.sort();
}
