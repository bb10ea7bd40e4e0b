import { afterAll, beforeAll, expect, test } from 'vitest';
import { machine } from '../actor';
import { makeClient, makeFirm, openTestContext, type TestContext } from '../testing/test-firm';
import { latestEvent, recordEvent, recordEvents, recordOfPerson } from './record-event';

let context: TestContext;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());

test('the newest event is the firm’s own, and tells whether it happened within the last seconds', async () => {
	const [firm, other] = [await makeFirm(context), await makeFirm(context)];
	const newest = (now: string) => firm.run((tx) => latestEvent(tx, now));
	expect(await newest('2026-05-04T12:00:00Z')).toEqual({ id: 0, justNow: false });
	await firm.run((tx) => recordEvent(tx, machine('2026-05-04T12:00:00Z'), { verb: 'firm_changed', details: { what: 'hours' } }));
	await other.run((tx) => recordEvent(tx, machine('2026-05-04T12:05:00Z'), { verb: 'firm_changed', details: { what: 'hours' } }));
	const { id, justNow } = await newest('2026-05-04T12:00:14Z');
	expect([id > 0, justNow]).toEqual([true, true]);
	expect(await newest('2026-05-04T12:00:16Z')).toEqual({ id, justNow: false });
});

test('what is done about a person stands in the history of each of their clients, and by itself for whoever has none', async () => {
	const firm = await makeFirm(context);
	const one = await makeClient(context, firm, { name: 'One' });
	const two = await makeClient(context, firm, { name: 'Two', contactId: one.contactId, email: one.email });
	const record = () => firm.run((tx) => recordOfPerson(tx, firm.odalys(), one.contactId, { verb: 'contact_suspended' }));
	const where = async () =>
		(
			await context.owner.query<{ client_id: string | null }>(
				`select client_id from event where firm_id = $1 and contact_id = $2 and verb = 'contact_suspended' order by id`,
				[firm.id, one.contactId]
			)
		).rows.map((row) => row.client_id);
	await record();
	expect(await where()).toEqual([one.id, two.id].sort());
	await context.owner.query('delete from client_contact where contact_id = $1', [one.contactId]);
	await record();
	expect(await where()).toEqual([...[one.id, two.id].sort(), null]);
	await firm.run((tx) => recordEvents(tx, firm.odalys(), []));
	expect(await where()).toHaveLength(3);
});

test('an event says from where it was done, where that is known', async () => {
	const firm = await makeFirm(context);
	await firm.run((tx) => recordEvent(tx, firm.odalys(), { verb: 'firm_changed', details: {} }));
	await firm.run((tx) => recordEvent(tx, { ...firm.odalys(), ip: '' }, { verb: 'firm_changed', details: {} }));
	const { rows } = await context.owner.query(`select host(ip::inet) ip from event where firm_id = $1 and verb = 'firm_changed' order by id`, [
		firm.id
	]);
	expect(rows).toEqual([{ ip: '198.51.100.7' }, { ip: null }]);
});
