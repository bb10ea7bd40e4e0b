import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { addToInstant, localDate } from '$lib/core/calendar/firm-calendar';
import { loadFirm } from '../firms/firm';
import { failMessage, takeInReport } from '../messages/settle-message';
import { markStuckMessages } from '../messages/stuck-messages';
import { sendMessage } from '../messages/send-message';
import { readStopLink, stopUrl } from '../messages/links';
import { markStopSeen, startReminders, startRemindersOf, stopReminders } from '../people/stop-reminders';
import { readItem } from '../items/read-items';
import { markRemarksSeen, writeOwnRemark, writeRemark } from '../items/remarks';
import { answerItem } from '../item-kinds/kinds/question';
import { acceptItem } from '../requests/judge-item';
import { sendRequest } from '../requests/send-request';
import { countRounds, readRounds } from '../rounds/read-rounds';
import { machine } from '../actor';
import { mendAddress } from '../clients/add-client';
import { planMessage } from '../outbox/plan-message';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	questionLine,
	requestTo,
	SECRET_KEY,
	sendPlanned,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import { chasePeople } from './chase-people';
import { readDeskHead } from '../rounds/desk-head';
import { nextChases, peopleToForecast, readForecast } from './read-forecast';

let context: TestContext;
let firm: TestFirm;
const START = '2026-05-04T15:00:00Z';

beforeAll(async () => {
	context = await openTestContext(START);
});
afterAll(() => context.close());
beforeEach(async () => {
	context.clock.set(START);
	context.mailer.sent.length = 0;
	context.mailer.answers.length = 0;
	firm = await makeFirm(context);
});

const chases = async () =>
	(
		await context.owner.query(
			`select m.*, array(select item_id from message_item where message_id = m.id) items from message m where firm_id = $1 and kind = 'chase' order by planned_at`,
			[firm.id]
		)
	).rows;
const beatAt = async (at: string) => {
	context.clock.set(at);
	const planned = await chasePeople(context.db, firm.id, at);
	await sendPlanned(context, firm);
	return planned;
};
const rounds = async () =>
	(await context.db.inFirm(firm.id, async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (d) => d }))).rows;

describe('a question about something that is asked', () => {
	test.each([
		['America/Halifax', '2026-05-06T12:05:00Z', '2026-05-14T12:05:00Z'],
		['Australia/Sydney', '2026-05-05T23:05:00Z', '2026-05-13T23:05:00Z']
	])('holds its reminders in %s until it is answered, and what was missed meanwhile is not made up for', async (timeZone, firstStep, later) => {
		firm = await makeFirm(context, { timeZone });
		const client = await makeClient(context, firm);
		const requestId = await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(client, [paperLine('Bank statement', '2026-05-08'), paperLine('Till roll', '2026-05-08')])
		);
		const [asked, other] = await itemsOf(context, requestId);
		await client.run((tx) => writeOwnRemark(tx, client.mara(), { itemId: asked.id, words: 'Which bank?', pinned: null }));
		// the other goes on; what is asked about is not named, does not stand as run out, and the record says why
		await beatAt(firstStep);
		expect((await chases()).map(({ items }) => items)).toEqual([[other.id]]);
		expect((await firm.run((tx) => readItem(tx, firm.odalys(), asked.id))).nextChaseOn).toBeNull();
		expect((await rounds()).filter(({ section }) => section === 'ran_out')).toEqual([]);
		await beatAt(later);
		expect((await chases()).every(({ items }) => items.join() === other.id)).toBe(true);
		// answered after two of its steps: the next one goes, and those before do not
		context.clock.set(later);
		await firm.run((tx) => writeRemark(tx, firm.odalys(), { itemId: asked.id, words: 'Harbour Union.', pinned: null }));
		const { nextChaseOn } = await firm.run((tx) => readItem(tx, firm.odalys(), asked.id));
		expect(nextChaseOn! > later.slice(0, 10)).toBe(true);
		const before = (await chases()).length;
		await beatAt(`${nextChaseOn}T${timeZone === 'America/Halifax' ? '14' : '01'}:05:00Z`);
		const after = (await chases()).slice(before);
		expect(after.some(({ items }) => items.includes(asked.id))).toBe(true);
	});

	test('that needs no answer lets the reminders go on as soon as somebody has read it', async () => {
		const client = await makeClient(context, firm);
		const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Bank statement', '2026-05-08')]));
		const [{ id }] = await itemsOf(context, requestId);
		const day = async () => (await firm.run((tx) => readItem(tx, firm.odalys(), id))).nextChaseOn;
		const planned = await day();
		await client.run((tx) => writeOwnRemark(tx, client.mara(), { itemId: id, words: 'Thank you!', pinned: null }));
		expect(await day()).toBeNull();
		await firm.run((tx) => markRemarksSeen(tx, firm.odalys(), id));
		expect(await day()).toBe(planned);
	});
});

describe('the worker', () => {
	test('carries out exactly what the desk forecasts, over weeks, with several businesses in one message a day', async () => {
		const a = await makeClient(context, firm, { name: 'Brine & Barrow' });
		const b = await makeClient(context, firm, { name: 'Tern Point', email: a.email, contactId: a.contactId });
		const c = await makeClient(context, firm, { name: 'Half Moon' });
		await sendRequest(context, firm.id, firm.odalys(), requestTo(a, [paperLine('A1', '2026-05-08'), paperLine('A2', '2026-05-12')]));
		await sendRequest(context, firm.id, firm.odalys(), requestTo(b, [questionLine('B1', '2026-05-11')], { contactId: a.contactId }));
		await sendRequest(context, firm.id, firm.odalys(), requestTo(c, [paperLine('C1', '2026-05-29')]));
		await sendPlanned(context, firm);

		const forecast = await context.db.inFirm(firm.id, async (tx) => {
			const loaded = await loadFirm(tx);
			return readForecast(tx, firm.odalys(), loaded, await peopleToForecast(tx, loaded, START, 45), 45);
		});
		for (let at = START; at < '2026-06-18T00:00:00Z'; at = addToInstant(at, { minutes: 97 })) await beatAt(at);

		const done = await chases();
		const essence = (day: string, contact: string, items: string[]) => `${day} ${contact} ${[...items].sort().join(' ')}`;
		expect(done.map((m) => essence(localDate(m.planned_at, { timeZone: 'America/Halifax' }), m.contact_id, m.items)).sort()).toEqual(
			forecast.map((f) => essence(f.localDay, f.contactId, f.itemIds)).sort()
		);
		expect(done.every((m) => m.state === 'sent')).toBe(true);
		expect(done.filter((m) => m.contact_id === a.contactId).length).toBeGreaterThan(4);
		const text = context.mailer.sent.find((m) => m.unsubscribeUrl)!.text;
		expect(text).toContain('A1, for Brine & Barrow');
		expect(text).toContain('B1, for Tern Point');
		// the plan has run out for all: a person's turn
		expect(
			(await rounds())
				.filter((r) => r.section === 'ran_out')
				.map((r) => r.clientName)
				.sort()
		).toEqual(['Brine & Barrow', 'Half Moon', 'Tern Point']);
	});

	test('two workers at the same moment plan one message', async () => {
		const client = await makeClient(context, firm);
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-06')]));
		const at = '2026-05-07T12:00:00Z';
		context.clock.set(at);
		await Promise.all([1, 2, 3, 4].map(() => chasePeople(context.db, firm.id, at)));
		expect(await chases()).toHaveLength(1);
	});

	test('nothing goes outside sending hours or for what is not open', async () => {
		const client = await makeClient(context, firm);
		const [{ id }] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [questionLine('Q', '2026-05-06')])));
		expect(await beatAt('2026-05-07T11:59:00Z')).toBe(0);
		expect(await beatAt('2026-05-09T15:00:00Z')).toBe(0);
		await context.db.inFirm(firm.id, (tx) => answerItem(tx, client.mara(), { itemId: id, answer: 'x' }), client.contactId);
		expect(await beatAt('2026-05-11T15:00:00Z')).toBe(0);
		await context.db.inFirm(firm.id, (tx) => acceptItem(tx, firm.odalys(), { itemId: id, version: 2 }));
		expect(await beatAt('2026-05-29T15:00:00Z')).toBe(0);
		expect(await chases()).toHaveLength(0);
	});

	test('what arrives between planning and sending holds the message back', async () => {
		const client = await makeClient(context, firm);
		const [{ id }] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [questionLine('Q', '2026-05-06')])));
		context.clock.set('2026-05-07T12:00:00Z');
		expect(await chasePeople(context.db, firm.id, context.clock.now())).toBe(1);
		await context.db.inFirm(firm.id, (tx) => answerItem(tx, client.mara(), { itemId: id, answer: 'x' }), client.contactId);
		await sendPlanned(context, firm);
		expect((await chases())[0]).toMatchObject({ state: 'held_back', reason: 'nothing is open any more' });
	});

	test('a firm in another time zone is chased at its own nine o’clock, across its clock change', async () => {
		const sydney = await makeFirm(context, { timeZone: 'Australia/Sydney' });
		context.clock.set('2026-09-28T03:00:00Z');
		const client = await makeClient(context, sydney);
		await sendRequest(context, sydney.id, sydney.odalys(), requestTo(client, [paperLine('A', '2026-10-02')]));
		const planned: string[] = [];
		for (let at = '2026-09-28T04:00:00Z'; at < '2026-10-08T00:00:00Z'; at = addToInstant(at, { minutes: 30 })) {
			context.clock.set(at);
			if ((await chasePeople(context.db, sydney.id, at)) > 0) planned.push(at);
		}
		expect(planned).toEqual(['2026-09-29T23:00:00Z', '2026-10-04T22:00:00Z', '2026-10-06T22:00:00Z']);
	});
});

describe('sending', () => {
	const oneMessage = async () => {
		const client = await makeClient(context, firm);
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-20')]));
		const { rows } = await context.owner.query('select id from message where contact_id = $1', [client.contactId]);
		return { client, id: rows[0].id as string };
	};
	const message = async (id: string) => (await context.owner.query('select * from message where id = $1', [id])).rows[0];

	test('however often it is asked for, a message goes once', async () => {
		const { id } = await oneMessage();
		await Promise.all([1, 2, 3, 4, 5].map(() => sendMessage(context.place, firm.id, id)));
		expect(context.mailer.sent).toHaveLength(1);
	});

	test('killed between the two marks: unclear, shown to a person, never sent again', async () => {
		const { id } = await oneMessage();
		context.mailer.answers.push(new Error('killed here'));
		await expect(sendMessage(context.place, firm.id, id)).rejects.toThrow('killed here');
		expect((await message(id)).state).toBe('sending');
		expect(await markStuckMessages(context.place)).toBe(0);
		await context.owner.query(`update message set sending_since = now() - interval '20 minutes' where id = $1`, [id]);
		expect(await markStuckMessages(context.place)).toBe(1);
		expect((await message(id)).state).toBe('unclear');
		await sendMessage(context.place, firm.id, id);
		expect(context.mailer.sent).toHaveLength(0);
		expect((await rounds()).map((r) => r.section)).toEqual(['mail_trouble']);
	});

	test('a taken-over job finds the message in sending and does not send', async () => {
		const { id } = await oneMessage();
		context.mailer.answers.push(new Error('killed here'));
		await expect(sendMessage(context.place, firm.id, id)).rejects.toThrow();
		expect(await sendMessage(context.place, firm.id, id)).toBe('done');
		expect((await message(id)).state).toBe('unclear');
		expect(context.mailer.sent).toHaveLength(0);
	});

	test.each([
		['try_later', { outcome: 'try_later', reason: 'busy' }, 'unclear'],
		['sent', { outcome: 'sent' }, 'sent'],
		['refused', { outcome: 'refused', reason: 'no such person' }, 'failed']
	] as const)('an answer that comes after the message was given up as unclear: %s', async (_, answer, state) => {
		const { id } = await oneMessage();
		const slow = {
			...context.place,
			mailer: {
				...context.mailer,
				async send() {
					await context.owner.query(`update message set sending_since = now() - interval '20 minutes' where id = $1`, [id]);
					await markStuckMessages(context.place);
					return answer;
				}
			}
		};
		expect(await sendMessage(slow, firm.id, id)).toBe('done');
		expect((await message(id)).state).toBe(state);
	});

	test('a 4xx answer comes back later, a 5xx answer stops the address and reaches Rounds', async () => {
		const { id, client } = await oneMessage();
		context.mailer.answers.push({ outcome: 'try_later', reason: 'busy' });
		expect(await sendMessage(context.place, firm.id, id)).toEqual({ at: '2026-05-04T15:01:00Z' });
		expect((await message(id)).state).toBe('planned');
		context.mailer.answers.push({ outcome: 'refused', reason: 'the mail server answered 550' });
		expect(await sendMessage(context.place, firm.id, id)).toBe('done');
		expect((await message(id)).state).toBe('failed');
		expect((await rounds()).map((r) => r.section)).toEqual(['mail_trouble']);
		for (let day = 5; day < 30; day++) await beatAt(`2026-05-${String(day).padStart(2, '0')}T15:00:00Z`);
		expect(await chases()).toHaveLength(0);
		const forecast = await context.db.inFirm(firm.id, async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], 30));
		expect(forecast.every((f) => f.heldBack === 'bounced')).toBe(true);
	});

	test('a bounce long after sending does the same; a stranger’s report does nothing', async () => {
		const { id, client } = await oneMessage();
		await sendMessage(context.place, firm.id, id);
		await takeInReport(context.db, context.clock.now(), {
			messageId: '00000000-0000-4000-8000-000000000000',
			action: 'failed',
			reason: 'it came back as undeliverable (5.1.1)'
		});
		expect(await message(id)).toMatchObject({ state: 'sent', reason: null });
		expect((await context.owner.query('select from contact where firm_id = $1 and mail_problem is not null', [firm.id])).rows).toEqual([]);
		await takeInReport(context.db, context.clock.now(), { messageId: id, action: 'failed', reason: 'it came back as undeliverable (5.1.1)' });
		expect(await message(id)).toMatchObject({ state: 'failed', reason: expect.stringContaining('5.1.1') });
		expect((await context.owner.query('select mail_problem from contact where id = $1', [client.contactId])).rows[0].mail_problem).toBe('bounced');
	});

	test('a full mailbox stops nothing: the message has failed, and the next reminder goes to the same address', async () => {
		const { id, client } = await oneMessage();
		await sendMessage(context.place, firm.id, id);
		await takeInReport(context.db, context.clock.now(), { messageId: id, action: 'failed', reason: 'the mailbox is full (5.2.2)', trouble: 'full' });
		expect(await message(id)).toMatchObject({ state: 'failed' });
		expect((await context.owner.query('select mail_problem from contact where id = $1', [client.contactId])).rows[0].mail_problem).toBeNull();
		expect((await context.owner.query('select failed_for from message where id = $1', [id])).rows[0].failed_for).toBe('full');
	});

	test('a mailbox that has moved is as good as none, and said to have moved', async () => {
		const { id, client } = await oneMessage();
		await sendMessage(context.place, firm.id, id);
		await takeInReport(context.db, context.clock.now(), { messageId: id, action: 'failed', reason: 'it has moved (5.1.6)', trouble: 'moved' });
		expect((await context.owner.query('select mail_problem from contact where id = $1', [client.contactId])).rows[0].mail_problem).toBe('bounced');
		expect((await context.owner.query('select failed_for from message where id = $1', [id])).rows[0].failed_for).toBe('moved');
	});

	test('a planned message cannot be failed by a report', async () => {
		const { id } = await oneMessage();
		await context.db.inFirm(firm.id, (tx) => failMessage(tx, id, context.clock.now(), 'x'));
		expect((await message(id)).state).toBe('planned');
	});

	test('a chase planned in time but sent late waits for the next opening', async () => {
		const client = await makeClient(context, firm);
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-06')]));
		await chasePeople(context.db, firm.id, '2026-05-07T19:59:50Z');
		context.clock.set('2026-05-07T20:00:10Z');
		const [{ id }] = await chases();
		expect(await sendMessage(context.place, firm.id, id)).toEqual({ at: '2026-05-08T12:00:00Z' });
	});
});

describe('stopping reminders', () => {
	test('the link in a chase stops them once, a forged one does nothing', async () => {
		const client = await makeClient(context, firm);
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-06'), paperLine('B', '2026-05-20')]));
		await sendPlanned(context, firm);
		await beatAt('2026-05-07T12:00:00Z');
		const url = context.mailer.sent.at(-1)!.unsubscribeUrl!;
		const id = readStopLink(url.split('/').at(-1)!, SECRET_KEY);
		expect(id).toBe((await chases())[0].id);
		expect(readStopLink(`${id}.${'A'.repeat(32)}`, SECRET_KEY)).toBeNull();
		expect(readStopLink(stopUrl('', id!, '00'.repeat(32)).split('/').at(-1)!, SECRET_KEY)).toBeNull();
		const nobody = { ...machine(context.clock.now()), kind: 'nobody' as const };
		await stopReminders(context.db, nobody, id!);
		await stopReminders(context.db, nobody, id!);
		expect(
			(await context.owner.query(`select count(*)::int n from event where verb = 'reminders_stopped' and firm_id = $1`, [firm.id])).rows[0].n
		).toBe(1);
		expect(await beatAt('2026-05-18T15:00:00Z')).toBe(0);
	});
});

describe('what somebody wants no more of', () => {
	const stop = async (contactId: string) =>
		(await context.owner.query('select mail_problem, stopped_how, stopped_at, stop_seen_at from contact where id = $1', [contactId])).rows[0];
	const stopRows = async () => (await rounds()).filter(({ section }) => section === 'stopped');
	async function reminded() {
		const client = await makeClient(context, firm, { access: true });
		const requestId = await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(client, [paperLine('A', '2026-05-06'), paperLine('B', '2026-05-20')], { idempotencyKey: randomUUID() })
		);
		await sendPlanned(context, firm);
		await beatAt('2026-05-07T12:00:00Z');
		const { rows } = await context.owner.query<{ id: string }>(
			`select id from message where contact_id = $1 and kind = 'chase' order by planned_at desc limit 1`,
			[client.contactId]
		);
		return { client, chase: rows[0].id, items: await itemsOf(context, requestId) };
	}

	test('their mail service reports one of ours: reminders end, Rounds says so until somebody has seen it, and only they let them come again', async () => {
		const { client, chase, items } = await reminded();
		await takeInReport(context.db, context.clock.now(), { action: 'unwanted', messageId: chase });
		await takeInReport(context.db, context.clock.now(), { action: 'unwanted', messageId: chase });
		expect(await stop(client.contactId)).toMatchObject({ mail_problem: 'opted_out', stopped_how: 'complaint', stop_seen_at: null });
		expect((await context.owner.query(`select count(*)::int n from event where verb = 'mail_unwanted' and firm_id = $1`, [firm.id])).rows[0].n).toBe(
			1
		);
		const [row] = await stopRows();
		expect(row).toMatchObject({
			words: `mail to ${client.mara().name} was reported as unwanted`,
			aside: '2 things are open',
			clientId: client.id
		});
		// nobody reminds them, and what has to reach them does
		expect(await beatAt('2026-05-18T15:00:00Z')).toBe(0);
		const asked = await firm.run((tx) =>
			planMessage(tx, machine(context.clock.now()), {
				kind: 'request',
				idempotencyKey: randomUUID(),
				to: { address: client.email, contactId: client.contactId },
				clientId: client.id,
				content: { subject: 'Something else', body: 'Please.' },
				items: items.map(({ id: itemId }) => ({ itemId, step: null }))
			})
		);
		await sendMessage(context.place, firm.id, asked!.id);
		expect((await context.owner.query('select state from message where id = $1', [asked!.id])).rows[0].state).toBe('sent');
		await firm.run((tx) => markStopSeen(tx, firm.odalys(), client.contactId));
		expect(await stopRows()).toEqual([]);
		await expect(firm.run((tx) => markStopSeen(tx, firm.odalys(), client.contactId))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		// a new address is no wish for reminders
		await firm.run((tx) => mendAddress(tx, firm.odalys(), client.contactId, `${randomUUID()}@kites.example`));
		expect(await stop(client.contactId)).toMatchObject({ mail_problem: 'opted_out' });
		// nor is one that is put right after mail had come back
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [client.contactId]);
		await firm.run((tx) => mendAddress(tx, firm.odalys(), client.contactId, `${randomUUID()}@kites.example`));
		expect(await stop(client.contactId)).toMatchObject({ mail_problem: 'opted_out' });
		await context.db.inFirm(firm.id, (tx) => startReminders(tx, machine(context.clock.now()), client.contactId));
		expect(await stop(client.contactId)).toMatchObject({ mail_problem: null });
	});
	test('stopped by the link it stands in Rounds as well, and again after it was let go on and stopped anew', async () => {
		const { client, chase } = await reminded();
		const nobody = { ...machine(context.clock.now()), kind: 'nobody' as const };
		await stopReminders(context.db, nobody, chase);
		expect((await stopRows()).map(({ words }) => words)).toEqual([`${client.mara().name} has stopped reminders`]);
		await firm.run((tx) => markStopSeen(tx, firm.odalys(), client.contactId));
		await startRemindersOf(context.db, nobody, chase);
		expect(await stopRows()).toEqual([]);
		await stopReminders(context.db, nobody, chase);
		expect(await stopRows()).toHaveLength(1);
		// the report about it says more than the link
		await takeInReport(context.db, context.clock.now(), { action: 'unwanted', messageId: chase });
		expect(await stop(client.contactId)).toMatchObject({ stopped_how: 'complaint' });
	});
	test('a report about mail to an address that is theirs no more stops nobody', async () => {
		const { client, chase } = await reminded();
		await firm.run((tx) => mendAddress(tx, firm.odalys(), client.contactId, `${randomUUID()}@kites.example`));
		await takeInReport(context.db, context.clock.now(), { action: 'unwanted', messageId: chase });
		expect(await stop(client.contactId)).toMatchObject({ mail_problem: null, stopped_how: null });
	});
});

test('the count in the head is the number of rows in Rounds', async () => {
	const client = await makeClient(context, firm);
	const items = await itemsOf(
		context,
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [questionLine('Q', '2026-05-06'), paperLine('A', '2026-05-05')]))
	);
	await context.db.inFirm(firm.id, (tx) => answerItem(tx, client.mara(), { itemId: items[0].id, answer: 'x' }), client.contactId);
	for (const at of ['2026-05-06T12:00:00Z', '2026-05-08T12:00:00Z', '2026-05-14T12:00:00Z', '2026-05-20T12:00:00Z']) await beatAt(at);
	const rows = await rounds();
	expect(rows.map((r) => r.section)).toEqual(['handed_in', 'ran_out']);
	expect(await context.db.inFirm(firm.id, async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now()))).toEqual({
		texts: 0,
		words: 0,
		waiting_mail: 0,
		arrivals: 0,
		public_answers: 0,
		tasks: 0,
		answers: 0,
		talk: 0,
		drafts: 0,
		no_address: 0,
		stopped: 0,
		handed_in: 1,
		checks: 0,
		on_paper: 0,
		to_countersign: 0,
		ran_out: 1,
		mail_trouble: 0,
		not_taken_up: 0,
		calls: 0,
		named: 0
	});
});

describe('the next chases in the head of the desk', () => {
	const head = () => firm.run(async (tx) => nextChases(tx, await loadFirm(tx), context.clock.now()));
	const owing = async (due: string) => {
		const client = await makeClient(context, firm);
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', due), paperLine('B', due)]));
		return client;
	};

	test('nothing waits, nobody is named', async () => {
		expect(await head()).toBeNull();
	});
	test('people of the first day are counted once each, later ones not', async () => {
		await owing('2026-05-07');
		await owing('2026-05-07');
		await owing('2026-05-15');
		expect(await head()).toEqual({ at: '2026-05-05T12:00:00Z', people: 2 });
		expect(await beatAt('2026-05-05T12:00:00Z')).toBe(2);
	});
	test('a step that lies behind goes with the next opening, together with what is due then', async () => {
		await owing('2026-05-07');
		await owing('2026-05-08');
		context.clock.set('2026-05-05T23:00:00Z');
		expect(await head()).toEqual({ at: '2026-05-06T12:00:00Z', people: 2 });
		expect(await beatAt('2026-05-06T12:00:00Z')).toBe(2);
	});
	test('is counted anew when something happens or time passes, and not otherwise', async () => {
		await owing('2026-05-07');
		const read = () => firm.run(async (tx) => readDeskHead(tx, await loadFirm(tx), context.clock.now(), null));
		const first = await read();
		expect(first.nextChases?.people).toBe(1);
		expect(await read()).toBe(first);
		context.clock.set('2026-05-04T15:01:00Z');
		expect(await read()).not.toBe(first);
		const before = await read();
		// an event whose id was given earlier may commit later
		await context.owner.query(
			`insert into event (id, firm_id, at, actor_kind, actor_name, verb) overriding system value values (-7, $1, now(), 'machine', 'x', 'item_seen')`,
			[firm.id]
		);
		const late = await read();
		expect(late).not.toBe(before);
		expect(late.latestEvent).toBe(before.latestEvent);
		await owing('2026-05-07');
		const after = await read();
		expect(after).not.toBe(before);
		expect(after.nextChases?.people).toBe(2);
		expect(after.latestEvent).toBeGreaterThan(before.latestEvent);
	});
	test('who cannot be written to is not counted', async () => {
		const bounced = await owing('2026-05-07');
		await owing('2026-05-12');
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [bounced.contactId]);
		expect(await head()).toEqual({ at: '2026-05-08T12:00:00Z', people: 1 });
	});
});
