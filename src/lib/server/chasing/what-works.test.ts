import { describe, expect, test } from 'vitest';
import { loadFirm } from '../firms/firm';
import { moveItem, lockItem } from '../items/change-item';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { chasePeople } from './chase-people';
import { readWhatWorks } from './what-works';

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
	test('who looks sees nothing of another firm, and the filing clerk may look', async () => {
		await expect(firm.run(async (tx) => readWhatWorks(tx, { ...firm.odalys(), role: null }, await loadFirm(tx)))).rejects.toThrow();
		expect(await works()).toEqual([]);
	});
});
