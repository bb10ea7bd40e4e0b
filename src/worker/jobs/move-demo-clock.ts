import { openingsBetween } from '$lib/core/calendar/firm-calendar';
import { doWhatIsDue } from '$lib/server/chasing/do-what-is-due';
import { loadFirm } from '$lib/server/firms/firm';
import type { House } from '$lib/server/house';
import { sendMessage, type SendingPlace } from '$lib/server/messages/send-message';
import type { Job } from '../job';
import { onlyOnce } from '../watch-workers';

/**
 * Moves the demo's clock forward, stopping at every opening of sending hours on the way and doing there
 * what falls due, in order. Only in the demo.
 */
export async function moveDemoClock(house: House, place: SendingPlace, to: string): Promise<void> {
	if (!house.settings.DEMO) throw new Error('there is no clock to move outside the demo');
	const firms = (await house.db.ask<{ id: string }>('select id from all_firms() as t(id)')).map((r) => r.id);
	const stops = new Set<string>();
	for (const firmId of firms) {
		const firm = await house.db.inFirm(firmId, loadFirm);
		for (const opening of openingsBetween(house.clock.now(), to, firm.calendar)) stops.add(opening);
	}
	// sessions live by the time people really spend: they move along, before anything looks at them
	const ahead = Math.max(0, (Date.parse(to) - Date.parse(house.clock.now())) / 1000);
	for (const firmId of firms)
		await house.db.inFirm(firmId, (tx) =>
			tx.rows(
				`update session set rotated_at = rotated_at + make_interval(secs => $1), last_used_at = last_used_at + make_interval(secs => $1),
					expires_at = expires_at + make_interval(secs => $1), created_at = created_at + make_interval(secs => $1) where ended_at is null`,
				[ahead]
			)
		);
	for (const stop of [...[...stops].sort(), to]) {
		const offset = Date.parse(stop) - Date.now();
		await house.db.ask('update demo_clock set offset_ms = $1 where offset_ms < $1', [offset]);
		await house.refreshClock();
		for (const firmId of firms) {
			await doWhatIsDue(house.db, firmId, house.clock.now());
			await sendPlanned(house, place, firmId);
		}
	}
	await house.db.ask('update demo_clock set moving_to = null');
}

/** Sends what is planned and waits for what others are sending, so that nothing slips into the next stop. */
async function sendPlanned(house: House, place: SendingPlace, firmId: string): Promise<void> {
	for (let round = 0; round < 200; round++) {
		const { planned, sending } = await house.db.inFirm(firmId, async (tx) => ({
			planned: (await tx.rows<{ id: string }>(`select id from message where state = 'planned' order by planned_at`)).map((r) => r.id),
			sending: (await tx.first<{ n: number }>(`select count(*) n from message where state = 'sending'`))!.n
		}));
		let waiting = 0;
		for (const id of planned) if ((await sendMessage(place, firmId, id)) !== 'done') waiting++;
		if (planned.length === waiting && sending === 0) return;
		if (planned.length === waiting) await new Promise((resolve) => setTimeout(resolve, 50));
	}
}

export const moveDemoClockJob: Job<'move_demo_clock'> = ({ to }, { house, place, asQueue }) =>
	onlyOnce(asQueue, 'demo clock', () => moveDemoClock(house, place, to));
