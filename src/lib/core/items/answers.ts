import { valueInWords } from '../facts/fact-words';
import { fromMinor, minorDecimals } from './minor-units';
import type { AnswerSpec } from './questions';

/** A given answer: words, a number, an amount in the minor units of its currency, a date, yes or no, one choice, or several. */
export type Answer = string | number | boolean | string[] | AnswerRow[];
/** A row of a table, by the keys of its columns; a cell that was left empty is missing. */
export type AnswerRow = Readonly<Record<string, string>>;

/**
 * The digits of a typed number with a point, or null if it is none: "1 234,50", "1,234.50", "1.234.567", "-3". Where both
 * signs occur the last is the decimal one; a sign that occurs several times groups, and so does one comma before three digits.
 */
export function plainNumber(text: string): string | null {
	const bare = text.replace(/[\s\u00a0\u202f'’$€£]/g, '').replace(/^[−–]/, '-');
	const last = bare[Math.max(bare.lastIndexOf('.'), bare.lastIndexOf(','))];
	if (last === undefined) return /^-?\d+$/.test(bare) ? bare : null;
	const group = last === ',' ? '\\.' : ',';
	const decimal = last === ',' ? ',' : '\\.';
	if (last === ',' && /^-?\d{1,3},\d{3}$/.test(bare)) return bare.replace(',', '');
	if (new RegExp(`^-?\\d{1,3}(${decimal}\\d{3}){2,}$`).test(bare)) return bare.replaceAll(last, '');
	if (!new RegExp(`^-?(\\d+|\\d{1,3}(${group}\\d{3})+)${decimal}\\d+$`).test(bare)) return null;
	return bare.replaceAll(last === ',' ? '.' : ',', '').replace(',', '.');
}

/** How the parts of an answer are written for a reader. */
export interface AnswerReader {
	/** @param day `YYYY-MM-DD` */
	date(day: string): string;
	number(value: number, decimals: { least: number; most: number }): string;
	yesNo(yes: boolean): string;
	/** @param day `MM-DD` */
	day(day: string): string;
	phone(number: string): string;
}

/** As many decimals as that, no more and no fewer. */
export const exactly = (decimals: number): { least: number; most: number } => ({ least: decimals, most: decimals });

/** How an answer reads to somebody. */
export function answerInWords(spec: AnswerSpec, answer: Answer, reader: AnswerReader): string {
	switch (spec.is) {
		case 'number':
			return `${reader.number(Number(answer), { least: 0, most: 6 })}${spec.unit ? ` ${spec.unit}` : ''}`;
		case 'money':
			return `${reader.number(fromMinor(Number(answer), spec.currency), exactly(minorDecimals(spec.currency)))} ${spec.currency}`;
		case 'date':
			return reader.date(String(answer));
		case 'yes_no':
			return reader.yesNo(answer === true);
		case 'day_of_year':
			return reader.day(String(answer));
		case 'phone':
			return reader.phone(String(answer));
		case 'several_of':
			return (answer as string[]).join(', ');
		case 'file':
			return (answer as AnswerRow[]).map(({ name }) => name).join(', ');
		case 'table':
			return valueInWords({ kind: 'table', columns: spec.columns }, JSON.stringify(answer), {
				...reader,
				number: (value) => numberAsKept(value, reader)
			});
		default:
			return String(answer);
	}
}

/** A number that is kept as text, with as many decimals as it has there. */
function numberAsKept(value: string, reader: AnswerReader): string {
	const decimals = value.split('.')[1]?.length ?? 0;
	return reader.number(Number(value), { least: decimals, most: decimals });
}
