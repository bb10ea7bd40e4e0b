import { addDays, type FirmCalendar, type IsoDate, type IsoInstant } from '../calendar/firm-calendar';
import type { TheirTimes } from '../calendar/their-times';
import { LAPSE_NOTICE_DAYS } from '../signing/letter-states';
import { sendingOn } from './forecast';

/**
 * When somebody is told that a letter lapses: in sending hours, from some days before its last day on, on the first day on which nothing
 * else goes to them. Their own times hold as long as they leave such a day: nobody misses a last day for them.
 * @param lapsesOn the last day on which it can be signed
 * @param isTold whether something else goes to them on a day
 * @returns null if there is no such day
 */
export function lapseNotice(
	lapsesOn: IsoDate,
	isTold: (day: IsoDate) => boolean,
	calendar: FirmCalendar,
	now: IsoInstant,
	times: TheirTimes | null = null
): { at: IsoInstant; localDay: IsoDate } | null {
	let sending = sendingOn(addDays(lapsesOn, -LAPSE_NOTICE_DAYS), calendar, now, times);
	while (sending.localDay <= lapsesOn) {
		if (!isTold(sending.localDay)) return sending;
		sending = sendingOn(addDays(sending.localDay, 1), calendar, now, times);
	}
	return times && lapseNotice(lapsesOn, isTold, calendar, now);
}
