import type { FirmFacts } from '../../facts/fact-definition';
import { HEADING_AMONG, readRows, rowsBelow, textOf, unreadable, type FileRow } from '../../tables/read-rows';
import { DomainError } from '../../errors/domain-error';
import { headingRow, recogniseColumns } from './columns';
import { IMPORT_ROWS_MAX, requireFewEnough, type ReadFile } from './list-file';
import { readCards } from './read-cards';

/** Largest file of one list. */
export const IMPORT_BYTES_MAX = 25 * 1024 * 1024;

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
	const { text, encoding } = textOf(bytes, 'Save it as CSV or vCard and import that.');
	return /^\s*BEGIN:VCARD\s*$/im.test(text.slice(0, 200)) ? readCards(text, encoding, facts) : readTable(text, encoding, facts);
}

function readTable(text: string, encoding: string, facts: FirmFacts): ReadFile {
	const { separator, rows } = readRows(text, (row) => recogniseColumns(row, [], facts).filter(Boolean).length, IMPORT_ROWS_MAX + 1000);
	const heading = headingRow(
		rows.slice(0, HEADING_AMONG).map((row) => row.cells),
		facts
	);
	const headingLine = heading === null ? null : rows[heading].line;
	const below = rowsBelow(rows, headingLine);
	if (below.length === 0) throw unreadable('This file has a heading, but no rows below it.');
	requireFewEnough(below.length);
	return { format: `${separator}, ${encoding}`, headingLine, ...columnsUnder(rows, headingLine, facts), rows };
}

/** Rows that say by their look what a column holds. */
const LOOKED_AT = 50;

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
