import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import { addDays, type FirmCalendar } from '$lib/core/calendar/firm-calendar';
import { aroundDue } from '$lib/core/chasing/chase-plan';
import { goesOnAfter } from '$lib/core/chasing/hold';
import type { PauseEnd } from '$lib/core/chasing/sooner';
import type { Actor } from '../actor';
import type { Right } from '$lib/core/clients/client-rights';
import { changeClientRights } from '../clients/client-rights';
import { saveChasePlan } from '../firm-settings/chase-plans';
import { loadFirm } from '../firms/firm';
import { answerItem } from '../item-kinds/kinds/question';
import { asStaff } from '../platform/db/database';
import { readItemLeaf } from '../rounds/item-leaf';
import { doWhatIsDue } from '../due/do-what-is-due';
import { sendRequest } from '../requests/send-request';
import { waiveItem } from '../requests/judge-item';
import { countersignLetter } from '../signing/countersign-letter';
import { declineLetter, noteShownWhole, signLetter } from '../signing/sign-letter';
import { itemsOf, letterLine, letterOf, makeClient, paperLine, questionLine, requestTo, SECRET_KEY, sendPlanned } from '../testing/test-firm';
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
const pause = (of: HeldOf, until: string, by: Actor = firm.odalys(), sooner: PauseEnd | null = null) =>
	asStaff(context.db, by.id!).inFirm(firm.id, async (tx) =>
		pauseReminders(tx, by, await loadFirm(tx), of, { until, reason: 'The bank is slow', sooner })
	);
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

describe('a pause until something happens', () => {
	const untilDone = (of: HeldOf, itemId: string) => pause(of, '2026-05-26', firm.odalys(), { endsWith: 'done', itemId });
	const untilHeard = (of: HeldOf) => pause(of, '2026-05-26', firm.odalys(), { endsWith: 'heard' });
	const everybody = () => ({ clientId: client.id });
	const mara = () => ({ contactId: client.contactId, ofClient: client.id });
	const beat = (at: string) => {
		context.clock.set(at);
		return doWhatIsDue(context, firm.id, at);
	};
	/** When something goes, and what. */
	const goes = async () => (await foreseen()).map(([day, titles]) => `${day} ${(titles as string[]).join()}`);
	const ended = async () =>
		(
			await context.owner.query<{ words: string }>(
				`select concat_ws(' | ', actor_kind, details ->> 'whom', details ->> 'day', details ->> 'because') words from event where firm_id = $1 and verb = 'reminders_go_on' order by id`,
				[firm.id]
			)
		).rows.map(({ words }) => words);
	const answer = () => client.run((tx) => answerItem(tx, client.mara(), { itemId: question, answer: 'Two' }));

	test('what has to be done first is reminded of meanwhile; once it is handed in, the rest goes from the next business day', async () => {
		await untilDone(everybody(), question);
		expect(await goes()).toEqual(['2026-05-06 Shop', '2026-05-08 Shop', '2026-05-13 Shop', '2026-05-26 Lease,Licence,Shop']);
		await beat('2026-05-06T12:00:00Z');
		await sendPlanned(context, firm);
		expect(await ended()).toEqual([]);
		context.clock.set('2026-05-07T14:00:00Z');
		await answer();
		await beat('2026-05-07T14:10:00Z');
		await beat('2026-05-07T14:11:00Z');
		expect(await ended()).toEqual(['machine | everybody | Fri 8 May | “Shop” is handed in']);
		expect(await goes()).toEqual(['2026-05-08 Lease,Licence', '2026-05-13 Lease,Licence']);
		expect((await shown()).map(({ until, happened }) => [until, happened])).toEqual([['2026-05-08', true]]);
	});
	test('what is foreseen says what would let it go sooner, and the record says it too', async () => {
		await untilDone({ itemId: lease.id }, question);
		expect((await shown())[0].sooner).toEqual({ endsWith: 'done', title: 'Shop', letter: false });
		const leaf = await firm.run(async (tx) => readItemLeaf(tx, firm.odalys(), await loadFirm(tx), lease.id));
		expect(leaf.nextChase?.why).toContain('as reminders are paused (sooner once “Shop” is handed in)');
		expect(leaf.awaitable.map(({ title }) => title).sort()).toEqual(['Licence', 'Shop']);
	});
	test.each([
		['their person', mara],
		['everybody', everybody],
		['one thing', () => ({ itemId: lease.id })],
		['a request', () => ({ requestId: lease.requestId })]
	])('until somebody is heard from: %s', async (_name, of) => {
		await untilHeard(of());
		await beat('2026-05-05T12:10:00Z');
		expect(await ended()).toEqual([]);
		// what somebody of the firm does is no sign of life
		await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId: licence, version: 1 }));
		await beat('2026-05-05T12:20:00Z');
		expect(await ended()).toEqual([]);
		context.clock.set('2026-05-05T12:30:00Z');
		await answer();
		await beat('2026-05-05T12:40:00Z');
		expect(await ended()).toEqual([expect.stringMatching(/^machine \| .* \| Wed 6 May \| they were heard from$/)]);
		expect((await goes())[0]).toBe('2026-05-06 Lease');
	});
	test('a letter is done once all have signed it, the firm too; meanwhile it is itself reminded of', async () => {
		const request = await sendRequest(context, firm.id, firm.odalys(), {
			...requestTo(client, [
				letterLine('Engagement letter', '2026-05-05', { start_date: '1 June 2026', services: 'the books', monthly_fee: '$280' })
			]),
			idempotencyKey: randomUUID()
		});
		const [{ id: letter }] = await itemsOf(context, request);
		await untilDone(mara(), letter);
		expect((await goes()).slice(0, -1).every((one) => one.endsWith(' Engagement letter'))).toBe(true);
		await letterOf(context, firm, letter);
		await client.run((tx) => noteShownWhole(tx, client.mara(), letter));
		await client.run((tx) =>
			signLetter(tx, client.mara(), { itemId: letter, signature: { method: 'typed', name: 'Mara Whitlock' }, consent: true }, SECRET_KEY)
		);
		await beat('2026-05-05T12:40:00Z');
		expect(await ended()).toEqual([]);
		const { rows } = await context.owner.query<{ sha: string }>(`select encode(sha256, 'hex') sha from letter where item_id = $1`, [letter]);
		await firm.run((tx) =>
			countersignLetter(tx, firm.partner, { itemId: letter, sha256: rows[0].sha, signature: { method: 'typed', name: firm.partner.name } })
		);
		await beat('2026-05-05T12:50:00Z');
		expect(await ended()).toEqual(['machine | Mara Whitlock | Wed 6 May | “Engagement letter” is signed by all']);
	});
	test('a letter that is declined is waited for no longer', async () => {
		const request = await sendRequest(context, firm.id, firm.odalys(), {
			...requestTo(client, [
				letterLine('Engagement letter', '2026-05-05', { start_date: '1 June 2026', services: 'the books', monthly_fee: '$280' })
			]),
			idempotencyKey: randomUUID()
		});
		const [{ id: letter }] = await itemsOf(context, request);
		await letterOf(context, firm, letter);
		await untilDone(everybody(), letter);
		await client.run((tx) => declineLetter(tx, client.mara(), { itemId: letter, reason: 'Not like this' }));
		await beat('2026-05-05T12:40:00Z');
		expect(await ended()).toEqual(['machine | everybody | Wed 6 May | “Engagement letter” cannot be signed any more']);
	});
	test('if it never happens the day comes; if it happens the day before, the day stays', async () => {
		await untilDone(everybody(), question);
		await beat('2026-05-25T14:00:00Z');
		await answer();
		await beat('2026-05-25T14:10:00Z');
		expect(await ended()).toEqual(['machine | everybody | Tue 26 May | “Shop” is handed in']);
		await untilDone({ itemId: lease.id }, licence);
		await beat('2026-05-27T12:00:00Z');
		expect(await ended()).toHaveLength(1);
	});
	test('two workers at once see it once; let go on by hand it is not seen at all', async () => {
		await untilDone(everybody(), question);
		await answer();
		await Promise.all([beat('2026-05-05T12:10:00Z'), beat('2026-05-05T12:10:00Z'), beat('2026-05-05T12:10:00Z')]);
		expect(await ended()).toHaveLength(1);
		await untilHeard(mara());
		await goOn(mara());
		await client.run((tx) => answerItem(tx, client.mara(), { itemId: question, answer: 'Three' })).catch(() => undefined);
		await beat('2026-05-05T12:30:00Z');
		expect(await ended()).toHaveLength(1);
	});
	test('it cannot wait for itself, for what is done, or for what another client has to do', async () => {
		const other = await makeClient(context, firm, { name: 'Ferry Café' });
		const theirs = (
			await itemsOf(
				context,
				await sendRequest(context, firm.id, firm.odalys(), { ...requestTo(other, [paperLine('Menu', '2026-05-05')]), idempotencyKey: randomUUID() })
			)
		)[0].id as string;
		await answer();
		for (const id of [theirs, question, randomUUID()])
			await expect(untilDone(mara(), id)).rejects.toMatchObject({ code: 'invalid', what: expect.stringContaining('is not open any more') });
		await expect(untilDone({ itemId: lease.id }, lease.id)).rejects.toMatchObject({
			code: 'invalid',
			what: expect.stringContaining('This is what you pause')
		});
		expect(await shown()).toEqual([]);
	});
	test('the business day after, by the firm’s calendar: over a weekend with a holiday, and never later than the day that was said', () => {
		const calendar = (timeZone: string): FirmCalendar => ({
			timeZone,
			businessDays: [1, 2, 3, 4, 5],
			holidays: ['2026-10-05'],
			sendFrom: '09:00',
			sendTo: '17:00'
		});
		// the clocks of Sydney go forward on 4 October 2026, those of Halifax back on 1 November
		expect(goesOnAfter('2026-10-02', '2026-12-01', calendar('Australia/Sydney'))).toBe('2026-10-06');
		expect(goesOnAfter('2026-10-30', '2026-12-01', calendar('America/Halifax'))).toBe('2026-11-02');
		expect(goesOnAfter('2026-10-02', '2026-10-03', calendar('Australia/Sydney'))).toBe('2026-10-03');
	});
});
