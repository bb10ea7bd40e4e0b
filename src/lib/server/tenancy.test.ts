import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { readClient, readClients } from './clients/read-clients';
import { countersignLetter } from './signing/countersign-letter';
import { openPaper } from './papers/papers';
import { acceptItem } from './requests/judge-item';
import { answerItem } from './item-kinds/kinds/question';
import { readOwnItem, readOwnItems } from './items/read-items';
import { sendRequest } from './requests/send-request';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	questionLine,
	requestTo,
	sendPlanned,
	type TestClient,
	type TestFirm,
	type TestContext
} from './testing/test-firm';
import { loadFirm } from './firms/firm';

let context: TestContext;
let mine: TestFirm;
let theirs: TestFirm;
let client: TestClient;
let neighbour: TestClient;
let item: string;

beforeAll(async () => {
	context = await openTestContext();
	mine = await makeFirm(context);
	theirs = await makeFirm(context);
	client = await makeClient(context, mine, { name: 'Gull & String Kites' });
	neighbour = await makeClient(context, mine, { name: 'Brine & Barrow' });
	await makeClient(context, theirs, { name: 'Elsewhere' });
	item = (
		await itemsOf(
			context,
			await sendRequest(context, mine.id, mine.odalys(), requestTo(client, [questionLine('Q', '2026-05-20'), paperLine('P', '2026-05-20')]))
		)
	)[0].id;
	await sendPlanned(context, mine);
});
afterAll(() => context.close());

test('every table has row-level security, and the app’s role owns and bypasses nothing', async () => {
	const { rows } = await context.owner.query(
		`select relname from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r' and not relrowsecurity order by 1`
	);
	expect(rows.map((r) => r.relname)).toEqual([
		'clearing',
		'demo_clock',
		'identity_service',
		'item_kind',
		'message_kind',
		'migration',
		'passkey_challenge',
		'rate_limit',
		'worker_beat'
	]);
	const { rows: unkeyed } = await context.owner.query(
		`select c.relname from pg_class c where relnamespace = 'public'::regnamespace and relkind = 'r' and relrowsecurity and relname <> 'firm'
		and not exists (select from pg_attribute a where a.attrelid = c.oid and a.attname = 'firm_id')`
	);
	expect(unkeyed).toEqual([]);
	const { rows: role } = await context.owner.query(
		`select rolsuper, rolbypassrls, (select count(*)::int from pg_class where relowner = r.oid) owns,
			exists (select from pg_auth_members a where a.member = r.oid) member from pg_roles r where rolname in ('lantern_app', 'lantern_contact')`
	);
	// a member of another role would get that role's policies too
	expect(role).toEqual(Array(2).fill({ rolsuper: false, rolbypassrls: false, owns: 0, member: false }));
});

test('without a firm nothing is seen, in no table', async () => {
	const { rows } = await context.owner.query(
		`select relname from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r' and relrowsecurity`
	);
	for (const { relname } of rows) expect(await context.db.queryOutsideFirm(`select 1 from ${relname} limit 1`), relname).toEqual([]);
});

test('a contact’s role writes nothing that is the firm’s, whatever the statement', async () => {
	for (const statement of [
		`update client set name = 'x'`,
		`insert into client_contact select firm_id, id, $1::uuid, 9 from client`,
		`update request set title = 'x'`,
		`update staff set role = 'administrator'`,
		`update firm set name = 'x'`,
		`insert into invitation (id, firm_id, client_id, contact_id, token_hash, sent_at, expires_at) select gen_random_uuid(), firm_id, client_id, contact_id, token_hash, sent_at, expires_at from invitation where contact_id = $1::uuid`
	])
		await expect(
			client.run((tx) => tx.rows(statement, statement.includes('$1') ? [client.contactId] : [])),
			statement
		).rejects.toMatchObject({ code: '42501' });
});

test('rows of another firm cannot be read, changed or written', async () => {
	await context.db.inFirm(theirs.id, async (tx) => {
		expect(await tx.rows('select 1 from item')).toEqual([]);
		expect(await tx.rows('select 1 from message')).toEqual([]);
		expect(await tx.rows(`update item set title = 'x' where id = $1 returning id`, [item])).toEqual([]);
		expect((await tx.rows<{ name: string }>('select name from client')).map((c) => c.name)).toEqual(['Elsewhere']);
	});
	await expect(context.db.inFirm(theirs.id, (tx) => tx.rows(`insert into holiday values ($1, '2026-01-01', 'x')`, [mine.id]))).rejects.toMatchObject({
		code: '42501'
	});
	await expect(context.db.inFirm(mine.id, (tx) => tx.rows('delete from item'))).rejects.toMatchObject({ code: '42501' });
	await expect(context.db.inFirm(mine.id, (tx) => tx.rows(`update event set verb = 'x'`))).rejects.toMatchObject({ code: '42501' });
});

test('events can be changed by nobody, not even their owner', async () => {
	await expect(context.owner.query(`update event set verb = 'x'`)).rejects.toThrow('only ever added');
	await expect(context.owner.query(`delete from event`)).rejects.toThrow('only ever added');
});

describe('somebody else’s ids', () => {
	test('for another firm they do not exist', async () => {
		const stranger = theirs.odalys();
		await expect(context.db.inFirm(theirs.id, (tx) => readClient(tx, stranger, client.id))).rejects.toMatchObject({ code: 'not_found' });
		await expect(context.db.inFirm(theirs.id, (tx) => acceptItem(tx, stranger, { itemId: item, version: 1 }))).rejects.toMatchObject({
			code: 'not_found'
		});
		await expect(
			context.db.inFirm(theirs.id, (tx) => countersignLetter(tx, stranger, { itemId: item, sha256: '', signature: { method: 'typed', name: 'x' } }))
		).rejects.toMatchObject({ code: 'not_found' });
		await expect(sendRequest(context, theirs.id, stranger, requestTo(client, [paperLine('A', '2026-05-20')]))).rejects.toMatchObject({
			code: 'not_found'
		});
	});

	test('for another client of the same firm they do not exist either', async () => {
		const asNeighbour = <T>(work: Parameters<TestContext['db']['inFirm']>[1]) => context.db.inFirm(mine.id, work, neighbour.contactId) as Promise<T>;
		expect(await asNeighbour((tx) => readOwnItems(tx, neighbour.mara()))).toEqual([]);
		await expect(asNeighbour((tx) => readOwnItem(tx, neighbour.mara(), item))).rejects.toMatchObject({ code: 'not_found' });
		await expect(asNeighbour((tx) => answerItem(tx, neighbour.mara(), { itemId: item, answer: 'x' }))).rejects.toMatchObject({ code: 'not_found' });
		await expect(asNeighbour((tx) => openPaper(tx, neighbour.mara(), item, 'look'))).rejects.toMatchObject({ code: 'not_found' });
		await asNeighbour(async (tx) => {
			expect(await tx.rows('select 1 from message')).toEqual([]);
			expect(await tx.rows('select 1 from event where client_id = $1', [client.id])).toEqual([]);
			expect((await tx.rows<{ id: string }>('select id from contact')).map((c) => c.id)).toEqual([neighbour.contactId]);
		});
	});

	test('a contact may do nothing of the firm, and the firm nothing in a contact’s name', async () => {
		await expect(
			context.db.inFirm(mine.id, async (tx) =>
				readClients(tx, client.mara(), await loadFirm(tx), { order: 'wait', search: null, responsibleId: null, after: null }, 10)
			)
		).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(context.db.inFirm(mine.id, (tx) => acceptItem(tx, client.mara(), { itemId: item, version: 1 }))).rejects.toMatchObject({
			code: 'not_allowed'
		});
		await expect(context.db.inFirm(mine.id, (tx) => answerItem(tx, mine.odalys(), { itemId: item, answer: 'x' }))).rejects.toMatchObject({
			code: 'not_allowed'
		});
	});
});

test('the list of clients: search, pages in both orders without gap or repetition, hostile search text', async () => {
	for (let i = 0; i < 7; i++) await makeClient(context, mine, { name: `Client 100%_${i}` });
	const read = (order: 'wait' | 'name', search: string | null, after: { key: string; id: string } | null) =>
		context.db.inFirm(mine.id, async (tx) => readClients(tx, mine.odalys(), await loadFirm(tx), { order, search, responsibleId: null, after }, 4));
	for (const order of ['wait', 'name'] as const) {
		const seen: string[] = [];
		for (let page = await read(order, null, null); page.length > 0; page = await read(order, null, page.at(-1)!.cursor))
			seen.push(...page.map((c) => c.id));
		expect(new Set(seen).size).toBe(9);
		expect(seen).toHaveLength(9);
	}
	expect(await read('name', '100%_', null)).toHaveLength(4);
	expect(await read('name', `'; drop table item; --`, null)).toEqual([]);
	expect((await read('name', client.email.slice(0, 8), null)).map((c) => c.id)).toEqual([client.id]);
});
