import ICAL from 'ical.js';
import { z } from 'zod';
import { DomainError } from '../errors/domain-error';
import { oneLine } from '../people/plain-fields';
import { addDays, type IsoDate } from './firm-calendar';

/** A day on which the firm does not work, and no message goes out. */
export interface Holiday {
	day: IsoDate;
	name: string;
}

export const holidaySchema = z.object({ day: z.iso.date('Choose a day.'), name: oneLine('what the day is called', 80) });

/** Most days a calendar may bring: a country has some fifteen a year. */
const HOLIDAYS_MAX = 400;
/** Most repetitions that are gone through, of all events together: fifty that began a hundred years ago and come every month. */
const REPETITIONS_MAX = 60_000;

/**
 * Reads the days of an iCalendar file (RFC 5545): each event of whole days, as often as its rule repeats it, from one day
 * up to another. Events with a time of day are meetings, not holidays, and left out.
 * @throws DomainError unreadable_file if it is no calendar, invalid if it holds nothing or too much
 */
export function readHolidays(text: string, from: IsoDate, upTo: IsoDate): Holiday[] {
	let events: ICAL.Component[];
	try {
		const calendar = new ICAL.Component(ICAL.parse(text) as unknown as ConstructorParameters<typeof ICAL.Component>[0]);
		if (calendar.name !== 'vcalendar') throw new Error('not a calendar');
		events = calendar.getAllSubcomponents('vevent');
	} catch {
		throw new DomainError('unreadable_file', 'This cannot be read as a calendar. Choose a file that ends in .ics.');
	}
	const days = new Map<IsoDate, string>();
	const add = (day: IsoDate, name: string) => {
		if (day < from || day > upTo || days.has(day)) return;
		if (days.size >= HOLIDAYS_MAX)
			throw new DomainError(
				'invalid',
				`This calendar has more than ${HOLIDAYS_MAX} days in the time ahead. It does not look like a list of holidays.`
			);
		days.set(day, name);
	};
	let passed = 0;
	for (const component of events) {
		const event = new ICAL.Event(component);
		const start = event.startDate as ICAL.Time | null;
		if (!start?.isDate) continue;
		const length = Math.max(1, Math.min(31, event.endDate ? event.endDate.subtractDate(start).toSeconds() / 86_400 : 1));
		const name = (event.summary ?? '').replace(/\s+/g, ' ').trim().slice(0, 80) || 'Holiday';
		const occurrences = event.isRecurring() ? event.iterator() : null;
		let day: ICAL.Time | null = occurrences ? occurrences.next() : start;
		while (day) {
			// a rule may begin long ago; one that repeats more often than daily is none of ours
			if (++passed > REPETITIONS_MAX)
				throw new DomainError(
					'invalid',
					'This calendar repeats itself too often to be a list of holidays. Choose one that holds nothing but holidays.'
				);
			const first = day.toString().slice(0, 10);
			if (first > upTo) break;
			for (let i = 0; i < length; i++) add(addDays(first, i), name);
			day = occurrences ? occurrences.next() : null;
		}
	}
	if (days.size === 0) throw new DomainError('invalid', 'There is no whole day in this calendar in the next three years.');
	return [...days].map(([day, name]) => ({ day, name })).sort((a, b) => a.day.localeCompare(b.day));
}
