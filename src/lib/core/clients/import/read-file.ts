import ICAL from 'ical.js';
import iconv from 'iconv-lite';
import Papa from 'papaparse';
import { DomainError } from '../../errors/domain-error';
import { columnLabel, looksLikeHeader, recogniseColumns, type ImportColumn } from './columns';
import { unguardCell } from './formula-guard';

/** Most rows of one list. */
export const IMPORT_ROWS_MAX = 20_000;
/** Largest file of one list. */
export const IMPORT_BYTES_MAX = 25 * 1024 * 1024;
/** Columns looked at; nobody's list has more. */
const COLUMNS_MAX = 100;

export interface FileRow {
	/** the row as a spreadsheet counts it */
	line: number;
	cells: string[];
}

export interface ReadFile {
	/** "commas, UTF-8" */
	format: string;
	header: string[];
	columns: (ImportColumn | null)[];
	rows: FileRow[];
}

const unreadable = (words: string) => new DomainError('unreadable_file', words);

/**
 * Reads a list of clients from a file: CSV (RFC 4180, with commas, semicolons or tabs) or vCard (RFC 6350, 2426), in
 * UTF-8, UTF-16 or Windows-1252.
 * @throws DomainError unreadable_file saying what it is instead, too_many
 */
export function readClientFile(bytes: Uint8Array): ReadFile {
	if (bytes.length > IMPORT_BYTES_MAX)
		throw new DomainError(
			'too_many',
			`This file is larger than ${IMPORT_BYTES_MAX / 1024 / 1024} MB. Nothing was read; split it and bring in the parts.`
		);
	const { text, encoding } = decode(bytes);
	if (text.trim() === '') throw unreadable('This file is empty.');
	return /^\s*BEGIN:VCARD\s*$/im.test(text.slice(0, 200)) ? readCards(text, encoding) : readTable(text, encoding);
}

function decode(bytes: Uint8Array): { text: string; encoding: string } {
	const begins = (...signs: number[]) => signs.every((sign, i) => bytes[i] === sign);
	if (begins(0x50, 0x4b, 0x03, 0x04) || begins(0xd0, 0xcf, 0x11, 0xe0))
		throw unreadable('This is a spreadsheet, whatever its name says. Open it, save it as CSV, and bring that in.');
	if (begins(0x25, 0x50, 0x44, 0x46)) throw unreadable('This is a PDF, not a list. Ask for the list as CSV.');
	if (begins(0xef, 0xbb, 0xbf)) return { text: new TextDecoder('utf-8').decode(bytes), encoding: 'UTF-8' };
	if (begins(0xff, 0xfe)) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
	if (begins(0xfe, 0xff)) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
	// without a mark, every second byte of Latin text in UTF-16 is zero
	const head = bytes.subarray(0, 2000);
	const zeros = [0, 1].map((start) => head.filter((byte, i) => i % 2 === start && byte === 0).length / Math.max(1, head.length / 2));
	if (zeros[1] > 0.6 && zeros[0] < 0.1) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
	if (zeros[0] > 0.6 && zeros[1] < 0.1) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
	if (bytes.includes(0)) throw unreadable('This is not a list in text. Save it as CSV or vCard and bring that in.');
	try {
		return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'UTF-8' };
	} catch {
		// Node.js reads Windows-1252 as Latin-1, which has other signs at 0x80 to 0x9f
		return { text: iconv.decode(bytes as Buffer, 'windows-1252'), encoding: 'Windows-1252' };
	}
}

const SEPARATORS: Record<string, string> = { ',': 'commas', ';': 'semicolons', '\t': 'tabs' };

/** The separator under which the first row names the most columns that we know, else has the most cells. */
function separatorOf(text: string): string {
	const head = text.slice(0, 20_000);
	let best = { separator: ',', known: 0, cells: 1 };
	for (const separator of Object.keys(SEPARATORS)) {
		const first = Papa.parse<string[]>(head, { delimiter: separator, skipEmptyLines: 'greedy', preview: 1 }).data[0] ?? [];
		const known = recogniseColumns(first, []).filter(Boolean).length;
		if (known > best.known || (known === best.known && first.length > best.cells)) best = { separator, known, cells: first.length };
	}
	return best.separator;
}

function readTable(text: string, encoding: string): ReadFile {
	const separator = separatorOf(text);
	const parsed = Papa.parse<string[]>(text, { delimiter: separator, skipEmptyLines: false, preview: IMPORT_ROWS_MAX + 1000 });
	const quotes = parsed.errors.find((error) => error.type === 'Quotes');
	if (quotes)
		throw unreadable(
			`A quotation mark is not closed in row ${(quotes.row ?? 0) + 1}. Put it right in the file and bring it in again; nothing was read.`
		);
	const all = parsed.data.map((cells, i) => ({ line: i + 1, cells: cells.slice(0, COLUMNS_MAX).map((cell) => unguardCell(cell)) }));
	const filled = all.filter((row) => row.cells.some((cell) => cell.trim() !== ''));
	const hasHeader = filled.length > 0 && looksLikeHeader(filled[0].cells);
	const rows = hasHeader ? filled.slice(1) : filled;
	if (rows.length === 0) throw unreadable('This file has a heading, but no rows below it.');
	requireFewEnough(rows.length);
	const width = hasHeader ? filled[0].cells.length : rows.reduce((most, row) => Math.max(most, row.cells.length), 0);
	const header = hasHeader ? filled[0].cells.map((cell) => cell.trim()) : Array.from({ length: width }, (_, i) => `Column ${i + 1}`);
	return {
		format: `${SEPARATORS[separator]}, ${encoding}`,
		header,
		columns: recogniseColumns(
			header,
			rows.slice(0, 50).map((row) => row.cells)
		),
		rows
	};
}

function requireFewEnough(rows: number): void {
	if (rows > IMPORT_ROWS_MAX)
		throw new DomainError(
			'too_many',
			`This list has more than ${IMPORT_ROWS_MAX.toLocaleString('en')} rows. Nothing was read; split it and bring in the parts.`
		);
}

const CARD_COLUMNS = ['client', 'contact', 'email', 'phone', 'language', 'role', 'address'] as const satisfies readonly ImportColumn[];

/** One card is one person; a card without an organisation is a person who is the client. */
function readCards(text: string, encoding: string): ReadFile {
	let cards: ICAL.Component[];
	try {
		const parsed = ICAL.parse(text) as unknown[];
		cards = (typeof parsed[0] === 'string' ? [parsed] : parsed).map((card) => new ICAL.Component(card as [string, unknown[], unknown[]]));
	} catch (cause) {
		throw unreadable(`These cards cannot be read: ${(cause as Error).message}. Nothing was read.`);
	}
	requireFewEnough(cards.length);
	const rows = cards.map((card, i) => {
		const words = (name: string): string => {
			const value = card.getFirstPropertyValue(name) as unknown;
			const parts = (Array.isArray(value) ? value.flat() : [value ?? '']).map((part) => String(part).trim());
			return parts.filter(Boolean).join(name === 'adr' ? '\n' : ' ');
		};
		return {
			line: i + 1,
			cells: [
				words('org'),
				words('fn') || words('n'),
				words('email'),
				words('tel').replace(/^tel:/i, ''),
				words('lang').slice(0, 2),
				words('title') || words('role'),
				words('adr')
			]
		};
	});
	return { format: `vCard, ${encoding}`, header: CARD_COLUMNS.map(columnLabel), columns: [...CARD_COLUMNS], rows };
}
