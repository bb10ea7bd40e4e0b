import { addDays, daysBetween, localDate } from '$lib/core/calendar/firm-calendar';
import type { Actor } from '$lib/server/actor';
import { addService } from '$lib/server/firms/services';
import type { AppContext } from '$lib/server/context/app-context';
import { readPlanned } from '$lib/server/messages/stuck-messages';
import { sendMessage, type SendingPlace } from '$lib/server/messages/send-message';
import { beginFilling, endFilling } from '$lib/server/practice/filling';
import { handClock } from '$lib/server/platform/clock';
import { playScenario } from '../../../demo/play-scenario';
import type { Job } from '../job';
import { onlyOnce } from '../watch-workers';
import { CLIENTS, DEMO_NOW, DEMO_START, PRACTICE_CLIENTS, SERVICES, STAFF, type StaffKey } from '../../../demo/scenario';

/**
 * Fills a practice workspace with made-up clients at every stage, who have lived with the firm for the last weeks. Begun
 * again after a crash, it clears what was there and starts anew.
 * @param staffId who asked for it: plays the coordinator
 */
export async function fillPractice(context: AppContext, place: SendingPlace, practiceId: string, staffId: string): Promise<void> {
	const { db, clock } = context;
	const now = clock.now();
	const ready = await db.inFirm(practiceId, beginFilling);
	if (!ready) return;
	const { calendar, name, people } = ready;
	const asActor = (person: (typeof people)[number]): Actor => ({ kind: 'staff', ...person, now, ip: '', userAgent: 'practice' });
	const begun = people.find((person) => person.id === staffId)!;
	// colleagues play themselves by their roles; whom the firm does not have is played by who asked
	const staff = new Map<StaffKey, Actor>(
		STAFF.map(({ key, role }) => [key, asActor(key === 'odalys' ? begun : (people.find((p) => p.role === role && p.id !== staffId) ?? begun))])
	);
	const services = new Map(ready.services.map((service) => [service.name, service.id]));
	const administrator: Actor = { ...asActor(begun), role: 'administrator' };
	await db.inFirm(practiceId, async (tx) => {
		for (const service of SERVICES) if (!services.has(service)) services.set(service, await addService(tx, administrator, service));
	});

	// whole weeks, so that what happened on a Monday did
	const shiftDays = Math.floor(daysBetween(localDate(DEMO_NOW, calendar), localDate(now, calendar)) / 7) * 7;
	const shifted = (instant: string) => `${addDays(instant.slice(0, 10), shiftDays)}${instant.slice(10)}`;
	const hand = handClock(shifted(DEMO_START));
	await playScenario({
		context,
		clock: hand,
		firmId: practiceId,
		firmName: name,
		staff,
		services,
		calendar,
		secretKey: place.secretKey,
		origin: place.origin,
		clients: CLIENTS.filter((client) => PRACTICE_CLIENTS.includes(client.name)),
		from: shifted(DEMO_START),
		until: now,
		shiftDays,
		async sendAll() {
			for (const id of await db.inFirm(practiceId, readPlanned)) await sendMessage({ ...place, clock: hand, playsPractice: true }, practiceId, id);
		}
	});
	await db.inFirm(practiceId, (tx) => endFilling(tx, { ...asActor(begun), now: clock.now() }));
}

export const fillPracticeJob: Job<'fill_practice'> = async ({ practiceId, staffId }, { context, place, asQueue }) => {
	await onlyOnce(asQueue, `practice ${practiceId}`, () => fillPractice(context, place, practiceId, staffId));
};
