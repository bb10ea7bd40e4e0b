import { openingsBetween } from '$lib/core/calendar/firm-calendar';
import { theirOpeningsBetween } from '$lib/core/calendar/their-times';
import { readDifferentTimes } from '$lib/server/chasing/their-times';
import { doWhatIsDue } from '$lib/server/due/do-what-is-due';
import { readAllFirms } from '$lib/server/platform/db/all-firms';
import { loadFirm } from '$lib/server/firms/firm';
import type { AppContext } from '$lib/server/context/app-context';
import { countSending, readPlanned } from '$lib/server/messages/stuck-messages';
import { sendMessage, type SendingPlace } from '$lib/server/messages/send-message';
import { endMovingClock, moveSessionsAlong, putClockForward } from '$lib/server/platform/demo-clock';
import type { Job } from '../job';
import { onlyOnce } from '../watch-workers';

/**
 * Moves the demo's clock forward, stopping at every opening of sending hours on the way and doing there
 * what falls due, in order. Only in the demo.
 */
export async function moveDemoClock(context: AppContext, place: SendingPlace, to: string): Promise<void> {
	if (!context.settings.DEMO) throw new Error('there is no clock to move outside the demo');
	const firms = await readAllFirms(context.db);
	const stops = new Set<string>();
	for (const firmId of firms) {
		const firm = await context.db.inFirm(firmId, loadFirm);
		for (const opening of openingsBetween(context.clock.now(), to, firm.calendar)) stops.add(opening);
		const own = await context.db.inFirm(firmId, readDifferentTimes);
		for (const times of own) for (const opening of theirOpeningsBetween(context.clock.now(), to, times, firm.calendar)) stops.add(opening);
	}
	// before anything looks at them
	const ahead = Math.max(0, (Date.parse(to) - Date.parse(context.clock.now())) / 1000);
	for (const firmId of firms) await context.db.inFirm(firmId, (tx) => moveSessionsAlong(tx, ahead));
	for (const stop of [...[...stops].sort(), to]) {
		await putClockForward(context.db, Date.parse(stop) - Date.now());
		await context.refreshClock();
		for (const firmId of firms) {
			await doWhatIsDue(context, firmId, context.clock.now());
			await sendPlanned(context, place, firmId);
		}
	}
	await endMovingClock(context.db);
}

/** Sends what is planned and waits for what others are sending, so that nothing slips into the next stop. */
async function sendPlanned(context: AppContext, place: SendingPlace, firmId: string): Promise<void> {
	for (let round = 0; round < 200; round++) {
		const { planned, sending } = await context.db.inFirm(firmId, async (tx) => ({ planned: await readPlanned(tx), sending: await countSending(tx) }));
		let waiting = 0;
		for (const id of planned) if ((await sendMessage(place, firmId, id)) !== 'done') waiting++;
		if (planned.length === waiting && sending === 0) return;
		if (planned.length === waiting) await new Promise((resolve) => setTimeout(resolve, 50));
	}
}

export const moveDemoClockJob: Job<'move_demo_clock'> = ({ to }, { context, place, asQueue }) =>
	onlyOnce(asQueue, 'demo clock', () => moveDemoClock(context, place, to));
