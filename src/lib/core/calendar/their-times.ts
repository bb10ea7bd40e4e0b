import { z } from 'zod';
import {
	addBusinessDays,
	addDays,
	compareInstants,
	isBusinessDay,
	localDate,
	localInstant,
	nextSendingTime,
	onOrAfterBusinessDay,
	openingOf,
	remembered,
	timeOfDay,
	timeZoneField,
	weekdayOf,
	type FirmCalendar,
	type IsoDate,
	type IsoInstant
} from './firm-calendar';

/** When one person may be written to by itself, besides the firm's own sending hours: both must allow it. */
export interface TheirTimes {
	/** where they are, as an IANA time zone; null where the firm is */
	timeZone: string | null;
	/** from when to when, on their clock; null as the firm's sending hours, on their clock */
	from: string | null;
	to: string | null;
	/** days of the week, where they are, on which nothing goes to them; ISO 8601, 1 is Monday */
	quietDays: readonly number[];
	/** how many reminders within seven days at most; null as the firm has it */
	perWeek: number | null;
}

// what is wrong is said in words of the catalogue
const zone = z.string().refine((name) => timeZoneField.safeParse(name).success, 'wrong.times.zone');
const time = z.string().refine((typed) => timeOfDay.safeParse(typed).success, 'wrong.times.time');
const orNothing = <Field extends z.ZodType>(field: Field) => z.union([z.literal('').transform(() => null), field]);

/** The form in which it is said when somebody may be written to, by the firm or by themselves. */
export const theirTimesForm = z
	.object({
		timeZone: orNothing(zone),
		from: orNothing(time),
		to: orNothing(time),
		quietDays: z.array(z.coerce.number().int().min(1).max(7)).max(7),
		perWeek: orNothing(z.string().refine((typed) => /^[1-7]$/.test(typed), 'wrong.times.week'))
	})
	.superRefine(({ from, to, quietDays }, context) => {
		if ((from === null) !== (to === null)) context.addIssue({ code: 'custom', path: [from === null ? 'from' : 'to'], message: 'wrong.times.both' });
		else if (from !== null && to !== null && from >= to) context.addIssue({ code: 'custom', path: ['to'], message: 'wrong.times.order' });
		if (new Set(quietDays).size === 7) context.addIssue({ code: 'custom', path: ['quietDays'], message: 'wrong.times.days' });
	})
	.transform((times): TheirTimes => ({
		...times,
		quietDays: [...new Set(times.quietDays)].sort(),
		perWeek: times.perWeek === null ? null : Number(times.perWeek)
	}));

/** Whether anything about somebody differs from the firm. */
export const hasOwnTimes = (times: TheirTimes): boolean =>
	times.timeZone !== null || times.from !== null || times.quietDays.length > 0 || times.perWeek !== null;

/** How many business days are looked ahead for hours that meet the firm's. */
const LOOKED_AHEAD = 60;

interface Window {
	from: IsoInstant;
	to: IsoInstant;
}

/** On a firm's day, when its sending hours and theirs both allow it: at most twice, where their midnight lies in between. */
function windowsOn(day: IsoDate, times: TheirTimes, calendar: FirmCalendar): Window[] {
	const key = `${day} ${times.timeZone} ${times.from} ${times.to} ${times.quietDays.join('')}`;
	return windows(key, calendar);
}

const windows = remembered((question, calendar: FirmCalendar): Window[] => {
	const [day, zone, from, to, quiet] = question.split(' ');
	if (!isBusinessDay(day, calendar)) return [];
	const there = { timeZone: zone === 'null' ? calendar.timeZone : zone };
	const firm = { from: openingOf(day, calendar), to: localInstant(day, calendar.sendTo, calendar) };
	const days = [...new Set([localDate(firm.from, there), localDate(firm.to, there)])];
	return days.flatMap((theirDay) => {
		if (quiet.includes(String(weekdayOf(theirDay)))) return [];
		const opens = localInstant(theirDay, from === 'null' ? calendar.sendFrom : from, there);
		const closes = localInstant(theirDay, to === 'null' ? calendar.sendTo : to, there);
		const both = {
			from: compareInstants(opens, firm.from) > 0 ? opens : firm.from,
			to: compareInstants(closes, firm.to) < 0 ? closes : firm.to
		};
		return compareInstants(both.from, both.to) < 0 ? [both] : [];
	});
});

/**
 * The first instant at or after the given one that both the firm's sending hours and theirs allow. Where they do not meet within sixty
 * business days (the firm has changed its own since), the firm's hours hold alone, so that nothing is lost.
 * @param times null for somebody without times of their own
 */
export function nextTimeFor(instant: IsoInstant, times: TheirTimes | null, calendar: FirmCalendar): IsoInstant {
	const byFirm = nextSendingTime(instant, calendar);
	if (!times) return byFirm;
	let day = localDate(byFirm, calendar);
	for (let looked = 0; looked < LOOKED_AHEAD; looked++) {
		for (const { from, to } of windowsOn(day, times, calendar))
			if (compareInstants(to, instant) > 0) return compareInstants(from, instant) > 0 ? from : instant;
		day = addBusinessDays(day, 1, calendar);
	}
	return byFirm;
}

/** Whether both the firm's sending hours and theirs allow an instant. */
export const isTimeFor = (instant: IsoInstant, times: TheirTimes | null, calendar: FirmCalendar): boolean =>
	compareInstants(nextTimeFor(instant, times, calendar), instant) === 0;

/** Whether their times and the firm's sending hours meet at all, within sixty business days from a day on. */
export function timesMeet(times: TheirTimes, calendar: FirmCalendar, today: IsoDate): boolean {
	let day = onOrAfterBusinessDay(today, calendar);
	for (let looked = 0; looked < LOOKED_AHEAD; looked++) {
		if (windowsOn(day, times, calendar).length > 0) return true;
		day = addBusinessDays(day, 1, calendar);
	}
	return false;
}

/** When somebody may first be written to on each of the days after one instant and up to another: where a clock that is moved forward must stop. */
export function theirOpeningsBetween(after: IsoInstant, upTo: IsoInstant, times: TheirTimes, calendar: FirmCalendar): IsoInstant[] {
	const openings: IsoInstant[] = [];
	const last = localDate(upTo, calendar);
	for (let day = localDate(after, calendar); day <= last; day = addDays(day, 1))
		for (const { from } of windowsOn(day, times, calendar))
			if (compareInstants(from, after) > 0 && compareInstants(from, upTo) <= 0) openings.push(from);
	return openings;
}
