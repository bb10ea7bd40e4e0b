import { describe, expect, test } from 'vitest';
import { loadFirm } from '../firms/firm';
import { moveItem, lockItem } from '../items/change-item';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { writeOwnWords } from '../talk/words';
import { chasePeople } from './chase-people';
import { readTriedWith, readWhatWorks } from './what-works';

useFirm();

const works = () => firm.run(async (tx) => readWhatWorks(tx, { ...firm.odalys(), now: context.clock.now() }, await loadFirm(tx)));
async function morning(day: string) {
	context.clock.set(`${day}T13:00:00Z`);
	await chasePeople(context.db, firm.id, context.clock.now());
	await sendPlanned(context, firm);
}

describe('what came of reminders', () => {
	test('who answered within two days, by step, way, weekday and hour; who answered before, and who only later', async () => {
		const [second, third] = [await makeClient(context, firm, { name: 'Second' }), await makeClient(context, firm, { name: 'Third' })];
		const items = new Map<string, string>();
		for (const one of [client, second, third]) {
			const request = await sendRequest(
				context,
				firm.id,
				firm.odalys(),
				requestTo(one, [paperLine('Lease', '2026-05-08'), paperLine('Permit', '2026-07-31')])
			);
			items.set(one.id, (await itemsOf(context, request))[0].id);
		}
		await sendPlanned(context, firm);
		const handIn = async (of: typeof client, at: string) => {
			context.clock.set(at);
			const by = { ...of.mara(), now: at };
			await context.db.inFirm(firm.id, async (tx) => moveItem(tx, by, await loadFirm(tx), await lockItem(tx, items.get(of.id)!), 'hand_in'));
		};
		await morning('2026-05-06');
		expect(await works()).toEqual([]);
		await handIn(client, '2026-05-07T20:00:00Z');
		await handIn(second, '2026-05-08T14:00:00Z');
		await morning('2026-05-12');
		context.clock.set('2026-05-20T13:00:00Z');
		const groups = await works();
		const brief = groups.map(({ by, name, sent, came, answered, handedIn, before }) => [by, name, sent, came, answered, handedIn, before]);
		expect(brief).toEqual([
			['channel', 'by e-mail', 4, 1, 1, 1, 0],
			['hour', '10:00', 4, 1, 1, 1, 0],
			['step', 'Gentle: 2 business days before it is due', 3, 1, 1, 1, 0],
			['step', 'Gentle: 1 business day after it was due', 1, 0, 0, 0, 0],
			['weekday', 'Tuesday', 1, 0, 0, 0, 0],
			['weekday', 'Wednesday', 3, 1, 1, 1, 0]
		]);
	});
	test('what was tried with one person: each reminder with what came of it on the firm’s clocks, how calls went, and nobody else’s', async () => {
		const other = await makeClient(context, firm, { name: 'Other' });
		for (const one of [client, other])
			await sendRequest(context, firm.id, firm.odalys(), requestTo(one, [paperLine('Lease', '2026-05-08'), paperLine('Permit', '2026-07-31')]));
		await sendPlanned(context, firm);
		await morning('2026-05-06');
		const tried = () =>
			firm.run(async (tx) => readTriedWith(tx, { ...firm.odalys(), now: context.clock.now() }, await loadFirm(tx), client.id, [client.contactId]));
		// its two days are not over: it tells nothing yet
		expect(await tried()).toMatchObject([
			{ reminders: [{ way: 'email', weekday: 3, hour: 10, fresh: true, answered: false }], calls: [], works: expect.stringContaining('tells yet') }
		]);
		const by = { ...client.mara(), now: '2026-05-07T12:00:00Z' };
		await client.run((tx) => writeOwnWords(tx, by, { clientId: client.id, words: 'On Friday.' }));
		await context.owner.query(
			`insert into chase_call (id, firm_id, client_id, contact_id, for_partner, item_ids, waits_from, made_at, outcome, note, done_at, done_by_id)
			values (gen_random_uuid(), $1, $2, $3, false, '{}', '2026-05-08', '2026-05-08T12:00:00Z', 'reached', 'It is on its way', '2026-05-08T13:00:00Z', $4)`,
			[firm.id, client.id, client.contactId, firm.coordinator.id]
		);
		context.clock.set('2026-05-20T13:00:00Z');
		expect(await tried()).toMatchObject([
			{
				name: 'Mara Whitlock',
				reminders: [{ fresh: false, came: true, answered: true }],
				calls: [{ outcome: 'reached', note: 'It is on its way', by: 'Odalys Fenwick' }],
				works: 'The one reminder of the last year was answered within two days.'
			}
		]);
		const forNobody = firm.run(async (tx) => readTriedWith(tx, { ...firm.odalys(), role: null }, await loadFirm(tx), client.id, [client.contactId]));
		await expect(forNobody).rejects.toThrow();
	});
	test('who looks sees nothing of another firm, and the filing clerk may look', async () => {
		await expect(firm.run(async (tx) => readWhatWorks(tx, { ...firm.odalys(), role: null }, await loadFirm(tx)))).rejects.toThrow();
		expect(await works()).toEqual([]);
	});
});
