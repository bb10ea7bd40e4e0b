import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { ROUNDS_SECTION_ROWS } from '$lib/core/rounds/sections';
import { loadFirm } from '../firms/firm';
import { answerItem } from '../item-kinds/kinds/question';
import { sayDoesNotApply } from '../items/client-item';
import { writeOwnRemark } from '../items/remarks';
import { sendRequest } from '../requests/send-request';
import {
	itemsOf,
	letterLine,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	questionLine,
	requestTo,
	type TestClient,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import { countRounds, isOnlyMine, noteLooked, readRounds, showOnlyMine } from './read-rounds';

const LETTER = { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' };

let context: TestContext;
let firm: TestFirm;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());
beforeEach(async () => {
	context.clock.set('2026-05-04T13:30:00Z');
	firm = await makeFirm(context);
});

/** A client of whom questions are asked, and how it answers the next one. */
async function answering(name: string, questions: number): Promise<(at: string) => Promise<void>> {
	const client: TestClient = await makeClient(context, firm, { name });
	const lines = Array.from({ length: questions }, (_, i) => questionLine(`Question ${i + 1}`, '2026-05-20'));
	const items = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, lines)));
	return async (at) => {
		context.clock.set(at);
		await client.run((tx) => answerItem(tx, client.mara(), { itemId: items.shift()!.id, answer: 'Yes.' }));
	};
}
const cameIn = async () =>
	(await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (date) => date }))).rows.filter(
		(row) => row.section === 'handed_in'
	);

const readAll = () => firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (date) => date }));
/** What is said of everything in one section. */
const said = async (section: string) =>
	(await readAll()).rows.filter((row) => row.section === section).map(({ clientName, words, aside }) => [clientName, words, aside]);

describe('each section', () => {
	const ask = async (name: string, lines: Parameters<typeof requestTo>[1], more: object = {}) => {
		const client = await makeClient(context, firm, { name });
		return { client, items: await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, lines, more))) };
	};
	const sql = (text: string, ...values: unknown[]) => context.owner.query(text, values);

	test('says what it is, and is counted as it is listed', async () => {
		const no = await ask('No Shows', [paperLine('Sales', '2026-05-20')]);
		await no.client.run((tx) => sayDoesNotApply(tx, no.client.mara(), { itemId: no.items[0].id, reason: 'We were closed.' }));
		const letter = await ask('Signs', [letterLine('Letter', '2026-05-20', LETTER)]);
		await sql(`update item set state = 'handed_in', state_at = '2026-05-04T12:00Z' where id = $1`, letter.items[0].id);
		await sql(`update letter set state = 'signed' where item_id = $1`, letter.items[0].id);
		const declined = await ask('Declines', [letterLine('Letter', '2026-05-20', LETTER)]);
		await sql(`update item set state = 'declined', state_at = '2026-05-04T12:00Z', reason = 'Too dear.' where id = $1`, declined.items[0].id);
		const talks = await ask('Talks', [questionLine('What?', '2026-05-20')]);
		await talks.client.run((tx) => writeOwnRemark(tx, talks.client.mara(), { itemId: talks.items[0].id, words: 'Which year?', pinned: null }));
		const ranOut = await ask('Ran Out', [paperLine('Lease', '2026-05-05'), paperLine('Loan', '2026-05-06')]);
		const quiet = await ask('Never Reminded', [paperLine('Lease', '2026-05-05')]);
		await sql(`update item set next_chase_on = null, chase_plan = 'none' where id = $1`, quiet.items[0].id);
		await sql(
			'update item set next_chase_on = null, chases_sent = 1 where request_id = (select request_id from item where id = $1)',
			ranOut.items[0].id
		);
		const bounced = await ask('Bounced', [paperLine('Lease', '2026-05-05')]);
		await sql(`update contact set mail_problem = 'bounced' where id = $1`, bounced.client.contactId);
		await sql(
			`update message set state = 'failed', reason = '550', settled_at = '2026-05-04T13:31Z' where contact_id = $1`,
			bounced.client.contactId
		);
		const full = await ask('Full Mailbox', [paperLine('Lease', '2026-05-20')]);
		await sql(
			`update message set state = 'failed', failed_for = 'full', reason = '552', settled_at = '2026-05-04T13:31:30Z' where contact_id = $1`,
			full.client.contactId
		);
		const cutOff = await ask('Cut Off', [paperLine('Lease', '2026-05-20')]);
		await sql(
			`update message set state = 'unclear', subject = 'Papers', settled_at = '2026-05-04T13:32Z' where contact_id = $1`,
			cutOff.client.contactId
		);
		const waits = await ask('Not In Yet', [paperLine('Lease', '2026-05-20')], { withInvitation: true });
		await sql(`update contact set password_hash = null where id = $1`, waits.client.contactId);
		const closed = await ask('Rests', [paperLine('Lease', '2026-05-05')]);
		await sql('update item set next_chase_on = null where id = $1', closed.items[0].id);
		await sql(`update client set state = 'locked' where id = $1`, closed.client.id);
		await makeClient(context, firm, { name: 'Nowhere', access: false }).then((client) =>
			sql(`update contact set email = null, mail_problem = 'no_address', phone = '+19025550101' where id = $1`, client.contactId)
		);
		context.clock.set('2026-05-08T15:00:00Z');

		expect(await said('answers')).toEqual([
			['Declines', 'does not want to sign “Letter”: “Too dear.”', 'Mara Whitlock'],
			['No Shows', '“Sales” does not apply: “We were closed.”', 'Mara Whitlock']
		]);
		expect(await said('to_countersign')).toEqual([['Signs', 'Letter, signed by Mara Whitlock', 'due 2026-05-20']]);
		expect(await said('talk')).toEqual([['Talks', 'What?: “Which year?”', 'Mara Whitlock']]);
		// neither what is never reminded of, nor a client who rests; but who is late and gets no reminders, and why
		expect((await said('ran_out')).toSorted().reverse()).toEqual([
			['Ran Out', '2 things are still open after the last reminder', '3 days late, call Mara Whitlock'],
			['Bounced', 'one thing is late, and Mara Whitlock is not reminded: mail to them came back', '3 days late, call Mara Whitlock']
		]);
		expect(await said('mail_trouble')).toEqual([
			['Bounced', `mail to ${bounced.client.email} did not arrive`, 'find a new address'],
			['Full Mailbox', `mail to ${full.client.email} did not arrive: the mailbox is full`, 'tell them another way'],
			['Cut Off', 'nobody knows whether “Papers” reached Mara Whitlock', 'ask them']
		]);
		expect(await said('no_address')).toEqual([['Nowhere', 'Mara Whitlock has no e-mail address', 'phone known']]);
		const listed: Record<string, number> = {};
		for (const { section } of (await readAll()).rows) listed[section] = (listed[section] ?? 0) + 1;
		expect(await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now()))).toMatchObject(listed);
		expect(Object.values(await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now()))).reduce((sum, n) => sum + n, 0)).toBe(
			(await readAll()).rows.length
		);
	});
	test('only mine: what comes of the clients somebody looks after, as it is counted', async () => {
		const mine = await ask('Mine', [paperLine('Lease', '2026-05-20')]);
		await sql(`update client set responsible_id = $1 where id = $2`, firm.partner.id, mine.client.id);
		const others = await ask('Of Others', [paperLine('Lease', '2026-05-05')]);
		for (const { items, client } of [mine, others]) {
			await sql(`update item set state = 'handed_in', state_at = '2026-05-04T12:00Z' where id = $1`, items[0].id);
			await sql(`update message set state = 'failed', reason = '550', settled_at = '2026-05-04T13:31Z' where contact_id = $1`, client.contactId);
			await client.run((tx) => writeOwnRemark(tx, client.mara(), { itemId: items[0].id, words: 'Which year?', pinned: null }));
			await sql(
				'insert into incoming_text (id, firm_id, gateway_id, contact_id, words, came_at) values (gen_random_uuid(), $1, gen_random_uuid()::text, $2, $3, $4)',
				firm.id,
				client.contactId,
				'tomorrow',
				'2026-05-04T12:00Z'
			);
		}
		const listed = await firm.run(async (tx) => readRounds(tx, firm.partner, await loadFirm(tx), { due: (d) => d }, firm.partner.id));
		expect(listed.rows.map(({ section, clientName }) => [section, clientName])).toEqual([
			['texts', 'Mine'],
			['talk', 'Mine'],
			['handed_in', 'Mine'],
			['mail_trouble', 'Mine']
		]);
		const counted = await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now(), firm.partner.id!));
		expect(Object.values(counted).reduce((sum, n) => sum + n, 0)).toBe(4);
		// kept with the person, for nobody else
		await firm.run((tx) => showOnlyMine(tx, firm.partner, true));
		expect(await firm.run(async (tx) => [await isOnlyMine(tx, firm.partner), await isOnlyMine(tx, firm.odalys())])).toEqual([true, false]);
	});
	test('an invitation: not opened, opened and left, about to lapse, lapsed', async () => {
		const people = ['Fresh', 'Unopened', 'Opened', 'Lapses', 'Lapsed'];
		for (const [i, name] of people.entries()) {
			const client = await makeClient(context, firm, { name, access: false });
			await sql(
				`insert into invitation (id, firm_id, contact_id, client_id, token_hash, sent_by_id, sent_at, expires_at, opened_at) values (gen_random_uuid(), $1, $2, $3, $4, $5, $6, $7, $8)`,
				firm.id,
				client.contactId,
				client.id,
				Buffer.from(name),
				firm.coordinator.id,
				['2026-05-03', '2026-04-20', '2026-04-21', '2026-04-22', '2026-04-01'][i],
				['2026-05-20', '2026-05-12T12:00Z', '2026-05-12T12:00Z', '2026-05-05T12:00Z', '2026-05-01T12:00Z'][i],
				name === 'Opened' ? '2026-04-22' : null
			);
		}
		expect(await said('not_taken_up')).toEqual([
			['Lapsed', 'Mara Whitlock has not opened the invitation', 'lapsed 2026-05-01'],
			['Unopened', 'Mara Whitlock has not opened the invitation', 'lapses 2026-05-12'],
			['Opened', 'Mara Whitlock opened the link but chose no password', 'lapses 2026-05-12'],
			['Lapses', 'Mara Whitlock has not opened the invitation', 'lapses soon']
		]);
		expect((await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now()))).not_taken_up).toBe(4);
	});
	test.each([
		['America/Halifax', '2026-05-06T02:30:00Z', 'due 2026-05-05'],
		['America/Halifax', '2026-05-06T03:30:00Z', 'came 1 day late'],
		// in Auckland it is the 6th already
		['Pacific/Auckland', '2026-05-05T20:00:00Z', 'came 1 day late'],
		['Pacific/Auckland', '2026-05-05T11:30:00Z', 'due 2026-05-05']
	])('what comes in is late by the firm’s own day: %s, %s', async (timeZone, at, aside) => {
		firm = await makeFirm(context, { timeZone });
		const { client, items } = await ask('Near Midnight', [questionLine('What?', '2026-05-05')]);
		context.clock.set(at);
		await client.run((tx) => answerItem(tx, client.mara(), { itemId: items[0].id, answer: 'Yes.' }));
		expect(await said('handed_in')).toEqual([['Near Midnight', 'What?', aside]]);
	});
	test('what is new since somebody looked is marked for them, and not for others', async () => {
		const answer = await answering('Kites', 2);
		await answer('2026-05-05T12:00:00Z');
		context.clock.set('2026-05-05T13:00:00Z');
		await firm.run((tx) => noteLooked(tx, firm.odalys()));
		await answer('2026-05-05T14:00:00Z');
		expect((await readAll()).rows.map((row) => row.isNew)).toEqual([false, true]);
		const theirs = await firm.run(async (tx) => readRounds(tx, firm.partner, await loadFirm(tx), { due: (date) => date }));
		expect(theirs.rows.map((row) => row.isNew)).toEqual([false, false]);
	});
});

describe('what came in', () => {
	test('stands together by client, where the client’s oldest stands, and there by age', async () => {
		const kites = await answering('Gull & String Kites', 3);
		const oysters = await answering('Ninth Rock Oysters', 2);
		await oysters('2026-05-05T12:00:00Z');
		await kites('2026-05-05T13:00:00Z');
		await oysters('2026-05-05T14:00:00Z');
		await kites('2026-05-06T12:00:00Z');
		await kites('2026-05-06T11:00:00Z');
		expect((await cameIn()).map((row) => [row.clientName, row.words])).toEqual([
			['Ninth Rock Oysters', 'Question 1'],
			['Ninth Rock Oysters', 'Question 2'],
			['Gull & String Kites', 'Question 1'],
			['Gull & String Kites', 'Question 3'],
			['Gull & String Kites', 'Question 2']
		]);
	});
	test('of two clients of one moment is not mixed', async () => {
		const answers = [await answering('One', 2), await answering('Another', 2)];
		for (const answer of [...answers, ...answers]) await answer('2026-05-05T12:00:00Z');
		const names = (await cameIn()).map((row) => row.clientName);
		expect(names[0]).toBe(names[1]);
		expect(names[2]).toBe(names[3]);
		expect(new Set(names).size).toBe(2);
	});
	test('is cut after the oldest clients, and counted whole', async () => {
		const late = await answering('Late', ROUNDS_SECTION_ROWS);
		const early = await answering('Early', 2);
		await early('2026-05-05T12:00:00Z');
		for (let i = 0; i < ROUNDS_SECTION_ROWS; i++) await late('2026-05-05T13:00:00Z');
		await early('2026-05-06T12:00:00Z');
		const names = (await cameIn()).map((row) => row.clientName);
		expect(names).toHaveLength(ROUNDS_SECTION_ROWS);
		expect(names.slice(0, 3)).toEqual(['Early', 'Early', 'Late']);
		expect((await firm.run(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now()))).handed_in).toBe(ROUNDS_SECTION_ROWS + 2);
	});
});
