import { Temporal } from 'temporal-polyfill';
import { z } from 'zod';

export const timeOfDay = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Write the time as HH:MM.');

export const timeZoneField = z.string().refine(isTimeZone, 'This time zone is not known.');

/** When a firm works: its time zone, business days (ISO weekday, 1 = Monday), holidays and sending hours. */
export const firmCalendarSchema = z.object({
	timeZone: timeZoneField,
	businessDays: z.array(z.number().int().min(1).max(7)).min(1),
	holidays: z.array(z.iso.date()),
	sendFrom: timeOfDay,
	sendTo: timeOfDay
});
export type FirmCalendar = z.infer<typeof firmCalendarSchema>;

/** A date without time, written as ISO 8601 `YYYY-MM-DD`. */
export type IsoDate = string;
/** A point in time, written as an ISO 8601 instant in UTC. */
export type IsoInstant = string;

function isTimeZone(name: string): boolean {
	if (name.length > 100) return false;
	try {
		Temporal.Instant.fromEpochMilliseconds(0).toZonedDateTimeISO(name);
		return true;
	} catch {
		return false;
	}
}

/**
 * Keeps the answers about a calendar as long as it lives: a forecast for some thousand people asks for the same
 * few days many times over.
 */
export function remembered<Answer, Calendar extends object = FirmCalendar>(
	work: (question: string, calendar: Calendar) => Answer
): (question: string, calendar: Calendar) => Answer {
	const calendars = new WeakMap<Calendar, Map<string, Answer>>();
	return (question, calendar) => {
		let answers = calendars.get(calendar);
		if (!answers) calendars.set(calendar, (answers = new Map()));
		let answer = answers.get(question);
		if (answer === undefined) answers.set(question, (answer = work(question, calendar)));
		return answer;
	};
}

/** The calendar date that clocks on the firm's wall show at an instant. */
export const localDate: (instant: IsoInstant, calendar: Pick<FirmCalendar, 'timeZone'>) => IsoDate = remembered((instant, calendar) =>
	Temporal.Instant.from(instant).toZonedDateTimeISO(calendar.timeZone).toPlainDate().toString()
);

export const isBusinessDay: (date: IsoDate, calendar: FirmCalendar) => boolean = remembered(
	(date, calendar) => calendar.businessDays.includes(Temporal.PlainDate.from(date).dayOfWeek) && !calendar.holidays.includes(date)
);

/**
 * The date that lies a number of business days after (or, if negative, before) a date.
 * Zero answers the date itself, business day or not. From a day off, one business day
 * after is the next business day and one before is the last one before it.
 * @throws RangeError if ten years hold too few business days (a calendar full of holidays)
 */
export function addBusinessDays(date: IsoDate, days: number, calendar: FirmCalendar): IsoDate {
	return walked(`${date} ${days}`, calendar);
}

const walked = remembered((question, calendar) => {
	const [date, days] = question.split(' ');
	return walkBusinessDays(date, Number(days), calendar);
});

function walkBusinessDays(date: IsoDate, days: number, calendar: FirmCalendar): IsoDate {
	const step = Math.sign(days);
	let current = Temporal.PlainDate.from(date);
	let left = Math.abs(days);
	for (let passed = 0; left > 0; passed++) {
		if (passed > 3660) throw new RangeError('the calendar holds too few business days');
		current = current.add({ days: step });
		if (isBusinessDay(current.toString(), calendar)) left--;
	}
	return current.toString();
}

/** The date itself if it is a business day, otherwise the next one. */
export function onOrAfterBusinessDay(date: IsoDate, calendar: FirmCalendar): IsoDate {
	return isBusinessDay(date, calendar) ? date : addBusinessDays(date, 1, calendar);
}

const DAY_MS = 24 * 60 * 60 * 1000;

/** Whole calendar days from one date to another; negative if the second is earlier. */
export function daysBetween(from: IsoDate, to: IsoDate): number {
	// a date alone stands for its midnight in UTC, where every day has 24 hours (ECMA-262)
	return (Date.parse(to) - Date.parse(from)) / DAY_MS;
}

/** The day of the week of a date, as ISO 8601 counts: 1 is Monday. */
export const weekdayOf = (date: IsoDate): number => new Date(date).getUTCDay() || 7;

/** @throws RangeError if it is no date */
export function addDays(date: IsoDate, days: number): IsoDate {
	return new Date(Date.parse(date) + days * DAY_MS).toISOString().slice(0, 10);
}

/**
 * The instant at which clocks in the firm's time zone show this time on this date. A time that a
 * daylight-saving change skips is the same length of time later; one that occurs twice is the first.
 */
export function localInstant(date: IsoDate, time: string, calendar: Pick<FirmCalendar, 'timeZone'>): IsoInstant {
	return Temporal.PlainDate.from(date)
		.toZonedDateTime({ timeZone: calendar.timeZone, plainTime: Temporal.PlainTime.from(time) })
		.toInstant()
		.toString();
}

/** The instant at which sending hours open on a date, business day or not. */
export const openingOf: (date: IsoDate, calendar: FirmCalendar) => IsoInstant = remembered((date, calendar) =>
	localInstant(date, calendar.sendFrom, calendar)
);

/** True inside sending hours of a business day; the opening minute counts, the closing one does not. */
export function isSendingTime(instant: IsoInstant, calendar: FirmCalendar): boolean {
	const zoned = Temporal.Instant.from(instant).toZonedDateTimeISO(calendar.timeZone);
	const time = zoned.toPlainTime();
	return (
		isBusinessDay(zoned.toPlainDate().toString(), calendar) &&
		Temporal.PlainTime.compare(time, Temporal.PlainTime.from(calendar.sendFrom)) >= 0 &&
		Temporal.PlainTime.compare(time, Temporal.PlainTime.from(calendar.sendTo)) < 0
	);
}

/** The first instant at or after the given one that lies inside sending hours. */
export const nextSendingTime: (instant: IsoInstant, calendar: FirmCalendar) => IsoInstant = remembered((instant, calendar) => {
	if (isSendingTime(instant, calendar)) return instant;
	const today = localDate(instant, calendar);
	const opening = openingOf(today, calendar);
	if (isBusinessDay(today, calendar) && compareInstants(instant, opening) < 0) return opening;
	return openingOf(addBusinessDays(today, 1, calendar), calendar);
});

/** Negative if the first instant is earlier, positive if later, zero if equal. */
export function compareInstants(a: IsoInstant, b: IsoInstant): number {
	// written in UTC, whole seconds sort as text; a forecast compares some hundred thousand
	if (a.endsWith('Z') && b.endsWith('Z') && a[10] === 'T' && b[10] === 'T') {
		const [secondsA, secondsB] = [a.slice(0, 19), b.slice(0, 19)];
		if (secondsA !== secondsB) return secondsA < secondsB ? -1 : 1;
	}
	return Temporal.Instant.compare(Temporal.Instant.from(a), Temporal.Instant.from(b));
}

export function addToInstant(instant: IsoInstant, duration: { hours?: number; minutes?: number; seconds?: number }): IsoInstant {
	return Temporal.Instant.from(instant).add(duration).toString();
}

/** The openings of sending hours after one instant and up to another: where a clock that is moved forward must stop. */
export function openingsBetween(after: IsoInstant, upTo: IsoInstant, calendar: FirmCalendar): IsoInstant[] {
	const openings: IsoInstant[] = [];
	const last = localDate(upTo, calendar);
	for (let day = localDate(after, calendar); day <= last; day = addDays(day, 1)) {
		const opening = localInstant(day, calendar.sendFrom, calendar);
		if (isBusinessDay(day, calendar) && compareInstants(opening, after) > 0 && compareInstants(opening, upTo) <= 0) openings.push(opening);
	}
	return openings;
}
