import { spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { CONTACT_PASSWORD, signInAtDesk, startProduct, type Product } from './product';

let product: Product;
test.beforeAll(async () => {
	test.setTimeout(120_000);
	product = await startProduct('crash');
});
test.afterAll(() => product.stop());
const died = (child: { exitCode: number | null; signalCode: string | null; once(event: 'exit', done: () => void): void }) =>
	new Promise<void>((resolve) => (child.exitCode !== null || child.signalCode !== null ? resolve() : child.once('exit', () => resolve())));
const planned = async (n: number) => {
	await product.sql.query(
		`insert into message (id, firm_id, idempotency_key, kind, contact_id, to_address, content, message_id, state, planned_at)
		select m.id, c.firm_id, 'crash ' || m.id, 'password_changed', c.id, c.email, '{}', m.id || '@crash', 'planned', now()
		from (select gen_random_uuid() id, n from generate_series(1, $1) n) m cross join (select * from contact where email = 'mara@gullstring.example') c`,
		[n]
	);
	await product.sql.query(
		`select enqueue_job('send_message', jsonb_build_object('firmId', firm_id, 'messageId', id)) from message where idempotency_key like 'crash %' and state = 'planned'`
	);
};
const states = async () =>
	Object.fromEntries(
		(await product.sql.query(`select state, count(*)::int n from message where idempotency_key like 'crash %' group by 1`)).rows.map((r) => [
			r.state,
			r.n
		])
	);

test('a worker killed again and again sends nothing twice, loses nothing, and its jobs are taken over within a minute', async () => {
	test.setTimeout(240_000);
	const total = 400;
	await planned(total);
	for (let kill = 0; kill < 4; kill++) {
		const before = (await states()).sent ?? 0;
		await expect
			.poll(async () => ((await states()).sent ?? 0) + ((await states()).unclear ?? 0), { timeout: 60_000, intervals: [20] })
			.toBeGreaterThan(before + 15);
		product.worker.kill('SIGKILL');
		await died(product.worker);
		product.startWorker();
	}
	const killedAt = Date.now();
	await expect.poll(async () => (await states()).planned ?? 0, { timeout: 60_000 }).toBe(0);
	expect(Date.now() - killedAt).toBeLessThan(60_000);
	// a person hears of what was cut off; the wait for the longest possible timeout is made shorter here
	await product.sql.query(`update message set sending_since = sending_since - interval '5 minutes' where state = 'sending'`);
	await expect.poll(async () => (await states()).sending ?? 0, { timeout: 20_000 }).toBe(0);

	const received = readdirSync(product.env.MAIL_STANDIN_FOLDER)
		.filter((file) => file.endsWith('.eml'))
		.map((file) => readFileSync(join(product.env.MAIL_STANDIN_FOLDER, file), 'latin1'))
		.filter((mail) => mail.includes('@crash>'));
	const { sent = 0, unclear = 0, ...others } = await states();
	expect(others).toEqual({});
	expect(sent + unclear).toBe(total);
	expect(received.length).toBeGreaterThanOrEqual(sent);
	expect(received.length).toBeLessThanOrEqual(sent + unclear);
	const { rows } = await product.sql.query(`select max(tries) tries from message where idempotency_key like 'crash %'`);
	expect(rows[0].tries).toBe(1);
});

test('the app killed in the middle of an upload keeps nothing half; what was acknowledged is there', async ({ playwright }) => {
	const signIn = async () => {
		const context = await playwright.request.newContext({ baseURL: product.origin, extraHTTPHeaders: { origin: product.origin } });
		expect(
			(
				await context.post('/portal/pennywhistle-row/sign-in', {
					form: { email: 'mara@gullstring.example', password: CONTACT_PASSWORD },
					maxRedirects: 0,
					headers: { accept: 'text/html' }
				})
			).status()
		).toBe(303);
		return context;
	};
	const { rows } = await product.sql.query(
		`select i.id from item i join contact c on c.id = i.contact_id where c.email = 'mara@gullstring.example' and i.kind = 'paper' and i.state in ('asked', 'seen', 'started')`
	);
	const path = `/portal/pennywhistle-row/item/${rows[0].id}/papers`;
	const context = await signIn();
	const send = (name: string) =>
		context.post(path, {
			data: Buffer.concat([Buffer.from('%PDF-1.4\n'), Buffer.alloc(500_000, 32)]),
			headers: { 'x-file-name': name, 'content-type': 'application/octet-stream' }
		});
	expect((await send('whole.pdf')).status()).toBe(200);

	const cookie = (await context.storageState()).cookies.map((c) => `${c.name}=${c.value}`).join('; ');
	// curl sends slowly, so that the file is half there when the app dies
	const upload = spawn('bash', [
		'-c',
		`head -c 20000000 /dev/zero | curl -s --limit-rate 500k -X POST -H 'cookie: ${cookie}' -H 'origin: ${product.origin}' -H 'x-file-name: half.pdf' -H 'content-type: application/octet-stream' --data-binary @- ${product.origin}${path}`
	]);
	const partial = () =>
		readdirSync(product.env.PAPERS_FOLDER, { recursive: true })
			.map(String)
			.filter((f) => f.endsWith('.partial')).length;
	await expect.poll(partial, { timeout: 20_000, intervals: [50] }).toBeGreaterThan(0);
	product.app.kill('SIGKILL');
	await Promise.all([died(product.app), died(upload)]);
	await product.startApp();
	const papers = await product.sql.query(`select name from paper where item_id = $1 and removed_at is null`, [rows[0].id]);
	expect(papers.rows).toEqual([{ name: 'whole.pdf' }]);
	expect(
		(
			await (
				await signIn()
			).post(path, { data: Buffer.from('%PDF-1.4 again'), headers: { 'x-file-name': 'again.pdf', 'content-type': 'application/octet-stream' } })
		).status()
	).toBe(200);
});

test('the app goes on when its connections to the database are cut again and again', async ({ browser }) => {
	test.setTimeout(120_000);
	const page = await browser.newPage({ baseURL: product.origin });
	await signInAtDesk(page);
	const { pid } = product.app;
	for (let cut = 0; cut < 8; cut++) {
		await Promise.all([
			page.request.get('/desk/clients').catch(() => undefined),
			product.sql.query('select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()')
		]);
	}
	// the same process answers
	await expect.poll(async () => (await page.request.get('/health/ready')).status(), { timeout: 30_000 }).toBe(200);
	expect([product.app.pid, product.app.exitCode]).toEqual([pid, null]);
	await page.goto('/desk/clients');
	await expect(page.getByText('Gull & String Kites').first()).toBeVisible();
	await page.close();
});

test('whether it is ready is told within a second, also when the database answers nothing', async ({ request }) => {
	await product.sql.query('begin; lock table worker_beat in access exclusive mode');
	const asked = performance.now();
	const answer = await request.get(`${product.origin}/health/ready`);
	const took = performance.now() - asked;
	await product.sql.query('rollback');
	expect([answer.status(), await answer.json()]).toEqual([503, { ready: false, database: false, worker: false, mail: true }]);
	// what is waited for is 800 ms; the rest is the machine's
	expect(took).toBeLessThan(5000);
	await expect.poll(async () => (await request.get(`${product.origin}/health/ready`)).status(), { timeout: 30_000 }).toBe(200);
});

test('asked to stop, app and worker finish what they began and end, however many desks are open', async ({ browser }) => {
	const page = await browser.newPage({ baseURL: product.origin });
	await signInAtDesk(page);
	await expect.poll(() => page.evaluate(() => performance.getEntriesByType('resource').length)).toBeGreaterThan(0);
	const stream = fetch(`${product.origin}/desk/live`, {
		headers: { cookie: (await page.context().cookies()).map((c) => `${c.name}=${c.value}`).join('; ') }
	});
	const reader = (await stream).body!.getReader();
	await reader.read();
	const asked = performance.now();
	product.app.kill('SIGTERM');
	// the stream ends by itself
	while (!(await reader.read()).done);
	await died(product.app);
	// streams that waited for the server would have taken half a minute
	expect(performance.now() - asked).toBeLessThan(12_000);
	await page.close();
	await product.startApp();
	await planned(20);
	product.worker.kill('SIGTERM');
	product.app.kill('SIGTERM');
	await Promise.all([died(product.worker), died(product.app)]);
	expect([product.worker.exitCode, product.app.exitCode]).toEqual([0, 0]);
	expect((await states()).sending ?? 0).toBe(0);
});
