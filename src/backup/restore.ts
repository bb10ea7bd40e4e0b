import { constants } from 'node:fs';
import { copyFile, mkdir, readFile, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import pg from 'pg';
import { placeOfKey } from '$lib/server/platform/files/paper-store';
import { migrate } from '$lib/server/platform/db/migrations';
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
	manifestSchema,
	nameOfKey,
	PAPERS,
	runPostgres,
	type Manifest
} from './manifest';

type Given = Pick<Settings, 'DATABASE_URL' | 'APP_DATABASE_URL' | 'PAPERS_FOLDER' | 'SECRET_KEY'>;

export interface Restored {
	manifest: Manifest;
	/** messages that were planned when the backup was made, and go out once a worker starts, or were held back */
	messages: number;
}

/** Reads a backup and holds every file of it against its hash. @throws BackupRefused */
async function readBackup(folder: string): Promise<{ manifest: Manifest; hashes: Map<string, string> }> {
	const text = await readFile(join(folder, MANIFEST), 'utf8').catch(() => {
		throw new BackupRefused(`${folder} is no backup: it holds no ${MANIFEST}`);
	});
	let manifest: Manifest;
	try {
		manifest = manifestSchema.parse(JSON.parse(text));
	} catch {
		throw new BackupRefused(`${join(folder, MANIFEST)} cannot be read; it was made by another version, or changed`);
	}
	const hashIs = async (file: string, hash: string) => (await hashOf(join(folder, file)).catch(() => '')) === hash;
	if (!(await hashIs(DUMP, manifest.database.sha256))) throw new BackupRefused(`${DUMP} of the backup is missing, or is not what was backed up`);
	if (!(await hashIs(HASHES, manifest.papers.sha256))) throw new BackupRefused(`${HASHES} of the backup is missing, or is not what was backed up`);
	const hashes = new Map(
		(await readFile(join(folder, HASHES), 'utf8'))
			.split('\n')
			.filter(Boolean)
			.map((line): [string, string] => [line.slice(64 + 2 + PAPERS.length + 1), line.slice(0, 64)])
	);
	for (const [path, hash] of hashes)
		if (!(await hashIs(join(PAPERS, path), hash)))
			throw new BackupRefused(`${PAPERS}/${path} of the backup is missing, or is not what was backed up`);
	return { manifest, hashes };
}

/** The roles the schema names, and the app's own sign-in, as `APP_DATABASE_URL` has it. */
async function makeRoles(client: pg.Client, appUrl: string | undefined): Promise<void> {
	const exists = async (role: string) => (await client.query('select 1 from pg_roles where rolname = $1', [role])).rowCount! > 0;
	const isMember = async (member: string, role: string) =>
		(await client.query<{ is: boolean }>(`select pg_has_role($1, $2, 'member') "is"`, [member, role])).rows[0].is;
	const { me } = (await client.query<{ me: string }>('select current_user::text me')).rows[0];
	for (const role of ['lantern_app', 'lantern_contact', 'lantern_queue']) {
		if (!(await exists(role))) await client.query(`create role ${role} nologin`);
		if (!(await isMember(me, role))) await client.query(`grant ${role} to ${pg.escapeIdentifier(me)}`);
	}
	if (!appUrl) return;
	const { username, password } = new URL(appUrl);
	const app = decodeURIComponent(username);
	if (!(await exists(app)))
		await client.query(`create role ${pg.escapeIdentifier(app)} login password ${pg.escapeLiteral(decodeURIComponent(password))}`);
	for (const role of ['lantern_app', 'lantern_contact'])
		if (!(await isMember(app, role))) await client.query(`grant ${role} to ${pg.escapeIdentifier(app)}`);
}

/** The queue's schema belongs to the queue's role, which a dump without owners does not say; else neither app nor worker may use it. */
const GIVE_QUEUE_ITS_SCHEMA = `do $$
declare
	it record;
begin
	execute format('grant create on database %I to lantern_queue', current_database());
	alter schema graphile_worker owner to lantern_queue;
	for it in select format('%I.%I', n.nspname, c.relname) name, c.relkind kind from pg_class c join pg_namespace n on n.oid = c.relnamespace
		where n.nspname = 'graphile_worker' and c.relkind in ('r', 'v', 'S') and not exists (
			select from pg_depend d where d.objid = c.oid and d.classid = 'pg_class'::regclass and d.deptype in ('a', 'i') and c.relkind = 'S') loop
		execute format('alter %s %s owner to lantern_queue', case it.kind when 'v' then 'view' when 'S' then 'sequence' else 'table' end, it.name);
	end loop;
	for it in select p.oid::regprocedure name from pg_proc p where p.pronamespace = 'graphile_worker'::regnamespace loop
		execute format('alter function %s owner to lantern_queue', it.name);
	end loop;
	for it in select t.oid::regtype name from pg_type t left join pg_class c on c.oid = t.typrelid
		where t.typnamespace = 'graphile_worker'::regnamespace and (t.typtype = 'd' or t.typtype = 'c' and c.relkind = 'c') loop
		execute format('alter type %s owner to lantern_queue', it.name);
	end loop;
end $$`;

const HELD_BACK = 'it may have gone already: this was restored from a backup';

/**
 * Restores a backup into an empty database and an empty folder, and checks what came of it: rows, and every file by its hash.
 * @param holdMessages whether what was planned is held back instead of going out: it may have gone after the backup was made
 * @throws BackupRefused before anything is changed, if something is wrong with the backup, its key, or where it is to go
 */
export async function restore(given: Given, folder: string, holdMessages: boolean): Promise<Restored> {
	const { manifest, hashes } = await readBackup(folder);
	if (manifest.secretKey !== nameOfKey(given.SECRET_KEY))
		throw new BackupRefused(`SECRET_KEY is not the one of this backup: its key is named ${manifest.secretKey}, yours ${nameOfKey(given.SECRET_KEY)}`);
	if ((await filesIn(given.PAPERS_FOLDER)).length > 0) throw new BackupRefused('PAPERS_FOLDER holds papers already: name an empty folder');
	await asOwner(given.DATABASE_URL, async (client) => {
		const others = await client.query('select 1 from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()');
		if (others.rowCount! > 0) throw new BackupRefused('DATABASE_URL: somebody works with this database. Stop app and worker first');
		const tables = await client.query(`select 1 from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r' limit 1`);
		if (tables.rowCount! > 0) throw new BackupRefused('DATABASE_URL: this database is not empty. Name a new one');
		await makeRoles(client, given.APP_DATABASE_URL);
	});
	await runPostgres(
		'pg_restore',
		['--no-owner', '--exit-on-error', '--single-transaction', `--dbname=${new URL(given.DATABASE_URL).pathname.slice(1)}`, join(folder, DUMP)],
		given.DATABASE_URL
	);
	await asOwner(given.DATABASE_URL, (client) => client.query(GIVE_QUEUE_ITS_SCHEMA));
	await restorePapers(join(folder, PAPERS), given.PAPERS_FOLDER, [...hashes.keys()]);
	const messages = await asOwner(given.DATABASE_URL, async (client) => {
		await checkRestored(client, given.PAPERS_FOLDER, manifest);
		if (!holdMessages) return (await client.query(`select 1 from message where state = 'planned'`)).rowCount!;
		return (
			await client.query(`update message set state = 'held_back', reason = $1, settled_at = now() where state = any ('{planned,sending}')`, [
				HELD_BACK
			])
		).rowCount!;
	});
	await migrate(given.DATABASE_URL);
	return { manifest, messages };
}

/** Copies every paper; if that fails, none of them stays. */
async function restorePapers(from: string, to: string, paths: readonly string[]): Promise<void> {
	try {
		for (const path of paths) {
			await mkdir(join(to, dirname(path)), { recursive: true });
			await copyFile(join(from, path), join(to, path), constants.COPYFILE_FICLONE);
		}
	} catch (error) {
		for (const path of paths) await rm(join(to, path), { force: true });
		throw error;
	}
}

/** @throws BackupRefused if rows or files are not those of the backup */
async function checkRestored(client: pg.Client, papersFolder: string, manifest: Manifest): Promise<void> {
	const rows = await countRows(client);
	for (const [table, count] of Object.entries(manifest.rows))
		if (rows[table] !== count) throw new BackupRefused(`${table}: ${rows[table] ?? 0} rows came back of ${count}`);
	const { rows: stored } = await client.query<{ storage_key: string; sha256: Buffer | null }>('select storage_key, sha256 from stored_file');
	for (const { storage_key, sha256 } of stored) {
		const hash = await hashOf(join(papersFolder, placeOfKey(storage_key))).catch(() => null);
		if (hash === null) throw new BackupRefused(`the file ${storage_key} did not come back`);
		if (sha256 && hash !== sha256.toString('hex')) throw new BackupRefused(`the file ${storage_key} is not what the database says it is`);
	}
}
