import { spawn } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { Readable, Transform } from 'node:stream';
import { createInterface } from 'node:readline';
import { pipeline } from 'node:stream/promises';
import Papa from 'papaparse';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { forecastChases } from '../src/lib/core/chasing/forecast';
import { identityMaker } from '../src/lib/core/transactions/line-identity';
import { readLines } from '../src/lib/core/transactions/read-lines';
import { addDays, localDate } from '../src/lib/core/calendar/firm-calendar';
import { fillLetter } from '../src/lib/core/letters/letter-document';
import { MERGE_FIELDS } from '../src/lib/core/letters/merge-fields';
import { READY_MADE_LETTER } from '../src/lib/core/letters/ready-made-letter';
import { asChasedPerson, readPeople, readPeopleDue } from '../src/lib/server/chasing/chase-people';
import { IMPORT_ROWS_MAX } from '../src/lib/core/clients/import/read-file';
import type { Actor } from '../src/lib/server/actor';
import { findClients } from '../src/lib/server/clients/find-clients';
import { threadedListWork } from '../src/lib/server/clients/import/list-work';
import { beginImport, changeImport, readImport } from '../src/lib/server/clients/import/prepare-import';
import { runImport, startImport } from '../src/lib/server/clients/import/run-import';
import { undoImport } from '../src/lib/server/clients/import/undo-import';
import { inviteFilterSchema, inviteMany } from '../src/lib/server/invitations/invite-many';
import { sendMessage, type SendingPlace } from '../src/lib/server/messages/send-message';
import { handClock } from '../src/lib/server/platform/clock';
import { smtpMailer } from '../src/lib/server/platform/mail/mailer';
import { startMailStandin } from '../src/lib/server/platform/mail/standin';
import { READY_MADE_LISTS } from '../src/lib/core/requests/ready-made-lists';
import { standingSchema } from '../src/lib/core/schedules/standing-form';
import { copyList } from '../src/lib/server/library/request-lists';
import { askManyFilterSchema, MANY_CLIENTS, prepareForMany } from '../src/lib/server/requests/many';
import { appearDue, readAppearing, writeStanding } from '../src/lib/server/schedules/standing-requests';
import { loadFirm } from '../src/lib/server/firms/firm';
import { openDatabase, type Tx } from '../src/lib/server/platform/db/database';
import { migrate } from '../src/lib/server/platform/db/migrations';
import { folderStore } from '../src/lib/server/platform/files/paper-store';
import { threadedPdfWork } from '../src/lib/server/platform/pdf/pdf-work';
import { makeSealCertificates } from '../src/lib/server/platform/pdf/seal-certificates';
import { hashPassword } from '../src/lib/server/platform/passwords';
import { CLIENTS, fill, ITEMS_PER_CLIENT } from './fill';

const PASSWORD = 'measured by lamplight';
const databaseUrl = process.env.DATABASE_URL!;
const origin = process.env.ORIGIN!;
const now = new Date().toISOString();

const sorted = (times: number[]) => [...times].sort((a, b) => a - b);
const p95 = (times: number[]) => sorted(times)[Math.floor(times.length * 0.95)];
const median = (times: number[]) => sorted(times)[Math.floor(times.length / 2)];
async function times(runs: number, work: () => Promise<unknown>): Promise<number[]> {
	for (let i = 0; i < Math.min(5, runs); i++) await work();
	const measured: number[] = [];
	for (let i = 0; i < runs; i++) {
		measured.push(await timeOf(work));
	}
	return measured;
}
async function timeOf(work: () => Promise<unknown>): Promise<number> {
	const start = performance.now();
	await work();
	return performance.now() - start;
}
const ms = (t: number) => `${t.toFixed(1)} ms`;
const line = (what: string, value: string, bound = '') => console.log(`${what.padEnd(58)} ${value}${bound ? `   (meant: ${bound})` : ''}`);

await migrate(databaseUrl);
const sql = new pg.Client({ connectionString: databaseUrl });
await sql.connect();
const today = localDate(now, { timeZone: 'America/Halifax' });
const start = performance.now();
const { firmId } = await fill(sql, await hashPassword(PASSWORD), today);
console.log(`${CLIENTS} clients, ${CLIENTS * ITEMS_PER_CLIENT} items, filled in ${((performance.now() - start) / 1000).toFixed(1)} s\n`);

const parts = { lists, chasing, searching, asking, imports, inviting, transactions, letters, uploads };
const chosen = (process.env.BENCH_PARTS ?? '').split(' ').filter(Boolean);
for (const [name, part] of Object.entries(parts)) if (chosen.length === 0 || chosen.includes(name)) await part();
await sql.end();

/** Desk lists against a trivial page of the same server, over HTTP. */
async function lists(): Promise<void> {
	const app = spawn(process.execPath, ['build/index.js'], { env: { ...process.env, LOG_LEVEL: 'info' }, stdio: ['ignore', 'pipe', 'ignore'] });
	// what the server itself says it took for each request
	const serverTime = new Map<string, number>();
	createInterface(app.stdout).on('line', (text) => {
		const told = text.startsWith('{') ? (JSON.parse(text) as { msg: string; requestId: string; ms: number }) : null;
		if (told?.msg === 'request') serverTime.set(told.requestId, told.ms);
	});
	for (let i = 0; i < 300; i++) {
		if (
			await fetch(`${origin}/health`).then(
				(r) => r.ok,
				() => false
			)
		)
			break;
		await new Promise((resolve) => setTimeout(resolve, 100));
	}
	const answer = await fetch(`${origin}/desk/sign-in`, {
		method: 'POST',
		headers: { origin, accept: 'text/html', 'content-type': 'application/x-www-form-urlencoded' },
		body: new URLSearchParams({ email: 'bench@bench.example', password: PASSWORD }),
		redirect: 'manual'
	});
	const cookie = answer.headers
		.getSetCookie()
		.map((set) => set.split(';')[0])
		.join('; ');
	if (!cookie.includes('lantern_desk=')) throw new Error('not signed in');
	const get = async (path: string) => {
		const asked = performance.now();
		const response = await fetch(origin + path, { headers: { cookie, accept: 'text/html' }, redirect: 'manual' });
		if (!response.ok) throw new Error(`${path}: ${response.status}`);
		await response.text();
		return { id: response.headers.get('x-request-id')!, whole: performance.now() - asked };
	};
	const { rows: asked } = await sql.query<{ client: string; item: string }>('select client_id client, id item from item where firm_id = $1 limit 1', [
		firmId
	]);
	const pages = [
		['Clients by wait, first page', '/desk/clients', 'within 4x'],
		['Asked, what is late', '/desk/clients/asked?show=late', ''],
		['Asked, everything open', '/desk/clients/asked?show=open', ''],
		['Clients by name', '/desk/clients?order=name', 'within 4x'],
		['Clients, silent longest first', '/desk/clients?order=life', 'within 4x'],
		['Clients, chased soonest first', '/desk/clients?order=chase', 'within 4x'],
		['Clients, when coming from another place', '/desk/clients/__data.json?x-sveltekit-invalidated=0011', 'within 4x'],
		['Rounds', '/desk/rounds', 'within 4x'],
		['an item with its history', `/desk/clients/${asked[0].client}/item/${asked[0].item}`, ''],
		['the head of every desk page, its data alone', '/desk/firm/__data.json?x-sveltekit-invalidated=010', '']
	];
	console.log('pages: from asking to the last byte, against a page that asks the database nothing; in brackets without the transport');
	for (const [name, path, bound] of pages) {
		const asked = { trivial: [] as { id: string; whole: number }[], list: [] as { id: string; whole: number }[] };
		// by turns, so that both feel the same of whatever else the machine does
		for (let i = 0; i < 120; i++) {
			asked.trivial.push(await get('/mail/stop/nothing'));
			asked.list.push(await get(path));
		}
		while (!serverTime.has(asked.list.at(-1)!.id)) await new Promise((resolve) => setTimeout(resolve, 10));
		const [trivial, list] = [asked.trivial, asked.list].map((answers) => answers.slice(20));
		const whole = (of: typeof list) => p95(of.map((answer) => answer.whole));
		const inside = (of: typeof list) => p95(of.map((answer) => serverTime.get(answer.id)!));
		line(
			`${name}, p95`,
			`${ms(whole(list))} = ${(whole(list) / whole(trivial)).toFixed(1)}x (${ms(inside(list))} = ${(inside(list) / inside(trivial)).toFixed(1)}x)`,
			bound
		);
	}
	// eight people at once open an item, each the next as soon as the last is there
	const LOAD = 8;
	const underLoad = async (path: string) => {
		const waits: number[] = [];
		const took = await timeOf(() =>
			Promise.all(
				Array.from({ length: LOAD }, async () => {
					for (let i = 0; i < 40; i++) waits.push((await get(path)).whole);
				})
			)
		);
		return { perSecond: (LOAD * 40 * 1000) / took, p95: p95(waits) };
	};
	const [nothing, itemPage] = [await underLoad('/mail/stop/nothing'), await underLoad(`/desk/clients/${asked[0].client}/item/${asked[0].item}`)];
	line(
		`an item's page, ${LOAD} at once`,
		`${itemPage.perSecond.toFixed(0)} a second, p95 ${ms(itemPage.p95)} = ${(itemPage.p95 / nothing.p95).toFixed(1)}x a page without a question to the database (${nothing.perSecond.toFixed(0)} a second)`
	);
	app.kill();
	console.log();
}

/** Who is due now, and the forecast, against reading the item table once from end to end. */
async function chasing(): Promise<void> {
	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	await sql.query('set enable_indexscan = off; set enable_bitmapscan = off; set enable_indexonlyscan = off; set max_parallel_workers_per_gather = 0');
	const scan = median(await times(9, () => sql.query(`select count(*) from item where title <> state`)));
	line('one sequential scan of item', ms(scan));
	const dueNow = median(await times(9, () => db.inFirm(firmId, (tx) => readPeopleDue(tx, today))));
	const people = await db.inFirm(firmId, (tx) => readPeopleDue(tx, today));
	line(`who is due now: ${people.length} people`, `${ms(dueNow)} = ${(dueNow / scan).toFixed(2)}x`, 'within 5x');
	let count = 0;
	const forecast = median(
		await times(5, () =>
			db.inFirm(firmId, async (tx) => {
				const firm = await loadFirm(tx);
				const rows = await readPeople(tx, people);
				count = rows.flatMap((row) => forecastChases(asChasedPerson(row, firm), firm.calendar, now, addDays(today, 7))).length;
			})
		)
	);
	line(`their forecast for a week: ${count} messages`, `${ms(forecast)} = ${(forecast / scan).toFixed(2)}x`, 'within 5x');
	console.log();
	await db.close();
}

/** Finding clients by a part of what is known, against one look into an index. */
async function searching(): Promise<void> {
	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	const actor = await coordinator();
	const probe = median(await times(200, () => db.inFirm(firmId, (tx) => tx.rows('select id from client where id = $1', [actor.id]))));
	for (const [what, typed] of [
		['a name', 'Client 4f'],
		['an address', 'c4711@'],
		['nothing that is there', 'zebra crossing']
	]) {
		const found = median(await times(100, () => db.inFirm(firmId, (tx) => findClients(tx, actor, typed, 8))));
		line(`finding clients by ${what}`, `${ms(found)} = ${(found / probe).toFixed(1)}x one index probe (${ms(probe)})`);
	}
	console.log();
	await db.close();
}

async function coordinator(): Promise<Actor> {
	const { rows } = await sql.query<{ id: string; name: string }>('select id, name from staff where firm_id = $1', [firmId]);
	return { kind: 'staff', ...rows[0], role: 'coordinator', now, ip: '', userAgent: 'bench' };
}

/** A list of 20,000 rows, read, looked at and brought in, against parsing the same file and copying it raw. */
async function imports(): Promise<void> {
	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	const lists = threadedListWork();
	const actor = await coordinator();
	const rows = Array.from({ length: IMPORT_ROWS_MAX }, (_, i) => {
		const name = createHash('sha256').update(`row ${i}`).digest('hex');
		return `Business ${name.slice(0, 24)},Person ${name.slice(24, 40)},p${i}@list.example,+1902555${String(i % 10_000).padStart(4, '0')},T-${i},12-31,${i % 40}`;
	});
	const bytes = new TextEncoder().encode(['Client,Contact,E-mail,Phone,Tax number,Year end,Employees', ...rows].join('\r\n'));
	await sql.query(
		'create temporary table raw_list (client text, contact text, email text, phone text, tax_number text, year_end text, employees text)'
	);
	const raw = median(
		await times(3, async () => {
			await sql.query('truncate raw_list');
			const { data } = Papa.parse<string[]>(new TextDecoder().decode(bytes), { header: false });
			const copying = sql.query(copyFrom('copy raw_list from stdin'));
			await pipeline(Readable.from(data.slice(1).map((cells) => cells.join('\t') + '\n')), copying);
		})
	);
	const delay = monitorEventLoopDelay({ resolution: 5 });
	delay.enable();
	let id = '';
	const looked = await timeOf(async () => {
		id = await beginImport({ db, lists }, firmId, actor, { fileName: 'list.csv', bytes });
	});
	// made-up names are alike by chance now and then
	await changeImport({ db, lists }, firmId, actor, id, { decideAll: { outcome: 'ask', decision: 'new' } });
	await db.inFirm(firmId, (tx) => startImport(tx, actor, id));
	const brought = await timeOf(() => runImport({ db, lists }, firmId, id, actor.id!, now));
	delay.disable();
	const { counts } = await db.inFirm(firmId, (tx) => readImport(tx, actor, id));
	line(
		`${counts.create.toLocaleString('en')} rows read, compared with ${CLIENTS.toLocaleString('en')} clients, shown`,
		`${ms(looked)} = ${(looked / raw).toFixed(1)}x parsing and copying them raw (${ms(raw)})`
	);
	line('the same brought in', `${ms(brought)} = ${(brought / raw).toFixed(1)}x`);
	line('longest the event loop was held meanwhile', ms(delay.max / 1e6));
	const undone = await timeOf(() => db.inFirm(firmId, (tx) => undoImport(tx, actor, id)));
	line('and undone', `${ms(undone)} = ${(undone / raw).toFixed(1)}x`);
	console.log();
	await lists.close();
	await db.close();
}

/** 5,000 people invited together, against sending as many messages raw to the same mail stand-in. */
async function inviting(): Promise<void> {
	const folder = await mkdtemp(join(tmpdir(), 'lantern-bench-mail-'));
	const standin = await startMailStandin({ port: 0, folder });
	const mailer = smtpMailer(`smtp://127.0.0.1:${standin.port}?ignoreTLS=true`);
	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	const actor = await coordinator();
	const place: SendingPlace = {
		db,
		clock: handClock(now),
		mailer,
		texts: null,
		papers: folderStore(folder),
		origin,
		secretKey: '5e'.repeat(32),
		bounceDomain: 'bounces.localhost'
	};
	const MANY = 5000;
	/** Four at a time, as the worker does. */
	const byFour = async (count: number, work: (i: number) => Promise<unknown>) => {
		let next = 0;
		await Promise.all(
			[1, 2, 3, 4].map(async () => {
				while (next < count) await work(next++);
			})
		);
	};
	const body = 'Welcome! '.repeat(60);
	const raw = await timeOf(() =>
		byFour(MANY, (i) =>
			mailer.send({
				from: { name: 'x', address: 'x@bench.example' },
				returnPath: 'x@bench.example',
				to: { name: 'y', address: `r${i}@bench.example` },
				subject: 'Welcome',
				text: body,
				html: `<p>${body}</p>`,
				messageId: `raw-${i}@bench`,
				inReplyTo: null,
				unsubscribeUrl: null,
				date: new Date(now),
				reportDelivery: false,
				attachments: []
			})
		)
	);
	await sql.query(
		'update contact set password_hash = null where id in (select id from contact where firm_id = $1 and password_hash is not null order by id limit $2)',
		[firmId, MANY]
	);
	const filter = inviteFilterSchema.parse({});
	const onceKey = randomUUID();
	const planned = await timeOf(() =>
		db.inFirm(firmId, (tx) =>
			inviteMany(tx, actor, { onceKey, subject: 'Your place, {contact_first_name}', body: 'Welcome, {client_name}!', filter }, 0)
		)
	);
	const { rows } = await sql.query<{ id: string }>(`select message_id id from invitation where run_id = $1`, [onceKey]);
	const sent = await timeOf(() => byFour(rows.length, (i) => sendMessage(place, firmId, rows[i].id)));
	line(`${rows.length.toLocaleString('en')} people invited together: planned in one transaction`, ms(planned));
	line('their messages written and sent', `${ms(sent)} = ${(sent / raw).toFixed(1)}x sending as many raw (${ms(raw)})`);
	console.log();
	mailer.close();
	await standin.close();
	await db.close();
	await rm(folder, { recursive: true });
}

/** One list made to fit a thousand clients; standing requests looked ahead and made. */
async function asking(): Promise<void> {
	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	const { rows: people } = await sql.query<{ id: string }>('select id from staff where firm_id = $1 limit 1', [firmId]);
	const actor: Actor = { kind: 'staff', id: people[0].id, name: 'Bench', role: 'coordinator', now, ip: '', userAgent: 'bench' };
	const inFirm = <T>(work: (tx: Tx) => Promise<T>) => db.inFirm(firmId, work);
	const listId = await inFirm((tx) => copyList(tx, actor, { readyMade: 'taking-on-company' }));
	const { rows: others } = await sql.query<{ ids: string[] }>(
		'select array(select id from client where firm_id = $1 order by lower(name), id offset $2) ids',
		[firmId, MANY_CLIENTS]
	);
	await sql.query(`update client set state = 'locked' where id = any ($1)`, [others[0].ids]);
	const runId = randomUUID();
	const taken = await timeOf(() => inFirm((tx) => prepareForMany(tx, actor, { listId, filter: askManyFilterSchema.parse({}), runId, send: false })));
	await sql.query('create temporary table raw_draft as select * from request_draft where run_id = $1', [runId]);
	await sql.query('delete from request_draft where run_id = $1', [runId]);
	const raw = await timeOf(() => sql.query('insert into request_draft select * from raw_draft'));
	line(
		`a list of 18 lines made to fit ${MANY_CLIENTS.toLocaleString('en')} clients, drafts written`,
		`${ms(taken)} = ${(taken / raw).toFixed(1)}x inserting the same rows (${ms(raw)})`
	);
	await sql.query(`update client set state = 'active' where id = any ($1)`, [others[0].ids]);

	// one standing request set up by the rules, then one like it for every client
	const { rows: first } = await sql.query<{ client: string; contact: string }>(
		'select client_id client, contact_id contact from client_contact where firm_id = $1 limit 1',
		[firmId]
	);
	const close = READY_MADE_LISTS.find((list) => list.id === 'month-close')!;
	const parsed = standingSchema.parse({
		contactId: randomUUID(),
		title: 'Your papers for {period}',
		lines: close.lines,
		pattern: { every: 'month', interval: 1, on: { by: 'day', day: Number(today.slice(8)) } },
		startsOn: today,
		at: '00:01',
		roll: 'none',
		period: { kind: 'month', shift: -1 }
	});
	// the ids of this data are made by a hash, which no form would send
	const form = { ...parsed, contactId: first[0].contact };
	const one = await inFirm((tx) => writeStanding(tx, actor, first[0].client, form, null));
	await sql.query(
		`insert into standing_request select (jsonb_populate_record(s, jsonb_build_object('id', gen_random_uuid(), 'client_id', cc.client_id, 'contact_id', cc.contact_id))).*
		from standing_request s, client_contact cc where s.id = $1 and cc.firm_id = $2 and cc.client_id <> $3`,
		[one, firmId, first[0].client]
	);
	await sql.query('analyze standing_request');
	const firm = await inFirm(loadFirm);
	const ahead = await timeOf(() => inFirm((tx) => readAppearing(tx, actor, firm, 28)));
	const scan = median(await times(5, () => sql.query('select sum(length(lines::text)) from standing_request')));
	line(
		'the Almanac’s four weeks of standing requests',
		`${ms(ahead)} = ${(ahead / scan).toFixed(1)}x reading all ${CLIENTS.toLocaleString('en')} (${ms(scan)})`
	);
	const MADE = 500;
	await sql.query(`update standing_request set state = 'paused' where id not in (select id from standing_request order by id limit $1)`, [MADE]);
	let made = 0;
	const making = await timeOf(async () => (made = await appearDue(db, firmId, now)));
	await sql.query(`create temporary table raw_item as select * from item where request_id in (select id from request where standing_id is not null)`);
	await sql.query('update raw_item set id = gen_random_uuid()');
	const rawItems = await timeOf(() => sql.query('insert into item select * from raw_item'));
	line(
		`${made} of them made, each in a transaction of its own`,
		`${ms(making)} = ${(making / made).toFixed(1)} ms each, ${(making / rawItems).toFixed(1)}x inserting the same items at once (${ms(rawItems)})`
	);
	console.log();
	await db.close();
}

/** A hundred thousand transactions of each form, read with their identities, against splitting the same text into lines. */
async function transactions(): Promise<void> {
	const COUNT = 100_000;
	const many = (one: (i: number, day: string, amount: string) => string) =>
		Array.from({ length: COUNT }, (_, i) =>
			one(
				i,
				`2026-${String(1 + (i % 12)).padStart(2, '0')}-${String(1 + (i % 28)).padStart(2, '0')}`,
				`-${1 + (i % 900)}.${String(i % 100).padStart(2, '0')}`
			)
		).join('');
	const files = {
		CSV: `Date,Payee,Description,Category,Amount\n${many((i, day, amount) => `${day},Shop ${i % 700},CARD ${i},Office,${amount}\n`)}`,
		'OFX 1': `OFXHEADER:100\n<OFX><BANKTRANLIST>${many(
			(i, day, amount) =>
				`<STMTTRN><TRNTYPE>DEBIT<DTPOSTED>${day.replaceAll('-', '')}<TRNAMT>${amount}<FITID>${i}<NAME>Shop ${i % 700}<MEMO>CARD ${i}</STMTTRN>\n`
		)}</BANKTRANLIST></OFX>`,
		'OFX 2': `<?xml version="1.0"?><?OFX VERSION="200"?><OFX><BANKTRANLIST>${many(
			(i, day, amount) =>
				`<STMTTRN><TRNTYPE>DEBIT</TRNTYPE><DTPOSTED>${day.replaceAll('-', '')}</DTPOSTED><TRNAMT>${amount}</TRNAMT><FITID>${i}</FITID><NAME>Shop ${i % 700}</NAME><MEMO>CARD ${i}</MEMO></STMTTRN>\n`
		)}</BANKTRANLIST></OFX>`,
		QIF: `!Type:Bank\n${many((i, day, amount) => `D${day}\nT${amount}\nPShop ${i % 700}\nMCARD ${i}\n^\n`)}`,
		'camt.053': `<?xml version="1.0"?><Document><BkToCstmrStmt><Stmt>${many(
			(i, day, amount) =>
				`<Ntry><Amt Ccy="EUR">${amount.slice(1)}</Amt><CdtDbtInd>DBIT</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>${day}</Dt></BookgDt><AcctSvcrRef>${i}</AcctSvcrRef><NtryDtls><TxDtls><RltdPties><Cdtr><Nm>Shop ${i % 700}</Nm></Cdtr></RltdPties><RmtInf><Ustrd>CARD ${i}</Ustrd></RmtInf></TxDtls></NtryDtls></Ntry>\n`
		)}</Stmt></BkToCstmrStmt></Document>`
	};
	for (const [name, text] of Object.entries(files)) {
		const bytes = Buffer.from(text);
		const raw = median(await times(3, async () => new TextDecoder().decode(bytes).split('\n').length));
		let count = 0;
		const taken = await timeOf(async () => {
			const identify = identityMaker('');
			function* pieces() {
				for (let at = 0; at < bytes.length; at += 256 * 1024) yield bytes.subarray(at, at + 256 * 1024);
			}
			await readLines(
				pieces(),
				{ columns: null, order: null, flip: false },
				{
					line: (one) => {
						if (identify(one).identity) count++;
					},
					unread: () => undefined
				}
			);
		});
		if (count !== COUNT) throw new Error(`${name}: ${count} read`);
		line(
			`100,000 transactions as ${name}, ${Math.round(bytes.length / 1e6)} MB`,
			`${ms(taken)} = ${(taken / raw).toFixed(1)}x splitting into lines (${ms(raw)}), ${(taken / 100).toFixed(1)} µs each`
		);
	}
	console.log();
}

/** A letter of three pages, composed and sealed in a thread, and what the event loop feels of it. */
async function letters(): Promise<void> {
	const pdf = threadedPdfWork();
	const filled = fillLetter(READY_MADE_LETTER, Object.fromEntries(Object.keys(MERGE_FIELDS).map((name) => [name, `the ${name}`])));
	const document = { type: 'doc' as const, content: [...filled.content, ...filled.content] };
	const key = await makeSealCertificates('Bench', new Date());
	const letter = {
		title: 'Letter',
		document,
		firm: { name: 'Bench', address: 'Here', color: '#2f5d50', logo: null },
		dateLine: today,
		recipient: ['Mara'],
		paper: 'LETTER' as const,
		signers: [],
		pageWords: 'Page {page} of {count}',
		locale: 'en'
	};
	const delay = monitorEventLoopDelay({ resolution: 5 });
	const whole = async () => {
		const composed = await pdf.compose(letter);
		const mark = { method: 'typed' as const, name: 'Mara Whitlock' };
		const by = { mark, of: 'for Gull', when: now, email: 'm@g.example', ip: '127.0.0.1', consent: 'I agree' };
		const bytes = await pdf.seal({
			pdf: composed.pdf,
			title: 'Letter',
			signaturePage: composed.signaturePage,
			signatureTop: composed.signatureTop,
			signatures: [by, by],
			events: [{ when: now, what: 'sealed' }],
			sha256: 'x',
			key,
			sealedAt: now,
			words: { certificate: 'Certificate', about: 'About', document: 'Document', digest: 'Digest', signers: 'Who', events: 'What', reason: 'Sealed' }
		});
		return { pages: composed.pages, bytes };
	};
	await whole();
	delay.enable();
	const before = process.memoryUsage().rss;
	let pages = 0;
	let size = 0;
	const taken = median(
		await times(5, async () => {
			const made = await whole();
			pages = made.pages;
			size = made.bytes.length;
		})
	);
	delay.disable();
	const bytes = Buffer.alloc(size, 7);
	const hash = median(await times(9, async () => createHash('sha256').update(bytes).digest()));
	line(`letter of ${pages} pages, composed and sealed`, `${ms(taken)} (hashing the same ${Math.round(size / 1000)} kB: ${ms(hash)})`);
	line('memory of the process while doing so', `${Math.round(process.memoryUsage().rss / 1e6)} MB (before ${Math.round(before / 1e6)} MB)`);
	line('longest the event loop was held', ms(delay.max / 1e6), 'under 50 ms');
	console.log();
	await pdf.close();
}

/** 200 MB into the store against raw streaming to disk. */
async function uploads(): Promise<void> {
	const folder = await mkdtemp(join(tmpdir(), 'lantern-bench-'));
	const chunk = Buffer.alloc(65_536, 37);
	const source = () =>
		Readable.from(
			(function* () {
				for (let i = 0; i < 3200; i++) yield chunk;
			})()
		);
	const store = folderStore(folder);
	let n = 0;
	const raw = median(
		await times(3, () =>
			pipeline(source(), new Transform({ transform: (c, _, done) => done(null, c) }), createWriteStream(join(folder, `raw${n++}`)))
		)
	);
	let most = 0;
	const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
	const kept = median(await times(3, () => store.put(source(), 220_000_000)));
	clearInterval(watch);
	line(
		'200 MB to disk, hashed, sniffed, synced',
		`${ms(kept)} = ${(kept / raw).toFixed(1)}x raw streaming (${ms(raw)}), memory at most ${Math.round(most / 1e6)} MB`
	);
	await rm(folder, { recursive: true });
}
