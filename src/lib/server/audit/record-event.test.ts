import { afterAll, beforeAll, expect, test } from 'vitest';
import { machine } from '../actor';
import { makeFirm, openTestContext, type TestContext } from '../testing/test-firm';
import { latestEvent, recordEvent } from './record-event';

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
