import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SMTPServer } from 'smtp-server';
import { simpleParser } from 'mailparser';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { planMessages } from '$lib/server/outbox/plan-message';
import { makeClient, makeFirm, openTestContext, SECRET_KEY, type TestClient, type TestFirm, type TestContext } from '$lib/server/testing/test-firm';
import { startDatabase } from '../../scripts/database.mjs';

/** The worker under test, by the name its connections have in the database. */
const NAME = 'worker-under-test';
const MESSAGES = 150;

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
let server: SMTPServer;
const received = new Map<string, number>();
beforeAll(async () => {
	context = await openTestContext(new Date().toISOString());
	firm = await makeFirm(context);
	client = await makeClient(context, firm);
	server = new SMTPServer({
		authOptional: true,
		disabledCommands: ['STARTTLS', 'AUTH'],
		hideSTARTTLS: true,
		async onData(stream, _, done) {
			const { messageId } = await simpleParser(stream, { skipTextToHtml: true });
			received.set(messageId!, (received.get(messageId!) ?? 0) + 1);
			done();
		}
	});
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
});
afterAll(async () => {
	await new Promise<void>((resolve) => server.close(() => resolve()));
	await context.close();
});

function startWorker(): ChildProcess & { said: string } {
	const address = server.server.address();
	const child = spawn(process.execPath, ['build/node/worker.js'], {
		stdio: ['ignore', 'pipe', 'inherit'],
		env: {
			PATH: process.env.PATH,
			PGAPPNAME: NAME,
			DATABASE_URL: context.ownerUrl,
			SMTP_URL: `smtp://127.0.0.1:${typeof address === 'object' && address ? address.port : 0}`,
			ORIGIN: context.place.origin,
			BOUNCE_DOMAIN: context.place.bounceDomain,
			MAIL_DOMAINS: 'off',
			PAPERS_FOLDER: context.papersFolder,
			SECRET_KEY,
			WORKER_BEAT_SECONDS: '0.2'
		}
	});
	const worker = Object.assign(child, { said: '' });
	child.stdout!.on('data', (text: Buffer) => (worker.said += text.toString()));
	return worker;
}

test('a worker whose connections are cut again and again goes on: every message goes once, and none is in doubt', { timeout: 180_000 }, async () => {
	const worker = startWorker();
	await expect.poll(() => worker.said, { timeout: 60_000 }).toContain('worker ready');
	await firm.run((tx) =>
		planMessages(
			tx,
			firm.odalys(),
			Array.from({ length: MESSAGES }, () => ({
				kind: 'password_reset' as const,
				idempotencyKey: randomUUID(),
				to: { contactId: client.contactId, address: client.email },
				content: {}
			}))
		)
	);
	const left = async () => (await context.owner.query(`select 1 from message where state in ('planned', 'sending')`)).rowCount!;
	let cuts = 0;
	// as long as there is work, and a few times also where a fast machine has done it
	while (cuts < 60 && (cuts <= 5 || (await left()) > 0)) {
		const cut = await context.owner.query(
			'select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and application_name = $1',
			[NAME]
		);
		if (cut.rowCount! > 0) cuts++;
		await new Promise((resolve) => setTimeout(resolve, 120));
	}
	await expect.poll(left, { timeout: 120_000, interval: 200 }).toBe(0);
	const { rows } = await context.owner.query<{ state: string; n: number }>('select state, count(*)::int n from message group by 1');
	expect(rows).toEqual([{ state: 'sent', n: MESSAGES }]);
	expect(cuts).toBeGreaterThan(5);
	expect(received.size).toBe(MESSAGES);
	expect([...received.values()].every((times) => times === 1)).toBe(true);
	expect([worker.exitCode, worker.signalCode]).toEqual([null, null]);
	// it holds its sign of life, so that nobody takes it for dead
	await expect
		.poll(
			async () =>
				(
					await context.owner.query(
						`select 1 from pg_locks l join pg_stat_activity a using (pid) where l.locktype = 'advisory' and a.application_name = $1`,
						[NAME]
					)
				).rowCount
		)
		.toBeGreaterThan(0);
	worker.kill('SIGTERM');
	await new Promise((resolve) => worker.once('exit', resolve));
	expect(worker.exitCode).toBe(0);
});

test('app and worker outlive a database that is killed and started again', { timeout: 180_000 }, async () => {
	const folder = await mkdtemp(join(tmpdir(), 'lantern-killed-'));
	const own = () => startDatabase({ folder, fast: true, port: 26_800 });
	let cluster = await own();
	const port = String(13_000 + (process.pid % 10_000));
	let both: ChildProcess[] = [];
	try {
		cluster.ensure('lantern');
		const smtp = server.server.address();
		const env = {
			PATH: process.env.PATH,
			DATABASE_URL: cluster.ownerUrl('lantern'),
			APP_DATABASE_URL: cluster.appUrl('lantern'),
			SMTP_URL: `smtp://127.0.0.1:${typeof smtp === 'object' && smtp ? smtp.port : 0}`,
			MAIL_DOMAINS: 'off',
			HOST: '127.0.0.1',
			PORT: port,
			PAPERS_FOLDER: join(folder, 'papers'),
			SECRET_KEY,
			LOG_LEVEL: 'silent',
			WORKER_BEAT_SECONDS: '0.2'
		};
		both = ['app', 'worker'].map((what) => spawn(process.execPath, [`build/node/${what}.js`], { stdio: ['ignore', 'ignore', 'inherit'], env }));
		const ready = async () => (await fetch(`http://127.0.0.1:${port}/health/ready`).catch(() => null))?.status;
		await expect.poll(ready, { timeout: 60_000 }).toBe(200);
		for (let kill = 0; kill < 2; kill++) {
			cluster.kill();
			await expect.poll(ready, { timeout: 60_000 }).toBe(503);
			cluster = await own();
			// the queue is worked at again as well
			const worked = async () =>
				cluster
					.sql(`select 'yes' where exists (select from worker_beat where at > clock_timestamp() - interval '2 seconds')`, 'lantern')
					.includes('yes');
			await expect.poll(ready, { timeout: 60_000 }).toBe(200);
			await expect.poll(worked, { timeout: 60_000 }).toBe(true);
		}
		expect(both.map((child) => [child.exitCode, child.signalCode])).toEqual([
			[null, null],
			[null, null]
		]);
		for (const child of both) child.kill('SIGTERM');
		expect(await Promise.all(both.map((child) => once(child, 'exit')))).toEqual([
			[0, null],
			[0, null]
		]);
	} finally {
		for (const child of both) child.kill('SIGKILL');
		cluster.stop();
		await rm(folder, { recursive: true, force: true });
	}
});
