import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { appendFile, cp, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { exportClientsCsv } from '$lib/server/clients/import/export-clients';
import { sendMessage } from '$lib/server/messages/send-message';
import { takeInPaper } from '$lib/server/papers/papers';
import { signIn } from '$lib/server/people/sign-in';
import { openDatabase, roleOptions, type Database } from '$lib/server/platform/db/database';
import { folderStore } from '$lib/server/platform/files/paper-store';
import { s3Store } from '$lib/server/platform/files/s3-store';
import { hashPassword } from '$lib/server/platform/passwords';
import { checkSeal } from '$lib/server/platform/pdf/seal';
import { openRateLimits } from '$lib/server/platform/rate-limits';
import { sendRequest } from '$lib/server/requests/send-request';
import { countersignLetter } from '$lib/server/signing/countersign-letter';
import { noteLetterOpened, noteShownWhole, signLetter } from '$lib/server/signing/sign-letter';
import { startUntilReady } from '$lib/server/testing/start-process';
import {
	itemsOf,
	letterLine,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	requestTo,
	SECRET_KEY,
	letterOf,
	sendPlanned,
	type TestClient,
	type TestFirm,
	type TestContext
} from '$lib/server/testing/test-firm';
import { startDatabase } from '../../scripts/database.mjs';
import { openS3Standin } from '$lib/server/testing/s3-standin';
import { backUp } from './backup';
import { checkPapers, movePapers, readNamedFiles } from './move-papers';
import { BackupRefused } from './manifest';
import { restore } from './restore';

const PASSWORD = 'a boat a gull a lamp';
let context: TestContext;
let firm: TestFirm;
let client: TestClient;
let folder: string;
let backup: string;
let elsewhere: Awaited<ReturnType<typeof startDatabase>>;
const source = () => ({ DATABASE_URL: context.ownerUrl, PAPERS_FOLDER: context.papersFolder, SECRET_KEY });

beforeAll(async () => {
	context = await openTestContext();
	firm = await makeFirm(context);
	client = await makeClient(context, firm, { name: 'Gull & String Kites' });
	folder = await mkdtemp(join(tmpdir(), 'lantern-backup-'));
	for (const [kind, id] of [
		['staff', firm.coordinator.id],
		['contact', client.contactId]
	])
		await context.owner.query(`update ${kind} set password_hash = $2 where id = $1`, [id, await hashPassword(PASSWORD)]);
	const request = await sendRequest(
		context,
		firm.id,
		firm.odalys(),
		requestTo(client, [
			paperLine('Lease', '2026-05-20'),
			letterLine('Engagement letter', '2026-05-20', { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' })
		])
	);
	await sendPlanned(context, firm);
	const [paper, letter] = await itemsOf(context, request);
	await client.run((tx) => noteLetterOpened(tx, client.mara(), letter.id));
	await client.run((tx) => noteShownWhole(tx, client.mara(), letter.id));
	await client.run((tx) =>
		signLetter(tx, client.mara(), { itemId: letter.id, signature: { method: 'typed', name: 'Mara Whitlock' }, consent: true }, SECRET_KEY)
	);
	const { sha256 } = (await context.owner.query<{ sha256: string }>(`select encode(sha256, 'hex') sha256 from letter`)).rows[0];
	await firm.run((tx) => countersignLetter(tx, firm.partner, { itemId: letter.id, sha256, signature: { method: 'typed', name: firm.partner.name } }));
	await letterOf(context, firm, letter.id);
	await sendPlanned(context, firm);
	await takeInPaper(context, firm.id, client.mara(), {
		itemId: paper.id,
		name: 'lease.pdf',
		content: Readable.from([Buffer.from('%PDF-1.7\nthe lease of the harbour shed')])
	});
	// planned, and not gone when the backup is made
	await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Invoice', '2026-05-21')], { tellNow: true }));
	backup = join(folder, 'backup');
	// another cluster, whose owner is an ordinary role that may create roles
	elsewhere = await startDatabase({ folder: join(folder, 'cluster'), fast: true, port: 26700 });
	elsewhere.sql(`create role books_owner login createrole password 'owner of the books'`);
});
afterAll(async () => {
	elsewhere.stop();
	await context.close();
	await rm(folder, { recursive: true, force: true });
});

/** An empty database of that owner. */
function emptyDatabase() {
	const name = `books_${randomUUID().slice(0, 8)}`;
	elsewhere.sql(`create database ${name} owner books_owner`);
	return {
		DATABASE_URL: Object.assign(new URL(elsewhere.ownerUrl(name)), { username: 'books_owner', password: 'owner of the books' }).href,
		APP_DATABASE_URL: Object.assign(new URL(elsewhere.ownerUrl(name)), { username: 'books_app', password: 'app of the books' }).href,
		PAPERS_FOLDER: join(folder, name),
		SECRET_KEY
	};
}
async function withDatabase<T>(given: ReturnType<typeof emptyDatabase>, work: (db: Database) => Promise<T>): Promise<T> {
	const db = openDatabase(given);
	try {
		return await work(db);
	} finally {
		await db.close();
	}
}

describe('papers in a store', () => {
	test('are moved there and back, each read again, and backed up from there', async () => {
		const standin = await openS3Standin();
		const [here, store] = [folderStore(context.papersFolder), s3Store(standin)];
		const named = await readNamedFiles(context.ownerUrl);
		expect(named).toHaveLength(3);
		expect(await movePapers(named, here, store)).toMatchObject({ copied: 3, there: 0, wrong: [] });
		// once more: what came meanwhile would go along, and nothing is sent twice
		expect(await movePapers(named, here, store)).toMatchObject({ copied: 0, there: 3, wrong: [] });
		expect(await checkPapers(named, store)).toEqual([]);
		const place = { S3_ENDPOINT: standin.endpoint, S3_BUCKET: standin.bucket, S3_ACCESS_KEY: standin.accessKey, S3_SECRET_KEY: standin.secretKey };
		const target = join(folder, 'from-the-store');
		const manifest = await backUp({ ...source(), PAPERS_FOLDER: join(folder, 'nothing-here'), ...place }, target, new Date());
		expect(manifest.papers.files).toBe(3);
		execFileSync('sha256sum', ['--check', '--quiet', '--strict', 'papers.sha256'], { cwd: target });
		// one is lost in the store, another is not what it was
		await store.remove(named[0].key);
		await store.put(Readable.from([Buffer.from('another file')]), 100, undefined, named[1].key);
		expect(await checkPapers(named, store)).toEqual([named[0].key, named[1].key]);
		// what is gone where it came from, and of which the database knows no hash, is not taken away where it is
		const gone = folderStore(join(folder, 'gone-here'));
		expect(await movePapers([{ key: named[2].key, sha256: null }], gone, store)).toMatchObject({ copied: 0, there: 1, wrong: [] });
		expect(await movePapers([named[1]], gone, store)).toMatchObject({ copied: 0, there: 0, wrong: [named[1].key] });
		expect(await store.size(named[1].key)).toBe('another file'.length);
		const back = folderStore(join(folder, 'moved-back'));
		expect(await movePapers(named, store, back)).toMatchObject({ copied: 1, wrong: [named[0].key, named[1].key] });
		await expect(back.size(named[1].key)).rejects.toThrow();
		await expect(backUp({ ...source(), ...place }, join(folder, 'half-a-store'), new Date())).rejects.toThrow(
			'1 files that the database names are not in the store'
		);
		store.close();
		await standin.close();
	});
});

describe('backing up', () => {
	test('while the app runs: database, papers, their hashes, and the name of the key, not the key', async () => {
		const manifest = await backUp(source(), backup, new Date());
		expect(manifest.rows).toMatchObject({ firm: 1, client: 1, paper: 1, letter: 1 });
		expect(manifest.papers.files).toBe(3);
		// by a program that is not ours
		execFileSync('sha256sum', ['--check', '--quiet', '--strict', 'papers.sha256'], { cwd: backup });
		for (const file of ['manifest.json', 'papers.sha256']) expect(await readFile(join(backup, file), 'utf8')).not.toContain(SECRET_KEY);
	});
	test('overwrites nothing, and holds nothing half', async () => {
		await expect(backUp(source(), backup, new Date())).rejects.toThrow('is not empty');
		const { rows } = await context.owner.query<{ storage_key: string }>('select storage_key from paper');
		const file = join(context.papersFolder, rows[0].storage_key.slice(0, 2), rows[0].storage_key);
		await cp(file, `${file}.away`);
		await rm(file);
		await expect(backUp(source(), join(folder, 'half'), new Date())).rejects.toThrow('1 files that the database names are not in PAPERS_FOLDER');
		await expect(readFile(join(folder, 'half', 'manifest.json'))).rejects.toThrow();
		await cp(`${file}.away`, file);
	});
	test('knows every column that names a file', async () => {
		const { rows } = await context.owner.query<{ column: string }>(
			`select table_name || '.' || column_name "column" from information_schema.columns where table_schema = 'public' and table_name <> 'stored_file'
				and column_name = any ('{storage_key,sealed_key,first_page}') order by 1`
		);
		expect(rows.map((row) => row.column)).toEqual([
			'attachment.first_page',
			'attachment.storage_key',
			'letter.sealed_key',
			'letter.storage_key',
			'paper.storage_key',
			'public_file.storage_key',
			'signed_answers.sealed_key',
			'transaction_file.storage_key'
		]);
		const { definition } = (await context.owner.query<{ definition: string }>(`select pg_get_viewdef('stored_file') definition`)).rows[0];
		for (const { column } of rows) expect(definition).toContain(column);
	});
});

describe('restoring', () => {
	test('elsewhere gives back everything: an export, papers, seals, both sides’ sign-in, and each message once', async () => {
		const given = emptyDatabase();
		const { manifest, messages } = await restore(given, backup, false);
		expect(messages).toBe(1);
		await withDatabase(given, async (db) => {
			const exported = (from: Database) => from.inFirm(firm.id, (tx) => exportClientsCsv(tx, firm.odalys()));
			expect(await exported(db)).toEqual(await exported(context.db));
			const papers = folderStore(given.PAPERS_FOLDER);
			const { rows } = await context.owner.query<{ storage_key: string }>('select storage_key from paper');
			expect((await buffer(papers.read(rows[0].storage_key))).toString()).toContain('the lease of the harbour shed');
			const letter = await db.inFirm(firm.id, (tx) =>
				tx.first<{ key: string; leaf: string }>('select sealed_key key, leaf_pem leaf from letter, seal_certificate')
			);
			expect(await checkSeal(await buffer(papers.read(letter!.key)), [letter!.leaf])).toMatchObject({ ok: true });
			const limits = openRateLimits(db.pool);
			const nobody = { ...firm.odalys(), kind: 'nobody' as const, id: null, role: null };
			expect(
				await signIn({ db, limits }, nobody, 'staff', { email: (await emailOf(firm.coordinator.id!))!, password: PASSWORD }, null)
			).not.toBeNull();
			expect(await signIn({ db, limits }, nobody, 'contact', { email: client.email, password: PASSWORD }, firm.id)).not.toBeNull();
			// what was planned goes, once; what had gone does not go again
			context.mailer.sent.length = 0;
			const { rows: all } = await context.owner.query<{ id: string; state: string }>('select id, state from message');
			for (const { id } of [...all, ...all]) await sendMessage({ ...context.place, db, papers }, firm.id, id);
			expect(context.mailer.sent).toHaveLength(1);
		});
		// the queue works with its own role, which the dump does not say
		const queue = new pg.Client(roleOptions(given, 'lantern_queue'));
		await queue.connect();
		expect((await queue.query(`select 1 from graphile_worker._private_jobs`)).rowCount).toBe(
			(await context.owner.query(`select 1 from graphile_worker._private_jobs`)).rowCount
		);
		await queue.query(`select graphile_worker.add_job('send_message', '{}')`);
		await queue.end();
		expect(manifest.secretKey).toMatch(/^[0-9a-f]{16}$/);
	});
	test('app and worker start with what was restored', async () => {
		const given = emptyDatabase();
		await restore(given, backup, true);
		for (const what of ['app', 'worker'] as const) {
			const { code, said, complained } = await startUntilReady(what, {
				...given,
				SMTP_URL: 'smtp://127.0.0.1:9',
				MAIL_DOMAINS: 'off',
				HOST: '127.0.0.1',
				PORT: '26711'
			});
			expect({ code, complained }, said).toEqual({ code: 0, complained: '' });
			expect(said).not.toMatch(/"level":[56]0/);
		}
	});
	test('holds back what may have gone already, if it is told to', async () => {
		const given = emptyDatabase();
		expect((await restore(given, backup, true)).messages).toBe(1);
		await withDatabase(given, async (db) => {
			const rows = await db.inFirm(firm.id, (tx) => tx.rows(`select reason from message where state = 'held_back'`));
			expect(rows).toEqual([{ reason: expect.stringContaining('it may have gone already') }]);
		});
	});
	test('refuses another key, a database in use or not empty, a folder with papers, and changes nothing', async () => {
		const given = emptyDatabase();
		const refused = async (more: object, words: string, from = backup) =>
			expect(restore({ ...given, ...more }, from, false), words).rejects.toThrow(words);
		await refused({ SECRET_KEY: 'ab'.repeat(32) }, 'SECRET_KEY is not the one of this backup');
		await refused({ DATABASE_URL: context.ownerUrl }, 'somebody works with this database');
		await refused({ PAPERS_FOLDER: context.papersFolder }, 'PAPERS_FOLDER holds papers already');
		await refused({}, 'is no backup', folder);
		const other = new pg.Client({ connectionString: given.DATABASE_URL });
		await other.connect();
		await other.query('create table mine (x int)');
		await other.end();
		await refused({}, 'this database is not empty');
	});
	test('refuses a backup in which one byte was changed, or a file is missing', async () => {
		const given = emptyDatabase();
		const { rows } = await context.owner.query<{ storage_key: string }>('select storage_key from letter');
		const paper = `papers/${rows[0].storage_key.slice(0, 2)}/${rows[0].storage_key}`;
		for (const [file, change] of [
			['database.dump', (path: string) => appendFile(path, 'x')],
			['papers.sha256', (path: string) => appendFile(path, '\n')],
			[paper, (path: string) => appendFile(path, 'x')],
			[paper, (path: string) => rm(path)],
			['manifest.json', (path: string) => writeFile(path, '{}')]
		] as const) {
			const copy = join(folder, 'changed');
			await cp(backup, copy, { recursive: true });
			await change(join(copy, file));
			await expect(restore(given, copy, false), file).rejects.toBeInstanceOf(BackupRefused);
			await rm(copy, { recursive: true });
		}
	});
});

async function emailOf(staffId: string): Promise<string | undefined> {
	return (await context.owner.query<{ email: string }>('select email from staff where id = $1', [staffId])).rows[0]?.email;
}
