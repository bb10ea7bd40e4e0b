import { addDays, compareInstants, localDate, openingOf, type FirmCalendar, type IsoDate, type IsoInstant } from '../calendar/firm-calendar';
import { nextTimeFor, type TheirTimes } from '../calendar/their-times';

/**
 * When somebody is told of what was put up for them: within sending hours and their own, and once a local day.
 * @param lastOn the day on which something was announced to them last
 */
export function announcementTime(now: IsoInstant, lastOn: IsoDate | null, calendar: FirmCalendar, times: TheirTimes | null = null): IsoInstant {
	const today = localDate(now, calendar);
	if (lastOn === null || lastOn < today) return nextTimeFor(now, times, calendar);
	const opening = openingOf(addDays(lastOn, 1), calendar);
	return nextTimeFor(compareInstants(opening, now) > 0 ? opening : now, times, calendar);
}
