import { describe, expect, test } from 'vitest';
import { recurringSchema, toCatchUp } from '$lib/core/schedules/recurring-form';
import { accountSchema } from '$lib/core/statements/accounts';
import { sayFact } from '../clients/client-facts';
import { moveClient } from '../clients/client-record';
import { loadFirm } from '../firms/firm';
import { sendRequest } from '../requests/send-request';
import { readKnownStatements, spreadStatements, writeAccount } from '../statements/accounts';
import { makeClient, makeFirm, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { announceRequests } from '../announcements/announce-requests';
import { appearDue } from './appear';
import { changeOccurrence, moveRecurring, startNow, writeRecurring } from './change-recurring';
import { comingOccurrences, readAppearing, readMadeOccurrences } from './read-occurrences';
import { readRecurring } from './recurring-requests';

useFirm();

const line = (title: string, more: object = {}) => ({
	kind: 'paper',
	key: title,
	title,
	required: true,
	due: { from: 'period_end', offset: 15, unit: 'days', roll: 'following' },
	spec: { slots: [] },
	...more
});
const form = (more: object = {}) =>
	recurringSchema.parse({
		contactId: client.contactId,
		title: 'Papers for {period}',
		lines: [line('Bank statement')],
		pattern: { every: 'month', interval: 1, on: { by: 'day', day: 1 } },
		startsOn: '2026-05-01',
		at: '09:00',
		roll: 'none',
		period: { kind: 'month', shift: -1 },
		...more
	});
const setUp = (more: object = {}, of = client) =>
	firm.run((tx) => writeRecurring(tx, firm.odalys(), of.id, form({ contactId: of.contactId, ...more }), null));
const read = (id: string) => firm.run((tx) => readRecurring(tx, firm.odalys(), id));
const appearAt = async (now: string) => {
	context.clock.set(now);
	return appearDue(context.db, firm.id, now);
};
const requests = async (of = client) =>
	(
		await context.owner.query(
			`select r.title, r.period_from::text "from", r.period_to::text "to", (select min(due_on)::text from item where request_id = r.id) due from request r where client_id = $1 order by sent_at, period_from`,
			[of.id]
		)
	).rows;
const coming = async (id: string) => {
	const recurring = await read(id);
	return firm.run(async (tx) => comingOccurrences(recurring, await loadFirm(tx), 3).map((one) => [one.title, one.askedOn, one.dues[0]]));
};

describe('what appears', () => {
	test('on its day, once, with its period in the client’s language, due by its rule; what lay before it was set up does not', async () => {
		const id = await setUp();
		expect(await coming(id)).toEqual([
			['Papers for May 2026', '2026-06-01', '2026-06-15'],
			['Papers for June 2026', '2026-07-01', '2026-07-15'],
			['Papers for July 2026', '2026-08-01', '2026-08-17']
		]);
		expect(await appearAt('2026-05-04T13:31:00Z')).toBe(0);
		expect(await appearAt('2026-06-01T11:59:00Z')).toBe(0);
		expect(await appearAt('2026-06-01T12:00:00Z')).toBe(1);
		expect(await appearAt('2026-06-01T12:00:00Z')).toBe(0);
		expect(await requests()).toEqual([{ title: 'Papers for May 2026', from: '2026-05-01', to: '2026-05-31', due: '2026-06-15' }]);
		await context.owner.query(`update contact set locale = 'fr' where id = $1`, [client.contactId]);
		await appearAt('2026-07-01T12:00:00Z');
		expect((await requests())[1].title).toBe('Papers for juin 2026');
	});
	test('once with many workers at the same moment', async () => {
		for (let i = 0; i < 4; i++) await setUp({ title: `Papers ${i} {period}` });
		context.clock.set('2026-06-01T12:00:00Z');
		const counts = await Promise.all(Array.from({ length: 6 }, () => appearDue(context.db, firm.id, context.clock.now())));
		expect(counts.reduce((sum, n) => sum + n, 0)).toBe(4);
		expect(await requests()).toHaveLength(4);
	});
	test('cut off in the middle nothing of it is there, and it is made at the next beat', async () => {
		const id = await setUp();
		await context.owner.query(`create function no_items() returns trigger language plpgsql as $$ begin raise exception 'cut off'; end $$`);
		await context.owner.query('create trigger cut before insert on item for each row execute function no_items()');
		await expect(appearAt('2026-06-01T12:00:00Z')).rejects.toThrow('cut off');
		await context.owner.query('drop trigger cut on item; drop function no_items()');
		expect(await requests()).toEqual([]);
		expect(await appearAt('2026-06-01T12:01:00Z')).toBe(1);
		expect((await firm.run((tx) => readMadeOccurrences(tx, firm.odalys(), id))).map((one) => [one.ruleDay, one.outcome])).toEqual([
			['2026-06-01', 'made']
		]);
	});
	test('across a clock change at the local time meant, in two time zones', async () => {
		const weekly = { pattern: { every: 'week', interval: 1, weekdays: [1] }, startsOn: '2026-10-26', period: { kind: 'week', shift: -1 } };
		const id = await setUp(weekly);
		expect((await read(id)).nextAt).toBe('2026-10-26T12:00:00.000Z');
		await appearAt('2026-10-26T12:00:00Z');
		// clocks went back on Sunday 1 November
		expect((await read(id)).nextAt).toBe('2026-11-02T13:00:00.000Z');
		context.clock.set('2026-09-01T00:00:00Z');
		const there = await makeFirm(context, { timeZone: 'Pacific/Auckland' });
		const their = await makeClient(context, there);
		const theirs = await there.run((tx) =>
			writeRecurring(tx, there.odalys(), their.id, form({ ...weekly, contactId: their.contactId, startsOn: '2026-09-21' }), null)
		);
		const nextAt = async () => (await there.run((tx) => readRecurring(tx, there.odalys(), theirs))).nextAt;
		expect(await nextAt()).toBe('2026-09-20T21:00:00.000Z');
		await appearDue(context.db, there.id, '2026-09-20T21:00:00Z');
		// clocks went forward on Sunday 27 September
		expect(await nextAt()).toBe('2026-09-27T20:00:00.000Z');
	});
	test('is made to fit the client as they are then; a list that asks nothing makes nothing, and says so', async () => {
		const id = await setUp({ lines: [line('Hours', { condition: { kind: 'fact', fact: 'payroll', is: 'equals', value: 'yes' } })] });
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'payroll', value: 'no' }));
		expect(await appearAt('2026-06-01T12:00:00Z')).toBe(0);
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'payroll', value: 'yes' }));
		expect(await appearAt('2026-07-01T12:00:00Z')).toBe(1);
		expect((await firm.run((tx) => readMadeOccurrences(tx, firm.odalys(), id))).map((one) => one.outcome)).toEqual(['made', 'passed_over']);
	});
	test('a worker that rested for weeks makes all of them, each due no earlier than it is asked', async () => {
		await setUp();
		expect(await appearAt('2026-08-03T12:00:00Z')).toBe(3);
		expect((await requests()).map((r) => [r.title, r.due])).toEqual([
			['Papers for May 2026', '2026-08-03'],
			['Papers for June 2026', '2026-08-03'],
			['Papers for July 2026', '2026-08-17']
		]);
	});
});

describe('one occurrence', () => {
	test('left out, taken in again, moved, asked at once', async () => {
		const id = await setUp();
		const change = (ruleDay: string, how: { skip: boolean } | { moveTo: string | null }) =>
			firm.run((tx) => changeOccurrence(tx, firm.odalys(), { id, ruleDay, ...how }));
		await change('2026-06-01', { skip: true });
		expect((await read(id)).nextAt).toBe('2026-07-01T12:00:00.000Z');
		await change('2026-06-01', { skip: false });
		await change('2026-06-01', { moveTo: '2026-06-10' });
		expect((await read(id)).nextAt).toBe('2026-06-10T12:00:00.000Z');
		await expect(change('2026-06-02', { skip: true })).rejects.toMatchObject({ code: 'invalid' });
		await expect(change('2026-06-01', { moveTo: '2026-05-01' })).rejects.toMatchObject({ code: 'invalid' });
		await firm.run((tx) => startNow(tx, firm.odalys(), id, '2026-06-01'));
		// pressed twice: the month behind it is not asked for as well
		await expect(firm.run((tx) => startNow(tx, firm.odalys(), id, '2026-06-01'))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect(await requests()).toEqual([{ title: 'Papers for May 2026', from: '2026-05-01', to: '2026-05-31', due: '2026-06-15' }]);
		await expect(change('2026-06-01', { skip: true })).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect(await appearAt('2026-06-10T12:00:00Z')).toBe(0);
		expect(await appearAt('2026-07-01T12:00:00Z')).toBe(1);
	});
	test('a change holds from the next one on, and the later of two people is told', async () => {
		const id = await setUp();
		await appearAt('2026-06-01T12:00:00Z');
		await firm.run((tx) =>
			writeRecurring(tx, firm.odalys(), client.id, form({ title: 'Everything for {period}', lines: [line('A'), line('B')] }), { id, version: 1 })
		);
		await expect(firm.run((tx) => writeRecurring(tx, firm.odalys(), client.id, form(), { id, version: 1 }))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		await appearAt('2026-07-01T12:00:00Z');
		expect((await requests()).map((r) => r.title)).toEqual(['Papers for May 2026', 'Everything for June 2026']);
	});
	test('a rule that never comes, an unknown field, a letter, nobody of the client: refused, nothing is kept', async () => {
		await expect(setUp({ pattern: null, rule: 'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30' })).rejects.toMatchObject({ code: 'invalid' });
		await expect(setUp({ endsOn: '2026-04-01' })).rejects.toMatchObject({ code: 'invalid' });
		await expect(setUp({ title: 'For {nick_name}' })).rejects.toMatchObject({ code: 'unfilled_fields' });
		const other = await makeClient(context, firm, { name: 'Other' });
		await expect(setUp({ others: [other.contactId] })).rejects.toMatchObject({ code: 'not_found' });
		expect((await context.owner.query('select 1 from recurring_request where client_id = $1', [client.id])).rowCount).toBe(0);
		const letter = { ...line('Letter'), kind: 'letter', spec: {}, document: { type: 'doc', content: [{ type: 'paragraph' }] } };
		expect(recurringSchema.safeParse({ ...form(), lines: [letter] }).error?.issues[0].message).toContain('A letter is not asked for again');
	});
});

describe('so many times', () => {
	test('COUNT of a rule is kept apart from it, counts what is left out too, and nothing appears after the last one', async () => {
		const id = await setUp({ pattern: null, rule: 'RRULE:FREQ=MONTHLY;count=3;BYMONTHDAY=1' });
		expect((await read(id)).schedule).toMatchObject({ rule: 'FREQ=MONTHLY;BYMONTHDAY=1', times: 3 });
		await firm.run((tx) => changeOccurrence(tx, firm.odalys(), { id, ruleDay: '2026-06-01', skip: true }));
		expect((await coming(id)).map(([title]) => title)).toEqual(['Papers for May 2026', 'Papers for June 2026']);
		await appearAt('2026-07-01T12:00:00Z');
		expect((await read(id)).nextAt).toBeNull();
		expect(await appearAt('2026-08-03T12:00:00Z')).toBe(0);
		expect((await requests()).map((r) => r.title)).toEqual(['Papers for June 2026']);
		// a month more is one more
		await firm.run((tx) => writeRecurring(tx, firm.odalys(), client.id, form({ times: '5' }), { id, version: 2 }));
		expect((await read(id)).schedule.times).toBe(5);
		expect(await appearAt('2026-09-01T12:00:00Z')).toBe(1);
		expect(await appearAt('2026-10-01T12:00:00Z')).toBe(0);
	});
	test.each(['FREQ=DAILY;COUNT=0', 'FREQ=DAILY;COUNT=1000', 'FREQ=DAILY;COUNT=', 'FREQ=DAILY;COUNT=2;COUNT=3', 'FREQ=DAILY;COUNT=1.5'])(
		'refuses %j',
		(rule) => expect(() => form({ pattern: null, rule })).toThrow('COUNT is written once')
	);
});

describe('a pause', () => {
	test.each([
		['last', ['Papers for July 2026', 'Papers for August 2026']],
		['all', ['Papers for May 2026', 'Papers for June 2026', 'Papers for July 2026', 'Papers for August 2026']],
		['none', ['Papers for August 2026']]
	] as const)('with the client locked, and then “%s”', async (catchUp, titles) => {
		await setUp({ catchUp });
		await firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: client.id, move: 'lock', reason: 'Moves context.' }));
		for (const at of ['2026-06-01T12:00:00Z', '2026-07-01T12:00:00Z', '2026-08-01T12:00:00Z']) expect(await appearAt(at)).toBe(0);
		context.clock.set('2026-08-20T12:00:00Z');
		await firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: client.id, move: 'unlock', reason: 'Back.' }));
		await appearAt('2026-08-20T12:01:00Z');
		await appearAt('2026-09-01T12:00:00Z');
		expect((await requests()).map((r) => r.title)).toEqual(titles);
	});
	test('of itself: nothing appears, the Almanac says why; ended, nothing comes any more', async () => {
		const id = await setUp();
		const appearing = () =>
			firm.run(async (tx) => (await readAppearing(tx, firm.odalys(), await loadFirm(tx), 30)).map((one) => [one.title, one.heldBack]));
		expect(await appearing()).toEqual([['Papers for May 2026', null]]);
		await firm.run((tx) => moveRecurring(tx, firm.odalys(), { id, to: 'paused', reason: 'Away.' }));
		expect(await appearing()).toEqual([['Papers for May 2026', 'paused']]);
		expect(await appearAt('2026-06-01T12:00:00Z')).toBe(0);
		await firm.run((tx) => moveRecurring(tx, firm.odalys(), { id, to: 'ended', reason: '' }));
		await expect(firm.run((tx) => startNow(tx, firm.odalys(), id, '2026-06-01'))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(firm.run((tx) => moveRecurring(tx, firm.odalys(), { id, to: 'running', reason: '' }))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		expect(await appearing()).toEqual([]);
	});
	test('which of the missed are made', () => {
		const due = ['2026-01-01T00:00:00Z', '2026-02-01T00:00:00Z', '2026-03-01T00:00:00Z'].map((at) => ({ at }));
		const made = (resumedAt: string | null, rule: 'all' | 'last' | 'none') => toCatchUp(due, resumedAt, rule).made.map((one) => one.at.slice(5, 7));
		expect(made(null, 'none')).toEqual(['01', '02', '03']);
		expect(made('2026-02-15T00:00:00Z', 'none')).toEqual(['03']);
		expect(made('2026-02-15T00:00:00Z', 'last')).toEqual(['02', '03']);
		expect(made('2026-02-15T00:00:00Z', 'all')).toEqual(['01', '02', '03']);
	});
});

describe('being told', () => {
	test('everything of one person and day in one message, of all their businesses, in sending hours; quietly nothing', async () => {
		const second = await makeClient(context, firm, { name: 'Ferry Café', contactId: client.contactId, email: client.email });
		await setUp({ at: '06:00' });
		await setUp({ title: 'Sales of {period}', at: '06:00' });
		await setUp({ at: '06:00' }, { ...second, contactId: client.contactId });
		await setUp({ title: 'Quiet {period}', quiet: true, at: '06:00' });
		expect(await appearAt('2026-06-01T09:00:00Z')).toBe(4);
		expect(await announceRequests(context.db, firm.id, '2026-06-01T09:00:00Z')).toBe(0);
		context.clock.set('2026-06-01T12:00:00Z');
		const told = await Promise.all([0, 1, 2].map(() => announceRequests(context.db, firm.id, context.clock.now())));
		expect(told.reduce((sum, n) => sum + n, 0)).toBe(1);
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(1);
		expect(context.mailer.sent[0].subject).toBe('3 new things for you');
		expect(context.mailer.sent[0].text).toContain('Ferry Café');
		// what appears later that day waits for the next one
		const late = await setUp({ title: 'Late {period}' });
		await firm.run((tx) => startNow(tx, firm.odalys(), late, '2026-06-01'));
		expect(await announceRequests(context.db, firm.id, context.clock.now())).toBe(0);
		context.clock.set('2026-06-02T12:00:00Z');
		expect(await announceRequests(context.db, firm.id, context.clock.now())).toBe(1);
		await sendPlanned(context, firm);
		expect(context.mailer.sent[1].subject).toBe('Late May 2026');
	});
	test('whoever has no way in yet is told once they have', async () => {
		const newcomer = await makeClient(context, firm, { name: 'New', access: false });
		await setUp({}, newcomer);
		await appearAt('2026-06-01T12:00:00Z');
		expect(await announceRequests(context.db, firm.id, context.clock.now())).toBe(0);
		await context.owner.query(`update contact set password_hash = 'x' where id = $1`, [newcomer.contactId]);
		expect(await announceRequests(context.db, firm.id, context.clock.now())).toBe(1);
	});
});

test('another firm’s standing requests do not exist; filing may look and change nothing', async () => {
	const id = await setUp();
	const other = await makeFirm(context);
	await expect(other.run((tx) => readRecurring(tx, other.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
	const filing = { ...firm.odalys(), role: 'filing' as const };
	await expect(firm.run((tx) => startNow(tx, filing, id, '2026-06-01'))).rejects.toMatchObject({ code: 'not_allowed' });
	await expect(firm.run((tx) => moveRecurring(tx, filing, { id, to: 'ended', reason: '' }))).rejects.toMatchObject({ code: 'not_allowed' });
	expect((await firm.run((tx) => readRecurring(tx, filing, id))).title).toBe('Papers for {period}');
});

describe('statements', () => {
	const note = (more: object = {}, id: string | null = null, of = client) =>
		firm.run((tx) =>
			writeAccount(
				tx,
				firm.odalys(),
				of.id,
				accountSchema.parse({ kind: 'bank', institution: 'Tideline', lastFour: '4471', currency: 'CAD', closingDay: 31, ...more }),
				id
			)
		);
	const statements = { lines: [line('Bank statement', { spec: { slots: [], statementsOf: 'bank' } })] };
	const titles = async () =>
		(
			await context.owner.query(
				`select i.title, i.period_from::text "from", i.period_to::text "to" from item i where client_id = $1 order by i.period_to, i.title`,
				[client.id]
			)
		).rows.map((r) => `${r.title}: ${r.from} ${r.to}`);
	test('one item for each account and cycle; a closed account stops asking; none is asked for twice', async () => {
		const first = await note();
		await note({ institution: 'Harbour Union', lastFour: '0092', closingDay: 15 });
		await note({ kind: 'card', institution: 'Tideline Card', lastFour: '1111' });
		await setUp(statements);
		await appearAt('2026-06-01T12:00:00Z');
		expect(await titles()).toEqual([
			'Bank statement, Harbour Union ··0092, 16 Apr – 15 May 2026: 2026-04-16 2026-05-15',
			'Bank statement, Tideline ··4471, May 2026: 2026-05-01 2026-05-31'
		]);
		await note({ closedOn: '2026-06-10' }, first);
		const again = await setUp({ ...statements, title: 'Once more {period}', startsOn: '2026-06-20' });
		await firm.run((tx) => startNow(tx, firm.odalys(), again, '2026-07-01'));
		await appearAt('2026-07-01T12:00:00Z');
		await appearAt('2026-08-01T12:00:00Z');
		expect((await titles()).slice(2)).toEqual([
			'Bank statement, Harbour Union ··0092, 16 May – 15 June 2026: 2026-05-16 2026-06-15',
			'Bank statement, Tideline ··4471, June 2026: 2026-06-01 2026-06-30',
			'Bank statement, Harbour Union ··0092, 16 Jun – 15 July 2026: 2026-06-16 2026-07-15'
		]);
	});
	test('without an account noted the line itself asks; the months that fell behind come grouped by account', async () => {
		await setUp(statements);
		await appearAt('2026-06-01T12:00:00Z');
		expect(await titles()).toEqual(['Bank statement: null null']);
		await note({ openedOn: '2026-02-10' });
		const known = await firm.run(async (tx) => (await readKnownStatements(tx, firm.odalys(), [client.id]))(client.id));
		const spread = spreadStatements(known, { title: '', heading: '', of: 'all' }, { from: '2026-01-01', to: '2026-04-30' }, 'en', true);
		expect(spread.map((one) => [one.heading, one.title])).toEqual([
			['Tideline ··4471', 'Tideline ··4471, February 2026'],
			['Tideline ··4471', 'Tideline ··4471, March 2026'],
			['Tideline ··4471', 'Tideline ··4471, April 2026']
		]);
	});
	test('an account of another client is not changed, nor asked of', async () => {
		const other = await makeClient(context, firm, { name: 'Other' });
		const theirs = await note({}, null, other);
		await expect(note({ institution: 'Mine now' }, theirs)).rejects.toMatchObject({ code: 'not_found' });
		const asking = requestTo(client, [{ ...paperLine('Statement', '2026-05-20'), account: { id: theirs, from: '2026-04-01', to: '2026-04-30' } }]);
		await expect(sendRequest(context, firm.id, firm.odalys(), asking)).rejects.toMatchObject({ code: 'not_found' });
		expect(await client.run((tx) => tx.rows('select 1 from request_draft').catch((error: Error) => error.message))).toContain('permission denied');
	});
});
