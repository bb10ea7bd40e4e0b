import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdtemp, writeFile } from 'node:fs/promises';
import { request, type IncomingMessage } from 'node:http';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { startUntilReady } from '$lib/server/testing/start-process';
import { makeFirm, openTestContext, SECRET_KEY, type TestContext } from '$lib/server/testing/test-firm';

let context: TestContext;
let folder: string;
let taken: Server;
beforeAll(async () => {
	context = await openTestContext();
	await makeFirm(context);
	folder = await mkdtemp(join(tmpdir(), 'lantern-start-'));
	await writeFile(join(folder, 'a-file'), 'x');
	taken = createServer().listen(0);
	await once(taken, 'listening');
	await context.owner.query(`do $$ begin
		if not exists (select from pg_roles where rolname = 'lantern_test_stranger') then create role lantern_test_stranger login password 'stranger'; end if;
	end $$`);
});
afterAll(async () => {
	taken.close();
	await context.close();
});

const PORT = 12_000 + (process.pid % 10_000);

/** Starts one of the two on the database of this file; see `startUntilReady`. */
const start = (what: 'app' | 'worker', more: Record<string, string>, whenReady?: () => Promise<void>) =>
	startUntilReady(
		what,
		{
			DATABASE_URL: context.ownerUrl,
			SMTP_URL: 'smtp://127.0.0.1:9',
			MAIL_DOMAINS: 'off',
			HOST: '127.0.0.1',
			PORT: String(PORT),
			PAPERS_FOLDER: join(folder, 'papers'),
			SECRET_KEY,
			...more
		},
		whenReady
	);

const owner = () => new URL(context.ownerUrl);
const signIn = (name: string, password: string) => Object.assign(owner(), { username: name, password }).href;
const elsewhere = () => Object.assign(owner(), { port: '9' }).href;
const database = (name: string) => Object.assign(owner(), { pathname: `/${name}` }).href;

/** Both look at their settings in one place: where either will do, they take turns. */
type Wrong = [string, 'app' | 'worker' | 'either', () => Record<string, string>, string];
const WRONG: Wrong[] = [
	[
		'a path in ORIGIN',
		'either',
		() => ({ ORIGIN: 'https://portal.firm.example/lantern' }),
		'ORIGIN: must be without a path, and without a slash at its end'
	],
	[
		'a slash after ORIGIN',
		'either',
		() => ({ ORIGIN: 'https://portal.firm.example/' }),
		'ORIGIN: must be without a path, and without a slash at its end'
	],
	['no SECRET_KEY', 'either', () => ({ SECRET_KEY: '' }), 'SECRET_KEY: is missing'],
	[
		'another SECRET_KEY',
		'either',
		() => ({ SECRET_KEY: randomBytes(32).toString('hex') }),
		'SECRET_KEY: is another one than that with which this database was encrypted'
	],
	['a log level that is none', 'either', () => ({ LOG_LEVEL: 'loud' }), 'LOG_LEVEL: '],
	['a database that does not answer', 'either', () => ({ DATABASE_URL: elsewhere() }), 'DATABASE_URL: no database answers there (ECONNREFUSED)'],
	['a wrong password', 'either', () => ({ DATABASE_URL: signIn('lantern_owner', 'x') }), 'DATABASE_URL: the database refuses this sign-in'],
	['no such database', 'either', () => ({ DATABASE_URL: database('not_there') }), 'DATABASE_URL: there is no database of this name'],
	[
		'a database elsewhere without encryption',
		'either',
		() => ({ DATABASE_URL: `${context.ownerUrl}?sslmode=verify-full` }),
		'DATABASE_URL: the database offers no encryption'
	],
	[
		'another role than the owner',
		'either',
		() => ({ DATABASE_URL: signIn('lantern_test_stranger', 'stranger') }),
		'DATABASE_URL: the tables belong to lantern_owner, not to lantern_test_stranger; sign in as their owner'
	],
	[
		'a role for the app that is no member',
		'either',
		() => ({ APP_DATABASE_URL: signIn('lantern_test_stranger', 'stranger') }),
		'APP_DATABASE_URL: lantern_test_stranger is no member of lantern_app, lantern_contact: grant lantern_app, lantern_contact to lantern_test_stranger'
	],
	[
		'a role for the app that sees everything',
		'either',
		() => ({ APP_DATABASE_URL: context.ownerUrl }),
		'APP_DATABASE_URL: lantern_owner is above row-level security'
	],
	[
		'another database for the app',
		'either',
		() => ({ APP_DATABASE_URL: database('postgres') }),
		'APP_DATABASE_URL: leads to another database than DATABASE_URL'
	],
	[
		'half a store for papers',
		'either',
		() => ({ S3_ENDPOINT: 'http://127.0.0.1:9' }),
		'S3_ENDPOINT: S3_ENDPOINT, S3_BUCKET, S3_ACCESS_KEY and S3_SECRET_KEY belong together: set all four or none'
	],
	[
		'a store for papers that does not answer',
		'either',
		() => ({ S3_ENDPOINT: 'http://127.0.0.1:9', S3_BUCKET: 'papers', S3_ACCESS_KEY: 'a', S3_SECRET_KEY: 'b' }),
		'S3_ENDPOINT: no store answers there (ECONNREFUSED)'
	],
	['papers in a file', 'either', () => ({ PAPERS_FOLDER: join(folder, 'a-file') }), 'PAPERS_FOLDER: is a file, not a folder'],
	['papers below a file', 'either', () => ({ PAPERS_FOLDER: join(folder, 'a-file', 'papers') }), 'PAPERS_FOLDER: is a file, not a folder'],
	[
		'a nonsense key for mail',
		'either',
		() => ({ DKIM_DOMAIN: 'x.example', DKIM_SELECTOR: 's', DKIM_KEY_FILE: join(folder, 'a-file') }),
		'DKIM_KEY_FILE: holds no private key that can be read (PEM)'
	],
	[
		'no key for mail',
		'either',
		() => ({ DKIM_DOMAIN: 'x.example', DKIM_SELECTOR: 's', DKIM_KEY_FILE: join(folder, 'none') }),
		'DKIM_KEY_FILE: there is no such file'
	],
	['a port in use', 'app', () => ({ HOST: '0.0.0.0', PORT: String((taken.address() as AddressInfo).port) }), 'PORT: '],
	['a host that is none of ours', 'app', () => ({ HOST: '192.0.2.1' }), 'HOST: cannot be listened on (EADDRNOTAVAIL)'],
	['a port for bounces in use', 'worker', () => ({ BOUNCE_SMTP_PORT: String((taken.address() as AddressInfo).port) }), 'BOUNCE_SMTP_PORT: ']
];

describe('a wrong setting is named in one line, and nothing is started', () => {
	for (const [index, [name, which, settings, line]] of WRONG.entries()) {
		const what = which !== 'either' ? which : index % 2 === 0 ? 'app' : 'worker';
		test(`${what}: ${name}`, async () => {
			const { code, said, complained } = await start(what, settings());
			expect(complained.split('\n')).toHaveLength(1);
			expect(complained.slice(0, line.length)).toBe(line);
			expect({ code, said }).toEqual({ code: 1, said: '' });
		});
	}
	test('several at once have a line each', async () => {
		const { complained } = await start('app', { SMTP_URL: 'mail', SECRET_KEY: 'x', PORT: '0' });
		expect(complained.split('\n').map((line) => line.split(':')[0])).toEqual(['SMTP_URL', 'SECRET_KEY', 'PORT']);
	});
});

describe('with right settings', () => {
	for (const what of ['app', 'worker'] as const)
		test(`the ${what} starts, and stops when it is told to`, async () => {
			const { code, said, complained } = await start(what, { BULK_MAILS_PER_SECOND: '', APP_DATABASE_URL: '' });
			expect({ code, complained }).toEqual({ code: 0, complained: '' });
			expect(said).not.toMatch(/"level":[56]0/);
		});
	test('an app behind a proxy that does not say where requests come from warns', async () => {
		const { said } = await start('app', { ORIGIN: 'https://portal.firm.example' });
		expect(said).toContain('set ADDRESS_HEADER');
		expect((await start('app', { ORIGIN: 'https://portal.firm.example', ADDRESS_HEADER: 'x-forwarded-for' })).said).not.toContain('ADDRESS_HEADER');
	});

	test('every answer carries its safe headers: pages, files, health, redirects, refusals, what is not there', async () => {
		await start('app', { ORIGIN: 'https://portal.firm.example', ADDRESS_HEADER: 'x-real-ip' }, async () => {
			const of = (path: string, more: RequestInit = {}) =>
				fetch(`http://127.0.0.1:${PORT}${path}`, { redirect: 'manual', headers: { 'x-real-ip': '192.0.2.7' }, ...more });
			const answers = [
				[await of('/health'), 200],
				[await of('/_app/version.json'), 200],
				[await of('/'), 307],
				[await of('/desk/sign-in'), 200],
				[await of('/desk/rounds'), 401],
				[await of('/nothing'), 404],
				[await of('/desk/sign-in', { method: 'PROPFIND' }), 403],
				[
					await of('/desk/sign-in', {
						method: 'POST',
						body: 'x'.repeat(3_000_000),
						headers: { 'x-real-ip': '192.0.2.7', 'content-type': 'text/plain' }
					}),
					413
				],
				// it came past the proxy
				[await of('/desk/sign-in', { headers: {} }), 400]
			] as const;
			for (const [answer, status] of answers) {
				expect(answer.status, answer.url).toBe(status);
				expect(answer.headers.get('x-content-type-options'), answer.url).toBe('nosniff');
				expect(answer.headers.get('strict-transport-security'), answer.url).toBe('max-age=31536000');
				if (answer.url.includes('/desk')) expect(answer.headers.get('cache-control'), answer.url).toBe('private, no-store');
			}
		});
	});
	test('a body that is too long is refused, announced or not, and the app goes on', async () => {
		const { code, said } = await start('app', {}, async () => {
			for (const announced of [true, false]) {
				const body = new ReadableStream({
					start(controller) {
						controller.enqueue(new Uint8Array(3_000_000));
						controller.close();
					}
				});
				const headers = { origin: 'http://localhost:3000', 'content-type': 'application/x-www-form-urlencoded' };
				const answer = await fetch(`http://127.0.0.1:${PORT}/desk/sign-in`, {
					method: 'POST',
					headers,
					...(announced ? { body: new Uint8Array(3_000_000) } : { body, duplex: 'half' })
				} as RequestInit);
				expect([answer.status, await answer.text()]).toEqual([413, expect.stringContaining('more than a form can hold')]);
			}
			// what never ends is cut off
			const endless = new ReadableStream({ pull: (controller) => controller.enqueue(new Uint8Array(1_000_000)) });
			const asked = request(`http://127.0.0.1:${PORT}/desk/sign-in`, {
				method: 'POST',
				headers: { origin: 'http://localhost:3000', 'content-type': 'text/plain' }
			});
			// the answer is lost where the line is reset while more is on its way
			const cut = once(asked, 'response').then(
				([answer]) => (answer as IncomingMessage).statusCode,
				(error: NodeJS.ErrnoException) => error.code
			);
			await pipeline(endless, asked).catch(() => 'cut');
			expect([413, 'ECONNRESET', 'EPIPE']).toContain(await cut);
			expect((await fetch(`http://127.0.0.1:${PORT}/health`)).status).toBe(200);
		});
		expect(code).toBe(0);
		expect(said).not.toMatch(/"level":[56]0/);
	});
});
