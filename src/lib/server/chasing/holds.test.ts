import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import { addDays } from '$lib/core/calendar/firm-calendar';
import { aroundDue } from '$lib/core/chasing/chase-plan';
import type { Actor } from '../actor';
import type { Right } from '$lib/core/clients/client-rights';
import { changeClientRights } from '../clients/client-rights';
import { saveChasePlan } from '../firm-settings/chase-plans';
import { loadFirm } from '../firms/firm';
import { answerItem } from '../item-kinds/kinds/question';
import { asStaff } from '../platform/db/database';
import { readItemLeaf } from '../rounds/item-leaf';
import { sendRequest } from '../requests/send-request';
import { itemsOf, paperLine, questionLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { chasePeople } from './chase-people';
import { letRemindersGoOn, pauseReminders, readHolds, readHoldsOfThing, type HeldOf } from './holds';
import { peopleHeld, readForecast } from './read-forecast';

useFirm();
let lease: { id: string; requestId: string };
let question: string;
let licence: string;

/** A lease and a question in one request, a licence in another, all due on Tuesday 5 May and reminded of one, three and five business days after. */
beforeEach(async () => {
	const administrator: Actor = { ...firm.partner, role: 'administrator' };
	const chasePlan = await firm.run((tx) =>
		saveChasePlan(tx, administrator, { key: null }, { name: 'Odd days', steps: [1, 3, 5].map((days) => ({ ...aroundDue(days), by: 'usual' })) })
	);
	const ask = async (lines: Parameters<typeof requestTo>[1]) => {
		const request = await sendRequest(context, firm.id, firm.odalys(), { ...requestTo(client, lines), idempotencyKey: randomUUID(), chasePlan });
		return (await itemsOf(context, request)).map(({ id }) => ({ id: id as string, requestId: request }));
	};
	const [first, second] = await ask([paperLine('Lease', '2026-05-05'), questionLine('Shop', '2026-05-05')]);
	lease = first;
	question = second.id;
	licence = (await ask([paperLine('Licence', '2026-05-05')]))[0].id;
	await sendPlanned(context, firm);
});
const pause = (of: HeldOf, until: string, by: Actor = firm.odalys()) =>
	asStaff(context.db, by.id!).inFirm(firm.id, async (tx) => pauseReminders(tx, by, await loadFirm(tx), of, { until, reason: 'The bank is slow' }));
const goOn = (of: HeldOf) => firm.run(async (tx) => letRemindersGoOn(tx, firm.odalys(), await loadFirm(tx), of));
/** Each reminder that is foreseen: its day and what it names. */
const foreseen = async () =>
	(await firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], 30))).map((chase) => [
		chase.localDay,
		chase.items.map(({ title }) => title).sort(),
		chase.held?.why ?? null
	]);
/** What went until a day, as `foreseen` puts it. */
async function lived(until: string) {
	for (let day = '2026-05-05'; day <= until; day = addDays(day, 1)) {
		context.clock.set(`${day}T13:00:00Z`);
		await chasePeople(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
	}
	const { rows } = await context.owner.query<{ day: string; titles: string[] }>(
		`select (m.planned_at at time zone 'America/Halifax')::date::text as day, array_agg(i.title order by i.title) titles
		from message m join message_item mi on mi.message_id = m.id join item i on i.id = mi.item_id
		where m.firm_id = $1 and m.kind = 'chase' and i.next_chase_on is distinct from '1900-01-01' group by m.id order by m.planned_at`,
		[firm.id]
	);
	return rows.map(({ day }) => day);
}
const shown = () => firm.run((tx) => readHolds(tx, firm.odalys(), client.id, '2026-05-04'));

describe('a pause of one thing, or of a request', () => {
	test('one thing is left out of the reminders until the day, everything else goes as planned; what is foreseen is what happens', async () => {
		await pause({ itemId: lease.id }, '2026-05-19');
		const before = await foreseen();
		expect(before).toEqual([
			['2026-05-06', ['Licence', 'Shop'], null],
			['2026-05-08', ['Licence', 'Shop'], null],
			['2026-05-13', ['Licence', 'Shop'], null],
			['2026-05-19', ['Lease', 'Licence', 'Shop'], 'paused']
		]);
		expect(await lived('2026-05-25')).toEqual(before.map(([day]) => day));
	});
	test('all of a request: what another one asks is reminded of', async () => {
		await pause({ requestId: lease.requestId }, '2026-05-30');
		expect(
			(await foreseen()).filter(([, titles]) => titles!.includes('Licence')).every(([, titles]) => titles!.length === 1 || titles!.length === 3)
		).toBe(true);
		expect((await foreseen()).filter(([, titles]) => titles!.includes('Lease'))).toEqual([['2026-06-01', ['Lease', 'Licence', 'Shop'], 'paused']]);
	});
	test('the longest of what holds it counts; let go on, it goes on by the plan', async () => {
		const plain = await foreseen();
		await pause({ itemId: lease.id }, '2026-05-19');
		await pause({ requestId: lease.requestId }, '2026-05-21');
		expect((await foreseen()).find(([, titles]) => titles!.includes('Lease'))![0]).toBe('2026-05-21');
		await goOn({ requestId: lease.requestId });
		expect((await foreseen()).find(([, titles]) => titles!.includes('Lease'))![0]).toBe('2026-05-19');
		await goOn({ itemId: lease.id });
		expect(await foreseen()).toEqual(plain);
	});
	test('it is shown beside the client and the thing, with why, and stands among the people who are held', async () => {
		await pause({ itemId: lease.id }, '2026-05-11');
		await pause({ itemId: lease.id }, '2026-05-12');
		await pause({ requestId: lease.requestId }, '2026-05-13');
		expect((await shown()).map(({ title, until, reason, itemId }) => [title, until, reason, itemId])).toEqual([
			['Getting started', '2026-05-13', 'The bank is slow', null],
			['Lease', '2026-05-12', 'The bank is slow', lease.id]
		]);
		expect(await firm.run((tx) => readHoldsOfThing(tx, firm.odalys(), { id: question, requestId: lease.requestId }, '2026-05-04'))).toHaveLength(1);
		expect(await firm.run((tx) => peopleHeld(tx, '2026-05-04'))).toEqual([client.contactId]);
		const { rows } = await context.owner.query(
			`select details ->> 'whom' whom, item_id from event where firm_id = $1 and verb = 'reminders_held' order by id desc limit 2`,
			[firm.id]
		);
		expect(rows).toEqual([
			{ whom: 'all of “Getting started”', item_id: null },
			{ whom: '“Lease”', item_id: lease.id }
		]);
	});
	test('what is paused for months still says beside it when it goes', async () => {
		await pause({ requestId: lease.requestId }, '2026-11-30');
		const leaf = await firm.run(async (tx) => readItemLeaf(tx, firm.odalys(), await loadFirm(tx), lease.id));
		expect([leaf.nextChase?.when, leaf.holds.length]).toEqual([expect.stringContaining('30 Nov'), 1]);
	});
	test('its person answers it all the same, and the pause shows no more', async () => {
		await pause({ itemId: question }, '2026-05-11');
		await client.run((tx) => answerItem(tx, client.mara(), { itemId: question, answer: 'Two' }));
		expect(await shown()).toEqual([]);
		expect((await foreseen()).flatMap(([, titles]) => titles)).not.toContain('Shop');
	});
	test('whoever may only see the client, or not even that, pauses nothing and reads no pause', async () => {
		await pause({ itemId: licence }, '2026-05-11');
		const { partner } = firm;
		const colleague: Actor = { ...partner, role: 'bookkeeper' };
		await context.owner.query(`update staff set role = 'bookkeeper' where id = $1`, [partner.id]);
		const close = (rights: { id: string; level: Right }[]) =>
			firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights }));
		const theirs = asStaff(context.db, partner.id!);
		await close([{ id: partner.id!, level: 'see' }]);
		for (const of of [{ itemId: lease.id }, { requestId: lease.requestId }])
			await expect(pause(of, '2026-05-11', colleague)).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(
			theirs.inFirm(firm.id, async (tx) => letRemindersGoOn(tx, colleague, await loadFirm(tx), { itemId: licence }))
		).rejects.toMatchObject({ code: 'not_allowed' });
		await close([]);
		for (const of of [{ itemId: lease.id }, { requestId: lease.requestId }])
			await expect(pause(of, '2026-05-11', colleague)).rejects.toMatchObject({ code: 'not_found' });
		expect(await theirs.inFirm(firm.id, (tx) => tx.rows('select 1 from chase_hold'))).toEqual([]);
	});
});
