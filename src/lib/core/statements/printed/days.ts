import { bareText } from '../../papers/bare-text';
import type { DateOrder } from '../../transactions/days';

/** The names of months in the languages that statements come in (English, French, German, Spanish, Italian, Dutch), and how they are shortened. */
const MONTHS: readonly string[] = [
	'january janvier januar janner enero gennaio januari jan janv ene gen',
	'february fevrier februar febrero febbraio februari feb fev fevr',
	'march mars marz marzo maart mar mrz mrt',
	'april avril abril aprile apr avr abr',
	'may mai mayo maggio mei mag',
	'june juin juni junio giugno jun giu',
	'july juillet juli julio luglio jul juil juill lug',
	'august aout agosto augustus aug ago',
	'september septembre septiembre settembre sep sept set',
	'october octobre oktober octubre ottobre oct okt ott',
	'november novembre noviembre nov',
	'december decembre dezember diciembre dicembre dec dez dic'
];
const MONTH_OF = new Map(MONTHS.flatMap((names, i) => names.split(' ').map((name) => [name, i + 1] as const)));

/** A day as it stands in a text; what the text leaves out is null. */
export interface WrittenDay {
	/** null where only its parts are known, and not which is which */
	year: number | null;
	month: number | null;
	day: number | null;
	/** two parts of which either may be the month: 03/04/2026 */
	unsure: readonly [number, number] | null;
	/** where it stands in the text, and behind its end */
	start: number;
	end: number;
}

const NAMES = [...MONTH_OF.keys()].sort((a, b) => b.length - a.length).join('|');
/** What may not stand behind the last digits of a day: then they were part of a longer number, or a sum. */
const ENDS = '(?!\\d|[.,:]\\d)';
const FORMS = new RegExp(
	[
		// 2026-04-30, 2026/04/30, 2026.04.30
		`(?<![\\d.,])(?<y1>\\d{4})(?<s1>[-/.])(?<m1>\\d{1,2})\\k<s1>(?<d1>\\d{1,2})${ENDS}`,
		// 30.04.2026, 30/04/26, 04-30-2026
		`(?<![\\d.,])(?<a>\\d{1,2})(?<s2>[-/.]|\\. )(?<b>\\d{1,2})\\k<s2>(?<y2>\\d{4}|\\d{2})${ENDS}`,
		// 30.04. as some write a day of the year that the sheet is about
		`(?<![\\d.,])(?<d2>\\d{1,2})\\.(?<m2>\\d{1,2})\\.(?!\\d)`,
		// 30 April 2026, 1er avril 2026, 30. April, 30-APR-26, 30 de abril de 2026
		`(?<![\\d.,])(?<d3>\\d{1,2})(?:st|nd|rd|th|er|º)?(?:[ .-]{1,2}| de )(?<!\\p{L})(?<n3>${NAMES})(?!\\p{L})\\.?(?:(?: de | del |[ ,'’/.-]{1,2})(?<y3>\\d{4}|\\d{2})${ENDS})?`,
		// April 30, 2026
		`(?<!\\p{L})(?<n4>${NAMES})(?!\\p{L})\\.? (?<d4>\\d{1,2})(?:st|nd|rd|th)?${ENDS}(?:(?:, ?| )(?<y4>\\d{4})${ENDS})?`
	].join('|'),
	'gu'
);

const lengthOf = (year: number | null, month: number) =>
	month === 2 ? (year === null || (year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0)) ? 29 : 28) : [4, 6, 9, 11].includes(month) ? 30 : 31;

/**
 * The days that stand in a text, in every form that banks print: 1 Apr 26, 01.04.2026, 2026-04-01, April 30, 2026, 30 de abril de 2026; also
 * without their year (1 April, 01.04.). A number that is no day is left out.
 */
export function daysIn(text: string): WrittenDay[] {
	const found: WrittenDay[] = [];
	for (const match of bareText(text).matchAll(FORMS)) {
		const g = match.groups!;
		const at = { start: match.index, end: match.index + match[0].trimEnd().length };
		const written = g.y1 ?? g.y2 ?? g.y3 ?? g.y4;
		const year = written === undefined ? null : written.length === 2 ? 2000 + Number(written) : Number(written);
		if (year !== null && (year < 1970 || year > 2200)) continue;
		if (g.a !== undefined) {
			const [a, b] = [Number(g.a), Number(g.b)];
			if (a < 1 || b < 1 || a > 31 || b > 31 || (a > 12 && b > 12)) continue;
			if (a === b) found.push({ year, month: a, day: a, unsure: null, ...at });
			else if (a > 12) found.push({ year, month: b, day: a, unsure: null, ...at });
			else if (b > 12) found.push({ year, month: a, day: b, unsure: null, ...at });
			// with points the day goes first wherever it is written so
			else if (g.s2.startsWith('.')) found.push({ year, month: b, day: a, unsure: null, ...at });
			else found.push({ year, month: null, day: null, unsure: [a, b], ...at });
		} else {
			const name = g.n3 ?? g.n4;
			const month = name === undefined ? Number(g.m1 ?? g.m2) : MONTH_OF.get(name)!;
			found.push({ year, month, day: Number(g.d1 ?? g.d2 ?? g.d3 ?? g.d4), unsure: null, ...at });
		}
	}
	return found.filter(({ year, month, day }) => month === null || (month >= 1 && month <= 12 && day! >= 1 && day! <= lengthOf(year, month)));
}

/**
 * The order in which a text writes its days in numbers, told by those that leave no doubt.
 * @param days as they stand in the text
 * @returns null if nothing tells: then 03/04/2026 is nobody's day
 */
export function orderOfDays(days: readonly { words: string }[]): DateOrder | null {
	let [dmy, mdy] = [0, 0];
	for (const { words } of days) {
		const parts = /^(\d{1,2})[-/](\d{1,2})[-/]/.exec(words);
		if (!parts) continue;
		if (Number(parts[1]) > 12) dmy++;
		else if (Number(parts[2]) > 12) mdy++;
	}
	if (dmy > 0 && mdy > 0) return null;
	return dmy > 0 ? 'dmy' : mdy > 0 ? 'mdy' : null;
}

/** A day with what it leaves out put in. @returns YYYY-MM-DD, or null where that is not known or there is no such day */
export function settledDay(written: WrittenDay, order: DateOrder | null, year: number | null): string | null {
	let { month, day } = written;
	if (written.unsure) {
		if (order !== 'dmy' && order !== 'mdy') return null;
		[day, month] = order === 'dmy' ? written.unsure : [written.unsure[1], written.unsure[0]];
	}
	const y = written.year ?? year;
	if (y === null || month === null || day === null || day > lengthOf(y, month)) return null;
	return `${y}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
}

const WHOLE_MONTHS = new RegExp(
	`(?<!\\d ?)(?<!\\p{L})(?:(${NAMES})(?!\\p{L})\\.? (?:de |del )?(\\d{4})|(?<![\\d./-])(\\d{1,2})/(\\d{4}))(?!\\d|[./-]\\d)`,
	'gu'
);

/** A month that a text names as a whole, with its year: “April 2026”, “avril 2026”, “04/2026”. */
export function wholeMonthsIn(text: string): { year: number; month: number; start: number; end: number }[] {
	const bare = bareText(text);
	const days = daysIn(text);
	return [...bare.matchAll(WHOLE_MONTHS)]
		.map((match) => ({
			year: Number(match[2] ?? match[4]),
			month: match[1] ? MONTH_OF.get(match[1])! : Number(match[3]),
			start: match.index,
			end: match.index + match[0].length
		}))
		.filter(
			({ year, month, start, end }) =>
				year >= 1970 && year <= 2200 && month >= 1 && month <= 12 && !days.some((day) => day.start < end && start < day.end)
		);
}
