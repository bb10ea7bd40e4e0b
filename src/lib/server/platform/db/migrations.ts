import { createHash } from 'node:crypto';
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { runMigrations as runQueueMigrations } from 'graphile-worker';
import pg from 'pg';
import { roleOptions } from './database';

const LOCK = 7_281_101;

/**
 * Brings a database to the newest schema: every file of db/migrations in order, each in its own
 * transaction and only once, then the job queue's own. Several processes may start at once: one does
 * it, the others wait.
 * @throws Error if a file that has already run was changed since
 */
export async function migrate(databaseUrl: string, folder = 'db/migrations'): Promise<void> {
	const client = new pg.Client({ connectionString: databaseUrl });
	await client.connect();
	try {
		await waitForLock(client);
		await client.query(`create table if not exists migration (
			name text primary key, sha256 text not null, ran_at timestamptz not null default now())`);
		const ran = new Map(
			(await client.query<{ name: string; sha256: string }>('select name, sha256 from migration')).rows.map((r) => [r.name, r.sha256])
		);
		const names = (await readdir(folder)).filter((name) => name.endsWith('.sql')).sort();
		for (const name of names) {
			const sql = await readFile(join(folder, name), 'utf8');
			const sha256 = createHash('sha256').update(sql).digest('hex');
			const known = ran.get(name);
			if (known && known !== sha256) throw new Error(`migration ${name} was changed after it had run; write a new one instead`);
			if (known) continue;
			await client.query('begin');
			try {
				await client.query(sql);
				await client.query('insert into migration (name, sha256) values ($1, $2)', [name, sha256]);
				await client.query('commit');
			} catch (error) {
				await client.query('rollback');
				throw new Error(`migration ${name} failed: ${(error as Error).message}`, { cause: error });
			}
		}
		const pool = new pg.Pool({ ...roleOptions({ DATABASE_URL: databaseUrl }, 'lantern_queue'), max: 2 });
		pool.on('error', () => undefined);
		pool.on('connect', (connection) => connection.on('error', () => undefined));
		try {
			await runQueueMigrations({ pgPool: pool });
		} finally {
			await pool.end();
		}
	} finally {
		await client.end();
	}
}

/** Polls instead of waiting inside pg_advisory_lock, which would hold a snapshot open. */
async function waitForLock(client: pg.Client): Promise<void> {
	for (;;) {
		const { rows } = await client.query<{ got: boolean }>('select pg_try_advisory_lock($1) got', [LOCK]);
		if (rows[0].got) return;
		await new Promise((resolve) => setTimeout(resolve, 200));
	}
}
