import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { aroundDue, type ChaseStep } from '$lib/core/chasing/chase-plan';
import type { Actor } from '../actor';
import { changeClientRights } from '../clients/client-rights';
import { saveChasePlan } from '../firm-settings/chase-plans';
import { loadFirm } from '../firms/firm';
import { moveItem, lockItem } from '../items/change-item';
import { readRounds } from '../rounds/read-rounds';
import { asStaff } from '../platform/db/database';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { callNoteSchema, noteCall, readCall } from './calls';
import { chasePeople } from './chase-people';
import { readForecast } from './read-forecast';

useFirm();
let key: string;
let item: string;
const due = (days: number, by: ChaseStep['by']): ChaseStep => ({ ...aroundDue(days), by });

/** Due on Tuesday 5 May: called one business day after, on Wednesday; written to on Thursday; a partner is told on the 14th. */
beforeEach(async () => {
	const administrator: Actor = { ...firm.partner, role: 'administrator' };
	key = await firm.run((tx) =>
		saveChasePlan(tx, administrator, { key: null }, { name: 'Calls', steps: [due(1, 'call'), due(2, 'usual'), due(7, 'partner')] })
	);
	item = await ask();
	await sendPlanned(context, firm);
	await live('2026-05-05', 2);
});
async function ask(of = client, dueOn = '2026-05-05') {
	const input = {
		...requestTo(of, [paperLine('Lease', dueOn), paperLine('Permit', '2026-07-31')]),
		idempotencyKey: randomUUID(),
		chasePlan: key
	};
	return (await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), input)))[0].id as string;
}
/** Every morning from a day on, as the worker sees it. */
async function live(from: string, days: number) {
	for (let n = 0; n < days; n++) {
		context.clock.set(`${addDays(from, n)}T13:00:00Z`);
		await chasePeople(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
	}
}
const calls = async () =>
	(
		await context.owner.query<{ id: string; for_partner: boolean; tries: number }>(
			'select id, for_partner, tries from chase_call where firm_id = $1 and done_at is null order by made_at',
			[firm.id]
		)
	).rows;
const chases = async () =>
	(
		await context.owner.query<{ day: string }>(
			`select (planned_at at time zone 'America/Halifax')::date::text as day from message where firm_id = $1 and kind = 'chase' order by planned_at`,
			[firm.id]
		)
	).rows.map(({ day }) => day);
const rounds = async () =>
	(await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (d) => d }))).rows.filter(
		({ section }) => section === 'calls'
	);
const today = () => localDate(context.clock.now(), { timeZone: 'America/Halifax' });
const note = async (input: object, by: Actor = firm.odalys()) => {
	const [call] = await calls();
	return firm.run(async (tx) => noteCall(tx, by, await loadFirm(tx), call.id, callNoteSchema(today()).parse(input)));
};
const planned = async () =>
	(await firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], 40))).map(({ localDay, held }) => [
		localDay,
		held?.why ?? null
	]);

describe('a call for a person', () => {
	test('it stands in Rounds with the number and all that is open, and holds the next reminder for three business days, as the forecast says', async () => {
		expect(await chases()).toEqual([]);
		const [row] = await rounds();
		expect(row).toMatchObject({ words: `call Mara Whitlock: 2 things open`, clientId: client.id });
		const call = await firm.run((tx) => readCall(tx, firm.odalys(), row.key.replace('call-', '')));
		expect(call).toMatchObject({ forPartner: false, tries: 0, before: [] });
		expect(call.items.map(({ title }) => title)).toEqual(['Lease', 'Permit']);
		expect((await planned())[0]).toEqual(['2026-05-11', 'called']);
		await live('2026-05-07', 5);
		expect(await chases()).toEqual(['2026-05-11']);
		// and the call still waits
		expect(await rounds()).toHaveLength(1);
	});
	test('reached: reminders go on with the step that comes next, what passed meanwhile is not made up for', async () => {
		await live('2026-05-07', 2);
		await note({ outcome: 'reached', note: 'She looks for it' });
		expect(await rounds()).toEqual([]);
		expect((await planned())[0]).toEqual(['2026-05-14', null]);
		const { rows } = await context.owner.query(`select details from event where firm_id = $1 and verb = 'call_noted'`, [firm.id]);
		expect(rows.map(({ details }) => details)).toEqual([{ contact: 'Mara Whitlock', outcome: 'reached', note: ': “She looks for it”' }]);
		await expect(note({ outcome: 'reached' })).rejects.toThrow();
	});
	test('promised: nobody reminds them before the business day after it, whatever falls due', async () => {
		await note({ outcome: 'promised', until: '2026-05-15', note: 'on Friday' });
		expect((await planned())[0]).toEqual(['2026-05-18', 'promised']);
		await live('2026-05-07', 8);
		expect(await chases()).toEqual([]);
		expect(callNoteSchema('2026-05-06').safeParse({ outcome: 'promised' }).error?.issues[0].message).toBe('Until when did they promise it?');
		expect(callNoteSchema('2026-05-06').safeParse({ outcome: 'promised', until: '2026-05-05' }).success).toBe(false);
		expect(callNoteSchema('2026-05-06').safeParse({ outcome: 'promised', until: '2028-05-05' }).success).toBe(false);
	});
	test('not reached: it comes back on the next business day, and says how often', async () => {
		await note({ outcome: 'not_reached' });
		expect(await rounds()).toEqual([]);
		context.clock.set('2026-05-07T13:00:00Z');
		expect((await rounds())[0].words).toContain('not reached once');
		await note({ outcome: 'not_reached' });
		context.clock.set('2026-05-08T13:00:00Z');
		expect((await rounds())[0].words).toContain('not reached 2 times');
	});
	test('will not do it: nobody reminds them of it any more, and it stays open', async () => {
		await note({ outcome: 'refused', note: 'Uses another firm now' });
		expect(await planned()).toEqual([]);
		const { rows } = await context.owner.query('select state, chase_plan from item where id = $1', [item]);
		expect(rows).toEqual([{ state: 'asked', chase_plan: 'none' }]);
	});
	test('once nothing is open any more there is nothing to call about; what is asked later is a call of its own', async () => {
		const open = (await context.owner.query<{ id: string }>(`select id from item where contact_id = $1 and phase = 'open'`, [client.contactId])).rows;
		for (const { id } of open)
			await firm.run(async (tx) => moveItem(tx, firm.odalys(), await loadFirm(tx), await lockItem(tx, id), 'waive', { reason: 'x' }));
		expect(await rounds()).toEqual([]);
		const before = (await calls()).map(({ id }) => id);
		await ask(client, '2026-05-08');
		await live('2026-05-07', 8);
		expect((await calls()).some(({ id }) => before.includes(id))).toBe(false);
		expect(await rounds()).not.toEqual([]);
	});
	test('a day on which somebody is only called tells them nothing, and what is new waits for a message', async () => {
		const other = await makeClient(context, firm, { name: 'Second' });
		await ask(other, '2026-05-06');
		await ask(other, '2026-05-06');
		const untold = async () =>
			(await context.owner.query('select 1 from request_announcement where contact_id = $1 and told_at is null', [other.contactId])).rowCount;
		expect(await untold()).toBe(1);
		await live('2026-05-07', 1);
		expect((await rounds()).map(({ clientName }) => clientName)).toContain('Second');
		expect(await untold()).toBe(1);
	});
	test('one for each client of a person, and each is noted by itself', async () => {
		const second = await makeClient(context, firm, { name: 'Second' });
		await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 2)', [
			firm.id,
			second.id,
			client.contactId
		]);
		await ask({ ...second, contactId: client.contactId }, '2026-05-08');
		await live('2026-05-11', 2);
		expect((await rounds()).map(({ clientName }) => clientName).toSorted()).toEqual(['Gull & String Kites', 'Second']);
	});
	test('whoever may not see the client finds no call, and whoever may not judge notes none', async () => {
		const [call] = await calls();
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		await expect(asStaff(context.db, firm.partner.id!).inFirm(firm.id, (tx) => readCall(tx, firm.partner, call.id))).rejects.toMatchObject({
			code: 'not_found'
		});
		await expect(note({ outcome: 'reached' }, { ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(note({ outcome: 'seen' })).rejects.toMatchObject({ code: 'invalid' });
	});
});

describe('a partner is told', () => {
	test('by one mail, with what is open and where it is dealt with; it stands in Rounds until it is seen', async () => {
		await note({ outcome: 'reached' });
		const before = context.mailer.sent.length;
		await live('2026-05-07', 8);
		const mails = context.mailer.sent.slice(before).filter(({ subject }) => subject.includes('reminders have not helped'));
		expect(mails).toHaveLength(1);
		expect(mails[0].text).toContain('Lease');
		const [row] = await rounds();
		expect(row).toMatchObject({ words: 'nothing has helped with Mara Whitlock: 2 things open', aside: 'for a partner' });
		expect(mails[0].text).toContain(`/desk/rounds/${row.key}`);
		await expect(note({ outcome: 'reached' })).rejects.toMatchObject({ code: 'invalid' });
		await note({ outcome: 'seen', note: 'I write to her' }, firm.partner);
		expect(await rounds()).toEqual([]);
	});
	test('the mail does not go once somebody has dealt with it, nor to a partner to whom the client is closed', async () => {
		await note({ outcome: 'reached' });
		await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		await live('2026-05-07', 8);
		const { rows } = await context.owner.query<{ staff_id: string }>(`select staff_id from message where firm_id = $1 and kind = 'partner_told'`, [
			firm.id
		]);
		expect(rows.map(({ staff_id }) => staff_id)).not.toContain(firm.partner.id);
	});
});
