import { spawn, type ChildProcess } from 'node:child_process';
import { SMTPServer, type SMTPServerSession } from 'smtp-server';
import { simpleParser } from 'mailparser';
import type { IsoInstant } from '$lib/core/calendar/firm-calendar';
import { SECRET_KEY, type TestContext } from './test-firm';

/** Real worker processes on the database of a test, killed while they are at work. */
export interface KilledWorkers {
	/** how many were killed so far */
	killed: number;
	/** how often each message came in whole, by its Message-ID */
	received: Map<string, number>;
	/**
	 * Lets two workers run from an instant on, kills them again and again, and then lets two run until they are done.
	 * @param isDone asked again and again while the last two run; after a minute they are stopped all the same
	 * @returns the instant at which they were stopped
	 */
	run(at: IsoInstant, kills: number, isDone: () => Promise<boolean>): Promise<IsoInstant>;
	close(): Promise<void>;
}

/** A mail server that takes what comes, but not always at once, and now and then is gone in the middle of it. */
async function startMoodyServer(
	chance: (share: number) => boolean,
	received: Map<string, number>
): Promise<{ port: number; close(): Promise<void> }> {
	const cutOff = (session: SMTPServerSession) => {
		for (const connection of server.connections as Set<{ session: SMTPServerSession; close(): void }>)
			if (connection.session.id === session.id) connection.close();
	};
	const server = new SMTPServer({
		authOptional: true,
		disabledCommands: ['STARTTLS', 'AUTH'],
		hideSTARTTLS: true,
		onRcptTo(_address, session, done) {
			if (chance(0.04)) return cutOff(session);
			done(chance(0.06) ? Object.assign(new Error('busy'), { responseCode: 451 }) : null);
		},
		onData(stream, session, done) {
			const chunks: Buffer[] = [];
			stream.on('data', (chunk: Buffer) => chunks.push(chunk));
			stream.on('end', async () => {
				const { messageId } = await simpleParser(Buffer.concat(chunks), { skipTextToHtml: true });
				const id = (messageId ?? '').replace(/[<>]/g, '');
				received.set(id, (received.get(id) ?? 0) + 1);
				// taken, and the answer never comes
				if (chance(0.05)) return cutOff(session);
				done();
			});
		}
	});
	server.on('error', () => undefined);
	await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
	const address = server.server.address();
	return {
		port: typeof address === 'object' && address ? address.port : 0,
		close: () => new Promise((resolve) => server.close(() => resolve()))
	};
}

const ended = (child: ChildProcess) =>
	new Promise<void>((resolve) => (child.exitCode !== null || child.signalCode !== null ? resolve() : child.once('exit', () => resolve())));
const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** @param roll numbers from 0 to 1 that decide what goes wrong and when */
export async function startKilledWorkers(context: TestContext, roll: () => number): Promise<KilledWorkers> {
	const received = new Map<string, number>();
	const server = await startMoodyServer((share) => roll() < share, received);
	let offset = 0;
	const start = () =>
		spawn(process.execPath, ['build/node/worker.js'], {
			stdio: ['ignore', 'ignore', 'inherit'],
			env: {
				PATH: process.env.PATH,
				DATABASE_URL: context.ownerUrl,
				SMTP_URL: `smtp://127.0.0.1:${server.port}?ignoreTLS=true`,
				ORIGIN: context.place.origin,
				BOUNCE_DOMAIN: context.place.bounceDomain,
				MAIL_DOMAINS: 'off',
				PAPERS_FOLDER: context.papersFolder,
				SECRET_KEY,
				DEMO: '1',
				LOG_LEVEL: 'error',
				WORKER_BEAT_SECONDS: '0.2'
			}
		});
	const workers: KilledWorkers = {
		killed: 0,
		received,
		async run(at, kills, isDone) {
			offset = Date.parse(at) - Date.now();
			await context.owner.query(`insert into demo_clock (offset_ms) values ($1) on conflict (one) do update set offset_ms = excluded.offset_ms`, [
				offset
			]);
			const running = [start(), start()];
			for (let n = 0; n < kills; n++) {
				// somewhere between coming up and being in the middle of it
				await pause(300 + roll() * 1700);
				const which = Math.floor(roll() * 2);
				running[which].kill('SIGKILL');
				await ended(running[which]);
				workers.killed++;
				running[which] = start();
			}
			const end = Date.now() + 60_000;
			while (Date.now() < end && !(await isDone())) await pause(100);
			for (const worker of running) worker.kill('SIGTERM');
			await Promise.all(running.map(ended));
			return new Date(Date.now() + offset).toISOString();
		},
		close: () => server.close()
	};
	return workers;
}
