import { spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { SMTPServer } from 'smtp-server';
import { DEFAULT_CHASE_PLAN } from '../src/lib/core/chasing/chase-plan';
import type { Actor } from '../src/lib/server/actor';
import { addClient } from '../src/lib/server/clients/add-client';
import { planMessages } from '../src/lib/server/outbox/plan-message';
import { openDatabase, type Database } from '../src/lib/server/platform/db/database';
import { migrate } from '../src/lib/server/platform/db/migrations';
import { smtpMailer } from '../src/lib/server/platform/mail/mailer';

/** What was measured with one mail server, in messages a second. */
export interface Rates {
	/** handed to it raw, four at a time, as a worker does */
	raw: number;
	/** by one worker that does nothing else, and by two */
	one: number;
	two: number;
}

const WORDS = 'The statement of last month is missing its second page. '.repeat(8);

/** A mail server that takes everything and keeps nothing. @param takes milliseconds until it has taken a message */
async function mailServer(takes: number) {
	const server = new SMTPServer({
		authOptional: true,
		disabledCommands: ['STARTTLS', 'AUTH'],
		hideSTARTTLS: true,
		onData: (stream, _session, done) => {
			stream.resume();
			stream.on('end', () => (takes > 0 ? void setTimeout(done, takes) : done()));
		}
	});
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	const address = server.server.address();
	return {
		url: `smtp://127.0.0.1:${typeof address === 'object' && address ? address.port : 0}?ignoreTLS=true`,
		close: () => new Promise<void>((resolve) => server.close(() => resolve()))
	};
}

/** A firm with one client in a database of its own: workers find nothing to do there but what is planned. */
async function emptyFirm(
	databaseUrl: string
): Promise<{ url: string; firmId: string; actor: Actor; contact: { id: string; email: string }; clientId: string }> {
	const name = 'bench_sending';
	const admin = new pg.Client({ connectionString: databaseUrl });
	await admin.connect();
	await admin.query(`drop database if exists ${name} with (force)`);
	await admin.query(`create database ${name}`);
	await admin.end();
	const address = new URL(databaseUrl);
	address.pathname = `/${name}`;
	await migrate(address.href);
	const db = openDatabase({ DATABASE_URL: address.href, APP_DATABASE_URL: undefined });
	const [firmId, staffId] = [randomUUID(), randomUUID()];
	const owner = new pg.Client({ connectionString: address.href });
	await owner.connect();
	await owner.query(
		`insert into firm (id, slug, name, time_zone, country, brand_color, address, mail_from, chase_steps, chase_plan_name, created_at)
		values ($1, 'bench', 'Bench Bookkeeping', 'America/Halifax', 'CA', '#2f5d50', '1 Bench Row', 'office@bench.example', $2, 'Gentle', now())`,
		[firmId, JSON.stringify(DEFAULT_CHASE_PLAN.steps)]
	);
	await owner.query(
		`insert into staff (id, firm_id, name, email, role, password_hash, created_at) values ($1, $2, 'Bench', 'bench@bench.example', 'coordinator', 'x', now())`,
		[staffId, firmId]
	);
	const now = new Date().toISOString();
	const actor: Actor = { kind: 'staff', id: staffId, name: 'Bench', role: 'coordinator', now, ip: '', userAgent: '' };
	const email = 'reader@bench.example';
	const clientId = await db.inFirm(firmId, (tx) =>
		addClient(tx, actor, { name: 'Reader', kind: 'business', responsibleId: staffId, contacts: [{ id: null, name: 'Reader', email }] })
	);
	const { rows } = await owner.query<{ contact_id: string }>('select contact_id from client_contact');
	await owner.query(`update contact set password_hash = 'x'`);
	await owner.end();
	await db.close();
	return { url: address.href, firmId, actor, contact: { id: rows[0].contact_id, email }, clientId };
}

async function startWorker(databaseUrl: string, smtpUrl: string, folder: string): Promise<ChildProcess> {
	const worker = spawn(process.execPath, ['build/node/worker.js'], {
		stdio: ['ignore', 'pipe', 'inherit'],
		env: {
			PATH: process.env.PATH,
			DATABASE_URL: databaseUrl,
			SMTP_URL: smtpUrl,
			MAIL_DOMAINS: 'off',
			PAPERS_FOLDER: folder,
			SECRET_KEY: '5e'.repeat(32),
			WORKER_BEAT_SECONDS: '60'
		}
	});
	process.on('exit', () => worker.kill('SIGKILL'));
	await new Promise<void>((resolve, reject) => {
		worker.stdout!.on('data', (text: Buffer) => text.toString().includes('worker ready') && resolve());
		worker.once('exit', () => reject(new Error('the worker ended')));
	});
	return worker;
}

/** Messages a second that so many workers send, from the first to the last. */
async function rateOf(
	workers: number,
	count: number,
	to: { db: Database; smtpUrl: string; folder: string } & Awaited<ReturnType<typeof emptyFirm>>
): Promise<number> {
	const running = await Promise.all(Array.from({ length: workers }, () => startWorker(to.url, to.smtpUrl, to.folder)));
	const run = randomUUID();
	await to.db.inFirm(to.firmId, (tx) =>
		planMessages(
			tx,
			to.actor,
			Array.from({ length: count }, (_, i) => ({
				kind: 'remark' as const,
				idempotencyKey: `${run} ${i}`,
				to: { contactId: to.contact.id, address: to.contact.email },
				clientId: to.clientId,
				content: { subject: 'The statement of last month', reason: WORDS, byHand: true as const }
			}))
		)
	);
	const owner = new pg.Client({ connectionString: to.url });
	await owner.connect();
	const done = async () =>
		(
			await owner.query<{ n: number; seconds: number }>(
				`select count(*)::int n, extract(epoch from max(settled_at) - min(sending_at))::float seconds from message where idempotency_key like $1 and state = 'sent'`,
				[`${run} %`]
			)
		).rows[0];
	let now = await done();
	while (now.n < count) {
		await new Promise((resolve) => setTimeout(resolve, 200));
		now = await done();
	}
	await owner.end();
	for (const worker of running) {
		worker.removeAllListeners('exit');
		worker.kill('SIGTERM');
	}
	await Promise.all(running.map((worker) => worker.exitCode ?? new Promise((resolve) => worker.once('exit', resolve))));
	return count / now.seconds;
}

/**
 * What workers send, against handing the same to the same mail server raw.
 * @param takes milliseconds that the mail server takes for a message
 * @param count messages of each run
 */
export async function sendingRates(databaseUrl: string, takes: number, count: number): Promise<Rates> {
	const folder = await mkdtemp(join(tmpdir(), 'lantern-bench-sending-'));
	const server = await mailServer(takes);
	const firm = await emptyFirm(databaseUrl);
	const db = openDatabase({ DATABASE_URL: firm.url, APP_DATABASE_URL: undefined });
	const mailer = smtpMailer(server.url);
	try {
		let next = 0;
		const begun = performance.now();
		await Promise.all(
			Array.from({ length: 4 }, async () => {
				while (next++ < count)
					await mailer.send({
						from: { name: 'Bench', address: 'office@bench.example' },
						returnPath: 'office@bench.example',
						replyTo: null,
						to: { name: 'Reader', address: firm.contact.email },
						subject: 'The statement of last month',
						text: WORDS,
						html: `<p>${WORDS}</p>`,
						messageId: `${randomUUID()}@bench.example`,
						inReplyTo: null,
						unsubscribeUrl: null,
						date: new Date(),
						reportDelivery: false,
						attachments: []
					});
			})
		);
		const raw = (count * 1000) / (performance.now() - begun);
		const to = { ...firm, db, smtpUrl: server.url, folder };
		return { raw, one: await rateOf(1, count, to), two: await rateOf(2, count, to) };
	} finally {
		mailer.close();
		await db.close();
		await server.close();
		await rm(folder, { recursive: true, force: true });
	}
}
