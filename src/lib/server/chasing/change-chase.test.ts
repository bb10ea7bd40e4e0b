import { describe, expect, test } from 'vitest';
import type { Actor } from '../actor';
import { changeClientRights } from '../clients/client-rights';
import { loadFirm } from '../firms/firm';
import { readPlannedChase } from '../messages/planned-chase';
import { asStaff, type Tx } from '../platform/db/database';
import { sendRequest } from '../requests/send-request';
import { readNextChases } from '../rounds/chase-sentence';
import { itemsOf, makeClient, paperLine, requestTo, SECRET_KEY, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { changeChaseWords, leaveChaseOut, moveChase, readChangedChases, sendChaseNow } from './change-chase';
import { chasePeople } from './chase-people';
import { pauseReminders } from './holds';
import { nextChases, readForecast } from './read-forecast';

useFirm();

/** Due on Friday the 8th: reminders on the 6th, the 11th, the 13th and, past a holiday, the 20th. */
const ask = async () => {
	const request = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-08')]));
	await sendPlanned(context, firm);
	return (await itemsOf(context, request))[0].id as string;
};
const desk = <T>(work: (tx: Tx) => Promise<T>) => firm.run(work);
const withFirm = <T>(work: (tx: Tx, of: Awaited<ReturnType<typeof loadFirm>>) => Promise<T>) => desk(async (tx) => work(tx, await loadFirm(tx)));
const planned = (day = '2026-05-06') => ({ contactId: client.contactId, day });
const days = () =>
	withFirm(async (tx, of) => (await readForecast(tx, firm.odalys(), of, [client.contactId], 28)).map((c) => [c.localDay, c.leftOut]));
const beatAt = async (at: string) => {
	context.clock.set(at);
	const n = await chasePeople(context.db, firm.id, at);
	await sendPlanned(context, firm);
	return n;
};
const at = (actor: Actor): Actor => ({ ...actor, now: context.clock.now() });
const shown = (day = '2026-05-06') =>
	withFirm((tx, of) =>
		readPlannedChase(tx, at(firm.odalys()), of, planned(day), { origin: 'https://portal.example', secretKey: SECRET_KEY, answerable: true })
	);

describe('a reminder that is planned', () => {
	test('can be read as it will be: what is shown is what goes', async () => {
		await ask();
		const before = await shown();
		expect(before).toMatchObject({ isNext: true, words: null, text: null });
		expect(before.html).toContain('Lease');
		context.mailer.sent.length = 0;
		expect(await beatAt('2026-05-06T12:05:00Z')).toBe(1);
		const [mail] = context.mailer.sent;
		expect(mail.subject).toBe(before.subject);
		// but for links, which lead nowhere before it goes, and for where answers go
		const bare = (html: string) => html.replace(/<[^>]+>|https?:\S+|You can simply answer this mail[^.]*\./g, ' ').replace(/\s+/g, ' ');
		expect(bare(before.html!).slice(0, 500)).toBe(bare(mail.html).slice(0, 500));
		// who is in already is not shown a way in
		expect(before.html).not.toContain('/join/');
	});
	test('is left out, and the next step comes as planned; until its day it can be put back', async () => {
		await ask();
		await withFirm((tx, of) => leaveChaseOut(tx, firm.odalys(), of, planned(), true));
		expect((await days()).slice(0, 2)).toEqual([
			['2026-05-06', true],
			['2026-05-11', false]
		]);
		// neither the record nor the head speaks of it
		const next = await withFirm((tx, of) => readNextChases(tx, firm.odalys(), of, client.id));
		expect(Object.values(next)[0].when).toContain('Mon 11 May');
		expect(await withFirm((tx, of) => nextChases(tx, of, '2026-05-06T11:00:00Z'))).toBeNull();
		await withFirm((tx, of) => leaveChaseOut(tx, firm.odalys(), of, planned(), false));
		expect((await days())[0]).toEqual(['2026-05-06', false]);
		await withFirm((tx, of) => leaveChaseOut(tx, firm.odalys(), of, planned(), true));
		expect(await beatAt('2026-05-06T12:05:00Z')).toBe(0);
		expect(await beatAt('2026-05-08T12:05:00Z')).toBe(0);
		expect(await beatAt('2026-05-11T12:05:00Z')).toBe(1);
		const said = await context.owner.query(`select verb from event where firm_id = $1 and verb like 'chase\\_%' order by id`, [firm.id]);
		expect(said.rows.map(({ verb }) => verb)).toEqual(['chase_left_out', 'chase_put_back', 'chase_left_out', 'chase_was_left_out']);
	});
	test('has other words for this once, and its usual ones the next time', async () => {
		await ask();
		const words = { subject: 'The lease, Mara', body: 'We need it for the bank.\n\nThank you!' };
		await withFirm((tx, of) => changeChaseWords(tx, firm.odalys(), of, planned(), words));
		expect(await shown()).toMatchObject({ words, subject: words.subject, changedBy: firm.odalys().name });
		expect(await desk((tx) => readChangedChases(tx, firm.odalys()))).toEqual(new Set([`${client.contactId} 2026-05-06`]));
		context.mailer.sent.length = 0;
		await beatAt('2026-05-06T12:05:00Z');
		expect(context.mailer.sent[0]).toMatchObject({ subject: words.subject });
		expect(context.mailer.sent[0].text).toContain('We need it for the bank.');
		expect(context.mailer.sent[0].text).toContain('- Lease');
		await beatAt('2026-05-11T12:05:00Z');
		expect(context.mailer.sent[1].subject).not.toBe(words.subject);
		expect(await desk((tx) => readChangedChases(tx, firm.odalys()))).toEqual(new Set());
	});
	test('gets its usual words back before it goes, and stays left out meanwhile', async () => {
		await ask();
		await withFirm((tx, of) => changeChaseWords(tx, firm.odalys(), of, planned(), { subject: 'x', body: 'y' }));
		await withFirm((tx, of) => leaveChaseOut(tx, firm.odalys(), of, planned(), true));
		await withFirm((tx, of) => changeChaseWords(tx, firm.odalys(), of, planned(), null));
		expect(await shown()).toMatchObject({ words: null, chase: { leftOut: true } });
	});
	test('is sent before its day, once however often it is pressed, and its step is behind us', async () => {
		await ask();
		context.clock.set('2026-05-05T13:00:00Z');
		context.mailer.sent.length = 0;
		for (let n = 0; n < 2; n++) await withFirm((tx, of) => sendChaseNow(tx, at(firm.odalys()), of, planned()));
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(1);
		expect(await beatAt('2026-05-06T12:05:00Z')).toBe(0);
		expect(await beatAt('2026-05-11T12:05:00Z')).toBe(1);
	});
	test('is not sent to somebody who has heard of us today, nor to whom nothing can be sent', async () => {
		await ask();
		// the request has gone to them this morning
		await expect(withFirm((tx, of) => sendChaseNow(tx, firm.odalys(), of, planned()))).rejects.toThrow('nobody gets two messages on one day');
		context.clock.set('2026-05-05T13:00:00Z');
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [client.contactId]);
		await expect(withFirm((tx, of) => sendChaseNow(tx, at(firm.odalys()), of, planned()))).rejects.toThrow('cannot be written to');
	});
	test('is moved to a later day, and nobody reminds them before', async () => {
		await ask();
		await withFirm((tx, of) => moveChase(tx, firm.odalys(), of, planned(), '2026-05-12'));
		expect((await days())[0]).toEqual(['2026-05-12', false]);
		expect(await beatAt('2026-05-11T12:05:00Z')).toBe(0);
		expect(await beatAt('2026-05-12T12:05:00Z')).toBe(1);
	});
	test('that is not planned for that day any more is said to be so', async () => {
		const id = await ask();
		await context.owner.query(`update item set state = 'handed_in', next_chase_on = null where id = $1`, [id]);
		for (const act of [leaveChaseOut, sendChaseNow] as const)
			await expect(withFirm((tx, of) => act(tx, firm.odalys(), of, planned(), true))).rejects.toMatchObject({ code: 'not_found' });
		await ask();
		await expect(withFirm((tx, of) => leaveChaseOut(tx, firm.odalys(), of, planned('2026-05-07'), true))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
	});
	test('of somebody who belongs to a closed client as well is changed by those who may work with both', async () => {
		await ask();
		const closed = await makeClient(context, firm, { name: 'Closed Cove' });
		await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 2)', [
			firm.id,
			closed.id,
			client.contactId
		]);
		await desk((tx) => changeClientRights(tx, firm.odalys(), { clientId: closed.id, restricted: true, rights: [] }));
		const sees = asStaff(context.db, firm.partner.id!);
		const refused = { code: 'not_allowed' };
		const by = <T>(work: (tx: Tx, of: Awaited<ReturnType<typeof loadFirm>>) => Promise<T>) =>
			sees.inFirm(firm.id, async (tx) => work(tx, await loadFirm(tx)));
		await expect(by((tx, of) => leaveChaseOut(tx, firm.partner, of, planned(), true))).rejects.toMatchObject(refused);
		await expect(by((tx, of) => sendChaseNow(tx, firm.partner, of, planned()))).rejects.toMatchObject(refused);
		const whom = { contactId: client.contactId, ofClient: client.id };
		await expect(by((tx, of) => pauseReminders(tx, firm.partner, of, whom, { until: '2026-05-12', reason: 'x' }))).rejects.toMatchObject(refused);
		await withFirm((tx, of) => leaveChaseOut(tx, firm.odalys(), of, planned(), true));
	});
	test('is changed by whoever looks at what clients hand in, and by nobody of whom the client is closed', async () => {
		await ask();
		const bram = { ...firm.odalys(), role: 'filing' as const };
		for (const actor of [bram, client.mara()]) {
			await expect(withFirm((tx, of) => leaveChaseOut(tx, actor, of, planned(), true))).rejects.toMatchObject({ code: 'not_allowed' });
			await expect(withFirm((tx, of) => sendChaseNow(tx, actor, of, planned()))).rejects.toMatchObject({ code: 'not_allowed' });
		}
		await desk((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		const closedTo = asStaff(context.db, firm.partner.id!);
		await expect(closedTo.inFirm(firm.id, async (tx) => leaveChaseOut(tx, firm.partner, await loadFirm(tx), planned(), true))).rejects.toMatchObject({
			code: 'not_found'
		});
		await expect(
			closedTo.inFirm(firm.id, async (tx) =>
				readPlannedChase(tx, firm.partner, await loadFirm(tx), planned(), { origin: '', secretKey: SECRET_KEY, answerable: false })
			)
		).rejects.toMatchObject({ code: 'not_found' });
	});
});
