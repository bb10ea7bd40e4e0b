import { say } from './words';

/** Making a formatter costs a hundred times what using one does, and a list uses the same few in every row. */
function kept<Options, Formatter>(make: (locale: string, options: Options) => Formatter): (locale: string, options: Options) => Formatter {
	const formatters = new Map<string, Formatter>();
	return (locale, options) => {
		const key = JSON.stringify([locale, options]);
		let known = formatters.get(key);
		if (!known) formatters.set(key, (known = make(locale, options)));
		return known;
	};
}
const formatter = kept((locale, options: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat(locale, options));
/** A kept formatter of numbers. */
export const numberFormatter = kept((locale, options: Intl.NumberFormatOptions) => new Intl.NumberFormat(locale, options));

/** A date without time in a reader's words, such as "Mon 4 May" or, with the year, "4 May 2026". */
export function dateWords(locale: string, date: string, form: 'short' | 'weekday' | 'long' | 'withYear' | 'month' = 'weekday'): string {
	const at = new Date(`${date.slice(0, 10)}T12:00:00Z`);
	const options: Intl.DateTimeFormatOptions =
		form === 'short'
			? { day: 'numeric', month: 'short' }
			: form === 'weekday'
				? { weekday: 'short', day: 'numeric', month: 'short' }
				: form === 'long'
					? { weekday: 'long', day: 'numeric', month: 'long' }
					: form === 'month'
						? { month: 'long' }
						: { day: 'numeric', month: 'long', year: 'numeric' };
	return formatter(dayFirst(locale), { ...options, timeZone: 'UTC' })
		.format(at)
		.replace(/,/g, '');
}

/** A point in time in a reader's words and a time zone, such as "Mon 4 May 09:00". */
export function timeWords(locale: string, instant: string, timeZone: string, form: 'time' | 'full' | 'stamp' = 'full'): string {
	const at = new Date(instant);
	const time = formatter(dayFirst(locale), { hour: '2-digit', minute: '2-digit', hourCycle: 'h23', timeZone }).format(at);
	if (form === 'time') return time;
	const date = formatter(dayFirst(locale), {
		...(form === 'full' ? { weekday: 'short' as const } : { year: 'numeric' as const }),
		day: 'numeric',
		month: 'short',
		timeZone
	})
		.format(at)
		.replace(/,/g, '');
	if (form === 'full') return `${date} ${time}`;
	const zone = formatter('en-GB', { timeZoneName: 'shortOffset', timeZone })
		.formatToParts(at)
		.find((part) => part.type === 'timeZoneName')?.value;
	return `${date} ${time} ${zone}`;
}

/** The day an instant falls on in a time zone, `YYYY-MM-DD`. */
export function dayOf(instant: string, timeZone: string): string {
	return formatter('en-CA', { year: 'numeric', month: '2-digit', day: '2-digit', timeZone }).format(new Date(instant));
}

/** How long ago, roughly: "35 min", "2 h", "3 days". */
export function ageWords(instant: string, now: string): string {
	const minutes = Math.max(0, Math.floor((Date.parse(now) - Date.parse(instant)) / 60_000));
	if (minutes < 60) return `${minutes} min`;
	const hours = Math.floor(minutes / 60);
	if (hours < 24) return `${hours} h`;
	const days = Math.floor(hours / 24);
	return days === 1 ? '1 day' : `${days} days`;
}

/** A day of every year, given as `MM-DD`: "31 December". */
export function dayOfYearWords(locale: string, day: string): string {
	return formatter(dayFirst(locale), { day: 'numeric', month: 'long', timeZone: 'UTC' }).format(new Date(`2024-${day}T12:00:00Z`));
}

/** A file's size: "412 kB", "3.4 MB". */
export function sizeWords(locale: string, bytes: number): string {
	const number = (value: number, digits: number) => numberFormatter(locale, { maximumFractionDigits: digits }).format(value);
	if (bytes < 1000) return `${bytes} B`;
	if (bytes < 1_000_000) return `${number(bytes / 1000, 0)} kB`;
	return `${number(bytes / 1_000_000, 1)} MB`;
}

/** A whole number in a reader's writing: "1,200". */
export function numberWords(locale: string, n: number): string {
	return numberFormatter(dayFirst(locale), {}).format(n);
}

/** Plain English writes the day first here, as the firm's ledger does. */
function dayFirst(locale: string): string {
	return locale === 'en' ? 'en-GB' : locale;
}

/** What a period is called in a reader's language: "October 2026", "3rd quarter 2026", "2026", "week of 5 October 2026". */
export function periodWords(locale: string, period: { kind: 'week' | 'month' | 'quarter' | 'year'; from: string }): string {
	const year = period.from.slice(0, 4);
	const at = new Date(`${period.from}T12:00:00Z`);
	switch (period.kind) {
		case 'year':
			return year;
		case 'month':
			return formatter(dayFirst(locale), { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(at);
		case 'quarter':
			return say(locale, 'period.quarter', { quarter: Math.ceil(Number(period.from.slice(5, 7)) / 3), year: Number(year) });
		case 'week':
			return say(locale, 'period.week', { date: dateWords(locale, period.from, 'withYear') });
	}
}
