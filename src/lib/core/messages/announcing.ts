import {
	addDays,
	compareInstants,
	localDate,
	nextSendingTime,
	openingOf,
	type FirmCalendar,
	type IsoDate,
	type IsoInstant
} from '../calendar/firm-calendar';

/**
 * When somebody is told of what was put up for them: within sending hours, and once a local day.
 * @param lastOn the day on which something was announced to them last
 */
export function announcementTime(now: IsoInstant, lastOn: IsoDate | null, calendar: FirmCalendar): IsoInstant {
	const today = localDate(now, calendar);
	if (lastOn === null || lastOn < today) return nextSendingTime(now, calendar);
	const opening = openingOf(addDays(lastOn, 1), calendar);
	return nextSendingTime(compareInstants(opening, now) > 0 ? opening : now, calendar);
}
