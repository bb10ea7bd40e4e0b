import { addDays, daysBetween, type IsoDate } from '../../calendar/firm-calendar';
import type { DateOrder } from '../../transactions/days';
import type { DecimalMark } from '../../transactions/amounts';
import { bareText } from '../../papers/bare-text';
import { daysIn, orderOfDays, settledDay, wholeMonthsIn, type WrittenDay } from './days';
import { linesOf, placeOf, type Cell, type Line, type PlaceOnPage, type PrintedPage } from './page-lines';
import { hundredths, inUnits, markOf, settledSum, sumsIn, type WrittenSum } from './sums';

/** What was read, with where it stands. */
export interface ReadValue<T = string> {
	value: T;
	at: PlaceOnPage;
}

/** What a statement says of itself. What it does not say, or says in two ways, is null: no value is better than a wrong one. */
export interface StatementReading {
	/** the last four digits of the account's number */
	account: ReadValue | null;
	from: ReadValue<IsoDate> | null;
	to: ReadValue<IsoDate> | null;
	/** exact, with two decimals */
	opening: ReadValue | null;
	closing: ReadValue | null;
	/** ISO 4217 */
	currency: ReadValue | null;
	/** payments that could be read, and what they come to together; null where there is no table of them that can be read */
	lines: { count: number; sum: string } | null;
}
export const STATEMENT_VALUES = ['account', 'from', 'to', 'opening', 'closing', 'currency'] as const satisfies readonly (keyof StatementReading)[];
export type StatementValue = (typeof STATEMENT_VALUES)[number];

/** What a firm has learnt of how an institution names a sum on its statements. */
export interface LearntLabel {
	institution: string;
	value: 'opening' | 'closing';
	/** as `labelWords` gives it */
	label: string;
}

const OPENING =
	/opening balance|beginning balance|starting balance|previous (?:statement )?balance|balance at (?:the )?(?:start|beginning)|(?:ancien|precedent) solde|solde (?:precedent|initial|d'ouverture|d’ouverture|d'ouv|au debut)|(?:anfangs|eroffnungs|start)saldo|alter (?:konto)?(?:saldo|stand)|saldo (?:inicial|anterior|iniziale|precedente)|(?:begin|vorig )saldo|vorig saldo/u;
const CLOSING =
	/closing balance|ending balance|(?<!previous )statement balance|new balance|balance at (?:the )?(?:end|close)|nouveau solde|solde (?:final|de cloture|de fermeture|a la fin|actuel)|(?:end|schluss|abschluss)saldo|neuer (?:konto)?(?:saldo|stand)|(?:nuevo saldo|saldo (?:final|nuevo|finale|attuale))|(?:eind|nieuw )saldo/u;
/** Sums that are carried from page to page: the first, and the last, where nothing says it better. */
const BROUGHT = /brought forward|balance forward|solde reporte|report du solde|saldovortrag|ubertrag von|saldo anterior|transporte/u;
const CARRIED = /carried forward|a reporter|ubertrag auf/u;
/** “Balance on 30 April”: which one it is, its day tells. */
const DATED =
	/(?:balance (?:on|as of|as at|at)|solde (?:au|en date du)|(?:konto)?(?:saldo|stand) (?:am|per|vom)|saldo (?:al|a|per|op))(?= ?\d|:? ?\p{L}{3,9} \d)/u;
const PERIOD =
	/statement (?:period|dates?)|period|periode|for the (?:month|period)|zeitraum|umsatze vom|periodo|extracto|activity from|from|vom|du|del|dal|van/u;
const TO = /^[ ,]*(?:-|–|—|to|until|through|thru|till|and|au|jusqu'au|bis|zum|al|hasta|a|tot|t\/m|\/)[ :]*(?:the |le |el |zum )?$/u;
const TITLE = /statement|releve|kontoauszug|auszug|extracto|estratto|afschrift/u;
const ACCOUNT =
	/(?:account|acct|card|kontonummer|konto|karte|kartennummer|compte|carte|cuenta|tarjeta|conto|carta|rekening|iban|loan|darlehen|pret|merchant)[ .:-]*(?:nummer|number|numero|no|nr|n°|nº|num|id|ending in|ending|endend auf)?[ .:°º#]*(?=[a-z]{2}\d{2}|[\d*x•·]|\.\.)/u;
/** A number of an account as it is printed: in groups, the first ones often hidden. */
const NUMBER = /^(?:[a-z]{2}\d{2}(?: ?[a-z]{4}(?![a-z]))? ?)?[\d*x•·.]+(?:[ -][\d*x•·]+)*/u;

const CURRENCIES = new Set([
	'CAD',
	'USD',
	'EUR',
	'GBP',
	'CHF',
	'AUD',
	'NZD',
	'JPY',
	'SEK',
	'NOK',
	'DKK',
	'PLN',
	'CZK',
	'HUF',
	'MXN',
	'BRL',
	'INR',
	'ZAR'
]);
const CURRENCY_SIGNS: Record<string, string> = { '€': 'EUR', '£': 'GBP' };

/** Words of languages in which the day goes before the month wherever both are numbers. */
const DAY_FIRST = /(?<!\p{L})(?:releve|solde|kontoauszug|kontostand|extracto|saldo|estratto|afschrift)(?!\p{L})/u;

/** A label as it is compared: letters alone, without days and sums. */
export const labelWords = (text: string): string =>
	bareText(text)
		.replace(/[^\p{L} ]+/gu, ' ')
		.replace(/\s+/g, ' ')
		.trim();

interface Sheet {
	lines: Line[];
	bare: string[];
	mark: DecimalMark;
	order: DateOrder | null;
}

/** A place in a line. */
interface Spot {
	line: number;
	start: number;
	end: number;
}

function sheetOf(lines: Line[]): Sheet {
	const sums = lines.flatMap((line) => line.cells.flatMap(({ text }) => sumsIn(text)));
	const written = lines.flatMap((line) => daysIn(line.text).map((day) => ({ ...day, words: line.text.slice(day.start, day.end) })));
	const bare = lines.map(({ text }) => bareText(text));
	return {
		lines,
		bare,
		mark: markOf(sums),
		order: orderOfDays(written) ?? (bare.some((text) => DAY_FIRST.test(text)) ? 'dmy' : null)
	};
}

function cellAt(line: Line, at: number): { cell: Cell; start: number } {
	const i = line.starts.findLastIndex((start) => start <= at);
	return { cell: line.cells[i], start: line.starts[i] };
}
function readAt<T>(line: Line, start: number, end: number, value: T): ReadValue<T> {
	const { cell, start: begins } = cellAt(line, start);
	return { value, at: placeOf(line, cell, start - begins, Math.min(end - begins, cell.text.length)) };
}

/** The sums of a line, cell by cell: what stands apart is no group of thousands. */
const sumsOfLine = (line: Line): (WrittenSum & { cell: Cell })[] =>
	line.cells.flatMap((cell, i) =>
		sumsIn(cell.text).map((sum) => ({ ...sum, start: sum.start + line.starts[i], end: sum.end + line.starts[i], cell }))
	);

/** Lines below a label in which its sum may stand, if it does not stand beside it. */
const BELOW = 2;

/** The sum that belongs to a label: beside it, else below it. Undefined where there is none. */
function sumOf(sheet: Sheet, { line: at, start, end }: Spot): { value: ReadValue; where: string } | undefined {
	const line = sheet.lines[at];
	const label = cellAt(line, start).cell;
	const settle = (in_: Line, sum: WrittenSum) => {
		const value = settledSum(sum, sheet.mark);
		return value === null ? undefined : { value: readAt(in_, sum.start, sum.end, value), where: `${in_.page} ${in_.y} ${sum.start}` };
	};
	const beside = sumsOfLine(line).filter((sum) => sum.start >= end);
	// another label between them has the sum for itself
	const next = line.cells.findIndex((cell, i) => line.starts[i] >= end && /\p{L}{4}/u.test(cell.text) && sumsIn(cell.text).length === 0);
	const first = beside.find((sum) => next < 0 || sum.start < line.starts[next]);
	// of a line of a table the last sum is the balance
	if (first) return settle(line, next < 0 && daysIn(line.text.slice(0, start)).length > 0 ? beside.at(-1)! : first);
	for (const below of sheet.lines.slice(at + 1, at + 1 + BELOW)) {
		if (below.page !== line.page || below.y - line.y > label.height * 4) break;
		const under = sumsOfLine(below).find(({ cell }) => cell.x < label.right + label.height && cell.right > label.x - label.height);
		if (under) return settle(below, under);
	}
	return undefined;
}

const spotsOf = (sheet: Sheet, pattern: RegExp): Spot[] =>
	sheet.bare.flatMap((text, line) =>
		[...text.matchAll(new RegExp(pattern.source, 'gu'))].map((match) => ({ line, start: match.index, end: match.index + match[0].length }))
	);

/** What several labels say, if they say one thing. */
function agreed(found: ({ value: ReadValue } | undefined)[]): ReadValue | null {
	const said = found.filter((one) => one !== undefined);
	return said.length > 0 && said.every(({ value }) => value.value === said[0].value.value) ? said[0].value : null;
}

interface Period {
	from: ReadValue<IsoDate>;
	to: ReadValue<IsoDate>;
}

/** Longest time that one statement covers, in days. */
export const LONGEST = 370;

/** The days that a sheet says it covers. */
function periodOf(sheet: Sheet): Period | null {
	const found = sheet.lines.flatMap((line, n) => {
		const above = n > 0 && sheet.lines[n - 1].page === line.page ? sheet.bare[n - 1] : '';
		return [line, ...wrappedCells(line, sheet.lines[n + 1])].flatMap((one) => spansIn(sheet, one, above));
	});
	const best = Math.max(0, ...found.map(({ strength }) => strength));
	const strongest = found.filter(({ strength }) => strength === best);
	const [one] = strongest;
	if (one && strongest.every(({ from, to }) => from.value === one.from.value && to.value === one.to.value)) return { from: one.from, to: one.to };
	return found.length > 0 ? null : (separateDays(sheet) ?? monthOfTitle(sheet));
}

/** Cells whose words go on in the next line below them, each as a line of its own. */
function wrappedCells(line: Line, next: Line | undefined): Line[] {
	if (!next || next.page !== line.page) return [];
	return line.cells.flatMap((cell) => {
		const below = next.cells.find(({ x, right }) => Math.abs(x - cell.x) < 2 || Math.abs(right - cell.right) < 2);
		if (!below || next.y - line.y > cell.height * 1.8) return [];
		const text = `${cell.text} ${below.text}`;
		return [{ ...line, cells: [{ ...cell, text }], text, starts: [0] }];
	});
}

/** The spans of days in a line, and how much it says that they are what the statement is about. @param above the line above, for a heading */
function spansIn(sheet: Sheet, line: Line, above: string): (Period & { strength: number })[] {
	const found: (Period & { strength: number })[] = [];
	const bare = bareText(line.text);
	const days = daysIn(line.text);
	for (const [i, second] of days.entries()) {
		const first = i > 0 ? days[i - 1] : dayBefore(bare, second);
		if (!first || !TO.test(bare.slice(first.end, second.start).replace(/\s+/g, ' '))) continue;
		const to = settledDay(second, sheet.order, null);
		if (to === null) continue;
		let from = settledDay({ ...first, month: first.month ?? (first.unsure ? null : second.month) }, sheet.order, Number(to.slice(0, 4)));
		// 21 December to 20 January 2026
		if (from !== null && from > to && first.year === null) from = settledDay(first, sheet.order, Number(to.slice(0, 4)) - 1);
		if (from === null || from > to || daysBetween(from, to) > LONGEST || from === to) continue;
		const strength = PERIOD.test(bare.slice(0, first.start)) ? 3 : PERIOD.test(above) || TITLE.test(bare) ? 2 : 1;
		found.push({ from: readAt(line, first.start, first.end, from), to: readAt(line, second.start, second.end, to), strength });
	}
	return found;
}

/** “1 – 30 April 2026”: the first day has its month from the second one. Also “April 1 – 30, 2026” read from behind. */
function dayBefore(bare: string, second: WrittenDay): WrittenDay | null {
	const match = /(?<![\d.,:/-])(\d{1,2})(?:st|nd|rd|th|er|\.)? ?(?:-|–|—|to|au|bis|al?) ?$/u.exec(bare.slice(0, second.start));
	if (!match || second.month === null) return null;
	const start = match.index;
	return {
		year: second.year,
		month: second.month,
		day: Number(match[1]),
		unsure: null,
		start,
		end: start + /^\d+(?:st|nd|rd|th|er|\.)?/.exec(match[0])![0].length
	};
}

const FROM_LABEL = /(?:period|statement) (?:start|from|begin)\w*|start date|opening date|date de debut|debut|von|beginn|fecha inicial|desde/u;
const TO_LABEL = /(?:period|statement) (?:end|to)\w*|closing date|end date|date de fin|fin|bis|ende|fecha final|hasta/u;

/** The first and last day, each with a label of its own. */
function separateDays(sheet: Sheet): Period | null {
	const dayOf = (label: RegExp): ReadValue<IsoDate> | null => {
		const read = spotsOf(sheet, new RegExp(`(?<!\\p{L})(?:${label.source})(?!\\p{L})`, 'u')).map(({ line: n, end }) => {
			const line = sheet.lines[n];
			const [day] = daysIn(line.text).filter(({ start }) => start >= end && start - end < 40);
			const value = day ? settledDay(day, sheet.order, null) : null;
			return value === null ? undefined : { value: readAt(line, day.start, day.end, value) };
		});
		return agreed(read);
	};
	const [from, to] = [dayOf(FROM_LABEL), dayOf(TO_LABEL)];
	return from && to && from.value < to.value && daysBetween(from.value, to.value) <= LONGEST ? { from, to } : null;
}

/** A whole month that the heading of a statement names. */
function monthOfTitle(sheet: Sheet): Period | null {
	const months = sheet.lines.flatMap((line, n) => {
		if (!TITLE.test(sheet.bare[n]) && !(n > 0 && TITLE.test(sheet.bare[n - 1]))) return [];
		return wholeMonthsIn(line.text).map((month) => ({ line, ...month }));
	});
	const [first] = months;
	if (!first || months.some(({ year, month }) => year !== first.year || month !== first.month)) return null;
	const from = `${first.year}-${String(first.month).padStart(2, '0')}-01`;
	const next = first.month === 12 ? `${first.year + 1}-01-01` : `${first.year}-${String(first.month + 1).padStart(2, '0')}-01`;
	const at = <T>(value: T) => readAt(first.line, first.start, first.end, value);
	return { from: at(from), to: at(addDays(next, -1)) };
}

/**
 * The first day of what a balance opens and another one closes: a first of the month is that day itself; where both days close a cycle (the end
 * of a month, or the same day of two months) it is the next one. Of any other pair nobody knows.
 */
export function openedOn(first: IsoDate, last: IsoDate): IsoDate | null {
	const endsMonth = (day: IsoDate) => addDays(day, 1).endsWith('-01');
	if (first.endsWith('-01')) return first;
	return (endsMonth(first) && endsMonth(last)) || first.slice(8) === last.slice(8) ? addDays(first, 1) : null;
}

/** “Balance on 30 April”: the first of two days is the opening one, the later the closing one. */
function datedBalances(sheet: Sheet): { day: IsoDate; value: ReadValue; at: ReadValue<IsoDate> }[] {
	return spotsOf(sheet, DATED).flatMap((spot) => {
		const line = sheet.lines[spot.line];
		const [day] = daysIn(line.text).filter(({ start }) => start >= spot.end - 1 && start - spot.end < 6);
		const value = day && settledDay(day, sheet.order, null);
		const sum = day && sumOf(sheet, { ...spot, end: day.end });
		return value && sum ? [{ day: value, value: sum.value, at: readAt(line, day.start, day.end, value) }] : [];
	});
}

/** Where numbers of accounts stand, each with its last four digits. */
function accountsOf(sheet: Sheet): (ReadValue & { line: number })[] {
	return spotsOf(sheet, ACCOUNT).flatMap(({ line: n, end }) => {
		const line = sheet.lines[n];
		// what goes on with a day, or with a sign between two parts of a line, is the number no more
		const until = daysIn(line.text).find(({ start }) => start > end)?.start;
		const number = NUMBER.exec(sheet.bare[n].slice(end, until))?.[0].replace(/\D+$/, '') ?? '';
		const digits = number.replace(/\D/g, '');
		// "account 2 of 3" is no number
		if (digits.length < 4 || !/\d{4}$/.test(number.replace(/[ -]/g, ''))) return [];
		return [{ ...readAt(line, end, end + number.length, digits.slice(-4)), line: n }];
	});
}

function currencyOf(sheet: Sheet): ReadValue | null {
	const found = new Map<string, ReadValue>();
	for (const line of sheet.lines)
		for (const match of line.text.matchAll(/(?<![A-Za-z])([A-Z]{3})(?![A-Za-z])|[€£]/gu)) {
			const code = match[1] ?? CURRENCY_SIGNS[match[0]];
			if (CURRENCIES.has(code) && !found.has(code)) found.set(code, readAt(line, match.index, match.index + match[0].length, code));
		}
	return found.size === 1 ? [...found.values()][0] : null;
}

const OUT = /debit|withdraw|paid out|money out|charges|payments out|retrait|soll|belastung|cargo|addebit|af\b|uitgaand/u;
const IN = /credit|deposit|paid in|money in|payments in|depot|versement|haben|gutschrift|abono|accredit|bij\b|inkomend/u;
const BALANCE = /balance|solde|saldo|kontostand/u;
const AMOUNT = /amount|montant|betrag|importe|importo|bedrag/u;

/** The payments of a sheet that stand in a table with headings, added up. Null without such a table. */
function paymentsOf(sheet: Sheet): { count: number; sum: string } | null {
	let columns: { is: 'out' | 'in' | 'amount' | 'balance'; x: number; right: number }[] = [];
	let [count, sum] = [0, 0n];
	for (const [n, line] of sheet.lines.entries()) {
		const heads = line.cells.flatMap((cell) => {
			const words = bareText(cell.text);
			if (sumsIn(cell.text).length > 0) return [];
			const is = OUT.test(words) ? 'out' : IN.test(words) ? 'in' : AMOUNT.test(words) ? 'amount' : BALANCE.test(words) ? 'balance' : null;
			return is ? [{ is, x: cell.x, right: cell.right } as const] : [];
		});
		if (heads.some(({ is }) => is !== 'balance') && heads.length >= 1 && line.cells.length >= 3) {
			columns = heads;
			continue;
		}
		if (columns.length === 0) continue;
		const [day] = daysIn(line.text);
		if (
			!day ||
			day.start > 2 ||
			OPENING.test(sheet.bare[n]) ||
			CLOSING.test(sheet.bare[n]) ||
			BROUGHT.test(sheet.bare[n]) ||
			CARRIED.test(sheet.bare[n])
		)
			continue;
		for (const written of sumsOfLine(line)) {
			const near = columns
				.map((column) => ({ column, away: Math.min(Math.abs(column.right - written.cell.right), Math.abs(column.x - written.cell.x)) }))
				.sort((a, b) => a.away - b.away)[0];
			const value = settledSum(written, sheet.mark);
			if (value === null || near.column.is === 'balance' || near.away > 60) continue;
			count++;
			const size = hundredths(value);
			sum += near.column.is === 'out' ? (size > 0n ? -size : size) : size;
		}
	}
	return count > 0 ? { count, sum: inUnits(sum) } : null;
}

/**
 * What a sheet calls a sum: the words beside it, else above it. By it the same sum is found on the next sheet of the institution.
 * @param amount exact, as a person wrote it
 * @returns null if the sum does not stand there, stands in a table of payments, or is called by several names
 */
export function labelOfSum(pages: readonly PrintedPage[], amount: string): string | null {
	const sheet = sheetOf(linesOf(pages));
	const labels = sheet.lines.flatMap((line, n) => {
		if (daysIn(line.text).some(({ start }) => start <= 2)) return [];
		return sumsOfLine(line)
			.filter((sum) => settledSum(sum, sheet.mark) === amount)
			.flatMap(({ cell, start }) => {
				const within = labelWords(cell.text.slice(0, start - line.starts[line.cells.indexOf(cell)]));
				const beside = line.cells.findLast((one) => one.right <= cell.x && sumsIn(one.text).length === 0);
				const over = sheet.lines
					.slice(Math.max(0, n - BELOW), n)
					.filter(({ page, y }) => page === line.page && line.y - y <= cell.height * 4)
					.flatMap(({ cells }) =>
						cells.filter((one) => one.x < cell.right + cell.height && one.right > cell.x - cell.height && sumsIn(one.text).length === 0)
					)
					.at(-1);
				const label = [within, labelWords(beside?.text ?? ''), labelWords(over?.text ?? '')].find((words) => words.length >= 3);
				return label ? [label.slice(0, 80)] : [];
			});
	});
	return labels.length > 0 && labels.every((label) => label === labels[0]) ? labels[0] : null;
}

/** The values of one account's part of a sheet. @param whole the sheet as a whole, for what is said once for all accounts */
function readingOf(part: Sheet, whole: Sheet, account: ReadValue | null, learnt: readonly LearntLabel[]): StatementReading {
	const balance = (value: 'opening' | 'closing', strong: RegExp, weak: RegExp, which: 0 | -1): ReadValue | null => {
		const own = learnt.filter((one) => one.value === value).map(({ label }) => label);
		if (own.length > 0) {
			const spots = part.lines.flatMap((line, n) =>
				line.cells.flatMap((cell, i) =>
					own.includes(labelWords(cell.text.slice(0, sumsIn(cell.text)[0]?.start)))
						? [{ line: n, start: line.starts[i], end: line.starts[i] + (sumsIn(cell.text)[0]?.start ?? cell.text.length) }]
						: []
				)
			);
			const taught = agreed(spots.map((spot) => sumOf(part, spot)));
			if (taught) return taught;
		}
		const spots = spotsOf(part, strong);
		if (spots.length > 0) return agreed(spots.map((spot) => sumOf(part, spot)));
		return (
			spotsOf(part, weak)
				.map((spot) => sumOf(part, spot))
				.at(which)?.value ?? null
		);
	};
	let opening = balance('opening', OPENING, BROUGHT, 0);
	let closing = balance('closing', CLOSING, CARRIED, -1);
	let period = periodOf(part) ?? (part === whole ? null : periodOf(whole));
	const dated = datedBalances(part).sort((a, b) => (a.day < b.day ? -1 : 1));
	const [first, last] = [dated[0], dated.at(-1)];
	if (dated.length >= 2 && first.day < last!.day) {
		opening ??= first.value;
		closing ??= last!.value;
		const from = openedOn(first.day, last!.day);
		if (!period && from && daysBetween(first.day, last!.day) <= LONGEST) period = { from: { ...first.at, value: from }, to: last!.at };
	} else if (dated.length === 1 && period) {
		if (first.day === period.to.value) closing ??= first.value;
		else if (first.day === period.from.value || addDays(first.day, 1) === period.from.value) opening ??= first.value;
	}
	const lines = paymentsOf(part);
	return {
		account,
		from: period?.from ?? null,
		to: period?.to ?? null,
		opening,
		closing,
		currency: currencyOf(part) ?? (part === whole ? null : currencyOf(whole)),
		lines
	};
}

/** Whether there is enough in it to be a statement, and not any letter with a date and a sum. */
const isStatement = ({ account, from, opening, closing }: StatementReading): boolean =>
	[account, from, opening ?? closing].filter((value) => value !== null).length >= 2 && (opening !== null || closing !== null || from !== null);

/**
 * Reads the statements of a file: one, or one for each account of it that has a balance of its own.
 * @param pages words and where they stand
 * @param learnt labels that this firm has taught; those of institutions that the file does not name are not used
 */
export function readPrintedStatements(pages: readonly PrintedPage[], learnt: readonly LearntLabel[] = []): StatementReading[] {
	const whole = sheetOf(linesOf(pages));
	const named = whole.bare.join('\n');
	const known = learnt.filter(({ institution }) => named.includes(bareText(institution)));
	const accounts = accountsOf(whole);
	// where another number begins, another account does, if it opens with a balance before the next one: money also goes to other accounts
	const begins = accounts.filter(({ value }, i) => i === 0 || value !== accounts[i - 1].value);
	const parts = begins.map((account, i) => {
		const end = begins[i + 1]?.line ?? whole.lines.length;
		const from = i === 0 ? 0 : account.line;
		return { account, sheet: { ...whole, lines: whole.lines.slice(from, end), bare: whole.bare.slice(from, end) } };
	});
	const balanced = parts.filter(({ sheet }) => spotsOf(sheet, OPENING).some((spot) => sumOf(sheet, spot)));
	const several =
		new Set(balanced.map(({ account }) => account.value)).size > 1 && balanced.length === new Set(balanced.map(({ account }) => account.value)).size;
	const one = balanced[0] ?? parts[0];
	const readings = several
		? balanced.map(({ account, sheet }) => readingOf(sheet, whole, { value: account.value, at: account.at }, known))
		: [readingOf(whole, whole, one ? { value: one.account.value, at: one.account.at } : null, known)];
	return readings.filter(isStatement);
}

/**
 * Whether what comes in and goes out leads from the opening to the closing balance: what it is off by, '0.00' if it agrees. A card's own
 * sheet counts what is owed, so that payments stand there the other way round. Null where something of it could not be read.
 */
export function offBy({ opening, closing, lines }: { opening: string | null; closing: string | null; lines: { sum: string } | null }): string | null {
	if (opening === null || closing === null || lines === null) return null;
	const [rise, sum] = [hundredths(closing) - hundredths(opening), hundredths(lines.sum)];
	return rise === sum || rise === -sum ? '0.00' : inUnits(rise - sum);
}
