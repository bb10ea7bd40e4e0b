import { addDays, type FirmCalendar, type IsoDate } from '../calendar/firm-calendar';
import type { ChasePlan } from './chase-plan';
import { stepToCome, type Chase, type ChasedItem } from './forecast';

/** What goes to one person on a day: by which ways they are written to, whether they are called, whether a partner is told. */
export const DOINGS = ['email', 'text', 'call', 'partner'] as const;
export type Doing = (typeof DOINGS)[number];

/** One day of somebody's reminders, before and after a change. */
export interface ForecastChange {
	day: IsoDate;
	is: 'stays' | 'new' | 'gone' | 'other';
	/** what happens on it after the change; of what is gone, before it */
	does: Doing[];
}

/** What a chase does. */
export function doingsOf(chase: Pick<Chase, 'by' | 'because'>): Doing[] {
	const asks = new Set<string>([...chase.by, ...chase.because.map(({ by }) => by)]);
	return DOINGS.filter((one) => (one === 'email' || one === 'text' ? chase.by.includes(one) : asks.has(one)));
}

/** Compares two forecasts of one person, day by day in order. */
export function compareForecasts(
	before: readonly Pick<Chase, 'localDay' | 'by' | 'because'>[],
	after: readonly Pick<Chase, 'localDay' | 'by' | 'because'>[]
): ForecastChange[] {
	const was = new Map(before.map((chase) => [chase.localDay, doingsOf(chase)]));
	const will = new Map(after.map((chase) => [chase.localDay, doingsOf(chase)]));
	return [...new Set([...was.keys(), ...will.keys()])].sort().map((day) => {
		const [then, now] = [was.get(day), will.get(day)];
		if (!now) return { day, is: 'gone', does: then! };
		return { day, is: !then ? 'new' : then.join() === now.join() ? 'stays' : 'other', does: now };
	});
}

/**
 * Something as it is chased once its plan is changed: what the changed plan would have sent before today does not go, unless a reminder waits
 * that would have gone by the plan as it was, or something holds it.
 */
export function byChangedPlan(item: ChasedItem, plan: ChasePlan, today: IsoDate, calendar: FirmCalendar): ChasedItem {
	const next = stepToCome(item, calendar);
	const waits = (next !== null && next.on < today) || (item.hold !== null && item.hold.until > today);
	const yesterday = addDays(today, -1);
	return { ...item, plan, chasedTurn: 0, chasedThrough: waits || item.chasedThrough > yesterday ? item.chasedThrough : yesterday };
}
