/** In which order a file writes a day. */
export const DATE_ORDERS = ['ymd', 'dmy', 'mdy'] as const;
export type DateOrder = (typeof DATE_ORDERS)[number];
export const DATE_ORDER_WORDS: Record<DateOrder, string> = { ymd: 'year, month, day', dmy: 'day, month, year', mdy: 'month, day, year' };

// the first letters tell the months apart in both languages; “juin” and “juil” need four
const MONTHS: readonly (readonly [RegExp, number])[] = [
	[/^jan/, 1],
	[/^f[eé][bv]/, 2],
	[/^mar/, 3],
	[/^a[pv][rv]/, 4],
	[/^ma[iy]/, 5],
	[/^(jun|juin)/, 6],
	[/^(jul|juil)/, 7],
	[/^(aug|ao[uû])/, 8],
	[/^sep/, 9],
	[/^oct/, 10],
	[/^nov/, 11],
	[/^d[eé]c/, 12]
];

interface DayParts {
	parts: number[];
	/** the place of a month that was written as a word, else -1 */
	named: number;
	/** the place of the year if its length tells it, else -1 */
	year: number;
}

function partsOf(text: string): DayParts | null {
	const bare = text
		.trim()
		.toLowerCase()
		// a time of day behind it says nothing about the day
		.replace(/[t\s]+\d{1,2}:\d{2}.*$/, '');
	const compact = /^(\d{4})(\d{2})(\d{2})/.exec(bare);
	if (compact && /^\d{8}(\d{6})?(\D.*)?$/.test(bare)) return { parts: compact.slice(1).map(Number), named: -1, year: 0 };
	const found = bare
		.match(/\d+|\p{Letter}+/gu)
		?.filter((part) => !/^((mon|tue|wed|thu|fri|sat|sun|lun|jeu|ven|sam|dim|mer)|(st|nd|rd|th|er|de)$)/.test(part));
	if (!found || found.length !== 3) return null;
	let named = -1;
	let year = -1;
	const parts = found.map((part, i) => {
		if (/^\d+$/.test(part)) {
			if (part.length === 4) year = i;
			return part.length <= 4 ? Number(part) : NaN;
		}
		named = i;
		return MONTHS.find(([begins]) => begins.test(part))?.[1] ?? NaN;
	});
	return parts.some(Number.isNaN) ? null : { parts, named, year };
}

/** The parts of a day as most files write it, YYYY-MM-DD or YYYYMMDD, without looking for anything else. */
function isoParts(text: string): DayParts | null {
	const iso = /^(\d{4})-?(\d\d)-?(\d\d)$/.exec(text);
	return iso && { parts: [Number(iso[1]), Number(iso[2]), Number(iso[3])], named: -1, year: 0 };
}

/**
 * The order in which days are written, told by those that leave no doubt (a year of four digits first, a part above 12).
 * @returns null if nothing tells: 03/04/2026 may be either
 */
export function dateOrderOf(cells: Iterable<string>): DateOrder | null {
	let [dmy, mdy] = [0, 0];
	for (const cell of cells) {
		const read = partsOf(cell);
		if (!read) continue;
		if (read.year === 0) return 'ymd';
		if (read.named >= 0) {
			if (read.named === 0) mdy++;
			else dmy++;
		} else if (read.parts[0] > 31) return 'ymd';
		else if (read.parts[0] > 12) dmy++;
		else if (read.parts[1] > 12) mdy++;
	}
	return dmy === 0 && mdy === 0 ? null : dmy >= mdy ? 'dmy' : 'mdy';
}

/** A written day as YYYY-MM-DD, or null if there is no such day. Two digits are a year of this century. */
export function dayOfText(text: string, order: DateOrder): string | null {
	const read = isoParts(text) ?? partsOf(text);
	if (!read) return null;
	const { parts, named } = read;
	const at = read.year === 0 || parts[0] > 31 ? 'ymd' : order === 'ymd' && read.year === 2 ? 'dmy' : order;
	let [year, month, day] = at === 'ymd' ? parts : at === 'dmy' ? [parts[2], parts[1], parts[0]] : [parts[2], parts[0], parts[1]];
	if (named >= 0 && at !== 'ymd') [month, day] = [parts[named], parts[1 - named]];
	if (year < 100) year += 2000;
	const last = month === 2 ? (year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0) ? 29 : 28) : [4, 6, 9, 11].includes(month) ? 30 : 31;
	if (year < 1970 || year > 2200 || month < 1 || month > 12 || !(day >= 1 && day <= last)) return null;
	return `${year}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
}
