import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createHmac, randomUUID } from 'node:crypto';
import { expect, test, type APIRequestContext, type PlaywrightWorkerArgs } from '@playwright/test';
import { CONTACT_PASSWORD, startProduct, STAFF_PASSWORD, type Product } from './product';

interface Door {
	path: string;
	methods: { method: 'GET' | 'POST'; action: string }[];
}

/** Every address of the product behind a sign-in, with everything it answers to, read off the routes. */
function doors(): Door[] {
	const found = new Map<string, Door>();
	for (const entry of readdirSync('src/routes', { recursive: true, withFileTypes: true })) {
		if (!/^\+(page|server|page\.server)\.(ts|svelte)$/.test(entry.name)) continue;
		const folder = entry.parentPath.replace(/^.*src\/routes/, '');
		const path = folder.replace(/\/\([^)]+\)|\/\[\[\w+\]\]/g, '') || '/';
		const behind = path.startsWith('/desk') ? !/sign-in|forgotten|reset|set-up/.test(path) : folder.includes('(page)');
		if (!behind) continue;
		const door = found.get(path) ?? { path, methods: [] };
		found.set(path, door);
		const source = readFileSync(join(entry.parentPath, entry.name), 'utf8');
		if (entry.name === '+page.svelte' || /export const (GET|load)\b/.test(source)) door.methods.push({ method: 'GET', action: '' });
		if (/export const POST\b/.test(source)) door.methods.push({ method: 'POST', action: '' });
		const actions = source.split('export const actions')[1];
		for (const match of actions?.matchAll(/^\t(\w+): /gm) ?? [])
			door.methods.push({ method: 'POST', action: match[1] === 'default' ? '' : `?/${match[1]}` });
	}
	return [...found.values()];
}

let product: Product;
let ids: Record<string, string>;
test.beforeAll(async () => {
	test.setTimeout(120_000);
	product = await startProduct('refusal');
	const { rows } = await product.sql.query(`select
		(select id from client where name = 'Gull & String Kites') client,
		(select i.id from item i join client c on c.id = i.client_id where c.name = 'Gull & String Kites' and i.kind = 'letter' limit 1) item,
		(select p.id from paper p join client c on c.id = p.client_id where c.name = 'Gull & String Kites' limit 1) paper,
		(select m.id from message m join client c on c.id = m.client_id where c.name = 'Gull & String Kites' limit 1) message,
		(select i.id from invitation i join client c on c.id = i.client_id where c.name = 'Midnight Bakery' limit 1) invitation,
		(select id from service order by position limit 1) service,
		(select id from staff where role = 'partner' limit 1) staff,
		(select id from client_import limit 1) list,
		(select id from transaction_file limit 1) file,
		(select id from client_form limit 1) form,
		(select id from questionnaire limit 1) questionnaire,
		(select id from public_answer limit 1) answer,
		(select id from task limit 1) task,
		(select id from chase_call where done_at is null limit 1) call,
		(select note_id from note_told where seen_at is null limit 1) note,
		(select further_chase_plans -> 0 ->> 'key' from firm where slug = 'pennywhistle-row') plan,
		(select id from incoming_text limit 1) "text",
		(select id from incoming_mail where away limit 1) mail,
		(select id from message_text limit 1) "entry",
		(select id from request_list limit 1) "requestList",
		(select id from contact where email = 'mara@gullstring.example') contact`);
	ids = { ...rows[0], key: `item-${rows[0].item}` };
	const other = randomUUID();
	await product.sql.query(
		`insert into firm (id, slug, name, time_zone, country, brand_color, mail_from, chase_steps, chase_plan_name, second_step_staff, created_at)
		select $1, 'other-firm', 'Other Firm', time_zone, country, brand_color, 'x@other.example', chase_steps, 'Gentle', false, now() from firm limit 1`,
		[other]
	);
	await product.sql.query(
		`insert into staff (id, firm_id, name, email, role, password_hash, created_at) select $1, $2, 'Stranger', 'stranger@other.example', 'administrator', password_hash, now() from staff limit 1`,
		[randomUUID(), other]
	);
});
test.afterAll(() => product.stop());

const address = (path: string, firm = 'pennywhistle-row') =>
	path.replace('[firm]', firm).replace(/\[(\w+)\]/g, (_, name: string) => ids[name] ?? randomUUID());

async function signedIn(playwright: PlaywrightWorkerArgs['playwright'], path: string, email: string, password: string): Promise<APIRequestContext> {
	const context = await playwright.request.newContext({ baseURL: product.origin, extraHTTPHeaders: { origin: product.origin } });
	const answer = await context.post(path, { form: { email, password }, maxRedirects: 0, headers: { accept: 'text/html' } });
	expect(answer.status()).toBe(303);
	return context;
}

/** The answer as a status: SvelteKit wraps the answers of form actions. */
async function knock(context: APIRequestContext, path: string, { method, action }: Door['methods'][number]): Promise<number> {
	const form = {
		version: '1',
		reason: 'x',
		dueOn: '2030-01-01',
		email: 'x@y.example',
		by: 'hour',
		answer: '00000000',
		phone: '+19025550177',
		contactId: ids.contact,
		clientId: ids.client,
		subject: 'x',
		body: 'x',
		idempotencyKey: randomUUID(),
		request: '{}',
		paperId: ids.paper,
		signature: '{"method":"typed","name":"x"}',
		consent: 'yes',
		serviceId: ids.service,
		noteId: randomUUID(),
		engagementId: randomUUID(),
		suspend: 'yes',
		move: 'lock',
		name: action === '?/sayFact' ? 'employees' : 'x',
		value: '1',
		kind: 'business',
		responsibleId: ids.staff,
		beganOn: '2026-01-01',
		ownPassword: 'x',
		challengeId: randomUUID(),
		passkeyId: randomUUID(),
		sessionId: randomUUID(),
		code: '000000',
		column: 'client',
		line: '2',
		outcome: 'wrong',
		decision: 'skip',
		staffId: ids.staff,
		role: 'filing',
		keepId: ids.client,
		goneId: ids.client,
		mergeId: randomUUID(),
		sure: 'yes',
		groupId: randomUUID(),
		brandId: randomUUID(),
		color: '#123456',
		what: 'logo',
		language: 'en',
		words: 'x',
		day: '2030-01-01',
		draftId: randomUUID(),
		content: '{}',
		restore: '1',
		asks: 'what',
		lineId: randomUUID(),
		formId: ids.form,
		form: '{}',
		how: 'unknown',
		until: '2026-06-01',
		whom: ''
	};
	const answer =
		method === 'GET'
			? await context.get(path, { maxRedirects: 0, headers: { accept: 'text/html' } })
			: path.endsWith('/papers')
				? await context.post(path, { data: Buffer.from('%PDF-1.4'), headers: { 'x-file-name': 'a.pdf', 'content-type': 'application/octet-stream' } })
				: path.endsWith('/uploads')
					? await context.post(path, { headers: { 'tus-resumable': '1.0.0', 'upload-length': '10' } })
					: await context.post(`${path}${action}`, { form, maxRedirects: 0 });
	if (!answer.headers()['content-type']?.includes('application/json')) return answer.status();
	const body = (await answer.json()) as { type?: string; status?: number; location?: string };
	return body.type === 'error' || body.type === 'failure' || body.type === 'redirect' ? (body.status ?? answer.status()) : answer.status();
}
const REFUSED = [303, 400, 401, 403, 404, 409];
/** Doors that lead nowhere in particular: they show what is one's own, or send on. */
const OWN =
	/^\/desk(\/(rounds|clients|clients\/new|almanac|almanac\/works|almanac\/works\/csv|arrivals|postroom|firm|firm\/people|firm\/brands|firm\/kept-apart|firm\/authorisations|firm\/retention|firm\/retention\/record|find|you|told|firm\/told|practice|library|library\/new|library\/lists|library\/forms|library\/questionnaires|library\/facts|library\/folders|library\/plans|library\/about-signing|drafts|clients\/ask|clients\/ask\/file|clients\/asked|clients\/import|clients\/people|clients\/statements|clients\/statements\/csv|countersign|clients\/papers|clients\/import\/file|clients\/export|clients\/invite|firm\/root-certificate|live|still-here|clock|sign-out))?$|^\/portal\/\[firm\](\/sign-out|\/still-here|\/you|\/told|\/signed|\/papers|\/facts|\/forms|\/send|\/words|\/language)?$/;

test('the walk finds the doors', () => {
	const all = doors();
	expect(all.length).toBeGreaterThan(25);
	expect(all.flatMap((d) => d.methods).length).toBeGreaterThan(45);
});

test('as nobody, every door is closed', async ({ playwright }) => {
	const context = await playwright.request.newContext({ baseURL: product.origin, extraHTTPHeaders: { origin: product.origin } });
	for (const door of doors())
		for (const way of door.methods) {
			const status = await knock(context, address(door.path), way);
			expect([303, 401, 403, 404], `${way.method} ${door.path}${way.action}: ${status}`).toContain(status);
			if (status === 303 && way.method === 'GET')
				expect(
					(await context.get(address(door.path), { maxRedirects: 0, headers: { accept: 'text/html' } })).headers().location,
					door.path
				).toContain('/sign-in');
		}
});

test('a contact is nobody at the desk, and in another firm’s portal', async ({ playwright }) => {
	const context = await signedIn(playwright, '/portal/pennywhistle-row/sign-in', 'nessa@saltgrassbees.example', CONTACT_PASSWORD);
	for (const door of doors())
		for (const way of door.methods) {
			const path = address(door.path, 'other-firm');
			const status = await knock(context, path, way);
			expect([303, 401, 403, 404], `${way.method} ${path}${way.action}: ${status}`).toContain(status);
		}
});

test('another client’s things do not exist for a contact, and nothing of theirs changes', async ({ playwright }) => {
	const context = await signedIn(playwright, '/portal/pennywhistle-row/sign-in', 'nessa@saltgrassbees.example', CONTACT_PASSWORD);
	const before = await product.sql.query('select version, state from item where id = $1', [ids.item]);
	for (const door of doors().filter((d) => d.path.startsWith('/portal') && !OWN.test(d.path)))
		for (const way of door.methods)
			expect([404, 400, 403], `${way.method} ${door.path}${way.action}`).toContain(await knock(context, address(door.path), way));
	expect((await product.sql.query('select version, state from item where id = $1', [ids.item])).rows).toEqual(before.rows);
	expect((await product.sql.query(`select 1 from event where client_id = $1 and actor_name = 'Nessa Orr'`, [ids.client])).rowCount).toBe(0);
});

test('another firm’s things do not exist for staff, an administrator included', async ({ playwright }) => {
	const context = await signedIn(playwright, '/desk/sign-in', 'stranger@other.example', STAFF_PASSWORD);
	for (const door of doors().filter((d) => d.path.startsWith('/desk') && !OWN.test(d.path)))
		for (const way of door.methods) {
			const status = await knock(context, address(door.path), way);
			// what only sends on to another address shows and changes nothing
			if (way.method === 'GET' && status === 303) continue;
			expect(REFUSED, `${way.method} ${door.path}${way.action}: ${status}`).toContain(status);
		}
	const { rows } = await product.sql.query(`select 1 from event where actor_name = 'Stranger' and verb <> 'signed_in'`);
	expect(rows).toEqual([]);
	expect((await context.get('/desk/clients')).ok()).toBe(true);
	expect(await (await context.get('/desk/clients')).text()).not.toContain('Foxglove');
});

/** Where papers get their place, and what was read of them is put right. */
const FILING = [
	'/desk/arrivals',
	'/desk/arrivals/[paper]',
	'/desk/statements/[statement]',
	'/desk/papers/[paper]/statement',
	'/desk/clients/[client]/transactions/[file]/papers',
	'/desk/notes/[note]',
	'/desk/clients/[client]/papers',
	'/desk/clients/[client]/papers/[paper]',
	'/desk/clients/[client]/papers/given/papers',
	'/desk/clients/[client]/papers/given/uploads',
	'/desk/clients/[client]/papers/given/uploads/[upload]'
];

test('filing may look, download and give papers their place, and change nothing else', async ({ playwright }) => {
	const context = await signedIn(playwright, '/desk/sign-in', 'bram@pennywhistle.example', STAFF_PASSWORD);
	for (const door of doors().filter((d) => d.path.startsWith('/desk') && !['/desk/sign-out', '/desk/you', '/desk/told', ...FILING].includes(d.path)))
		for (const way of door.methods.filter(
			(m) =>
				m.method === 'POST' &&
				!['?/findKnown', '?/findLike', '?/noteLooked', '?/end', '?/enter', '?/leave', '?/show', '?/showFact', '?/endRule', '?/tell'].includes(
					m.action
				)
		))
			expect([400, 403], `${door.path}${way.action}`).toContain(await knock(context, address(door.path), way));
	expect((await context.get(`/desk/papers/${ids.paper}?download`)).ok()).toBe(true);
	expect(
		(
			await product.sql.query(
				`select verb from event where actor_name = 'Bram Okoro' and verb not in ('signed_in', 'paper_downloaded', 'paper_opened', 'letter_downloaded')`
			)
		).rows
	).toEqual([]);
});

test('a form from another website is refused; one-click unsubscribing needs no origin, but its proof', async ({ playwright }) => {
	const evil = await playwright.request.newContext({ baseURL: product.origin, extraHTTPHeaders: { origin: 'https://evil.example' } });
	expect((await evil.post('/desk/sign-in', { form: { email: 'odalys@pennywhistle.example', password: STAFF_PASSWORD } })).status()).toBe(403);
	const bare = await playwright.request.newContext({ baseURL: product.origin });
	expect((await bare.post('/desk/sign-in', { form: { email: 'odalys@pennywhistle.example', password: STAFF_PASSWORD } })).status()).toBe(403);
	expect((await bare.post('/mail/stop/nothing', { form: { 'List-Unsubscribe': 'One-Click' } })).ok()).toBe(true);
	expect((await product.sql.query(`select 1 from contact where mail_problem = 'opted_out'`)).rowCount).toBe(0);
});

test('files come under a policy in which nothing runs; pages under one without inline scripts', async ({ playwright }) => {
	const context = await signedIn(playwright, '/desk/sign-in', 'odalys@pennywhistle.example', STAFF_PASSWORD);
	const file = await context.get(`/desk/papers/${ids.paper}`);
	expect(file.headers()).toMatchObject({
		'content-security-policy': "default-src 'none'; sandbox",
		'x-content-type-options': 'nosniff',
		'content-type': 'application/pdf'
	});
	expect(file.headers()['content-disposition']).toMatch(/^inline; filename=/);
	expect((await context.get(`/desk/papers/${ids.paper}?download`)).headers()['content-disposition']).toMatch(/^attachment; /);
	const page = await context.get('/desk/rounds');
	const policy = page.headers()['content-security-policy'];
	expect(policy).toContain("script-src 'self' 'nonce-");
	expect(policy.split(';').find((d) => d.includes('script-src'))).not.toContain('unsafe');
	expect(policy).toContain("frame-ancestors 'none'");
	expect(page.headers()['cache-control']).toContain('no-store');
});

test('the text gateway is believed only with the key we share', async ({ playwright }) => {
	const context = await playwright.request.newContext({ baseURL: product.origin });
	const body = JSON.stringify({ id: 'x', from: '+19025550132', text: 'STOP' });
	const post = (path: string, data: string, signature: string) =>
		context.post(path, { data, headers: { 'content-type': 'application/json', 'x-signature': signature } });
	const sign = (data: string, key = product.env.TEXT_GATEWAY_KEY) => createHmac('sha256', key).update(data).digest('hex');
	expect((await post('/texts/answers', body, '')).status()).toBe(401);
	expect((await post('/texts/answers', body, sign(body, 'another key of sixteen'))).status()).toBe(401);
	expect((await post('/texts/answers', body.replace('STOP', 'stop'), sign(body))).status()).toBe(401);
	expect((await post('/texts/answers', '{}', sign('{}'))).status()).toBe(400);
	expect((await post('/texts/reports', 'x'.repeat(20_000), sign('x'.repeat(20_000)))).status()).toBe(413);
	const stopped = async () => (await product.sql.query(`select count(*)::int n from contact where text_problem = 'stopped'`)).rows[0].n;
	expect(await stopped()).toBe(0);
	// handed over twice it counts once, and a report about somebody else's message changes nothing
	for (let i = 0; i < 2; i++) expect((await post('/texts/answers', body, sign(body))).status()).toBe(204);
	expect(await stopped()).toBe(1);
	const report = JSON.stringify({ reference: randomUUID(), status: 'failed' });
	expect((await post('/texts/reports', report, sign(report))).status()).toBe(204);
});

test('health is told, the database’s troubles too; too much in a form is refused', async ({ request, playwright }) => {
	expect((await request.get(`${product.origin}/health`)).ok()).toBe(true);
	expect(await (await request.get(`${product.origin}/health/ready`)).json()).toEqual({ ready: true, database: true, worker: true, mail: true });
	const context = await playwright.request.newContext({ baseURL: product.origin, extraHTTPHeaders: { origin: product.origin } });
	// of nobody less is taken: nothing they are asked for is long, or in many parts
	const many = Object.fromEntries(Array.from({ length: 60 }, (_, i) => [`f${i}`, 'x']));
	expect((await context.post('/desk/sign-in', { form: many })).status()).toBe(413);
	expect((await context.post('/desk/sign-in', { multipart: many })).status()).toBe(413);
	const refused = await context.post('/desk/sign-in', { form: { email: 'nobody@here.example', password: 'x', '<b>': 'y' } });
	expect(await refused.text()).not.toContain('<b>');
	const staff = await signedIn(playwright, '/desk/sign-in', 'odalys@pennywhistle.example', STAFF_PASSWORD);
	const large = { ...many, ...Object.fromEntries(Array.from({ length: 21_000 }, (_, i) => [`g${i}`, ''])) };
	expect((await staff.post('/desk/firm?/changeDetails', { form: large })).status()).toBe(413);
	// refused without being read, which ends their connection: each on one of its own
	for (const length of [20_000, 3_000_000]) {
		const alone = await playwright.request.newContext({ baseURL: product.origin, extraHTTPHeaders: { origin: product.origin } });
		expect((await alone.post('/desk/sign-in', { form: { email: 'a'.repeat(length), password: 'x' } })).status()).toBe(413);
	}
});

test('signing in anew in the same browser ends the session before it', async ({ playwright }) => {
	const open = async () =>
		(
			await product.sql.query(
				`select count(*)::int n from session s join staff p on p.id = s.staff_id where p.email like 'imre@%' and s.ended_at is null`
			)
		).rows[0].n;
	const before = await open();
	const imre = await signedIn(playwright, '/desk/sign-in', 'imre@pennywhistle.example', STAFF_PASSWORD);
	expect(await open()).toBe(before + 1);
	const form = { email: 'imre@pennywhistle.example', password: STAFF_PASSWORD };
	expect((await imre.post('/desk/sign-in', { form, maxRedirects: 0, headers: { accept: 'text/html' } })).status()).toBe(303);
	expect(await open()).toBe(before + 1);
	expect((await imre.get('/desk/rounds', { maxRedirects: 0 })).status()).toBe(200);
});

test('wrong passwords and refused rights stand in the log, with who and from where, and without an address', async ({ playwright }) => {
	const context = await playwright.request.newContext({ baseURL: product.origin, extraHTTPHeaders: { origin: product.origin } });
	await context.post('/desk/sign-in', { form: { email: 'odalys@pennywhistle.example', password: 'not this one' } });
	const filing = await signedIn(playwright, '/desk/sign-in', 'bram@pennywhistle.example', STAFF_PASSWORD);
	await filing.post(`/desk/items/${ids.item}?/accept`, { form: { version: '1' } });
	const refused = () =>
		readFileSync(join(product.folder, 'app.log'), 'utf8')
			.split('\n')
			.filter((line) => line.includes('"refused"'))
			.map((line) => JSON.parse(line) as { refused: string; route: string; who: string | null; from: string });
	await expect.poll(() => refused().some((line) => line.refused === 'invalid' && line.route === '/desk/sign-in' && line.who === null)).toBe(true);
	await expect.poll(() => refused().some((line) => line.refused === 'not_allowed' && line.who !== null)).toBe(true);
	expect(refused().every((line) => /^[0-9a-f]{12}$/.test(line.from))).toBe(true);
});

test('the log is JSON with request ids and holds nobody’s address or name', () => {
	const lines = readFileSync(join(product.folder, 'app.log'), 'utf8')
		.split('\n')
		.filter((l) => l.startsWith('{'));
	expect(lines.length).toBeGreaterThan(50);
	for (const line of lines) {
		const entry = JSON.parse(line) as { msg?: string; requestId?: string };
		if (entry.msg === 'request') expect(entry.requestId).toMatch(/^[0-9a-f-]{36}$/);
		expect(line).not.toMatch(/nessa|gullstring|Whitlock|Odalys|stranger@/i);
	}
});
