import { constants, createWriteStream } from 'node:fs';
import { copyFile, mkdir, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { placeOfKey, type PaperStore } from '$lib/server/platform/files/paper-store';
import { storeOf } from '$lib/server/platform/files/stores';
import type { Settings } from '$lib/server/platform/settings';
import {
	asOwner,
	BackupRefused,
	countRows,
	DUMP,
	filesIn,
	hashOf,
	HASHES,
	MANIFEST,
	nameOfKey,
	PAPERS,
	runPostgres,
	type Manifest
} from './manifest';

type Given = Pick<Settings, 'DATABASE_URL' | 'PAPERS_FOLDER' | 'SECRET_KEY'> &
	Partial<Pick<Settings, 'S3_ENDPOINT' | 'S3_BUCKET' | 'S3_ACCESS_KEY' | 'S3_SECRET_KEY' | 'S3_REGION'>>;

async function copyPapers(from: string, to: string, hashes: Map<string, string>): Promise<number> {
	let bytes = 0;
	for (const path of await filesIn(from)) {
		if (hashes.has(path)) continue;
		const target = join(to, path);
		await mkdir(dirname(target), { recursive: true });
		try {
			await copyFile(join(from, path), target, constants.COPYFILE_FICLONE);
		} catch (error) {
			// it was removed in this moment; whether that matters is asked below
			if ((error as NodeJS.ErrnoException).code === 'ENOENT') continue;
			throw error;
		}
		hashes.set(path, await hashOf(target));
		bytes += (await stat(target)).size;
	}
	return bytes;
}

/** Copies files out of a store. What is not there is left out: whether that matters is asked afterwards. */
async function fetchPapers(store: PaperStore, keys: readonly string[], to: string, hashes: Map<string, string>): Promise<number> {
	let bytes = 0;
	for (const key of keys) {
		const size = await store.size(key).catch(() => null);
		if (size === null) continue;
		const target = join(to, placeOfKey(key));
		await mkdir(dirname(target), { recursive: true });
		await pipeline(store.read(key), createWriteStream(target));
		hashes.set(placeOfKey(key), await hashOf(target));
		bytes += size;
	}
	return bytes;
}

/**
 * Backs up database and papers into a new folder, also while the app runs: papers never change once they are there, so those of before are
 * copied, then the database as it is at one moment, then the papers that came meanwhile; and every paper that a row names is looked for.
 * Of an S3-compatible store are copied those that the database names.
 * @param folder must not be there, or be empty
 * @throws BackupRefused
 */
export async function backUp(given: Given, folder: string, now: Date): Promise<Manifest> {
	const there = await readdir(folder).catch((error: NodeJS.ErrnoException) => {
		if (error.code === 'ENOENT') return [];
		throw error.code === 'ENOTDIR' ? new BackupRefused(`${folder} is a file, not a folder`) : error;
	});
	if (there.length > 0) throw new BackupRefused(`${folder} is not empty: name a folder that is not there yet`);
	const partial = `${folder.replace(/\/+$/, '')}.partial`;
	await rm(partial, { recursive: true, force: true });
	await mkdir(join(partial, PAPERS), { recursive: true, mode: 0o700 });
	const store = storeOf({ S3_REGION: 'us-east-1', ...given });
	try {
		const hashes = new Map<string, string>();
		let bytes = store ? 0 : await copyPapers(given.PAPERS_FOLDER, join(partial, PAPERS), hashes);
		const { rows, schema, stored } = await dumpDatabase(given.DATABASE_URL, join(partial, DUMP));
		bytes += store
			? await fetchPapers(store, stored, join(partial, PAPERS), hashes)
			: await copyPapers(given.PAPERS_FOLDER, join(partial, PAPERS), hashes);
		const missing = stored.filter((key) => !hashes.has(placeOfKey(key)));
		if (missing.length > 0)
			throw new BackupRefused(
				`${missing.length} files that the database names are not in ${store ? 'the store' : 'PAPERS_FOLDER'} (the first: ${missing[0]}). If somebody removed a paper just now, try again.`
			);
		await writeFile(
			join(partial, HASHES),
			[...hashes]
				.sort()
				.map(([path, hash]) => `${hash}  ${PAPERS}/${path}\n`)
				.join('')
		);
		const manifest: Manifest = {
			format: 'humble-lantern backup 1',
			madeAt: now.toISOString(),
			schema,
			database: { file: DUMP, bytes: (await stat(join(partial, DUMP))).size, sha256: await hashOf(join(partial, DUMP)) },
			papers: { files: hashes.size, bytes, sha256: await hashOf(join(partial, HASHES)) },
			rows,
			secretKey: nameOfKey(given.SECRET_KEY)
		};
		await writeFile(join(partial, MANIFEST), `${JSON.stringify(manifest, null, '\t')}\n`);
		await rm(folder, { recursive: true, force: true });
		await rename(partial, folder);
		return manifest;
	} catch (error) {
		await rm(partial, { recursive: true, force: true });
		throw error;
	} finally {
		store?.close();
	}
}

/** Dumps the database, and counts and names what is in it, as it is at one and the same moment. */
function dumpDatabase(databaseUrl: string, file: string): Promise<{ rows: Record<string, number>; schema: string; stored: string[] }> {
	return asOwner(databaseUrl, async (client: pg.Client) => {
		await client.query('begin transaction isolation level repeatable read, read only');
		const { rows } = await client.query<{ snapshot: string }>('select pg_export_snapshot() snapshot');
		await runPostgres('pg_dump', ['--format=custom', '--no-owner', `--snapshot=${rows[0].snapshot}`, `--file=${file}`], databaseUrl);
		const counts = await countRows(client);
		const schema = (await client.query<{ name: string }>('select max(name) name from migration')).rows[0].name;
		const stored = (await client.query<{ storage_key: string }>('select distinct storage_key from stored_file')).rows;
		await client.query('commit');
		return { rows: counts, schema, stored: stored.map((row) => row.storage_key) };
	});
}
