import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { loadFirm } from '../firms/firm';
import { readPostroom } from '../messages/read-postroom';
import { answerItem } from '../item-kinds/kinds/question';
import { acceptItem, waiveItem } from '../requests/judge-item';
import { sendRequest } from '../requests/send-request';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	questionLine,
	requestTo,
	sendPlanned,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import { findClients } from './find-clients';
import { moveClient } from './client-record';
import { CLIENT_ORDERS, countClients, readClients, readHistory, type ClientOrder } from './read-clients';

let context: TestContext;
let firm: TestFirm;

beforeAll(async () => {
	context = await openTestContext();
});
afterAll(() => context.close());
beforeEach(async () => {
	context.clock.set('2026-05-04T11:30:00Z');
	firm = await makeFirm(context);
});

const list = (
	query: { order?: ClientOrder; search?: string; responsibleId?: string; ended?: boolean; after?: { key: string; id: string } } = {},
	limit = 50
) =>
	firm.run(async (tx) =>
		readClients(
			tx,
			firm.odalys(),
			await loadFirm(tx),
			{
				order: query.order ?? 'wait',
				search: query.search ?? null,
				responsibleId: query.responsibleId ?? null,
				ended: query.ended,
				after: query.after ?? null
			},
			limit
		)
	);
const names = async (...query: Parameters<typeof list>) => (await list(...query)).map((line) => line.name);
const ask = async (name: string, dues: string[]) => {
	const client = await makeClient(context, firm, { name });
	const request = await sendRequest(
		context,
		firm.id,
		firm.odalys(),
		requestTo(
			client,
			dues.map((due, i) => questionLine(`Q${i}`, due))
		)
	);
	return { client, items: await itemsOf(context, request) };
};

describe('the list of clients', () => {
	test('longest wait first: late, then by due date, then something to look at, then nothing asked, then all in', async () => {
		await makeClient(context, firm, { name: 'Nothing asked' });
		const allIn = await ask('All in', ['2026-05-06']);
		const toLookAt = await ask('To look at', ['2026-05-06']);
		await ask('Later', ['2026-05-20']);
		await ask('Soon', ['2026-05-07', '2026-05-30']);
		await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId: allIn.items[0].id, version: 1 }));
		await toLookAt.client.run((tx) => answerItem(tx, toLookAt.client.mara(), { itemId: toLookAt.items[0].id, answer: 'here' }));
		expect(await names()).toEqual(['Soon', 'Later', 'To look at', 'Nothing asked', 'All in']);
		context.clock.set('2026-05-11T11:30:00Z');
		expect((await list()).map((line) => [line.name, line.light, line.wait.kind])).toEqual([
			['Soon', 'needs_you', 'late'],
			['Later', 'waiting', 'due'],
			['To look at', 'needs_you', 'to_look_at'],
			['Nothing asked', 'waiting', 'nothing_asked'],
			['All in', 'waiting', 'all_in']
		]);
		expect(await firm.run(async (tx) => countClients(tx, await loadFirm(tx), context.clock.now()))).toMatchObject({ all: 5, needYou: 2 });
	});

	test('in the other orders: silent longest first, who never came before all; chased soonest first, who is not after all', async () => {
		const spoke = async (name: string, at: string, dues: string[]) => {
			const made = await ask(name, dues);
			context.clock.set(at);
			await made.client.run((tx) => answerItem(tx, made.client.mara(), { itemId: made.items[0].id, answer: 'here' }));
			context.clock.set('2026-05-04T11:30:00Z');
		};
		await spoke('Lately', '2026-05-04T11:40:00Z', ['2026-05-06', '2026-05-29']);
		await spoke('Long ago', '2026-05-04T11:31:00Z', ['2026-05-06', '2026-05-12']);
		await makeClient(context, firm, { name: 'Never' });
		expect(await names({ order: 'life' })).toEqual(['Never', 'Long ago', 'Lately']);
		expect(await names({ order: 'chase' })).toEqual(['Long ago', 'Lately', 'Never']);
	});

	test('who is late and has something to look at is counted once', async () => {
		const both = await ask('Both', ['2026-05-06', '2026-05-06']);
		await both.client.run((tx) => answerItem(tx, both.client.mara(), { itemId: both.items[0].id, answer: 'here' }));
		context.clock.set('2026-05-08T11:30:00Z');
		expect(await firm.run(async (tx) => countClients(tx, await loadFirm(tx), context.clock.now()))).toMatchObject({ all: 1, needYou: 1 });
	});

	test.each(CLIENT_ORDERS)('pages by %s meet without a gap and without doubles, also among equals', async (order) => {
		for (const name of ['b', 'A', 'ä', 'a', 'B', 'C']) await ask(name, ['2026-05-20']);
		const whole = await list({ order });
		const paged: string[] = [];
		let after: { key: string; id: string } | undefined;
		for (;;) {
			const page: Awaited<ReturnType<typeof list>> = await list({ order, after }, 2);
			if (page.length === 0) break;
			paged.push(...page.map((line) => line.id));
			after = page.at(-1)!.cursor;
		}
		expect(paged).toEqual(whole.map((line) => line.id));
		expect(paged).toHaveLength(6);
	});

	test('is searched by parts of names and addresses, signs of patterns taken as they are', async () => {
		await makeClient(context, firm, { name: '100% Kites', email: 'first_one@kites.example' });
		await makeClient(context, firm, { name: '100 Oysters', email: 'firstXone@oysters.example' });
		expect(await names({ search: 'kit' })).toEqual(['100% Kites']);
		expect(await names({ search: '100%' })).toEqual(['100% Kites']);
		expect(await names({ search: 'FIRST_one' })).toEqual(['100% Kites']);
		expect(await names({ search: 'whitlock' })).toHaveLength(2);
		expect(await names({ search: '\\' })).toEqual([]);
	});

	test('of many names alike those that begin so come first, then by name, who has left last; a word may stand in another field', async () => {
		for (const name of ['Kites of the Quay', 'Harbour Kites', 'Quay Kites', 'Kite & Quay Supplies', 'Quayside Kites 2'])
			await makeClient(context, firm, { name });
		const { client } = await ask('Quay Kites of Old', ['2026-05-06']);
		await firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: client.id, move: 'end', reason: 'x' }));
		const found = (typed: string, most = 8) => firm.run(async (tx) => (await findClients(tx, firm.odalys(), typed, most)).map((one) => one.name));
		expect(await found('quay kit')).toEqual(['Quay Kites', 'Kite & Quay Supplies', 'Kites of the Quay', 'Quayside Kites 2', 'Quay Kites of Old']);
		expect(await found('quay kit', 2)).toEqual(['Quay Kites', 'Kite & Quay Supplies']);
		expect(await found('kites')).toEqual(['Kites of the Quay', 'Harbour Kites', 'Quay Kites', 'Quayside Kites 2', 'Quay Kites of Old']);
		// the client's name holds one word, the contact's the other
		expect((await found('whitlock harbour')).at(0)).toBe('Harbour Kites');
		expect(await found('whitlock zebra')).toEqual([]);
	});

	test('those who have left are listed apart, and found by a search', async () => {
		const { client } = await ask('Gone Kites', ['2026-05-06']);
		await makeClient(context, firm, { name: 'Staying Kites' });
		await firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: client.id, move: 'end', reason: 'x' }));
		expect(await names()).toEqual(['Staying Kites']);
		expect(await names({ ended: true })).toEqual(['Gone Kites']);
		expect((await list({ search: 'kites', order: 'name' })).map((line) => [line.name, line.state])).toEqual([
			['Gone Kites', 'ended'],
			['Staying Kites', 'active']
		]);
		expect(await firm.run(async (tx) => countClients(tx, await loadFirm(tx), context.clock.now()))).toMatchObject({ all: 1, needYou: 0 });
	});

	test('only those somebody looks after', async () => {
		await makeClient(context, firm, { name: 'Hers' });
		expect(await names({ responsibleId: firm.coordinator.id! })).toEqual(['Hers']);
		expect(await names({ responsibleId: firm.partner.id! })).toEqual([]);
	});

	test('says when nobody can be written to, and when the reminders have run out', async () => {
		const { client, items } = await ask('Out', ['2026-05-06']);
		await context.owner.query('update item set next_chase_on = null where id = $1', [items[0].id]);
		expect((await list())[0]).toMatchObject({ ranOut: true, heldBack: false });
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [client.contactId]);
		expect((await list())[0]).toMatchObject({ heldBack: true });
		await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId: items[0].id, version: 1 }));
		expect((await list())[0]).toMatchObject({ ranOut: false, heldBack: false });
	});

	test('the last sign of life is the contact’s, not the firm’s', async () => {
		const { client, items } = await ask('Alive', ['2026-05-20']);
		expect((await list())[0].lastSignOfLife).toBeNull();
		context.clock.set('2026-05-05T18:00:00Z');
		await client.run((tx) => answerItem(tx, client.mara(), { itemId: items[0].id, answer: 'here' }));
		context.clock.set('2026-05-06T11:00:00Z');
		await firm.run((tx) => acceptItem(tx, firm.odalys(), { itemId: items[0].id, version: 2 }));
		expect((await list())[0].lastSignOfLife).toBe('2026-05-05T18:00:00.000Z');
	});
});

test('history is read in pages, newest first, complete', async () => {
	const { client, items } = await ask('Storied', ['2026-05-20', '2026-05-20', '2026-05-20']);
	for (const item of items) await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId: item.id, version: 1 }));
	const whole = await firm.run((tx) => readHistory(tx, firm.odalys(), client.id, null, 50));
	expect(whole.filter((line) => line.verb === 'item_waived')).toHaveLength(3);
	const first = await firm.run((tx) => readHistory(tx, firm.odalys(), client.id, null, 2));
	const rest = await firm.run((tx) => readHistory(tx, firm.odalys(), client.id, first[1].id, 50));
	expect([...first, ...rest]).toEqual(whole);
});

test('the Postroom is read in pages and by state, each message once', async () => {
	for (const n of [1, 2, 3]) {
		const client = await makeClient(context, firm, { name: `C${n}` });
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('P', '2026-05-20')]));
	}
	const read = (filter: Parameters<typeof readPostroom>[2], limit = 50) => firm.run((tx) => readPostroom(tx, firm.odalys(), filter, limit));
	const whole = await read({});
	expect(whole).toHaveLength(3);
	const [first, second] = await read({}, 2);
	expect([first, second, ...(await read({ before: second }))].map((m) => m.id)).toEqual(whole.map((m) => m.id));
	expect(await read({ state: 'sent' })).toEqual([]);
	await sendPlanned(context, firm);
	expect((await read({ state: 'sent' })).map((m) => m.clientNames).sort()).toEqual(['C1', 'C2', 'C3']);
	expect(await read({ state: 'planned' })).toEqual([]);
});
