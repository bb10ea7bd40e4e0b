import { addDays, daysBetween, type IsoDate } from '../calendar/firm-calendar';
import type { TheirTimes } from '../calendar/their-times';

/** How often one person is reminded at most, whatever their due dates add up to. */
export interface ReminderPace {
	/** days from one reminder to the next; 2: not on two days in a row */
	gapDays: number;
	/** reminders within any seven days */
	perWeek: number;
}

/** What every firm starts with: not on two days in a row, and at most two a week. */
export const DEFAULT_PACE: ReminderPace = { gapDays: 2, perWeek: 2 };

/** How often somebody is reminded at most: as the firm has it, or less often if they wish. */
export const paceFor = (firm: ReminderPace, times: Pick<TheirTimes, 'perWeek'> | null): ReminderPace =>
	times?.perWeek ? { ...firm, perWeek: Math.min(firm.perWeek, times.perWeek) } : firm;

/** Whether a reminder may go on a day, after those that have gone. @param remindedOn days of earlier reminders, in any order */
export function paceAllows(day: IsoDate, remindedOn: readonly IsoDate[], pace: ReminderPace): boolean {
	const ago = remindedOn.map((earlier) => daysBetween(earlier, day));
	return ago.every((days) => days >= pace.gapDays) && ago.filter((days) => days < 7).length < pace.perWeek;
}

/** The first day after a reminder on which the pace allows the next one. @param remindedOn days of the reminders so far, the last among them */
export function firstDayAllowed(remindedOn: readonly IsoDate[], pace: ReminderPace): IsoDate {
	let day = addDays(
		remindedOn.reduce((last, one) => (one > last ? one : last)),
		1
	);
	while (!paceAllows(day, remindedOn, pace)) day = addDays(day, 1);
	return day;
}

/** The days that still count, with one more. */
export function withReminder(remindedOn: readonly IsoDate[], day: IsoDate): IsoDate[] {
	return [...remindedOn.filter((earlier) => daysBetween(earlier, day) < 14 && earlier !== day), day];
}
