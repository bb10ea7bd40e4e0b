import { createHash, randomFillSync, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { PDFDocument } from '@cantoo/pdf-lib';
import { createCanvas } from '@napi-rs/canvas';
import Papa from 'papaparse';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { aroundDue, type FurtherChasePlan } from '../src/lib/core/chasing/chase-plan';
import { forecastChases } from '../src/lib/core/chasing/forecast';
import { identityMaker } from '../src/lib/core/transactions/statement-line-identity';
import { readStatement } from '../src/lib/core/transactions/read-statement';
import { addDays, localDate } from '../src/lib/core/calendar/firm-calendar';
import { fillLetter } from '../src/lib/core/letters/letter-document';
import { MERGE_FIELDS } from '../src/lib/core/letters/merge-fields';
import { READY_MADE_LETTER } from '../src/lib/core/letters/ready-made-letter';
import { asChasedPerson, readPeople, readPeopleDue } from '../src/lib/server/chasing/chase-people';
import { peopleToForecast } from '../src/lib/server/chasing/read-forecast';
import { refreshChaseDays } from '../src/lib/server/chasing/refresh-schedule';
import { IMPORT_ROWS_MAX } from '../src/lib/core/clients/import/list-file';
import type { Actor } from '../src/lib/server/actor';
import { findClients } from '../src/lib/server/clients/find-clients';
import { findThings } from '../src/lib/server/clients/find-things';
import { threadedListWork } from '../src/lib/server/clients/import/list-work';
import { beginImport, changeImport, readImport } from '../src/lib/server/clients/import/prepare-import';
import { runImport, startImport } from '../src/lib/server/clients/import/run-import';
import { undoImport } from '../src/lib/server/clients/import/undo-import';
import { inviteFilterSchema, inviteMany } from '../src/lib/server/invitations/invite-many';
import { sendMessage, type SendingPlace } from '../src/lib/server/messages/send-message';
import { handClock } from '../src/lib/server/platform/clock';
import { smtpMailer } from '../src/lib/server/platform/mail/mailer';
import { startMailStandin } from '../src/lib/server/platform/mail/standin';
import type { Question } from '../src/lib/core/items/questions';
import { decider } from '../src/lib/core/items/which-apply';
import type { Condition } from '../src/lib/core/requests/conditions';
import { readClientsKnown } from '../src/lib/server/clients/clients-known';
import { loadFacts } from '../src/lib/server/facts/firm-facts';
import { READY_MADE_LISTS } from '../src/lib/core/requests/ready-made-lists';
import { recurringSchema } from '../src/lib/core/schedules/recurring-form';
import { copyList } from '../src/lib/server/library/request-lists';
import { askManyFilterSchema, MANY_CLIENTS, prepareForMany, proposeForMany } from '../src/lib/server/requests/ask-many';
import { keepAskSheet, readSheet } from '../src/lib/server/requests/ask-sheets';
import { writeCsv } from '../src/lib/core/tables/write-csv';
import { appearDue } from '../src/lib/server/schedules/appear';
import { readAppearing } from '../src/lib/server/schedules/read-occurrences';
import { writeRecurring } from '../src/lib/server/schedules/change-recurring';
import { loadFirm } from '../src/lib/server/firms/firm';
import { readDrafts } from '../src/lib/server/drafts/drafts';
import { readAsked, readAskedTogether } from '../src/lib/server/requests/read-asked';
import { countRounds, readRounds } from '../src/lib/server/rounds/read-rounds';
import { statementLineFilterSchema, readChoosableStatementLines } from '../src/lib/server/transactions/choose-statement-lines';
import { readPrintedStatements, STATEMENT_VALUES } from '../src/lib/core/statements/printed/read-printed';
import { readPrintedPages } from '../src/lib/server/platform/pdf/read-words';
import { readMissingStatements, readStatementGrid } from '../src/lib/server/statements/statement-grid';
import { readArrivals, readArrivalsWithPlaces } from '../src/lib/server/papers/arrivals';
import { readPapers } from '../src/lib/server/papers/client-papers';
import { ZIP_PIECE_BYTES, zipOf } from '../src/lib/server/platform/files/zip';
import { inventedStatements } from '../src/lib/server/testing/printed-statements';
import { openDatabase, type Tx } from '../src/lib/server/platform/db/database';
import { migrate } from '../src/lib/server/platform/db/migrations';
import { folderStore } from '../src/lib/server/platform/files/paper-store';
import { threadedPdfWork } from '../src/lib/server/platform/pdf/pdf-work';
import { makeSealCertificates } from '../src/lib/server/platform/pdf/seal-certificates';
import { hashPassword } from '../src/lib/server/platform/passwords';
import { CLIENTS, fill, ITEMS_PER_CLIENT } from './fill';
import { sendHostile } from './hostile';
import { openApp, PASSWORD, signIn } from './running';
import { sendingRates } from './sending';
import { openStreams } from './streams';

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

const parts = {
	lists,
	questionnaires,
	statements,
	papers,
	streams,
	hostile,
	plans,
	chasing,
	searching,
	asking,
	imports,
	inviting,
	sending,
	transactions,
	letters,
	uploads
};
const chosen = (process.env.BENCH_PARTS ?? '').split(' ').filter(Boolean);
for (const [name, part] of Object.entries(parts)) if (chosen.length === 0 || chosen.includes(name)) await part();
await sql.end();

/** Desk lists against a trivial page of the same server, over HTTP. */
async function lists(): Promise<void> {
	const { serverTime, close } = await openApp();
	const cookie = await signIn('/desk', 'bench@bench.example');
	const get = async (path: string, as = cookie) => {
		const asked = performance.now();
		const response = await fetch(origin + path, { headers: { cookie: as, accept: 'text/html' }, redirect: 'manual' });
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
		['Asked, everything open by client', '/desk/clients/asked?show=open&by=client', ''],
		['Asked, by request, with a word', '/desk/clients/asked?show=open&by=request&words=client%204f', ''],
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
	// eight people at once, each opening the next page as soon as the last is there
	const LOAD = 8;
	const portal = await signIn('/portal/bench', await contactWithPassword());
	const underLoad = async (path: string, as?: string) => {
		const waits: number[] = [];
		const load = (each: number) =>
			Promise.all(
				Array.from({ length: LOAD }, async () => {
					for (let i = 0; i < each; i++) waits.push((await get(path, as)).whole);
				})
			);
		await load(40);
		waits.length = 0;
		const took = await timeOf(() => load(60));
		return { perSecond: (LOAD * 60 * 1000) / took, p95: p95(waits) };
	};
	const nothing = await underLoad('/mail/stop/nothing');
	line(`a page without a question to the database, ${LOAD} at once`, `${nothing.perSecond.toFixed(0)} a second, p95 ${ms(nothing.p95)}`);
	for (const [name, path, as, bound] of [
		['the portal’s first page', '/portal/bench', portal, '150 a second'],
		['Clients', '/desk/clients', cookie, '250 a second'],
		['Rounds', '/desk/rounds', cookie, '250 a second'],
		['an item’s page', `/desk/clients/${asked[0].client}/item/${asked[0].item}`, cookie, 'within 4x']
	]) {
		const page = await underLoad(path, as);
		line(
			`${name}, ${LOAD} at once`,
			`${page.perSecond.toFixed(0)} a second = 1/${(nothing.perSecond / page.perSecond).toFixed(1)} of it, p95 ${ms(page.p95)} = ${(page.p95 / nothing.p95).toFixed(1)}x`,
			bound
		);
	}
	await close();
	console.log();
}

/** How well printed statements are read, what reading costs beside taking the words out, and the statement grid against reading its rows. */
async function statements(): Promise<void> {
	let [right, wrong, missed, words, reading] = [0, 0, 0, 0, 0];
	const byValue: Record<string, [right: number, wrong: number, missed: number]> = {};
	for (const invented of inventedStatements()) {
		const pdf = await invented.pdf();
		const printed = await readPrintedPages(pdf.slice());
		words += median(await times(3, () => readPrintedPages(pdf.slice())));
		if (!printed) continue;
		reading += median(await times(3, async () => readPrintedStatements(printed.pages)));
		const read = readPrintedStatements(printed.pages);
		for (let i = 0; i < Math.max(read.length, invented.says.length); i++)
			for (const name of STATEMENT_VALUES) {
				const [is, said] = [invented.says[i]?.[name] ?? null, read[i]?.[name]?.value ?? null];
				const counts = (byValue[name] ??= [0, 0, 0]);
				if (said !== null) counts[said === is ? 0 : 1]++;
				else if (is !== null) counts[2]++;
			}
	}
	for (const [a, b, c] of Object.values(byValue)) [right, wrong, missed] = [right + a, wrong + b, missed + c];
	const share = (of: number, all: number) => `${((100 * of) / Math.max(1, all)).toFixed(1)} %`;
	for (const [name, [a, b, c]] of Object.entries(byValue))
		line(`24 statements, ${name}`, `precision ${share(a, a + b)}, recall ${share(a, a + b + c)} (${a} right, ${b} wrong, ${c} not read)`);
	line('24 statements, every value', `precision ${share(right, right + wrong)}, recall ${share(right, right + wrong + missed)}`, 'nothing wrong');
	line('reading them', `${ms(words + reading)} = ${((words + reading) / words).toFixed(2)}x taking the words out (${ms(words)})`, 'within 2x');

	// one client with twelve accounts over three years
	const { rows: client } = await sql.query<{ id: string; by: string }>(
		`select c.id, c.responsible_id "by" from client c where c.firm_id = $1 and c.state = 'active' order by c.id limit 1`,
		[firmId]
	);
	await sql.query(
		`with a as (
			insert into account (id, firm_id, client_id, kind, institution, last_four, currency, closing_day, opened_on, noted_by_id, noted_at)
			select gen_random_uuid(), $1, $2, 'bank', 'Bank ' || n, lpad(n::text, 4, '0'), 'CAD', 31, date_trunc('month', now())::date - interval '36 months', $3, now()
			from generate_series(1, 12) n returning id, last_four),
		p as (
			insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, uploaded_at, unasked, put_away_at, put_away_by_id, kept)
			select gen_random_uuid(), $1, $2, 'statement.pdf', 1, sha256('x'), 'application/pdf', gen_random_uuid()::text, now(), true, now(), $3, true from a, generate_series(1, 36)
			returning id),
		numbered as (select id, row_number() over () - 1 n from p),
		accounts as (select last_four, row_number() over (order by last_four) - 1 n from a)
		insert into statement (id, firm_id, client_id, paper_id, number, last_four, covers_from, covers_to, opening, closing)
		select gen_random_uuid(), $1, $2, p.id, 0, a.last_four, m, (m + interval '1 month')::date - 1, 1, 1
		from numbered p join accounts a on a.n = p.n / 36, lateral (select (date_trunc('month', now()) - make_interval(months => 36 - (p.n % 36)::int))::date m) x`,
		[firmId, client[0].id, client[0].by]
	);
	await sql.query('analyze statement, paper, account');
	const actor: Actor = { kind: 'staff', id: client[0].by, name: 'bench', role: 'administrator', now } as Actor;
	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	const firm = await db.inFirm(firmId, (tx) => loadFirm(tx));
	const rows = median(
		await times(30, () =>
			db.inFirm(firmId, (tx) => tx.rows('select * from placed_statement where firm_id = $1 and client_id = $2', [firmId, client[0].id]))
		)
	);
	const grid = median(await times(30, () => db.inFirm(firmId, (tx) => readStatementGrid(tx, actor, firm, client[0].id))));
	line('the grid of 12 accounts over 36 months', `${ms(grid)} = ${(grid / rows).toFixed(1)}x reading its rows (${ms(rows)})`, 'within 3x');
	const missing = median(await times(10, () => db.inFirm(firmId, (tx) => readMissingStatements(tx, actor, firm, null))));
	line('what is missing where, over all clients', ms(missing));
	await db.close();
	console.log();
}

/** Searching 200,000 papers against the bare question, the first page of Arrivals with 5,000 files, and an archive of a gigabyte against its bytes alone. */
async function papers(): Promise<void> {
	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	const actor = await coordinator();
	const filled = await timeOf(() =>
		sql.query(
			`with words as (select array_agg(substr(md5(n::text), 1, 4 + n % 6)) w from generate_series(1, 4000) n),
				clients as (select array_agg(id) c from client where firm_id = $1 and state = 'active')
			insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, given_by_id, uploaded_at, first_words)
			select gen_random_uuid(), $1, c[1 + n % cardinality(c)], 'paper ' || n || '.pdf', 1, sha256('x'), 'application/pdf', gen_random_uuid()::text, $2,
				now() - make_interval(mins => n), case when n % 400 = 0 then 'depreciation of machines ' else '' end
					|| (select string_agg(w[1 + (n * 31 + k * 7919) % 4000], ' ') from generate_series(1, 80) k)
			from generate_series(1, 200000) n, words, clients`,
			[firmId, actor.id]
		)
	);
	await sql.query('analyze paper');
	line('200,000 papers written, with what they are found by', `${(filled / 1000).toFixed(0)} s`);
	for (const [what, typed] of [
		['a word of 500', 'depreciation'],
		['another form of it', 'machine'],
		['two words', 'depreciation machines'],
		['a name', 'paper 4711'],
		['a word of thousands', 'c4ca'],
		['nothing that is there', 'zebra']
	]) {
		const bare = median(
			await times(20, async () => {
				await sql.query('begin');
				await sql.query(
					`select id, name from paper where firm_id = $1 and removed_at is null and search @@ paper_query($2) order by uploaded_at desc limit 60`,
					[firmId, typed]
				);
				await sql.query('commit');
			})
		);
		const found = median(await times(20, () => db.inFirm(firmId, (tx) => readPapers(tx, actor, { clientId: null, typed }))));
		line(`papers with ${what}`, `${ms(found)} = ${(found / bare).toFixed(1)}x the bare question (${ms(bare)})`, 'within 3x');
	}
	const all = median(await times(20, () => db.inFirm(firmId, (tx) => readPapers(tx, actor, { clientId: null }))));
	line('papers of all clients, first page', ms(all));

	await sql.query(
		`with clients as (select array_agg(id) c from client where firm_id = $1 and state = 'active')
		insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, uploaded_at, unasked, first_words)
		select gen_random_uuid(), $1, c[1 + n % cardinality(c)], 'bank statement ' || n || '.pdf', 1, sha256('x'), 'application/pdf', gen_random_uuid()::text,
			now() - make_interval(mins => n), true, repeat('Statement of the account, closing balance 12.40 ', 40)
		from generate_series(1, 5000) n, clients`,
		[firmId]
	);
	await sql.query('analyze paper');
	const plain = median(await times(20, () => db.inFirm(firmId, (tx) => readArrivals(tx, 100, null))));
	const seeming = median(await times(20, () => db.inFirm(firmId, (tx) => readArrivalsWithPlaces(tx, 100, null))));
	line('Arrivals of 5,000 files, first page', `${ms(seeming)} = ${(seeming / plain).toFixed(1)}x the plain list (${ms(plain)})`, 'within 3x');
	await db.close();

	const folder = await mkdtemp(join(tmpdir(), 'lantern-bench-'));
	const store = folderStore(folder);
	const keys: string[] = [];
	for (let n = 0; n < 20; n++) keys.push((await store.put(Readable.from(pieces(50)), 100 * 1024 * 1024)).key);
	const drain = async (stream: Readable) => {
		let bytes = 0;
		for await (const piece of stream) bytes += (piece as Buffer).length;
		return bytes;
	};
	const raw = async () => {
		for (const key of keys) await drain(store.read(key));
	};
	await raw();
	const idle = process.memoryUsage().rss;
	let most = idle;
	const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
	const zipped = await timeOf(() =>
		drain(zipOf(keys.map((key, n) => ({ path: `${n}.pdf`, at: now, open: () => store.read(key, undefined, ZIP_PIECE_BYTES) }))))
	);
	clearInterval(watch);
	const streamed = await timeOf(raw);
	line(
		'an archive of 1 GB',
		`${((100 * streamed) / zipped).toFixed(0)} % of reading its files (${(streamed / 1000).toFixed(1)} s), ${((most - idle) / 1024 ** 2).toFixed(0)} MB over idle`,
		'60 %, 80 MB'
	);
	await rm(folder, { recursive: true });
	console.log();
}

/** So many megabytes in pieces of 64 kB that no two files share. */
function* pieces(megabytes: number): Generator<Buffer> {
	const piece = Buffer.from('%PDF-1.7 '.padEnd(64 * 1024, randomUUID()));
	for (let n = 0; n < megabytes * 16; n++) yield piece;
}

/** A long questionnaire: opening it, keeping a typed answer, and deciding what applies for many clients. */
async function questionnaires(): Promise<void> {
	const { serverTime, close } = await openApp();
	const email = await contactWithPassword();
	const portal = await signIn('/portal/bench', email);
	const { rows: plain } = await sql.query<{ id: string; client: string }>(
		`select i.id, i.client_id client from item i join contact c on c.id = i.contact_id where c.email = $1 and i.state in ('asked', 'seen') and i.kind = 'paper' order by i.id limit 1`,
		[email]
	);
	const questions = longQuestionnaire();
	const answers = Object.fromEntries(questions.slice(0, 60).map(({ key }) => [`answer.${key}`, { value: 'yes', at: now, device: 'bench' }]));
	const { rows: own } = await sql.query<{ names: string }>(
		`select string_agg(quote_ident(column_name), ', ') "names" from information_schema.columns where table_name = 'item' and table_schema = 'public' and is_generated = 'NEVER' and column_name not in ('id', 'kind', 'spec', 'typed', 'state')`
	);
	const id = randomUUID();
	await sql.query(
		`insert into item (id, kind, spec, typed, state, ${own[0].names}) select $1, 'questionnaire', $2, $3, 'started', ${own[0].names} from item where id = $4`,
		[id, JSON.stringify({ questions, files: false }), JSON.stringify(answers), plain[0].id]
	);
	const get = async (path: string) => {
		const response = await fetch(origin + path, { headers: { cookie: portal, accept: 'text/html' } });
		if (!response.ok) throw new Error(`${path}: ${response.status}`);
		await response.text();
		return response.headers.get('x-request-id')!;
	};
	const inside = async (ids: string[]) => {
		while (!serverTime.has(ids.at(-1)!)) await new Promise((resolve) => setTimeout(resolve, 10));
		return median(ids.map((one) => serverTime.get(one)!));
	};
	const asked = { plain: [] as string[], long: [] as string[] };
	for (let i = 0; i < 60; i++) {
		asked.plain.push(await get(`/portal/bench/item/${plain[0].id}`));
		asked.long.push(await get(`/portal/bench/item/${id}`));
	}
	const [plainPage, longPage] = [await inside(asked.plain.slice(10)), await inside(asked.long.slice(10))];
	line(
		'a questionnaire of 300 questions, 60 answered, opened',
		`${ms(longPage)} = ${(longPage / plainPage).toFixed(1)}x the page of a paper (${ms(plainPage)})`,
		'within 3x'
	);
	const keep = async () => {
		const typed = JSON.stringify({ device: 'bench', since: now, fields: { 'answer.q61': `words ${Math.random()}` } });
		const response = await fetch(`${origin}/portal/bench/item/${id}?/keep`, {
			method: 'POST',
			headers: { cookie: portal, origin, 'content-type': 'application/x-www-form-urlencoded', accept: 'application/json' },
			body: new URLSearchParams({ typed })
		});
		if (!(await response.text()).includes('"success"')) throw new Error('not kept');
	};
	const stillHere = async () => {
		const response = await fetch(`${origin}/portal/bench/still-here`, { headers: { cookie: portal } });
		await response.text();
	};
	const [kept, bare, update] = [
		median(await times(60, keep)),
		median(await times(60, stillHere)),
		median(await times(60, () => sql.query('update item set typed = typed where id = $1', [id])))
	];
	line(
		'a typed answer of it kept',
		`${ms(kept)} = ${(kept / (bare + update)).toFixed(1)}x asking who somebody is (${ms(bare)}) and one UPDATE (${ms(update)})`,
		'within 2x'
	);
	await sql.query('delete from item where id = $1', [id]);

	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	const MANY = 1000;
	const { rows: many } = await sql.query<{ ids: string[] }>(`select array(select id from client where firm_id = $1 order by id limit $2) ids`, [
		firmId,
		MANY
	]);
	const facts = await db.inFirm(firmId, loadFacts);
	const read = () => db.inFirm(firmId, (tx) => readClientsKnown(tx, many[0].ids, today));
	const reading = median(await times(10, read));
	const known = await read();
	const given = Object.fromEntries(questions.slice(0, 60).map(({ key }) => [key, true]));
	const deciding = median(
		await times(5, async () => {
			const decide = decider(questions, facts);
			for (const one of known.values()) decide(given, one, today);
		})
	);
	line(
		`which of 300 questions apply, for ${MANY} clients`,
		`${ms(deciding)} = ${(deciding / reading).toFixed(1)}x reading their facts (${ms(reading)})`,
		'within 5x'
	);
	console.log();
	await db.close();
	await close();
}

/** 300 questions in 12 parts, 40 of them with conditions on answers and facts. */
function longQuestionnaire(): Question[] {
	return Array.from({ length: 300 }, (_, i): Question => {
		const part = i % 25 === 0 ? { part: `Part ${i / 25 + 1}` } : {};
		const conditional = i > 0 && i % 7 === 0 && i <= 280;
		const before: Condition = { kind: 'answer', question: `q${i - 1}`, is: 'equals', value: 'yes' };
		const condition: Condition = i % 14 === 0 ? { kind: 'any', of: [{ kind: 'fact', fact: 'payroll', is: 'equals', value: 'yes' }, before] } : before;
		return {
			key: `q${i}`,
			title: `Question number ${i} about the business?`,
			help: i % 3 === 0 ? 'In your own words.' : '',
			required: true,
			answer: { is: i === 61 ? 'words' : 'yes_no' },
			fact: null,
			...part,
			...(conditional ? { condition } : {})
		};
	});
}

/** A contact who can sign in, with something open. @returns the address */
async function contactWithPassword(): Promise<string> {
	const { rows } = await sql.query<{ id: string; email: string }>(
		`select c.id, c.email from item i join contact c on c.id = i.contact_id where i.firm_id = $1 and i.state = 'asked' and i.kind = 'paper' order by c.id limit 1`,
		[firmId]
	);
	await sql.query('update contact set password_hash = $2 where id = $1', [rows[0].id, await hashPassword(PASSWORD)]);
	return rows[0].email;
}

/** A page of the desk while a thousand screens are told of whatever happens. */
async function streams(): Promise<void> {
	const OPEN = 1000;
	const app = await openApp();
	const cookie = await signIn('/desk', 'bench@bench.example');
	const page = async () => {
		const response = await fetch(`${origin}/desk/clients/__data.json?x-sveltekit-invalidated=0011`, { headers: { cookie } });
		await response.text();
	};
	const p99 = (measured: number[]) => sorted(measured)[Math.floor(measured.length * 0.99)];
	const alone = p99(await times(200, page));
	const open = await openStreams(cookie, OPEN);
	const quiet = p99(await times(200, page));
	// something happens ten times a second
	const happening = setInterval(() => {
		void sql.query(
			`insert into event (firm_id, at, actor_kind, actor_name, verb, details) values ($1, now(), 'machine', 'Bench', 'firm_changed', '{}')`,
			[firmId]
		);
	}, 100);
	const before = open.events();
	const busy = p99(await times(200, page));
	clearInterval(happening);
	line(
		`data of a page, p99, with ${OPEN.toLocaleString('en')} open streams`,
		`${ms(quiet)} = ${(quiet / alone).toFixed(1)}x without them (${ms(alone)})`
	);
	line('the same while something happens ten times a second', `${ms(busy)}, ${open.events() - before} notices delivered`, 'p99 under 150 ms');
	open.close();
	await app.close();
	console.log();
}

/** What anybody may send, and for how long each holds the event loop of the app. */
async function hostile(): Promise<void> {
	const app = await openApp();
	const email = await contactWithPassword();
	const { rows } = await sql.query<{ client: string; item: string }>(
		`select i.client_id client, i.id item from item i join contact c on c.id = i.contact_id where c.email = $1 and i.state = 'asked' and i.kind = 'paper' limit 1`,
		[email]
	);
	const nothing = await app.heldDuring(() => new Promise((resolve) => setTimeout(resolve, 300)));
	line('longest the event loop is held by nothing at all', ms(nothing));
	await sendHostile(app, { desk: await signIn('/desk', 'bench@bench.example'), portal: await signIn('/portal/bench', email), ...rows[0] }, line);
	await app.close();
	console.log();
}

/** What the database does for each list: its time, the pages of 8 kB it looks at, and the tables it reads from end to end. */
async function plans(): Promise<void> {
	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	const actor = await coordinator();
	await fillDrafts(actor);
	const fileId = await fillTransactions(actor);
	await sql.query('analyze');
	const tomorrow = addDays(today, 1);
	const asked = { mine: false, words: null };
	const lists: [string, (tx: Tx) => Promise<unknown>][] = [
		['Asked, late', (tx) => readAsked(tx, actor, tomorrow, { ...asked, show: 'late' })],
		['Asked, open', (tx) => readAsked(tx, actor, today, { ...asked, show: 'open' })],
		['Asked, open, the tenth page', (tx) => readAsked(tx, actor, today, { ...asked, show: 'open' }, 2700)],
		['Asked, open, with a word', (tx) => readAsked(tx, actor, today, { ...asked, show: 'open', words: 'Client 4f' })],
		['Asked, open, by request', (tx) => readAskedTogether(tx, actor, today, { ...asked, show: 'open' }, 'request')],
		['Asked, late, by client', (tx) => readAskedTogether(tx, actor, tomorrow, { ...asked, show: 'late' }, 'client')],
		['Asked, to look at', (tx) => readAsked(tx, actor, today, { ...asked, show: 'handed_in' })],
		['Drafts', (tx) => readDrafts(tx, actor)],
		['Drafts, with a word', (tx) => readDrafts(tx, actor, { words: 'Client 4f' })],
		['Rounds', async (tx) => readRounds(tx, actor, await loadFirm(tx), { due: (date) => date })],
		['the counts of Rounds', async (tx) => countRounds(tx, await loadFirm(tx), now)],
		[
			'lines of a file, not asked before',
			(tx) => readChoosableStatementLines(tx, actor, fileId, statementLineFilterSchema.parse({ asked: false }), { after: 0, most: 100 })
		],
		[
			'lines of a file, with a word, over an amount',
			(tx) =>
				readChoosableStatementLines(tx, actor, fileId, statementLineFilterSchema.parse({ words: 'shop 12', over: 100, asked: true }), {
					after: 0,
					most: 100
				})
		]
	];
	console.log('statements of the lists that take more than a millisecond, as the database tells (explain, analyze, buffers)');
	for (const [name, read] of lists)
		await db.inFirm(firmId, async (tx) => {
			const explained: Tx['rows'] = async (text, values = []) => {
				const told = await tx.rows<{ 'QUERY PLAN': [ToldPlan] }>(`explain (analyze, buffers, format json) ${text}`, values);
				const [{ Plan, ...whole }] = told[0]['QUERY PLAN'];
				if (whole['Execution Time'] > 1) {
					const scans = [...new Set(scansOf(Plan))];
					const pages = Plan['Shared Hit Blocks'] + Plan['Shared Read Blocks'];
					line(name, `${ms(whole['Execution Time'])}, ${pages} pages${scans.length > 0 ? `, whole tables: ${scans.join(', ')}` : ''}`);
				}
				return tx.rows(text, values);
			};
			await read({
				...tx,
				rows: explained,
				first: async <Row extends object>(text: string, values?: readonly unknown[]) => (await explained<Row>(text, values))[0] ?? null
			});
		});
	console.log();
	await db.close();
}

interface PlanNode {
	'Node Type': string;
	'Relation Name'?: string;
	'Shared Hit Blocks': number;
	'Shared Read Blocks': number;
	'Actual Rows': number;
	Plans?: PlanNode[];
}
interface ToldPlan {
	Plan: PlanNode;
	'Execution Time': number;
}
/** The tables of more than a hundred rows that a plan reads from end to end. */
function scansOf(node: PlanNode): string[] {
	const own = node['Node Type'] === 'Seq Scan' && node['Actual Rows'] > 100 ? [node['Relation Name']!] : [];
	return [...own, ...(node.Plans ?? []).flatMap(scansOf)];
}

/** A draft for every client, of which every tenth waits. */
async function fillDrafts(actor: Actor): Promise<void> {
	await sql.query(
		`insert into request_draft (id, firm_id, client_id, title, content, lines, waits, made_by_id, made_at, changed_by_id, changed_at)
		select gen_random_uuid(), $1, c.id, 'Year end', jsonb_build_object('contactId', cc.contact_id, 'title', 'Year end', 'lines', '[]'::jsonb), 5, row_number() over () % 10 = 0, $2, $3, $2, $3
		from client c join client_contact cc on cc.client_id = c.id where c.firm_id = $1`,
		[firmId, actor.id, now]
	);
}

/** Files of 50,000 and of twenty times 5,000 transactions of as many clients, of which every twentieth was asked about. @returns the id of the large one */
async function fillTransactions(actor: Actor): Promise<string> {
	await sql.query(
		`insert into transaction_file (id, firm_id, client_id, name, format, header, reading, lines, unread, storage_key, brought_by_id, brought_at)
		select gen_random_uuid(), $1, c.id, 'year.csv', 'csv', '{a}', '{}', case when row_number() over (order by c.id) = 1 then 50000 else 5000 end, 0, 'none', $2, $3
		from client c where c.firm_id = $1 order by c.id limit 21`,
		[firmId, actor.id, now]
	);
	await sql.query(
		`insert into transaction_line (id, firm_id, client_id, file_id, position, day, amount, currency, who, words, category, uncategorised, reference, document, account, original, identity, content, asked_item_id)
		select gen_random_uuid(), $1, f.client_id, f.id, n, $2::date - n % 360, n % 900 - 450, 'CAD', 'Shop ' || n % 700, 'CARD ' || n, '', true, '', null, '', '{}', 'i' || n, 'c' || n,
			case when n % 20 = 0 then (select i.id from item i where i.client_id = f.client_id limit 1) end
		from transaction_file f cross join lateral generate_series(1, f.lines) n`,
		[firmId, today]
	);
	return (await sql.query<{ id: string }>('select id from transaction_file order by lines desc limit 1')).rows[0].id;
}

/** Who is due now, and the forecast, against reading the item table once from end to end. */
async function chasing(): Promise<void> {
	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	await sql.query('set enable_indexscan = off; set enable_bitmapscan = off; set enable_indexonlyscan = off; set max_parallel_workers_per_gather = 0');
	const scan = median(await times(9, () => sql.query(`select count(*) from item where title <> state`)));
	line('one sequential scan of item', ms(scan));
	const dueNow = median(await times(9, () => db.inFirm(firmId, (tx) => readPeopleDue(tx, today))));
	const people = (await db.inFirm(firmId, (tx) => readPeopleDue(tx, today))).map(({ contact_id }) => contact_id);
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
	const idle = median(await times(9, () => db.inFirm(firmId, (tx) => readPeopleDue(tx, '2000-01-01'))));
	line('a beat with nothing due', ms(idle), 'within 5 ms');
	// a third of what is open by each of two plans of unlike steps
	const unlike = [
		{ key: 'weekly', name: 'Weekly', steps: [aroundDue(-2), { when: { kind: 'weekly', weekday: 3, times: 4 }, by: 'email', firmer: false }] },
		{
			key: 'silent',
			name: 'Silent',
			steps: [
				{ when: { kind: 'silent', days: 5 }, by: 'usual', firmer: false },
				{ when: { kind: 'every', days: 7, unit: 'days', times: 3 }, by: 'usual', firmer: true },
				{ when: { kind: 'after', days: 4 }, by: 'call', firmer: false }
			]
		}
	] satisfies FurtherChasePlan[];
	await sql.query('update firm set further_chase_plans = $2 where id = $1', [firmId, JSON.stringify(unlike)]);
	await sql.query(
		`update item set chase_plan = (array[null, 'weekly', 'silent'])[1 + abs(hashtext(contact_id::text)) % 3] where firm_id = $1 and phase = 'open'`,
		[firmId]
	);
	await db.inFirm(firmId, async (tx) => {
		const open = await tx.rows<{ id: string }>(`select id from item where firm_id = $1 and phase = 'open'`, [firmId]);
		await refreshChaseDays(
			tx,
			open.map(({ id }) => id),
			await loadFirm(tx)
		);
	});
	let reached = 0;
	const ahead = median(
		await times(3, () =>
			db.inFirm(firmId, async (tx) => {
				const firm = await loadFirm(tx);
				const ids = await peopleToForecast(tx, firm, now, 28);
				const rows = await readPeople(tx, ids);
				reached = rows.length;
				count = rows.flatMap((row) => forecastChases(asChasedPerson(row, firm), firm.calendar, now, addDays(today, 28))).length;
			})
		)
	);
	line(`forecast of 28 days by mixed plans: ${count} chases of ${reached} people`, `${ms(ahead)} = ${(ahead / scan).toFixed(2)}x`, 'within 2x');
	console.log();
	await db.close();
}

/** Finding clients by a part of what is known, against the bare query of the same kind. */
async function searching(): Promise<void> {
	const db = openDatabase({ DATABASE_URL: databaseUrl, APP_DATABASE_URL: undefined });
	const actor = await coordinator();
	/** The least that a search of one kind can be: one condition on one column, answered by its index. */
	const bareOf = async (condition: string, order = 'lower(name)') =>
		median(
			await times(60, async () => {
				await sql.query('begin');
				await sql.query(`select id, name from client where firm_id = $1 and ${condition} order by ${order} limit 8`, [firmId]);
				await sql.query('commit');
			})
		);
	await sql.query('reset all; set pg_trgm.word_similarity_threshold = 0.45');
	const bare = await bareOf(`plain_name like '%client 4f%'`);
	for (const [what, typed, least] of [
		['a name', 'Client 4f', bare],
		['two words, the other way round', '4f client', await bareOf(`plain_name like '%client%' and plain_name like '%4f%'`)],
		['a slip of the finger', 'Cleint 4f', await bareOf(`'cleint' <% plain_name`, `word_similarity('cleint', plain_name) desc`)],
		['an address', 'c4711@', bare],
		['nothing that is there', 'zebra crossing', bare]
	] as const) {
		const found = median(await times(60, () => db.inFirm(firmId, (tx) => findClients(tx, actor, typed, 8))));
		line(`finding clients by ${what}`, `${ms(found)} = ${(found / least).toFixed(1)}x the bare query (${ms(least)})`, '3x the bare query');
	}
	for (const [what, typed] of [
		['a word of a line', 'statement'],
		['a word and a client', 'Client 4f statement'],
		['nothing that is there', 'zebra crossing']
	]) {
		const found = median(await times(50, () => db.inFirm(firmId, (tx) => findThings(tx, actor, typed, 5))));
		line(`finding lines, requests and papers by ${what}`, `${ms(found)} = ${(found / bare).toFixed(1)}x the bare query`);
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
	await changeImport({ db, lists }, firmId, actor, id, { decideAll: { outcome: 'ask', decision: 'not_ours' } });
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
				replyTo: null,
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
	const idempotencyKey = randomUUID();
	const planned = await timeOf(() =>
		db.inFirm(firmId, (tx) =>
			inviteMany(tx, actor, { idempotencyKey, subject: 'Your place, {contact_first_name}', body: 'Welcome, {client_name}!', filter }, 0)
		)
	);
	const { rows } = await sql.query<{ id: string }>(`select message_id id from invitation where run_id = $1`, [idempotencyKey]);
	const sent = await timeOf(() => byFour(rows.length, (i) => sendMessage(place, firmId, rows[i].id)));
	line(`${rows.length.toLocaleString('en')} people invited together: planned in one transaction`, ms(planned));
	line('their messages written and sent', `${ms(sent)} = ${(sent / raw).toFixed(1)}x sending as many raw (${ms(raw)})`);
	console.log();
	mailer.close();
	await standin.close();
	await db.close();
	await rm(folder, { recursive: true });
}

/** What one worker sends and two do, against handing the same to the same mail server raw; one that answers at once, and one as they are. */
async function sending(): Promise<void> {
	for (const takes of [0, 50]) {
		const { raw, one, two } = await sendingRates(databaseUrl, takes, takes > 0 ? 1500 : 3000);
		const server = takes > 0 ? `a mail server that takes ${takes} ms` : 'a mail server that answers at once';
		const share = `${Math.round(one)}/s = ${Math.round((100 * one) / raw)} % of raw (${Math.round(raw)}/s)`;
		line(`one worker to ${server}`, share, '70 %');
		line('two workers', `${Math.round(two)}/s = ${(two / one).toFixed(2)}x one`, '1.6x');
	}
	console.log();
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
	const everybody = askManyFilterSchema.parse({ again: '1' });
	const taken = await timeOf(() => inFirm((tx) => prepareForMany(tx, actor, { listId, filter: everybody, runId, send: false })));
	await sql.query('create temporary table raw_draft as select * from request_draft where run_id = $1', [runId]);
	await sql.query('delete from request_draft where run_id = $1', [runId]);
	const raw = await timeOf(() => sql.query('insert into request_draft overriding system value select * from raw_draft'));
	line(
		`a list of 18 lines made to fit ${MANY_CLIENTS.toLocaleString('en')} clients, drafts written`,
		`${ms(taken)} = ${(taken / raw).toFixed(1)}x inserting the same rows (${ms(raw)})`
	);
	const lists = threadedListWork();
	const { rows: named } = await sql.query<{ name: string; email: string }>(
		`select cl.name, c.email from client cl join client_contact cc on cc.client_id = cl.id and cc.rank = 1 join contact c on c.id = cc.contact_id
		where cl.firm_id = $1 and cl.state = 'active' order by cl.id`,
		[firmId]
	);
	const bytes = new TextEncoder().encode(
		writeCsv([['Client', 'E-mail', 'Monthly fee'], ...named.map(({ name, email }) => [name, email, '450 CAD'])])
	);
	let sheetId = '';
	const read = await timeOf(async () => {
		sheetId = await keepAskSheet({ db, lists }, firmId, actor, { fileName: 'fees.csv', bytes });
		await inFirm(async (tx) => proposeForMany(tx, actor, await loadFirm(tx), listId, everybody, await readSheet(tx, actor, sheetId)));
	});
	const sheet = { id: sheetId, lines: named.map((_, i) => i + 2) };
	const byFile = await timeOf(() => inFirm((tx) => prepareForMany(tx, actor, { listId, filter: everybody, runId: sheetId, send: false, sheet })));
	line(
		`${named.length.toLocaleString('en')} rows of a file: read and looked ahead ${ms(read)}; drafts written`,
		`${ms(byFile)} = ${(byFile / raw).toFixed(1)}x inserting the same rows (${ms(raw)})`
	);
	await sql.query('delete from request_draft where run_id = $1', [sheetId]);
	await lists.close();
	await sql.query(`update client set state = 'active' where id = any ($1)`, [others[0].ids]);

	// one standing request set up by the rules, then one like it for every client
	const { rows: first } = await sql.query<{ client: string; contact: string }>(
		'select client_id client, contact_id contact from client_contact where firm_id = $1 limit 1',
		[firmId]
	);
	const close = READY_MADE_LISTS.find((list) => list.id === 'month-close')!;
	const form = recurringSchema.parse({
		contactId: first[0].contact,
		title: 'Your papers for {period}',
		lines: close.lines,
		pattern: { every: 'month', interval: 1, on: { by: 'day', day: Number(today.slice(8)) } },
		startsOn: today,
		at: '00:01',
		roll: 'none',
		period: { kind: 'month', shift: -1 }
	});
	const one = await inFirm((tx) => writeRecurring(tx, actor, first[0].client, form, null));
	await sql.query(
		`insert into recurring_request select (jsonb_populate_record(s, jsonb_build_object('id', gen_random_uuid(), 'client_id', cc.client_id, 'contact_id', cc.contact_id))).*
		from recurring_request s, client_contact cc where s.id = $1 and cc.firm_id = $2 and cc.client_id <> $3`,
		[one, firmId, first[0].client]
	);
	await sql.query('analyze recurring_request');
	const firm = await inFirm(loadFirm);
	const ahead = await timeOf(() => inFirm((tx) => readAppearing(tx, actor, firm, 28)));
	const scan = median(await times(5, () => sql.query('select sum(length(lines::text)) from recurring_request')));
	line(
		'the Almanac’s four weeks of standing requests',
		`${ms(ahead)} = ${(ahead / scan).toFixed(1)}x reading all ${CLIENTS.toLocaleString('en')} (${ms(scan)})`
	);
	const AHEAD = 2000;
	await sql.query(`update recurring_request set state = 'paused' where id not in (select id from recurring_request order by id limit $1)`, [AHEAD]);
	const held = monitorEventLoopDelay({ resolution: 1 });
	held.enable();
	const some = await timeOf(() => inFirm((tx) => readAppearing(tx, actor, firm, 28)));
	held.disable();
	line(`the same of ${AHEAD.toLocaleString('en')}: ${ms(some)}; the event loop was held at most`, ms(held.max / 1e6), '50 ms');
	const MADE = 500;
	await sql.query(`update recurring_request set state = 'paused' where id not in (select id from recurring_request order by id limit $1)`, [MADE]);
	let made = 0;
	const making = await timeOf(async () => (made = await appearDue(db, firmId, now)));
	await sql.query(
		`create temporary table raw_item as select * from item where request_id in (select id from request where recurring_id is not null)`
	);
	await sql.query('update raw_item set id = gen_random_uuid()');
	// without the columns that the table works out by itself
	const { rows: own } = await sql.query<{ names: string }>(
		`select string_agg(quote_ident(column_name), ', ') "names" from information_schema.columns where table_name = 'item' and table_schema = 'public' and is_generated = 'NEVER'`
	);
	const rawItems = await timeOf(() => sql.query(`insert into item (${own[0].names}) select ${own[0].names} from raw_item`));
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
			await readStatement(
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
		payment: null,
		signers: [
			{ name: 'Mara', of: 'for Gull' },
			{ name: 'Bench', of: 'for Bench' }
		],
		pageWords: 'Page {page} of {count}',
		locale: 'en'
	};
	const delay = monitorEventLoopDelay({ resolution: 5 });
	let composing: number[] = [];
	const whole = async () => {
		const began = performance.now();
		const composed = await pdf.compose(letter);
		composing.push(performance.now() - began);
		const mark = { method: 'typed' as const, name: 'Mara Whitlock' };
		const by = { mark, of: 'for Gull', when: now, email: 'm@g.example', ip: '127.0.0.1', consent: 'I agree' };
		const { pdf: bytes } = await pdf.seal({
			pdf: composed.pdf,
			title: 'Letter',
			signaturePage: composed.signaturePage,
			signatureTop: composed.signatureTop,
			signatures: [by, by],
			events: [{ when: now, what: 'sealed' }],
			sha256: 'x',
			key,
			sealedAt: now,
			stampNeeded: false,
			words: { certificate: 'Certificate', about: 'About', document: 'Document', digest: 'Digest', signers: 'Who', events: 'What', reason: 'Sealed' }
		});
		return { pages: composed.pages, bytes };
	};
	await whole();
	composing = [];
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
	const composed = median(composing);
	line(
		'stamping, certificate page and seal against composing',
		`${((taken - composed) / composed).toFixed(2)}x (${ms(taken - composed)} of ${ms(composed)})`,
		'1.5x'
	);
	line(`letter of ${pages} pages, composed and sealed`, `${ms(taken)} (hashing the same ${Math.round(size / 1000)} kB: ${ms(hash)})`);
	line('memory of the process while doing so', `${Math.round(process.memoryUsage().rss / 1e6)} MB (before ${Math.round(before / 1e6)} MB)`);
	line('longest the event loop was held', ms(delay.max / 1e6), 'under 50 ms');
	await scans(pdf, key);
	console.log();
	await pdf.close();
}

/** 200 scanned pages with six places each, put together and sealed, against reading the file and hashing it. */
async function scans(pdf: ReturnType<typeof threadedPdfWork>, key: Awaited<ReturnType<typeof makeSealCertificates>>): Promise<void> {
	const folder = await mkdtemp(join(tmpdir(), 'lantern-bench-'));
	const file = join(folder, 'scans.pdf');
	const made = await PDFDocument.create();
	const canvas = createCanvas(760, 980);
	const drawing = canvas.getContext('2d');
	const noise = drawing.createImageData(760, 980);
	for (let n = 0; n < 200; n++) {
		randomFillSync(noise.data);
		drawing.putImageData(noise, 0, 0);
		made.addPage([612, 792]).drawImage(await made.embedJpg(await canvas.encode('jpeg', 62)), { x: 0, y: 0, width: 612, height: 792 });
	}
	await writeFile(file, await made.save());
	const size = (await stat(file)).size;
	const floor = median(
		await times(3, async () =>
			createHash('sha256')
				.update(await readFile(file))
				.digest()
		)
	);
	const before = process.memoryUsage().rss;
	let most = before;
	const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 20);
	const mark = { method: 'typed' as const, name: 'Mara Whitlock' };
	const placed = Array.from({ length: 200 }, (_, page) =>
		Array.from({ length: 6 }, (_, n) => ({ document: 0, page: page + 1, x: 60, y: 100 + n * 90, width: 190, height: 44 }))
	).flat();
	const began = performance.now();
	const bound = await pdf.bind({ title: 'Scans', sources: [{ name: 'scans.pdf', bytes: await readFile(file) }], placed, signaturePage: null });
	const sent = performance.now() - began;
	await pdf.seal({
		pdf: bound.pdf,
		title: 'Scans',
		signaturePage: null,
		signatureTop: null,
		places: placed.map((place) => ({ ...place, is: { mark } })),
		signatures: [{ mark, of: 'for Gull', when: now, email: 'm@g.example', ip: '127.0.0.1', consent: 'I agree' }],
		events: [],
		sha256: 'x',
		key,
		sealedAt: now,
		stampNeeded: false,
		words: { certificate: 'Certificate', about: 'About', document: 'Document', digest: 'Digest', signers: 'Who', events: 'What', reason: 'Sealed' }
	});
	const taken = performance.now() - began - sent;
	clearInterval(watch);
	line(
		`${Math.round(size / 1e6)} MB of scans, 200 pages, sealed`,
		`${(taken / floor).toFixed(1)}x reading and hashing the file (${ms(taken)})`,
		'3x'
	);
	line('the same, put together before it goes', `${(sent / floor).toFixed(1)}x (${ms(sent)})`);
	line('memory above what was there', `${Math.round((most - before) / 1e6)} MB`, '300 MB');
	await rm(folder, { recursive: true, force: true });
}

/** 200 MB into the store, and over HTTP by the protocol that can be gone on with, against raw streaming to disk. */
async function uploads(): Promise<void> {
	const folder = await mkdtemp(join(tmpdir(), 'lantern-bench-'));
	const CHUNKS = 3200;
	const first = Buffer.alloc(65_536, 37);
	first.write('%PDF-1.4\n');
	const chunk = Buffer.alloc(65_536, 37);
	function* pieces() {
		yield first;
		for (let i = 1; i < CHUNKS; i++) yield chunk;
	}
	const source = () => Readable.from(pieces());
	const store = folderStore(folder);
	let n = 0;
	const raw = median(
		await times(3, () =>
			pipeline(source(), new Transform({ transform: (c, _, done) => done(null, c) }), createWriteStream(join(folder, `raw${n++}`)))
		)
	);
	/** The most that was held while something was done, read every 20 ms. */
	const mostOf = async (held: () => Promise<number>, work: () => Promise<void>) => {
		let most = 0;
		let watching = true;
		const watch = (async () => {
			while (watching) {
				most = Math.max(most, await held());
				await new Promise((resolve) => setTimeout(resolve, 20));
			}
		})();
		await work();
		watching = false;
		await watch;
		return most;
	};
	let kept = 0;
	const heldBefore = process.memoryUsage().rss;
	const most = await mostOf(
		async () => process.memoryUsage().rss,
		async () => {
			kept = median(await times(3, () => store.put(source(), 220_000_000)));
		}
	);
	line(
		'200 MB to disk, hashed, sniffed, synced',
		`${ms(kept)} = ${(kept / raw).toFixed(1)}x raw streaming (${ms(raw)}), memory grows by ${Math.round((most - heldBefore) / 1e6)} MB`
	);

	const email = await contactWithPassword();
	const { rows } = await sql.query<{ id: string }>(
		`select i.id from item i join contact c on c.id = i.contact_id where c.email = $1 and i.state = 'asked' and i.kind = 'paper' limit 1`,
		[email]
	);
	const app = await openApp();
	const cookie = await signIn('/portal/bench', email);
	const at = `/portal/bench/item/${rows[0].id}`;
	const headers = { cookie, origin, 'tus-resumable': '1.0.0' };
	await fetch(origin + at, { headers });
	const bytes = CHUNKS * chunk.length;
	/** Begun, half of it sent and broken off, asked how far it came, and gone on with. */
	const upload = async () => {
		const begun = await fetch(`${origin}${at}/uploads`, {
			method: 'POST',
			headers: { ...headers, 'upload-length': String(bytes), 'upload-metadata': `filename ${Buffer.from('year.pdf').toString('base64')}` }
		});
		if (begun.status !== 201) throw new Error(`not begun: ${begun.status}`);
		const address = new URL(begun.headers.get('location')!, origin);
		for (const [from, to] of [
			[0, CHUNKS / 2],
			[CHUNKS / 2, CHUNKS]
		]) {
			const asked = await fetch(address, { method: 'HEAD', headers });
			if (Number(asked.headers.get('upload-offset')) !== from * chunk.length) throw new Error('it is elsewhere');
			const went = await fetch(address, {
				method: 'PATCH',
				headers: { ...headers, 'content-type': 'application/offset+octet-stream', 'upload-offset': String(from * chunk.length) },
				body: Readable.toWeb(Readable.from([...pieces()].slice(from, to))) as ReadableStream,
				duplex: 'half'
			} as RequestInit);
			if (went.status !== 204) throw new Error(`not taken in: ${went.status} ${await went.text()}`);
		}
	};
	const before = await app.memory();
	let sent: number[] = [];
	const held = await mostOf(app.memory, async () => {
		sent = await times(3, upload);
	});
	line(
		'200 MB over HTTP in two goes, gathered, then taken in',
		`${ms(median(sent))} = ${(median(sent) / raw).toFixed(1)}x raw streaming; the server holds at most ${Math.round(held / 1e6)} MB (${Math.round(before / 1e6)} MB before)`
	);
	await app.close();
	await rm(folder, { recursive: true });
}
