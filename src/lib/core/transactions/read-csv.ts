import Papa from 'papaparse';
import { unguardCell } from '../tables/formula-guard';
import { amountOf, decimalMarkOf, negated, type DecimalMark } from './amounts';
import { columnOfHeading, missingColumn, recogniseCsvColumns, type CsvColumn } from './csv-columns';
import { dateOrderOf, dayOfText, type DateOrder } from './days';
import { FIELD_MAX, fieldText, FILE_LINES_MAX, unreadable, type StatementReader, type StatementLineSink } from './statement-line';

/** How a table is read, where a person chose it; null is found out. */
export interface CsvChoices {
	columns: (CsvColumn | null)[] | null;
	order: DateOrder | null;
	/** the signs are the other way round: cards often write what was spent without a minus */
	flip: boolean;
}
/** How it was read. */
export interface CsvFound {
	columns: (CsvColumn | null)[];
	/** null: nothing in the file tells day and month apart */
	order: DateOrder | null;
	mark: DecimalMark;
}

const COLUMNS_MAX = 60;
/** Rows in which a heading is looked for: banks write a few lines about the account first. */
const HEAD_ROWS = 30;
const SEPARATORS = [',', ';', '\t', '|'];
/** A field of a table that goes on longer was never closed, or is no table. */
const PIECE_MAX = 1_000_000;
const OPENS_AFTER = `${SEPARATORS.join('')}\r\n`;
const NEVER_CLOSED =
	'A cell of this table does not end: a quotation mark is not closed. Put it right in the file and import it again; nothing was read.';

/** The separator under which most rows have the same number of cells, more than one. */
function separatorOf(head: string): string {
	let best = { separator: ',', score: 0 };
	for (const separator of SEPARATORS) {
		const rows = Papa.parse<string[]>(head, { delimiter: separator, skipEmptyLines: 'greedy', preview: HEAD_ROWS }).data;
		const widths = rows.map((row) => row.length);
		const most = Math.max(
			0,
			...widths.filter((width) => width > 1).map((width) => widths.filter((other) => other === width).length * Math.min(width, 8))
		);
		if (most > best.score) best = { separator, score: most };
	}
	return best.separator;
}

/**
 * Reads a bank's or a ledger's table (RFC 4180, with commas, semicolons, tabs or bars), lines before its heading passed
 * over. Columns, decimal mark and order of dates are told by the whole table, so its lines come at the end; the text itself
 * is never held whole.
 */
export function readCsv(sink: StatementLineSink, choices: CsvChoices): StatementReader & { found(): CsvFound } {
	let rest = '';
	let separator: string | null = null;
	let header: string[] = [];
	let found: CsvFound = { columns: [], order: null, mark: '.' };
	const rows: string[][] = [];

	function parse(text: string) {
		separator ??= separatorOf(text.slice(0, 50_000));
		const parsed = Papa.parse<string[]>(text, { delimiter: separator, skipEmptyLines: 'greedy' });
		if (parsed.errors.some((error) => error.code === 'MissingQuotes')) throw unreadable(NEVER_CLOSED);
		for (const row of parsed.data) {
			if (rows.length > FILE_LINES_MAX) return;
			rows.push(row.slice(0, COLUMNS_MAX).map((cell) => unguardCell(cell).slice(0, FIELD_MAX)));
		}
	}
	return {
		get header() {
			return header;
		},
		found: () => found,
		write(text) {
			rest += text;
			// rows are cut where a line ends outside quotation marks; a mark within a word is none
			let cut = 0;
			let quoted = false;
			for (let i = 0; i < rest.length; i++) {
				const code = rest.charCodeAt(i);
				if (code === 34) {
					if (!quoted) quoted = i === 0 || OPENS_AFTER.includes(rest[i - 1]);
					else if (rest.charCodeAt(i + 1) === 34) i++;
					else quoted = false;
				} else if (code === 10 && !quoted) cut = i + 1;
			}
			if (rest.length - cut > PIECE_MAX) throw unreadable(NEVER_CLOSED);
			// the separator is told by many rows at once
			if (cut > 0 && (separator || cut > 50_000)) {
				parse(rest.slice(0, cut));
				rest = rest.slice(cut);
			}
		},
		end() {
			parse(rest);
			const head = rows.slice(0, HEAD_ROWS);
			const known = head.map((row) => row.filter((cell) => columnOfHeading(cell)).length);
			const headingAt = known.findIndex((count) => count >= 2 && count === Math.max(...known));
			header = headingAt >= 0 ? rows[headingAt].map((cell) => fieldText(cell)) : [];
			const body = rows.slice(headingAt + 1).filter((row) => row.some((cell) => cell.trim() !== ''));
			if (body.length === 0) throw unreadable('This file has no rows with transactions. Nothing was read.');
			const width = body.reduce((most, row) => Math.max(most, row.length), header.length);
			if (width < 2)
				throw unreadable('This is not a table of transactions: it has one column only. Save it as CSV, OFX, QIF, camt.053 or MT940 and import that.');
			header = Array.from({ length: width }, (_, i) => header[i] || `Column ${i + 1}`);
			const columns = choices.columns
				? Array.from({ length: width }, (_, i) => choices.columns![i] ?? null)
				: recogniseCsvColumns(header, body.slice(0, 200));
			const at = (column: CsvColumn) => columns.indexOf(column);
			const cell = (row: readonly string[], column: CsvColumn) => (at(column) < 0 ? '' : (row[at(column)] ?? ''));
			const mark = decimalMarkOf(body.flatMap((row) => (['amount', 'in', 'out'] as const).map((column) => cell(row, column))));
			const told = dateOrderOf(body.map((row) => cell(row, 'day')));
			found = { columns, order: told, mark };
			if (missingColumn(columns)) {
				for (const [i, row] of body.entries())
					sink.unread({ position: i + 1, what: 'waits until the columns are known', text: row.join(' ').slice(0, 200) });
				return;
			}
			const order = choices.order ?? told ?? 'mdy';
			const amountFrom = (row: readonly string[]): string | null => {
				const plain = cell(row, 'amount').trim();
				if (plain) {
					const amount = amountOf(plain, mark);
					const debit = /^(d|dr|dbit|debit|withdrawal|s|soll|retrait)/i.test(cell(row, 'side').trim());
					return amount && debit && !amount.startsWith('-') ? negated(amount) : amount;
				}
				const [out, into] = (['out', 'in'] as const).map((column) => amountOf(cell(row, column), mark)?.replace(/^-/, '') ?? null);
				if (out && into && /[1-9]/.test(out) && /[1-9]/.test(into)) return null;
				return out && (/[1-9]/.test(out) || !into) ? negated(out) : into;
			};
			for (const [i, row] of body.entries()) {
				const day = dayOfText(cell(row, 'day'), order);
				const read = amountFrom(row);
				if (!day || !read) {
					sink.unread({
						position: i + 1,
						what: day ? 'has no amount that can be read' : 'has no day that can be read',
						text: fieldText(row.filter((text) => text.trim() !== '').join(' ')).slice(0, 200)
					});
					continue;
				}
				sink.line({
					position: i + 1,
					day,
					amount: choices.flip ? negated(read) : read,
					currency: fieldText(cell(row, 'currency')).toUpperCase().slice(0, 3),
					who: fieldText(cell(row, 'who')),
					words: fieldText(cell(row, 'words')),
					category: fieldText(cell(row, 'category')),
					reference: fieldText(cell(row, 'reference')),
					document: at('document') < 0 ? null : documentOf(cell(row, 'document')),
					account: fieldText(cell(row, 'account')),
					original: header.map((_, k) => row[k] ?? '')
				});
			}
		}
	};
}

/** What a ledger names as the document of a line; "no", "0" and a dash are none. */
function documentOf(text: string): string {
	const named = fieldText(text);
	return /^(no|non|none|n|0|false|faux|missing|[-–—])$/i.test(named) ? '' : named;
}
