import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import type { AppContext } from '$lib/server/context/app-context';
import { demoClock } from '$lib/server/platform/clock';
import { sendRequest } from '$lib/server/requests/send-request';
import { makeClient, makeFirm, openTestContext, paperLine, requestTo, type TestFirm, type TestContext } from '$lib/server/testing/test-firm';
import type { SendingPlace } from '$lib/server/messages/send-message';
import { moveDemoClock } from './move-demo-clock';

const START = '2026-05-04T11:30:00Z';
let testContext: TestContext;
let firm: TestFirm;
let context: AppContext;
let place: SendingPlace;

beforeAll(async () => {
	testContext = await openTestContext(START);
});
afterAll(() => testContext.close());
beforeEach(async () => {
	await testContext.owner.query('delete from demo_clock');
	await testContext.owner.query('insert into demo_clock (offset_ms) values ($1)', [Date.parse(START) - Date.now()]);
	const clock = await demoClock(testContext.db.pool);
	context = { settings: { DEMO: true }, db: testContext.db, clock, refreshClock: clock.refresh } as unknown as AppContext;
	place = { ...testContext.place, clock };
	firm = await makeFirm(testContext);
	const client = await makeClient(testContext, firm);
	await sendRequest(testContext, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-06'), paperLine('B', '2026-05-08')]));
});

const chases = async () =>
	(
		await testContext.owner.query<{ sent: string; state: string }>(
			`select to_char(sent_at at time zone 'America/Halifax', 'Dy DD HH24:MI') sent, state from message where firm_id = $1 and kind = 'chase' order by sent_at`,
			[firm.id]
		)
	).rows;

describe('moving the demo’s clock', () => {
	test('stops at every opening of sending hours on the way, and what falls due goes out there', async () => {
		await moveDemoClock(context, place, '2026-05-11T12:30:00Z');
		expect(await chases()).toEqual(['Wed 06 09:00', 'Fri 08 09:00'].map((sent) => ({ sent, state: 'sent' })));
		expect(context.clock.now().slice(0, 16)).toBe('2026-05-11T12:30');
	});

	test('time never goes back', async () => {
		await moveDemoClock(context, place, '2026-05-05T12:30:00Z');
		await moveDemoClock(context, place, '2026-05-04T12:30:00Z');
		expect(context.clock.now().slice(0, 16)).toBe('2026-05-05T12:30');
	});

	test('sessions move along, so that nobody is signed out by it', async () => {
		await testContext.owner.query(
			`insert into session (id, firm_id, staff_id, token_hash, rotated_at, created_at, last_used_at, expires_at, ip, user_agent)
			values (gen_random_uuid(), $1, $2, 'x', $3, $3, $3, $3::timestamptz + interval '1 hour', '', '')`,
			[firm.id, firm.coordinator.id, START]
		);
		await moveDemoClock(context, place, '2026-05-18T11:30:00Z');
		const { rows } = await testContext.owner.query<{ left: number }>(
			`select extract(epoch from expires_at - $2::timestamptz)::int "left" from session where firm_id = $1`,
			[firm.id, context.clock.now()]
		);
		expect(rows[0].left).toBeGreaterThan(3500);
	});

	test('does not exist outside the demo', async () => {
		const real = { ...context, settings: { ...context.settings, DEMO: false } };
		await expect(moveDemoClock(real, place, '2026-05-11T12:30:00Z')).rejects.toThrow('outside the demo');
		expect(await chases()).toEqual([]);
	});
});
