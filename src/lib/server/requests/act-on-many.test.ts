import { describe, expect, test } from 'vitest';
import { itemsActSchema, undoItemsSchema, type ItemAct } from '$lib/core/requests/many-acts';
import { itemsOf, letterLine, makeClient, makeFirm, paperLine, questionLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { actOnMany, foreseeMany, undoMany, type ManyResult } from './act-on-many';
import { answerItem } from '../item-kinds/kinds/question';
import { sendItemBack } from './judge-item';
import { readAsked, readAskedTogether, readChosen, type AskedFilter } from './read-asked';
import { sendRequest } from './send-request';

useFirm();

const send = (lines: Parameters<typeof requestTo>[1], of = client, more: object = {}) =>
	sendRequest(context, firm.id, firm.odalys(), requestTo(of, lines, more));
const items = async (count: number) => itemsOf(context, await send(Array.from({ length: count }, (_, i) => paperLine(`Line ${i}`, '2026-05-06'))));
const input = (act: ItemAct, of: { id: string; version: number }[], more: object = {}) =>
	itemsActSchema.parse({ act, items: of.map(({ id, version }) => ({ id, version })), ...more });
const act = (...args: Parameters<typeof input>) => actOnMany(context.db, firm.id, firm.odalys(), input(...args));
const LETTER = { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' };
const foresee = (...args: Parameters<typeof input>) => foreseeMany(context.db, firm.id, firm.odalys(), input(...args));
const undo = (results: ManyResult[]) => undoMany(context.db, firm.id, firm.odalys(), undoItemsSchema.parse(results.flatMap((one) => one.undo ?? [])));
const rows = async (ids: string[]) =>
	(await context.owner.query('select state, due_on::text due, reason from item where id = any ($1) order by position', [ids])).rows;

describe('many items at once', () => {
	test('each by itself: what cannot be done says why, the others are done; taken back only where nobody changed it since', async () => {
		const [a, b, c] = await items(3);
		const results = await act('extend', [a, b, { ...c, version: 7 }], { dueOn: '2026-06-01' });
		expect(results.map((one) => one.problem)).toEqual([null, null, expect.stringContaining('faster')]);
		await act('waive', [{ id: b.id, version: b.version + 1 }]);
		expect(await undo(results)).toBe(1);
		expect(await rows([a.id, b.id, c.id])).toMatchObject([
			{ state: 'asked', due: '2026-05-06' },
			{ state: 'waived', due: '2026-06-01' },
			{ state: 'asked', due: '2026-05-06' }
		]);
		const filing = { ...firm.odalys(), role: 'filing' as const };
		await expect(actOnMany(context.db, firm.id, filing, input('waive', [a]))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(foreseeMany(context.db, firm.id, filing, input('waive', [a]))).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('withdrawn before it left, nothing is sent; taken back, it is asked again', async () => {
		const [a, b] = await items(2);
		const results = await act('withdraw', [a, b]);
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toEqual([]);
		expect((await context.owner.query('select state, reason from message where firm_id = $1', [firm.id])).rows).toEqual([
			{ state: 'held_back', reason: 'nothing of it is open any more' }
		]);
		expect(await undo(results)).toBe(2);
		expect((await rows([a.id, b.id])).map((item) => item.state)).toEqual(['asked', 'asked']);
		expect((await context.owner.query('select withdrawn_at from request where firm_id = $1', [firm.id])).rows).toEqual([{ withdrawn_at: null }]);
	});
	test('taken back, each is what it was, with its reason, and is reminded of again', async () => {
		const all = await itemsOf(
			context,
			await send([questionLine('One', '2026-05-06'), questionLine('Two', '2026-05-06'), paperLine('Three', '2026-05-06')])
		);
		for (const one of all.slice(0, 2)) await client.run((tx) => answerItem(tx, client.mara(), { itemId: one.id, answer: 'Yes.' }));
		const version = async (id: string) => (await context.owner.query('select id, version from item where id = $1', [id])).rows[0];
		await firm.run(async (tx) =>
			sendItemBack(tx, firm.odalys(), { itemId: all[1].id, version: (await version(all[1].id)).version, reason: 'All of it, please.' })
		);
		const ids = all.map((one) => one.id);
		const before = await rows(ids);
		const chases = async () => (await context.owner.query('select next_chase_on::text from item where id = any ($1) order by position', [ids])).rows;
		const chased = await chases();
		const results = await act('waive', await Promise.all(ids.map(version)));
		expect((await rows(ids)).map((one) => one.state)).toEqual(['waived', 'waived', 'waived']);
		expect(await undo(results)).toBe(3);
		expect(await rows(ids)).toEqual(before);
		expect(before.map((one) => [one.state, one.reason])).toEqual([
			['handed_in', null],
			['sent_back', 'All of it, please.'],
			['asked', null]
		]);
		expect(await chases()).toEqual(chased);
	});
});

test('a bug in the middle is a bug, and no sentence for the person', async () => {
	const all = await items(1);
	const broken = { ...context.db, inFirm: () => Promise.reject(new TypeError('not a function')) } as unknown as typeof context.db;
	await expect(actOnMany(broken, firm.id, firm.odalys(), input('waive', all))).rejects.toThrow(TypeError);
});

describe('what cannot be done with an item, whatever else is chosen', () => {
	const problems = async (...args: Parameters<typeof act>) => (await act(...args)).map((one) => one.problem);
	test('an item that is settled waits for nobody', async () => {
		const [a, b] = await items(2);
		await act('accept', [a]);
		await act('waive', [b]);
		const settled = (await context.owner.query('select id, version from item where id = any ($1)', [[b.id]])).rows;
		expect(await problems('extend', settled, { dueOn: '2026-06-01' })).toEqual([expect.stringContaining('nothing to wait for')]);
		expect(await problems('plan', settled, { plan: 'none' })).toEqual([expect.stringContaining('nothing to remind of')]);
		expect(await problems('person', settled, { rank: 1 })).toEqual([expect.stringContaining('nobody has to answer')]);
		expect(await problems('waive', settled)).toEqual([expect.stringContaining('already')]);
		expect((await foresee('waive', settled)).items).toEqual([]);
	});
	test('a date that is over is refused as a whole, and a client who has nobody second says so', async () => {
		const all = await items(2);
		expect(await problems('extend', all, { dueOn: '2026-05-03' })).toEqual(['Choose a date from today on.', 'Choose a date from today on.']);
		expect(await problems('person', all, { rank: 2 })).toEqual(['This client has no such person.', 'This client has no such person.']);
		expect(await rows(all.map((one) => one.id))).toMatchObject([{ due: '2026-05-06' }, { due: '2026-05-06' }]);
	});
	test('a letter is countersigned and not accepted; withdrawn, it cannot be signed any more, and that is not taken back', async () => {
		const letter = (await itemsOf(context, await send([letterLine('Letter', '2026-05-20', LETTER)])))[0];
		expect(await problems('accept', [letter])).toEqual(['A letter is finished by countersigning it.']);
		const seen = await foresee('withdraw', [letter]);
		expect(seen.words.join(' ')).toMatch(/cannot be taken back/i);
		const results = await act('withdraw', [letter]);
		expect(results).toMatchObject([{ problem: null, undo: null }]);
		expect((await context.owner.query('select state from letter where item_id = $1', [letter.id])).rows).toEqual([{ state: 'withdrawn' }]);
		// its date alone can be moved, and moved back
		const other = (await itemsOf(context, await send([letterLine('Letter', '2026-05-20', LETTER)])))[0];
		expect(await undo(await act('extend', [other], { dueOn: '2026-06-20' }))).toBe(1);
		expect(await rows([other.id])).toMatchObject([{ due: '2026-05-20' }]);
	});
});

describe('what will happen', () => {
	test('is said before, and nothing of it is done; then it happens so', async () => {
		const all = await items(3);
		const state = async () => [
			await rows(all.map((one) => one.id)),
			(await context.owner.query('select count(*) from event where firm_id = $1', [firm.id])).rows
		];
		const before = await state();
		const seen = await foresee('extend', [all[0], all[1], { ...all[2], version: 9 }], { dueOn: '2026-05-20' });
		expect(seen.words).toEqual([
			'2 lines of one client are due on Wed 20 May, not Wed 6 May.',
			'The next reminder goes on Mon 18 May, to Mara Whitlock.',
			'No message goes out by this.',
			'It can be taken back.'
		]);
		expect(seen.stays).toEqual([{ title: 'Line 2', clientName: 'Gull & String Kites', problem: expect.stringContaining('faster') }]);
		expect(await state()).toEqual(before);
		const results = await act('extend', seen.items, { dueOn: '2026-05-20' });
		expect(results.map((one) => one.problem)).toEqual([null, null]);
		expect(
			(await context.owner.query(`select next_chase_on::text as day from item where id = any ($1)`, [seen.items.map((one) => one.id)])).rows
		).toEqual([{ day: '2026-05-18' }, { day: '2026-05-18' }]);
	});
	test('a request that ends is said, and its message that has not left; what cannot be is told by line', async () => {
		const all = await items(2);
		expect(await foresee('withdraw', all)).toMatchObject({
			words: [
				'2 lines of one client are not asked for any more.',
				'The reminders of all of them do not go.',
				'One request is withdrawn as a whole.',
				'One message that has not left yet will not.',
				'No message goes out by this.',
				'It can be taken back.'
			],
			stays: []
		});
		expect(await foresee('accept', all)).toMatchObject({ words: [], items: [], stays: [{ title: 'Line 0' }, { title: 'Line 1' }] });
		await expect(foresee('extend', all, { dueOn: '2026-05-03' })).resolves.toMatchObject({
			words: [],
			stays: [{ problem: 'Choose a date from today on.' }, { problem: 'Choose a date from today on.' }]
		});
		const other = await makeFirm(context);
		expect(await foreseeMany(context.db, other.id, other.odalys(), input('waive', all))).toMatchObject({
			items: [],
			stays: [{ title: 'something that is not there any more' }, { clientName: '' }]
		});
	});
});

describe('whole requests and clients', () => {
	const filter = (more: Partial<AskedFilter> = {}): AskedFilter => ({ show: 'open', mine: false, words: null, ...more });
	const together = (by: 'request' | 'client', more: Partial<AskedFilter> = {}) =>
		firm.run((tx) => readAskedTogether(tx, firm.odalys(), '2026-05-07', filter(more), by));
	test('are shown with what is shown of them, due first, and chosen as that', async () => {
		const oysters = await makeClient(context, firm, { name: 'Ninth Rock Oysters' });
		const first = await send([paperLine('Lease', '2026-05-20'), paperLine('Statement', '2026-05-06')], client, { title: 'Beginning' });
		const second = await send([paperLine('Receipts', '2026-05-05')], client, { title: 'April' });
		await send([paperLine('Licence', '2026-05-04')], oysters, { title: 'Beginning' });
		expect((await together('request')).map((one) => [one.clientName, one.title, one.lines, one.dueOn, one.ticks])).toEqual([
			['Ninth Rock Oysters', 'Beginning', 1, '2026-05-04', [{ tick: 'late', count: 1 }]],
			['Gull & String Kites', 'April', 1, '2026-05-05', [{ tick: 'late', count: 1 }]],
			[
				'Gull & String Kites',
				'Beginning',
				2,
				'2026-05-06',
				[
					{ tick: 'late', count: 1 },
					{ tick: 'asked', count: 1 }
				]
			]
		]);
		expect((await together('client')).map((one) => [one.clientName, one.title, one.requests, one.lines, one.people])).toEqual([
			['Ninth Rock Oysters', 'Beginning', 1, 1, ['Mara Whitlock']],
			['Gull & String Kites', null, 2, 3, ['Mara Whitlock']]
		]);
		expect((await together('client', { show: 'late' })).map((one) => one.lines)).toEqual([1, 2]);
		expect((await together('client', { words: 'licence' })).map((one) => one.clientName)).toEqual(['Ninth Rock Oysters']);
		const chosen = async (by: 'request' | 'client', ids: string[], more: Partial<AskedFilter> = {}) =>
			(await firm.run((tx) => readChosen(tx, firm.odalys(), '2026-05-07', filter(more), by, ids))).map((one) => one.id).sort();
		const of = async (...requests: string[]) =>
			(await Promise.all(requests.map((id) => itemsOf(context, id))))
				.flat()
				.map((one) => one.id)
				.sort();
		expect(await chosen('request', [first])).toEqual(await of(first));
		expect(await chosen('client', [client.id])).toEqual(await of(first, second));
		expect(await chosen('client', [client.id], { words: 'Lease' })).toHaveLength(1);
		expect((await firm.run((tx) => readAsked(tx, firm.odalys(), '2026-05-07', filter({ show: 'late' })))).map((one) => one.title)).toEqual([
			'Licence',
			'Receipts',
			'Statement'
		]);
		const other = await makeFirm(context);
		expect(await other.run((tx) => readChosen(tx, other.odalys(), '2026-05-07', filter(), 'client', [client.id]))).toEqual([]);
	});
});
