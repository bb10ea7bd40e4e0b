import type { IsoDate } from '../calendar/firm-calendar';
import type { Chase } from './forecast';

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
