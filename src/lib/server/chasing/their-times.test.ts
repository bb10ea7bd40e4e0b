import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import type { TheirTimes } from '$lib/core/calendar/their-times';
import { doWhatIsDue } from '../due/do-what-is-due';
import { changeFirmHours } from '../firm-settings/change-firm';
import { loadFirm } from '../firms/firm';
import { readHistory } from '../clients/read-clients';
import { changeClientRights } from '../clients/client-rights';
import { asStaff } from '../platform/db/database';
import { startReminders, stopOwnReminders } from '../people/stop-reminders';
import { chooseOwnWay, readWrittenTo } from '../people/written-to';
import { sendRequest } from '../requests/send-request';
import { chaseSentence } from '../rounds/chase-sentence';
import {
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	requestTo,
	sendPlanned,
	type TestClient,
	type TestContext,
	type TestFirm
} from '../testing/test-firm';
import { sendChaseNow } from './change-chase';
import { chasePeople } from './chase-people';
import { nextChases, readForecast } from './read-forecast';
import { changeTheirTimes, chooseOwnTimes, readWhoseNeverMeet } from './their-times';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
const START = '2026-05-04T15:00:00Z';

beforeAll(async () => {
	context = await openTestContext(START);
});
afterAll(() => context.close());
beforeEach(async () => {
	context.clock.set(START);
	context.mailer.sent.length = 0;
	firm = await makeFirm(context);
	client = await makeClient(context, firm);
});

const times = (more: Partial<TheirTimes> = {}): TheirTimes => ({ timeZone: null, from: null, to: null, quietDays: [], perWeek: null, ...more });
const VANCOUVER = times({ timeZone: 'America/Vancouver' });
/** Somebody of the firm changes when the client's contact is written to. */
const change = (to: TheirTimes, asRead = '', by = firm.odalys()) =>
	firm.run(async (tx) => changeTheirTimes(tx, by, await loadFirm(tx), { clientId: client.id, contactId: client.contactId, times: to, asRead }));
const choose = (to: TheirTimes, asRead = '') =>
	client.run(async (tx) => chooseOwnTimes(tx, client.mara(), await loadFirm(tx), { times: to, asRead }));
const kept = async () =>
	(await context.owner.query<{ times: TheirTimes | null }>('select times from contact where id = $1', [client.contactId])).rows[0].times;
const owe = (due: string) => sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Bank statement', due)]));
const forecast = (days: number) => firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], days));
const beatAt = async (at: string) => {
	context.clock.set(at);
	const planned = await chasePeople(context.db, firm.id, at);
	await sendPlanned(context, firm);
	return planned;
};

describe('a reminder goes when the firm’s hours and theirs allow it', () => {
	test('in their hours, as the Almanac and the head of the desk say, and why', async () => {
		await change(VANCOUVER);
		await owe('2026-05-08');
		const [first] = await forecast(10);
		expect(first).toMatchObject({ at: '2026-05-06T16:00:00Z', firmsHoursFrom: '2026-05-06T12:00:00Z', waitedFrom: null });
		expect((await firm.run(async (tx) => chaseSentence(first, await loadFirm(tx)))).why).toContain(
			'not at Wed 6 May 09:00, for they are written to in the firm’s hours in Vancouver'
		);
		expect(await firm.run(async (tx) => nextChases(tx, await loadFirm(tx), context.clock.now()))).toEqual({ at: '2026-05-06T16:00:00Z', people: 1 });
		expect(await beatAt('2026-05-06T12:00:00Z')).toBe(0);
		expect(await beatAt('2026-05-06T15:59:00Z')).toBe(0);
		expect(await beatAt('2026-05-06T16:00:00Z')).toBe(1);
		expect(await beatAt('2026-05-06T17:00:00Z')).toBe(0);
		expect(context.mailer.sent.filter(({ subject }) => /Friday|due/i.test(subject))).not.toEqual([]);
	});

	test('not on their quiet days, and not more often in a week than they wish', async () => {
		await change(times({ quietDays: [3], perWeek: 1 }));
		await owe('2026-05-08');
		const [first, second] = await forecast(30);
		// the step of Wednesday 6 May waits for Thursday, the one of Monday 11 May until seven days have passed
		expect([first.localDay, second.localDay]).toEqual(['2026-05-07', '2026-05-14']);
		expect(second.waitedFrom).toBe('2026-05-11');
		expect(await beatAt('2026-05-06T13:00:00Z')).toBe(0);
		expect(await beatAt('2026-05-07T12:00:00Z')).toBe(1);
		for (const day of ['08', '11', '12', '13']) expect(await beatAt(`2026-05-${day}T12:00:00Z`)).toBe(0);
		expect(await beatAt('2026-05-14T12:00:00Z')).toBe(1);
	});

	test('fewer a week counts for what has gone already, and so does taking it back', async () => {
		await owe('2026-05-08');
		await beatAt('2026-05-06T12:00:00Z');
		const next = async () => (await forecast(30))[0].localDay;
		expect(await next()).toBe('2026-05-11');
		await change(times({ perWeek: 1 }));
		expect(await next()).toBe('2026-05-13');
		expect(await beatAt('2026-05-11T12:00:00Z')).toBe(0);
		await change(times(), 'whenever the firm writes; at most one reminder a week');
		expect(await kept()).toBeNull();
		expect(await next()).toBe('2026-05-11');
		expect(await beatAt('2026-05-11T12:00:00Z')).toBe(1);
	});

	test('what was planned waits for their hours too, once they have changed; what somebody sends goes at once', async () => {
		await owe('2026-05-08');
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(1);
		context.clock.set('2026-05-06T12:00:00Z');
		expect(await chasePeople(context.db, firm.id, '2026-05-06T12:00:00Z')).toBe(1);
		await choose(VANCOUVER);
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(1);
		context.clock.set('2026-05-06T16:00:00Z');
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(2);
	});

	test('a reminder that somebody sends before its day goes at once', async () => {
		await change(VANCOUVER);
		await owe('2026-05-08');
		await sendPlanned(context, firm);
		context.mailer.sent.length = 0;
		context.clock.set('2026-05-05T12:30:00Z');
		const chase = { contactId: client.contactId, day: '2026-05-06' };
		await firm.run(async (tx) => sendChaseNow(tx, { ...firm.odalys(), now: context.clock.now() }, await loadFirm(tx), chase));
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(1);
		expect(await beatAt('2026-05-06T16:00:00Z')).toBe(0);
	});

	test('what is announced waits for them, and comes once', async () => {
		await change(VANCOUVER);
		context.clock.set('2026-05-05T12:10:00Z');
		await owe('2026-06-05');
		await sendPlanned(context, firm);
		// the second request of a day is told of with the next day's message
		await owe('2026-06-08');
		context.mailer.sent.length = 0;
		for (const at of ['2026-05-06T12:00:00Z', '2026-05-06T15:50:00Z', '2026-05-06T16:10:00Z', '2026-05-06T16:40:00Z']) {
			context.clock.set(at);
			await doWhatIsDue(context, firm.id, at);
			await sendPlanned(context, firm);
			expect(context.mailer.sent).toHaveLength(at < '2026-05-06T16' ? 0 : 1);
		}
	});
});

describe('hours that do not meet the firm’s', () => {
	test('are refused in words that say when the firm writes where they are, and nothing is changed', async () => {
		await expect(change(times({ timeZone: 'Pacific/Auckland' }))).rejects.toMatchObject({
			code: 'invalid',
			what: { key: 'wrong.times.never', values: { from: '00:00', to: '08:00', place: 'Auckland' } }
		});
		expect(await kept()).toBeNull();
	});

	test('after the firm has changed its own: the firm’s hold alone, and the firm is told whose', async () => {
		await change(times({ from: '15:00', to: '17:00' }));
		await owe('2026-05-08');
		const never = () => firm.run(async (tx) => readWhoseNeverMeet(tx, firm.odalys(), await loadFirm(tx)));
		expect(await never()).toEqual([]);
		await firm.run((tx) =>
			changeFirmHours(
				tx,
				{ ...firm.partner, role: 'administrator', now: START },
				{ timeZone: 'America/Halifax', businessDays: [1, 2, 3, 4, 5], sendFrom: '08:00', sendTo: '12:00' }
			)
		);
		expect(await never()).toEqual([{ id: client.contactId, name: 'Mara Whitlock', clientId: client.id }]);
		expect((await forecast(10))[0]).toMatchObject({ at: '2026-05-06T11:00:00Z', firmsHoursFrom: null });
		expect(await beatAt('2026-05-06T11:00:00Z')).toBe(1);
	});
});

describe('who may change them', () => {
	test('the contact themselves; both changes are in the history, and saving twice is one', async () => {
		await choose(VANCOUVER);
		await choose(VANCOUVER);
		await change(times({ timeZone: 'America/Vancouver', perWeek: 1 }), 'in the firm’s hours in Vancouver');
		const history = await firm.run((tx) => readHistory(tx, firm.odalys(), client.id, null, 10));
		expect(history.filter(({ verb }) => verb.includes('times')).map(({ verb, details }) => [verb, details.times])).toEqual([
			['contact_times_changed', 'in the firm’s hours in Vancouver; at most one reminder a week'],
			['times_chosen', 'in the firm’s hours in Vancouver']
		]);
	});

	test('nobody overwrites what they have not seen', async () => {
		await choose(VANCOUVER);
		await expect(change(times({ perWeek: 1 }))).rejects.toMatchObject({ code: 'changed_meanwhile', stands: 'in the firm’s hours in Vancouver' });
		expect(await kept()).toEqual(VANCOUVER);
	});

	test('not who may not invite, not by another client, not for whom the client is closed', async () => {
		await expect(change(VANCOUVER, '', { ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
		const other = await makeClient(context, firm, { name: 'Other' });
		await expect(
			firm.run(async (tx) =>
				changeTheirTimes(tx, firm.odalys(), await loadFirm(tx), { clientId: other.id, contactId: client.contactId, times: VANCOUVER, asRead: '' })
			)
		).rejects.toMatchObject({ code: 'not_found' });
		await expect(firm.run(async (tx) => chooseOwnTimes(tx, firm.odalys(), await loadFirm(tx), { times: VANCOUVER, asRead: '' }))).rejects.toThrow();
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		const closed = asStaff(context.db, firm.partner.id!).inFirm(firm.id, async (tx) =>
			changeTheirTimes(tx, firm.partner, await loadFirm(tx), { clientId: client.id, contactId: client.contactId, times: VANCOUVER, asRead: '' })
		);
		await expect(closed).rejects.toMatchObject({ code: 'not_found' });
		expect(await kept()).toBeNull();
	});
});

describe('how a contact is written to, by themselves', () => {
	test('by text only where text can go', async () => {
		await expect(client.run((tx) => chooseOwnWay(tx, client.mara(), 'text'))).rejects.toMatchObject({ code: 'invalid' });
		await context.owner.query(`update contact set phone = '+19025550143' where id = $1`, [client.contactId]);
		await client.run((tx) => chooseOwnWay(tx, client.mara(), 'both'));
		expect(await client.run((tx) => readWrittenTo(tx, client.mara()))).toMatchObject({ channels: 'both', mailProblem: null });
		await context.owner.query(`update contact set text_problem = 'stopped' where id = $1`, [client.contactId]);
		await expect(client.run((tx) => chooseOwnWay(tx, client.mara(), 'text'))).rejects.toMatchObject({ code: 'invalid' });
		await client.run((tx) => chooseOwnWay(tx, client.mara(), 'email'));
	});

	test('reminders stop and come again; what is new comes all the same', async () => {
		await owe('2026-05-08');
		await client.run((tx) => stopOwnReminders(tx, client.mara()));
		await client.run((tx) => stopOwnReminders(tx, client.mara()));
		expect(await beatAt('2026-05-06T12:00:00Z')).toBe(0);
		context.mailer.sent.length = 0;
		await owe('2026-06-08');
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(1);
		await client.run((tx) => startReminders(tx, client.mara(), client.contactId));
		expect(await beatAt('2026-05-07T12:00:00Z')).toBe(1);
		const { rows } = await context.owner.query(
			`select verb, actor_kind from event where firm_id = $1 and verb in ('reminders_stopped', 'reminders_started') order by id`,
			[firm.id]
		);
		expect(rows).toEqual([
			{ verb: 'reminders_stopped', actor_kind: 'contact' },
			{ verb: 'reminders_started', actor_kind: 'contact' }
		]);
	});
});
