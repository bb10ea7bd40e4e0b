import { addToInstant } from '$lib/core/calendar/firm-calendar';
import type { Tx } from '../platform/db/database';
import type { SendingPlace } from './send-message';
import { setUnclear } from './settle-message';

/** Seconds of wall time after which a message still `sending` has nobody working on it: longer than any timeout of the mailer. */
export const STUCK_AFTER_SECONDS = 15 * 60;

/** Marks as unclear what was left in `sending` by a process that died. */
export async function markStuckMessages(place: Pick<SendingPlace, 'db' | 'clock'>): Promise<number> {
	let marked = 0;
	// by the database's clock, which has written `sending_since`
	const firms = await place.db.queryOutsideFirm<{ firm_id: string }>(
		'select firm_id from firms_with_stuck_messages(clock_timestamp() - make_interval(secs => $1)) as t(firm_id)',
		[STUCK_AFTER_SECONDS]
	);
	for (const { firm_id } of firms)
		await place.db.inFirm(firm_id, async (tx) => {
			const stuck = await tx.rows<{ id: string }>(
				`select id from message where state = 'sending' and sending_since < clock_timestamp() - make_interval(secs => $1) for update skip locked`,
				[STUCK_AFTER_SECONDS]
			);
			for (const { id } of stuck) await setUnclear(place, tx, id);
			marked += stuck.length;
		});
	return marked;
}

/** What is planned of a firm, the earliest first. */
export async function readPlanned(tx: Tx): Promise<string[]> {
	return (await tx.rows<{ id: string }>(`select id from message where state = 'planned' order by planned_at`)).map(({ id }) => id);
}

/** How many messages of a firm are on their way. */
export async function countSending(tx: Tx): Promise<number> {
	return (await tx.first<{ n: number }>(`select count(*) n from message where state = 'sending'`))!.n;
}

/** Minutes after which a planned message without a job in the queue is put there again. */
const LOST_AFTER_MINUTES = 10;

/** Puts planned messages back into the queue whose jobs are gone. @returns how many */
export async function requeueLostMessages(place: Pick<SendingPlace, 'db' | 'clock'>): Promise<number> {
	const [{ n }] = await place.db.queryOutsideFirm<{ n: number }>('select requeue_lost_messages($1) n', [
		addToInstant(place.clock.now(), { minutes: -LOST_AFTER_MINUTES })
	]);
	return n;
}
