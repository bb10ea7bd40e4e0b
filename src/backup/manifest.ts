import { spawn } from 'node:child_process';
import { createHash, createHmac } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { readdir } from 'node:fs/promises';
import { join, relative } from 'node:path';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { z } from 'zod';
import { keysOf } from '$lib/server/platform/tokens';

/** Files of a backup. */
export const DUMP = 'database.dump';
export const PAPERS = 'papers';
export const HASHES = 'papers.sha256';
export const MANIFEST = 'manifest.json';

/** What a backup says of itself; the hashes of the papers stand beside it, as `sha256sum -c` reads them. */
export const manifestSchema = z.object({
	format: z.literal('humble-lantern backup 1'),
	madeAt: z.iso.datetime(),
	/** the newest migration that had run */
	schema: z.string(),
	database: z.object({ file: z.literal(DUMP), bytes: z.number(), sha256: z.string() }),
	papers: z.object({ files: z.number(), bytes: z.number(), sha256: z.string() }),
	/** rows by table, to be found again */
	rows: z.record(z.string(), z.number()),
	/** names the key without giving it away */
	secretKey: z.string()
});
export type Manifest = z.infer<typeof manifestSchema>;

/** Something a person can put right; the message is one or more plain lines. */
export class BackupRefused extends Error {}

/** Names a SECRET_KEY, the newest of the setting. */
export function nameOfKey(secretKey: string): string {
	return createHmac('sha256', keysOf(secretKey)[0]).update('name of the key').digest('hex').slice(0, 16);
}

/** SHA-256 of a file, in hex. */
export async function hashOf(file: string): Promise<string> {
	const hash = createHash('sha256');
	await pipeline(createReadStream(file), hash);
	return hash.digest('hex');
}

/** The files of a papers folder that are whole, as paths within it; what is on its way in is left out. */
export async function filesIn(folder: string): Promise<string[]> {
	const entries = await readdir(folder, { recursive: true, withFileTypes: true }).catch((error: NodeJS.ErrnoException) => {
		if (error.code === 'ENOENT') return [];
		throw error;
	});
	return entries
		.filter((entry) => entry.isFile())
		.map((entry) => relative(folder, join(entry.parentPath, entry.name)))
		.filter((path) => /^[0-9a-f]{2}\/[0-9a-f-]{36}$/.test(path))
		.sort();
}

/**
 * Runs a program of PostgreSQL against a database. The password goes by the environment: what stands on the command line, everybody on
 * the machine can read.
 * @throws BackupRefused with what the program said
 */
export async function runPostgres(program: string, args: readonly string[], databaseUrl: string): Promise<void> {
	const url = new URL(databaseUrl);
	const sslmode = url.searchParams.get('sslmode');
	const rootCertificate = url.searchParams.get('sslrootcert');
	const child = spawn(program, args, {
		stdio: ['ignore', 'ignore', 'pipe'],
		env: {
			PATH: process.env.PATH,
			LC_ALL: 'C.UTF-8',
			PGHOST: url.hostname.replace(/^\[|\]$/g, ''),
			PGPORT: url.port || '5432',
			PGUSER: decodeURIComponent(url.username),
			PGPASSWORD: decodeURIComponent(url.password),
			PGDATABASE: decodeURIComponent(url.pathname.slice(1)),
			...(sslmode ? { PGSSLMODE: sslmode } : {}),
			...(rootCertificate ? { PGSSLROOTCERT: rootCertificate } : {})
		}
	});
	let said = '';
	child.stderr.on('data', (text: Buffer) => (said += text.toString()));
	const code = await new Promise<number | null>((resolve, reject) => {
		child.once('error', (error: NodeJS.ErrnoException) =>
			reject(error.code === 'ENOENT' ? new BackupRefused(`${program} is not installed (Debian package postgresql-client)`) : error)
		);
		child.once('close', resolve);
	});
	if (code !== 0) throw new BackupRefused(`${program}: ${said.trim() || `ended with ${code}`}`);
}

/** Runs work with one connection as the owner of the schema. */
export async function asOwner<T>(databaseUrl: string, work: (client: pg.Client) => Promise<T>): Promise<T> {
	const client = new pg.Client({ connectionString: databaseUrl });
	client.on('error', () => undefined);
	await client.connect().catch((error: Error) => {
		throw new BackupRefused(`DATABASE_URL: the database cannot be reached (${(error as { code?: string }).code ?? error.message})`);
	});
	try {
		return await work(client);
	} finally {
		await client.end();
	}
}

/** How many rows each table has. Tables that any process writes to as it goes are left out: they tell nothing. */
export async function countRows(client: pg.Client): Promise<Record<string, number>> {
	const { rows } = await client.query<{ name: string }>(
		`select relname name from pg_class where relkind = 'r' and relnamespace = 'public'::regnamespace and relname <> all ('{worker_beat,rate_limit,migration}') order by 1`
	);
	const counts: Record<string, number> = {};
	for (const { name } of rows)
		counts[name] = Number((await client.query<{ n: string }>(`select count(*) n from ${pg.escapeIdentifier(name)}`)).rows[0].n);
	return counts;
}
