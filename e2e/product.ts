import type { ChildProcess } from 'node:child_process';
import { cpSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { test as base, expect, type Browser, type Locator, type Page } from '@playwright/test';
import AxeBuilder from '@axe-core/playwright';
import pg from 'pg';
import { CONTACT_PASSWORD, DEMO_NOW, STAFF_PASSWORD } from '../demo/scenario';
import { startTestDatabase, TEST_FOLDER } from '../scripts/database.mjs';
import { startPushStandin } from '$lib/server/platform/push/standin';
import { freePort, productEnv, runScript, startProcess, stopProcesses, untilReady } from '../scripts/processes.mjs';

export { CONTACT_PASSWORD, STAFF_PASSWORD, expect };
export const E2E_FOLDER = join(TEST_FOLDER, 'e2e');
const TEMPLATE = 'lantern_e2e_template';

export async function prepareTemplate(): Promise<void> {
	const database = await startTestDatabase();
	database.sql(`drop database if exists ${TEMPLATE} with (force)`);
	database.ensure(TEMPLATE);
	const folder = join(E2E_FOLDER, 'template');
	mkdirSync(folder, { recursive: true });
	const env = productEnv({
		database: TEMPLATE,
		folder,
		port: 3000,
		smtpPort: 1,
		bouncePort: await freePort(),
		papersPort: await freePort(),
		textPort: 1,
		identityPort: 1,
		ownerUrl: database.ownerUrl(TEMPLATE),
		appUrl: database.appUrl(TEMPLATE)
	});
	runScript('build/node/seed.js', { ...env, LOG_LEVEL: 'warn' });
}

/** The running product on a database of its own: app, worker and mail stand-in. */
export interface Product {
	origin: string;
	env: Record<string, string>;
	folder: string;
	/** the push service with which browsers subscribe */ pushes: { folder: string; port: number };
	sql: pg.Client;
	app: ChildProcess;
	worker: ChildProcess;
	startWorker(): ChildProcess;
	startApp(): Promise<ChildProcess>;
	stop(): Promise<void>;
}

/** @param from the demo scenario, or an empty database as on the first start of a real firm */
export async function startProduct(name: string, more: Record<string, string> = {}, from: 'demo' | 'nothing' = 'demo'): Promise<Product> {
	const database = await startTestDatabase();
	const own = `lantern_e2e_${name}`;
	database.sql(`drop database if exists ${own} with (force)`);
	for (let tries = 0; ; tries++) {
		try {
			database.sql(`create database ${own} ${from === 'demo' ? `template ${TEMPLATE}` : ''}`);
			break;
		} catch (error) {
			if (tries > 60) throw error;
			await new Promise((resolve) => setTimeout(resolve, 250));
		}
	}
	const folder = join(E2E_FOLDER, name);
	if (from === 'demo') cpSync(join(E2E_FOLDER, 'template'), folder, { recursive: true });
	else mkdirSync(folder, { recursive: true });
	const [port, smtpPort, bouncePort, papersPort, textPort, identityPort] = [
		await freePort(),
		await freePort(),
		await freePort(),
		await freePort(),
		await freePort(),
		await freePort()
	];
	// the push service of browsers, which reach none of their own here
	const pushFolder = join(folder, 'pushes');
	const pushes = await startPushStandin({ port: 0, folder: pushFolder });
	const env: Record<string, string> = {
		...productEnv({
			database: own,
			folder,
			port,
			smtpPort,
			bouncePort,
			papersPort,
			textPort,
			identityPort,
			ownerUrl: database.ownerUrl(own),
			appUrl: database.appUrl(own)
		}),
		WORKER_BEAT_SECONDS: '1',
		PUSH_SERVICES: `http://127.0.0.1:${pushes.port}`,
		...more
	};
	const sql = new pg.Client({ connectionString: database.ownerUrl(own) });
	await sql.connect();
	if (from === 'demo') await sql.query('update demo_clock set offset_ms = $1', [Date.parse(DEMO_NOW) - Date.now()]);
	const children: ChildProcess[] = [];
	const start = (script: string, log: string) => {
		const child = startProcess(script, env, join(folder, `${log}.log`)) as ChildProcess;
		children.push(child);
		return child;
	};
	start('build/node/mail-standin.js', 'mail');
	start('build/node/text-standin.js', 'texts');
	start('build/node/identity-standin.js', 'identity');
	const product: Product = {
		origin: env.ORIGIN,
		env,
		folder,
		pushes: { folder: pushFolder, port: pushes.port },
		sql,
		app: start('build/node/app.js', 'app'),
		worker: start('build/node/worker.js', 'worker'),
		startWorker: () => (product.worker = start('build/node/worker.js', 'worker')),
		async startApp() {
			product.app = start('build/node/app.js', 'app');
			await untilReady(`${env.ORIGIN}/health`, product.app);
			return product.app;
		},
		async stop() {
			await sql.end();
			await stopProcesses(children);
			await pushes.close();
		}
	};
	await untilReady(`${env.ORIGIN}/health/ready`, product.app);
	return product;
}

/** Tests with the product running; a console error or an uncaught error on a page fails the test. */
export const test = base.extend<{ quiet: string[] }, { product: Product; file: string }>({
	// another value in each test file: Playwright then gives each file a worker, and so a product, of its own
	file: ['', { scope: 'worker', option: true }],
	product: [
		async ({ file }, use, info) => {
			const product = await startProduct(`${file}${info.workerIndex}`);
			await use(product);
			await product.stop();
		},
		{ scope: 'worker', timeout: 120_000 }
	],
	baseURL: async ({ product }, use) => use(product.origin),
	quiet: [
		async ({ context }, use) => {
			const loud: string[] = [];
			context.on('console', (message) => {
				// a refused request is what some tests ask for; its answer is looked at there
				if (message.type() === 'error' && !message.text().startsWith('Failed to load resource')) loud.push(message.text());
			});
			context.on('weberror', (error) => loud.push(error.error().stack ?? error.error().message));
			await use(loud);
			expect(loud, 'errors on the console').toEqual([]);
		},
		{ auto: true }
	]
});

export async function signInAtDesk(page: Page, who = 'odalys'): Promise<void> {
	await page.goto('/desk/sign-in');
	await page.getByLabel('E-mail address').fill(`${who}@pennywhistle.example`);
	await page.getByLabel('Password').fill(STAFF_PASSWORD);
	await page.getByRole('button', { name: 'Sign in', exact: true }).click();
	await page.waitForURL('**/desk/rounds');
	await awake(page);
}

/** Waits until a page of the desk answers to clicks and hears of what happens. */
export async function awake(page: Page): Promise<void> {
	await page.waitForFunction(() => document.documentElement.dataset.live === 'yes');
}

export async function signInAtPortal(page: Page, email: string, password = CONTACT_PASSWORD): Promise<void> {
	await page.goto('/portal/pennywhistle-row/sign-in');
	await page.getByLabel('E-mail address').fill(email);
	await page.getByLabel('Password').fill(password);
	await page.getByRole('button', { name: 'Sign in', exact: true }).click();
	// the firm may have another name in its addresses by now
	await page.waitForURL(/\/portal\/[a-z-]+$/);
}

/** A phone, signed out. */
export async function phone(browser: Browser, origin: string): Promise<Page> {
	const context = await browser.newContext({ baseURL: origin, viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
	return context.newPage();
}

/** Finds nothing to blame on a page by WCAG 2.2 A and AA. */
export async function expectAccessible(page: Page, what: string, only?: string[]): Promise<void> {
	// in one frame and for violations alone: a page of its own for the results doubles the time
	const axe = new AxeBuilder({ page })
		.setLegacyMode(true)
		.options({ resultTypes: ['violations'] })
		.exclude('iframe');
	const { violations } = await (only ? axe.withRules(only) : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])).analyze();
	expect(
		violations.map(
			(v) =>
				`${v.id}: ${v.nodes
					.map((n) => n.target.join(' '))
					.slice(0, 4)
					.join(' | ')}`
		),
		what
	).toEqual([]);
}

/** A PDF and a picture to hand in. */
export const PDF_FILE = {
	name: 'statement.pdf',
	mimeType: 'application/pdf',
	buffer: Buffer.from(
		'%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj\n3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 200 200]>>endobj\ntrailer<</Root 1 0 R>>\n%%EOF'
	)
};
export const PNG_FILE = {
	name: 'page two.png',
	mimeType: 'image/png',
	buffer: Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64')
};

/** The newest message to somebody, as the mail stand-in received it. */
export async function mailTo(product: Product, address: string, kind: string): Promise<string> {
	const { receivedMail } = await import('../src/lib/server/platform/mail/standin');
	let text = '';
	await expect
		.poll(
			async () => {
				const { rows } = await product.sql.query(
					`select message_id from message where to_address = $1 and kind = $2 and state = 'sent' order by planned_at desc, sent_at desc limit 1`,
					[address, kind]
				);
				text = rows[0] ? ((await receivedMail(product.env.MAIL_STANDIN_FOLDER, rows[0].message_id))?.text ?? '') : '';
				return text;
			},
			{ timeout: 60_000 }
		)
		.not.toBe('');
	return text;
}

/** Writes into a field as a person does: into it, over what stands there, one key after the other. */
export async function typeIn(field: Locator, words: string): Promise<void> {
	await field.click();
	await field.press('ControlOrMeta+a');
	if (words === '') await field.press('Delete');
	else await field.pressSequentially(words);
}
