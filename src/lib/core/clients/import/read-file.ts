import Papa from 'papaparse';
import type { FirmFacts } from '../../facts/fact-definition';
import { decodeText } from '../../tables/decode-text';
import { DomainError } from '../../errors/domain-error';
import { headingRow, recogniseColumns } from './columns';
import { unguardCell } from './formula-guard';
import { IMPORT_ROWS_MAX, requireFewEnough, unreadable, type FileRow, type ReadFile } from './list-file';
import { readCards } from './read-cards';

/** Largest file of one list. */
export const IMPORT_BYTES_MAX = 25 * 1024 * 1024;
/** Columns looked at; nobody's list has more. */
const COLUMNS_MAX = 100;
/** Characters of one cell: a note may be long, a file that was swallowed by a quotation mark is longer. */
const CELL_MAX = 10_000;

/**
 * Reads a list of clients from a file: CSV (RFC 4180, with commas, semicolons or tabs) or vCard (RFC 6350, 2426), in
 * UTF-8, UTF-16 or Windows-1252.
 * @throws DomainError unreadable_file saying what it is instead, too_many
 */
export function readClientFile(bytes: Uint8Array, facts: FirmFacts): ReadFile {
	if (bytes.length > IMPORT_BYTES_MAX)
		throw new DomainError(
			'too_many',
			`This file is larger than ${IMPORT_BYTES_MAX / 1024 / 1024} MB. Nothing was read; split it and import the parts.`
		);
	const { text, encoding } = decode(bytes);
	if (text.trim() === '') throw unreadable('This file is empty.');
	return /^\s*BEGIN:VCARD\s*$/im.test(text.slice(0, 200)) ? readCards(text, encoding, facts) : readTable(text, encoding, facts);
}

function decode(bytes: Uint8Array): { text: string; encoding: string } {
	const begins = (...signs: number[]) => signs.every((sign, i) => bytes[i] === sign);
	if (begins(0x50, 0x4b, 0x03, 0x04) || begins(0xd0, 0xcf, 0x11, 0xe0))
		throw unreadable('This is a spreadsheet, whatever its name says. Open it, save it as CSV, and import that.');
	if (begins(0x25, 0x50, 0x44, 0x46)) throw unreadable('This is a PDF, not a list. Ask for the list as CSV.');
	const read = decodeText(bytes);
	if (!read) throw unreadable('This is not a list in text. Save it as CSV or vCard and import that.');
	return read;
}

const SEPARATORS: Record<string, string> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs' };

/** The separator under which one of the first rows names the most columns that we know, else has the most cells. */
function separatorOf(text: string, facts: FirmFacts): string {
	const head = text.slice(0, 20_000);
	let best = { separator: ',', known: 0, cells: 1 };
	for (const separator of Object.keys(SEPARATORS)) {
		for (const row of Papa.parse<string[]>(head, { delimiter: separator, skipEmptyLines: 'greedy', preview: HEADING_AMONG }).data) {
			const known = recogniseColumns(row, [], facts).filter(Boolean).length;
			if (known > best.known || (known === best.known && row.length > best.cells)) best = { separator, known, cells: row.length };
		}
	}
	return best.separator;
}

function readTable(text: string, encoding: string, facts: FirmFacts): ReadFile {
	const separator = separatorOf(text, facts);
	const parsed = Papa.parse<string[]>(text, { delimiter: separator, skipEmptyLines: false, preview: IMPORT_ROWS_MAX + 1000 });
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
	const filled = all.filter((row) => row.cells.some((cell) => cell.trim() !== ''));
	const heading = headingRow(
		filled.slice(0, HEADING_AMONG).map((row) => row.cells),
		facts
	);
	const headingLine = heading === null ? null : filled[heading].line;
	const below = rowsBelow(filled, headingLine);
	if (below.length === 0) throw unreadable('This file has a heading, but no rows below it.');
	requireFewEnough(below.length);
	return { format: `${SEPARATORS[separator]}, ${encoding}`, headingLine, ...columnsUnder(filled, headingLine, facts), rows: filled };
}

/** Rows from the top that may hold the headings: a title and a date often stand above them. */
export const HEADING_AMONG = 20;
/** Rows that say by their look what a column holds. */
const LOOKED_AT = 50;

/** The rows that are clients: those below the headings. */
export function rowsBelow<Row extends { line: number }>(rows: readonly Row[], headingLine: number | null): Row[] {
	return rows.filter((row) => row.line > (headingLine ?? 0));
}

/** The headings of a table and what its columns hold, with the headings in one row or in none. */
export function columnsUnder(rows: readonly FileRow[], headingLine: number | null, facts: FirmFacts): Pick<ReadFile, 'header' | 'columns'> {
	const below = rowsBelow(rows, headingLine);
	const heading = rows.find((row) => row.line === headingLine);
	const width = heading ? heading.cells.length : below.reduce((most, row) => Math.max(most, row.cells.length), 0);
	const header = heading ? heading.cells.map((cell) => cell.trim()) : Array.from({ length: width }, (_, i) => `Column ${i + 1}`);
	return {
		header,
		columns: recogniseColumns(
			header,
			below.slice(0, LOOKED_AT).map((row) => row.cells),
			facts
		)
	};
}
