import Papa from 'papaparse';
import { unguardCell } from './formula-guard';
import { DomainError } from '../errors/domain-error';
import { decodeText } from './decode-text';

export interface FileRow {
	/** the row as a spreadsheet counts it */
	line: number;
	cells: string[];
}

/** A refusal of a file. @param words what it is instead, and what to do */
export const unreadable = (words: string) => new DomainError('unreadable_file', words);

/** Columns looked at; nobody's list has more. */
const COLUMNS_MAX = 100;
/** Characters of one cell: a note may be long, a file that was swallowed by a quotation mark is longer. */
const CELL_MAX = 10_000;
/** Rows from the top that may hold the headings: a title and a date often stand above them. */
export const HEADING_AMONG = 20;

/** The rows of a table below its headings. */
export function rowsBelow<Row extends { line: number }>(rows: readonly Row[], headingLine: number | null): Row[] {
	return rows.filter((row) => row.line > (headingLine ?? 0));
}

/**
 * The text of a file that holds a table, in UTF-8, UTF-16 or Windows-1252.
 * @param otherwise what to do with one that is no text
 * @throws DomainError unreadable_file saying what it is instead
 */
export function textOf(bytes: Uint8Array, otherwise: string): { text: string; encoding: string } {
	const begins = (...signs: number[]) => signs.every((sign, i) => bytes[i] === sign);
	if (begins(0x50, 0x4b, 0x03, 0x04) || begins(0xd0, 0xcf, 0x11, 0xe0))
		throw unreadable('This is a spreadsheet, whatever its name says. Open it, save it as CSV, and import that.');
	if (begins(0x25, 0x50, 0x44, 0x46)) throw unreadable('This is a PDF, not a list. Ask for the list as CSV.');
	const read = decodeText(bytes);
	if (!read) throw unreadable(`This is not a list in text. ${otherwise}`);
	if (read.text.trim() === '') throw unreadable('This file is empty.');
	return read;
}

const SEPARATORS: Record<string, string> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs' };

/** The separator under which one of the first rows names the most columns that are known, else has the most cells. */
function separatorOf(text: string, known: (row: readonly string[]) => number): string {
	const head = text.slice(0, 20_000);
	let best = { separator: ',', known: 0, cells: 1 };
	for (const separator of Object.keys(SEPARATORS)) {
		for (const row of Papa.parse<string[]>(head, { delimiter: separator, skipEmptyLines: 'greedy', preview: HEADING_AMONG }).data) {
			const names = known(row);
			if (names > best.known || (names === best.known && row.length > best.cells)) best = { separator, known: names, cells: row.length };
		}
	}
	return best.separator;
}

/**
 * The rows of a table in text (CSV, RFC 4180, with commas, semicolons or tabs) that are not empty, with their place in the file.
 * @param known how many columns a row names, if it is the headings
 * @param most rows looked at
 * @returns the separator in words, and the rows
 * @throws DomainError unreadable_file
 */
export function readRows(text: string, known: (row: readonly string[]) => number, most: number): { separator: string; rows: FileRow[] } {
	const separator = separatorOf(text, known);
	const parsed = Papa.parse<string[]>(text, { delimiter: separator, skipEmptyLines: false, preview: most });
	const quotes = parsed.errors.find((error) => error.type === 'Quotes');
	if (quotes)
		throw unreadable(
			`A quotation mark is not closed in row ${(quotes.row ?? 0) + 1}. Put it right in the file and import it again; nothing was read.`
		);
	const long = parsed.data.findIndex((cells) => cells.some((cell) => cell.length > CELL_MAX));
	if (long >= 0)
		throw unreadable(
			`A cell in row ${long + 1} holds more than ${CELL_MAX.toLocaleString('en')} letters. Perhaps a quotation mark is missing there; put it right in the file and import it again. Nothing was read.`
		);
	const all = parsed.data.map((cells, i) => ({ line: i + 1, cells: cells.slice(0, COLUMNS_MAX).map((cell) => unguardCell(cell)) }));
	return { separator: SEPARATORS[separator], rows: all.filter((row) => row.cells.some((cell) => cell.trim() !== '')) };
}
