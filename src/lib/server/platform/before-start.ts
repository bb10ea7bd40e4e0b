import { createPrivateKey, randomUUID } from 'node:crypto';
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { join } from 'node:path';
import pg from 'pg';
import { migrate } from './db/migrations';
import { storeOf } from './files/stores';
import type { Settings } from './settings';
import { decrypt } from './tokens';

/** The roles that do the daily work. */
const ROLES = ['lantern_app', 'lantern_contact', 'lantern_queue'];
const ANSWER_MS = 10_000;

/** Settings with which nothing can be started; the message has one plain line for each. */
export class StartRefused extends Error {
	constructor(lines: readonly string[]) {
		super(lines.join('\n'));
	}
}

const codeOf = (error: unknown) => (error as { code?: string }).code ?? '';

async function folderProblem(folder: string): Promise<string | null> {
	const probe = join(folder, `.can-be-written-${randomUUID()}`);
	try {
		await mkdir(folder, { recursive: true });
		await writeFile(probe, '');
		return null;
	} catch (error) {
		const why = { EEXIST: 'is a file, not a folder', ENOTDIR: 'is a file, not a folder', ENOSPC: 'is on a disk that is full' }[codeOf(error)];
		return `PAPERS_FOLDER: ${why ?? `cannot be written to (${codeOf(error)})`}`;
	} finally {
		await rm(probe, { force: true }).catch(() => undefined);
	}
}

async function storeProblem(given: Settings): Promise<string | null> {
	const store = storeOf(given);
	try {
		return store && (await store.problem());
	} finally {
		store?.close();
	}
}

async function mailKeyProblem(file: string): Promise<string | null> {
	try {
		const { asymmetricKeyType } = createPrivateKey(await readFile(file));
		return asymmetricKeyType === 'rsa' || asymmetricKeyType === 'ed25519' ? null : 'DKIM_KEY_FILE: mail is signed with an RSA or Ed25519 key only';
	} catch (error) {
		return codeOf(error) === 'ENOENT' ? 'DKIM_KEY_FILE: there is no such file' : 'DKIM_KEY_FILE: holds no private key that can be read (PEM)';
	}
}

function portProblem(setting: string, port: number, host?: string): Promise<string | null> {
	return new Promise((resolve) => {
		const probe = createServer();
		probe.once('error', (error) => {
			const why = { EADDRINUSE: `${port} is in use by another program`, EACCES: `${port} may not be opened by this user` }[codeOf(error)];
			resolve(`${why ? setting : 'HOST'}: ${why ?? `cannot be listened on (${codeOf(error)})`}`);
		});
		probe.listen({ port, host }, () => probe.close(() => resolve(null)));
	});
}

function databaseProblem(setting: string, error: unknown): string {
	const code = codeOf(error);
	const message = (error as Error).message;
	if (['28P01', '28000'].includes(code)) return `${setting}: the database refuses this sign-in`;
	if (code === '3D000') return `${setting}: there is no database of this name`;
	if (code === '53300') return `${setting}: the database takes no more connections`;
	if (code === '57P03') return `${setting}: the database is starting or stopping`;
	if (/does not support SSL/.test(message))
		return `${setting}: the database offers no encryption; if the network between is your own, add sslmode=disable to the address`;
	if (/CERT|SIGNATURE/.test(code))
		return `${setting}: the certificate of the database is not trusted (${code}); name its authority with sslrootcert=FILE in the address`;
	return `${setting}: no database answers there (${code || message})`;
}

/** Asks a database one thing. @throws StartRefused if it cannot be reached */
async function asked<Row extends object>(setting: string, address: string, sql: string, values: unknown[] = []): Promise<Row> {
	const client = new pg.Client({ connectionString: address, connectionTimeoutMillis: ANSWER_MS });
	client.on('error', () => undefined);
	try {
		await client.connect();
		return (await client.query<Row>(sql, values)).rows[0];
	} catch (error) {
		throw new StartRefused([databaseProblem(setting, error)]);
	} finally {
		await client.end().catch(() => undefined);
	}
}

async function requireOwner(given: Settings): Promise<void> {
	const owner = await asked<{ me: string; superuser: boolean; makesRoles: boolean; missing: string[]; apart: string[]; tables: string | null }>(
		'DATABASE_URL',
		given.DATABASE_URL,
		`select current_user::text me, rolsuper superuser, rolcreaterole or rolsuper "makesRoles",
			array(select r from unnest($1::text[]) r where not exists (select from pg_roles where rolname = r)) missing,
			array(select rolname::text from pg_roles where rolname = any ($1) and not pg_has_role(current_user, oid, 'member')) apart,
			(select tableowner::text from pg_tables where schemaname = 'public' and tablename = 'migration'
				and not pg_has_role(current_user, tableowner, 'member')) tables
		from pg_roles where rolname = current_user`,
		[ROLES]
	);
	if (owner.tables) throw new StartRefused([`DATABASE_URL: the tables belong to ${owner.tables}, not to ${owner.me}; sign in as their owner`]);
	const lines: string[] = [];
	if (owner.missing.length > 0 && !owner.makesRoles)
		lines.push(
			`DATABASE_URL: ${owner.me} may not create the roles that are missing (${owner.missing.join(', ')}): alter role ${owner.me} createrole`
		);
	if (owner.apart.length > 0 && !owner.superuser)
		lines.push(`DATABASE_URL: ${owner.me} is no member of ${owner.apart.join(', ')}: grant ${owner.apart.join(', ')} to ${owner.me}`);
	if (lines.length > 0) throw new StartRefused(lines);
}

async function requireAppRole(given: Settings): Promise<void> {
	if (!given.APP_DATABASE_URL) return;
	const app = await asked<{ me: string; above: boolean; apart: string[]; same: boolean }>(
		'APP_DATABASE_URL',
		given.APP_DATABASE_URL,
		`select current_user::text me, rolsuper or rolbypassrls above, to_regclass('public.migration') is not null same,
			array(select rolname::text from pg_roles where rolname = any ($1) and not pg_has_role(current_user, oid, 'member')) apart
		from pg_roles where rolname = current_user`,
		[['lantern_app', 'lantern_contact']]
	);
	const line = !app.same
		? 'leads to another database than DATABASE_URL'
		: app.above
			? `${app.me} is above row-level security, which keeps firms and clients apart; use a role that is a member of lantern_app and lantern_contact only`
			: app.apart.length > 0
				? `${app.me} is no member of ${app.apart.join(', ')}: grant ${app.apart.join(', ')} to ${app.me}`
				: null;
	if (line) throw new StartRefused([`APP_DATABASE_URL: ${line}`]);
}

async function requireSameKey(given: Settings): Promise<void> {
	const { sealed } = await asked<{ sealed: Buffer | null }>(
		'DATABASE_URL',
		given.DATABASE_URL,
		'select (select encrypted_key from seal_certificate limit 1) sealed'
	);
	try {
		if (sealed) decrypt(sealed, given.SECRET_KEY);
	} catch {
		throw new StartRefused(['SECRET_KEY: is another one than that with which this database was encrypted']);
	}
}

/**
 * Looks at everything around a process that its settings name, and brings the database to the newest schema.
 * @throws StartRefused naming what is wrong, before anything is started
 */
export async function prepareStart(given: Settings, process: 'app' | 'worker'): Promise<void> {
	const problems = await Promise.all([
		folderProblem(given.PAPERS_FOLDER),
		storeProblem(given),
		given.DKIM_KEY_FILE ? mailKeyProblem(given.DKIM_KEY_FILE) : null,
		...(process === 'app'
			? [portProblem('PORT', given.PORT, given.HOST)]
			: (['BOUNCE_SMTP_PORT', 'PAPERS_SMTP_PORT'] as const).map((name) => (given[name] ? portProblem(name, given[name]) : null)))
	]);
	const lines = problems.filter((line) => line !== null);
	if (lines.length > 0) throw new StartRefused(lines);
	await requireOwner(given);
	await migrate(given.DATABASE_URL);
	await requireAppRole(given);
	await requireSameKey(given);
}
