import pg from 'pg';
import type { IsoInstant } from '$lib/core/calendar/firm-calendar';
import { errorForLog, log } from './log';

/** Tells the time. The only place that asks the machine for it. */
export interface Clock {
	now(): IsoInstant;
	/** How far this clock is ahead of the machine's, in milliseconds. */
	offsetMs(): number;
}

/** What the machine's clock shows when ours shows a point in time: what people's own devices count by. */
export function wallTime(clock: Pick<Clock, 'offsetMs'>, at: IsoInstant): IsoInstant {
	return new Date(Date.parse(at) - clock.offsetMs()).toISOString();
}

export const systemClock: Clock = { now: () => new Date().toISOString(), offsetMs: () => 0 };

/** A clock for tests and for seeding: it shows what it was told. */
export function handClock(start: IsoInstant): Clock & { set(to: IsoInstant): void } {
	let current = start;
	return {
		now: () => current,
		offsetMs: () => 0,
		set: (to) => {
			current = to;
		}
	};
}

/**
 * The demo's clock: runs with the machine's, from a point that is kept in the database and can be moved
 * forward there. Every process hears of a move by NOTIFY; `refresh` asks at once.
 */
export async function demoClock(pool: pg.Pool): Promise<Clock & { refresh(): Promise<void> }> {
	let offset = 0;
	const refresh = async () => {
		const { rows } = await pool.query<{ offset_ms: number }>('select offset_ms from demo_clock');
		if (rows[0]) offset = rows[0].offset_ms;
	};
	await refresh();
	setInterval(() => refresh().catch((error) => log.warn(errorForLog(error), 'demo clock not read')), 2000).unref();
	return {
		now: () => new Date(Date.now() + offset).toISOString(),
		offsetMs: () => offset,
		refresh
	};
}
