import { afterAll, beforeAll, expect, test } from 'vitest';
import { addToInstant, openingsBetween } from '$lib/core/calendar/firm-calendar';
import type { RequestLine } from '$lib/core/requests/request-list';
import type { Signer } from '$lib/core/signing/signers';
import { doWhatIsDue } from './do-what-is-due';
import { readRounds } from '../rounds/read-rounds';
import { noteShownWhole, signLetter } from '../signing/sign-letter';
import { countersignLetter } from '../signing/countersign-letter';
import {
	itemsOf,
	letterLine,
	letterOf,
	makeClient,
	SECRET_KEY,
	makeFirm,
	openTestContext,
	requestTo,
	sendPlanned,
	type TestClient,
	type TestContext,
	type TestFirm
} from '../testing/test-firm';
import { loadFirm } from '../firms/firm';
import { readForecast } from '../chasing/read-forecast';
import { readLapseNotices } from '../requests/lapse-letters';
import { moveDueDate } from '../requests/judge-item';
import { sendRequest } from '../requests/send-request';

let context: TestContext;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());

const VALUES = { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' };
const BOTH: Signer[] = [
	{ key: 'a', who: { as: 'first' }, does: 'signs', rank: 1 },
	{ key: 'b', who: { as: 'second' }, does: 'signs', rank: 1 },
	{ key: 'f', who: { as: 'firm', staffId: null }, does: 'signs', rank: 2 }
];
const ONE: Signer[] = [BOTH[0], { ...BOTH[2], rank: 2 }];

function letterFor(days: number | null, signers: Signer[], dueOn = '2026-03-09'): RequestLine {
	const line = letterLine('Engagement letter', dueOn, VALUES) as Extract<RequestLine, { kind: 'letter' }>;
	return { ...line, spec: { signing: { documents: [], places: [], signers, lapseDays: days } } };
}
async function sent(firm: TestFirm, client: TestClient, line: RequestLine): Promise<string> {
	const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [line]));
	const [item] = await itemsOf(context, requestId);
	await letterOf(context, firm, item.id);
	await sendPlanned(context, firm);
	return item.id;
}
const at = async (firm: TestFirm, instant: string) => {
	context.clock.set(instant);
	await doWhatIsDue(context, firm.id, instant);
	await sendPlanned(context, firm);
};
const kinds = async (contactId: string) =>
	(
		await context.owner.query<{ kind: string }>(`select kind from message where contact_id = $1 and state = 'sent' order by planned_at, kind`, [
			contactId
		])
	).rows.map(({ kind }) => kind);
const letterState = async (itemId: string) =>
	(
		await context.owner.query(
			`select l.state, l.lapses_on::text, i.state item from letter_signer s join letter l on l.id = s.letter_id join item i on i.id = s.item_id where s.item_id = $1`,
			[itemId]
		)
	).rows[0];
async function signs(client: TestClient, itemId: string): Promise<void> {
	await client.run((tx) => noteShownWhole(tx, client.mara(), itemId));
	await client.run((tx) =>
		signLetter(tx, client.mara(), { itemId, signature: { method: 'typed', name: 'Mara Whitlock' }, consent: true }, SECRET_KEY)
	);
}

// the clocks change in Halifax on 8 March, in Auckland on 5 April
test.each([
	{
		timeZone: 'America/Halifax',
		sentAt: '2026-03-05T14:00:00Z',
		last: '2026-03-15',
		dueOn: '2026-03-09',
		noticeAt: '2026-03-12T13:30:00Z',
		lastMinute: '2026-03-16T02:59:00Z',
		over: '2026-03-16T03:00:00Z'
	},
	{
		timeZone: 'Pacific/Auckland',
		sentAt: '2026-03-30T22:00:00Z',
		last: '2026-04-10',
		dueOn: '2026-04-02',
		noticeAt: '2026-04-06T22:30:00Z',
		lastMinute: '2026-04-10T11:59:00Z',
		over: '2026-04-10T12:00:00Z'
	}
])('it ends with its last day where the firm is: $timeZone', async ({ timeZone, sentAt, last, dueOn, noticeAt, lastMinute, over }) => {
	context.clock.set(sentAt);
	const firm = await makeFirm(context, { timeZone });
	const client = await makeClient(context, firm);
	const itemId = await sent(firm, client, letterFor(10, ONE, dueOn));
	expect(await letterState(itemId)).toEqual({ state: 'sent', lapses_on: last, item: 'asked' });
	await context.owner.query(`update contact set last_told_on = null where id = $1`, [client.contactId]);
	// on the first of its last days on which nothing else goes
	for (let days = 0; days < 3; days++) await at(firm, new Date(Date.parse(noticeAt) + days * 86_400_000).toISOString());
	expect((await kinds(client.contactId)).filter((kind) => kind === 'letter_lapses')).toHaveLength(1);
	const { rows: days } = await context.owner.query(
		`select (sent_at at time zone $2)::date::text as day from message where contact_id = $1 and state = 'sent' and kind <> 'request' order by 1`,
		[client.contactId, timeZone]
	);
	expect(new Set(days.map(({ day }) => day)).size).toBe(days.length);
	await at(firm, lastMinute);
	expect((await letterState(itemId)).state).toBe('sent');
	await at(firm, over);
	expect(await letterState(itemId)).toMatchObject({ state: 'lapsed', item: 'declined' });
	// told once, and nobody signs any more
	expect((await kinds(client.contactId)).filter((kind) => kind === 'letter_lapses')).toHaveLength(1);
	await expect(signs(client, itemId)).rejects.toMatchObject({ code: 'changed_meanwhile' });
});

test('who is told of it gets nothing else that day, and no reminder that was promised gives way to it; it is in the history, in Rounds and in the trail', async () => {
	context.clock.set('2026-03-05T14:00:00Z');
	const firm = await makeFirm(context);
	const client = await makeClient(context, firm);
	const itemId = await sent(firm, client, letterFor(5, ONE, '2026-03-11'));
	const before = (await kinds(client.contactId)).length;
	// both a reminder and the notice are due on the first of these days: the reminder was promised
	await at(firm, '2026-03-09T13:00:00Z');
	expect((await kinds(client.contactId)).slice(before)).toEqual(['chase']);
	await at(firm, '2026-03-10T13:00:00Z');
	expect((await kinds(client.contactId)).slice(before)).toEqual(['chase', 'letter_lapses']);
	const mail = context.mailer.sent.at(-1)!;
	expect(mail.subject).toContain('Engagement letter');
	expect(mail.text).toContain('Wed 11 Mar');
	await at(firm, '2026-03-12T13:00:00Z');
	const { rows } = await context.owner.query(`select verb, details ->> 'until' until from event where item_id = $1 and verb = 'item_lapsed'`, [
		itemId
	]);
	expect(rows).toEqual([{ verb: 'item_lapsed', until: 'Wed 11 Mar' }]);
	const rounds = await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (date) => date }));
	expect(rounds.rows.map(({ words }) => words)).toContain('“Engagement letter” has lapsed: nobody signed it in time');
	const trail = await context.owner.query(
		`select said from letter_trail t join letter l on l.id = t.letter_id where l.item_id = $1 order by number desc limit 1`,
		[itemId]
	);
	expect(trail.rows[0].said).toContain('item_lapsed');
});

test.each([
	['America/Halifax', '2026-03-05T14:00:00Z', 10, '2026-03-09'],
	['America/Halifax', '2026-03-05T14:00:00Z', 5, '2026-03-11'],
	['Pacific/Auckland', '2026-03-29T22:00:00Z', 12, '2026-04-02']
])('what the Almanac shows of reminders and of the notice is what goes: %s, %s, %i days', async (timeZone, sentAt, lapseDays, dueOn) => {
	context.clock.set(sentAt);
	const firm = await makeFirm(context, { timeZone });
	const client = await makeClient(context, firm);
	await sent(firm, client, letterFor(lapseDays, ONE, dueOn));
	const { calendar } = await firm.run(loadFirm);
	const shown = await firm.run(async (tx) => {
		const of = await loadFirm(tx);
		const chases = await readForecast(tx, firm.odalys(), of, [client.contactId], 28);
		const told = new Set(chases.map(({ contactId, localDay }) => `${contactId} ${localDay}`));
		const notices = await readLapseNotices(tx, firm.odalys(), of, 28, told);
		return [...chases.map(({ at }) => `${at} chase`), ...notices.map(({ at }) => `${at} letter_lapses`)].sort();
	});
	expect(shown.filter((one) => one.endsWith('letter_lapses'))).toHaveLength(1);
	const before = (await kinds(client.contactId)).length;
	for (const opening of openingsBetween(sentAt, addToInstant(sentAt, { hours: 28 * 24 }), calendar)) await at(firm, opening);
	const { rows } = await context.owner.query<{ at: string; kind: string }>(
		`select to_char(planned_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') at, kind from message where contact_id = $1 and kind in ('chase', 'letter_lapses') order by planned_at`,
		[client.contactId]
	);
	expect(rows.map((row) => `${row.at} ${row.kind}`)).toEqual(shown);
	expect((await kinds(client.contactId)).length).toBe(before + shown.length);
});

test('of several the one who has signed is told that it ended, and nothing lapses that waits for us alone', async () => {
	context.clock.set('2026-03-05T14:00:00Z');
	const firm = await makeFirm(context);
	const client = await makeClient(context, firm);
	const other = await makeClient(context, firm);
	await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 2)', [
		firm.id,
		client.id,
		other.contactId
	]);
	const itemId = await sent(firm, client, letterFor(5, BOTH));
	await signs(client, itemId);
	await letterOf(context, firm, itemId);
	await at(firm, '2026-03-11T13:00:00Z');
	await letterOf(context, firm, itemId);
	await sendPlanned(context, firm);
	expect(await letterState(itemId)).toMatchObject({ state: 'lapsed' });
	expect(await kinds(client.contactId)).toContain('letter_stopped');
	expect(context.mailer.sent.at(-1)!.text).toContain('was not signed by everybody in time');

	context.clock.set('2026-03-05T14:00:00Z');
	const whole = await makeClient(context, firm);
	const second = await sent(firm, whole, letterFor(5, ONE));
	await signs(whole, second);
	await at(firm, '2026-03-20T13:00:00Z');
	expect((await letterState(second)).state).toBe('signed');
	const { rows } = await context.owner.query(`select encode(sha256, 'hex') sha256 from letter where item_id = $1`, [second]);
	const by = { ...firm.partner, now: context.clock.now() };
	await firm.run((tx) => countersignLetter(tx, by, { itemId: second, sha256: rows[0].sha256, signature: { method: 'typed', name: by.name } }));
});

test('it never lapses before it is due, also when that is moved; a longer time is told of anew', async () => {
	context.clock.set('2026-03-05T14:00:00Z');
	const firm = await makeFirm(context);
	const client = await makeClient(context, firm);
	expect((await letterState(await sent(firm, client, letterFor(5, ONE, '2026-04-30')))).lapses_on).toBe('2026-04-30');
	const itemId = await sent(firm, client, letterFor(5, ONE));
	await at(firm, '2026-03-09T13:00:00Z');
	await at(firm, '2026-03-10T13:00:00Z');
	const { rows } = await context.owner.query('select version from item where id = $1', [itemId]);
	await firm.run((tx) => moveDueDate(tx, firm.odalys(), { itemId, version: rows[0].version, dueOn: '2026-03-20' }));
	expect((await letterState(itemId)).lapses_on).toBe('2026-03-20');
	await at(firm, '2026-03-11T13:00:00Z');
	expect((await letterState(itemId)).state).toBe('sent');
	await at(firm, '2026-03-18T13:00:00Z');
	await at(firm, '2026-03-19T13:00:00Z');
	expect((await kinds(client.contactId)).filter((kind) => kind === 'letter_lapses')).toHaveLength(1);
	// where a message goes on each of the last days, those say until when
	expect(context.mailer.sent.map(({ text }) => text).join()).toContain('Engagement letter (by Mon 9 Mar). It can be signed until Tue 10 Mar.');
	// without an end it waits as long as it takes
	const open = await sent(firm, client, letterFor(null, ONE, '2026-06-30'));
	await at(firm, '2027-03-18T13:00:00Z');
	expect(await letterState(open)).toMatchObject({ state: 'sent', lapses_on: null });
});
