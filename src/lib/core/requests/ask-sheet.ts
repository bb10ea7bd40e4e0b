import { headingsOf } from '../clients/import/columns';
import { DomainError } from '../errors/domain-error';
import { isWritten } from '../items/kinds/letter';
import { mergeFieldsOf, withoutParts, type LetterDocument, type LetterPart } from '../letters/letter-document';
import { AUTOMATIC_FIELDS, mergeFieldsInText } from '../letters/merge-fields';
import { bareHeading } from '../tables/bare-heading';
import { HEADING_AMONG, readRows, rowsBelow, textOf, unreadable, type FileRow } from '../tables/read-rows';
import { headingRowBy, recogniseBy } from '../tables/recognise';
import { writeCsv } from '../tables/write-csv';
import { guardCell } from '../tables/formula-guard';

/** Largest file by which many are asked. */
export const SHEET_BYTES_MAX = 2 * 1024 * 1024;
/** Most rows of one; each is a request. */
export const SHEET_ROWS_MAX = 1000;
/** Longest text that is put in for a field. */
export const SHEET_VALUE_MAX = 400;

/** What a column holds: whom to ask, or what is put in for the field of this name. No field may be called `client` or `email`. */
export type SheetColumn = string;

/** A file with a row for each request: which client, whom of it, and what its words say for them. */
export interface AskSheet {
	/** "commas, UTF-8" */
	format: string;
	header: string[];
	columns: (SheetColumn | null)[];
	rows: FileRow[];
}

/** The fields of words that a person may fill in: not those that the product fills by itself. @param fields names with their words */
export function sheetFields(fields: Readonly<Record<string, string>>): Record<string, string> {
	return Object.fromEntries(Object.entries(fields).filter(([name]) => !(AUTOMATIC_FIELDS as readonly string[]).includes(name)));
}

/** What a column is called on the screen and in a file that is filled in. @param fields see `sheetFields` */
export function sheetColumnWords(column: SheetColumn, fields: Readonly<Record<string, string>>): string {
	return column === 'client' ? 'Client' : column === 'email' ? 'E-mail' : (fields[column] ?? column);
}

function byHeading(fields: Readonly<Record<string, string>>): ReadonlyMap<string, SheetColumn> {
	const known = new Map<string, SheetColumn>();
	const add = (heading: string, column: SheetColumn) => {
		if (!known.has(bareHeading(heading))) known.set(bareHeading(heading), column);
	};
	for (const column of ['client', 'email'] as const) for (const heading of headingsOf(column)) add(heading, column);
	for (const [name, words] of Object.entries(fields)) {
		add(words, name);
		add(name, name);
	}
	return known;
}

/**
 * Reads a file with a row for each request: CSV (RFC 4180) with commas, semicolons or tabs, in UTF-8, UTF-16 or Windows-1252.
 * @param fields see `sheetFields`
 * @throws DomainError unreadable_file saying what it is instead, too_many
 */
export function readAskSheet(bytes: Uint8Array, fields: Readonly<Record<string, string>>): AskSheet {
	const { text, encoding } = textOf(bytes, 'Save it as CSV and choose that.');
	const known = byHeading(fields);
	const recognise = (header: readonly string[], sample: readonly (readonly string[])[]) =>
		recogniseBy(known, header, sample, { name: ['client'], email: 'email' });
	const { separator, rows } = readRows(text, (row) => recognise(row, []).filter(Boolean).length, SHEET_ROWS_MAX + HEADING_AMONG + 1);
	const heading = headingRowBy(
		known,
		rows.slice(0, HEADING_AMONG).map((row) => row.cells)
	);
	const below = rowsBelow(rows, heading === null ? null : rows[heading].line);
	if (below.length === 0) throw unreadable('This file has a heading, but no rows below it.');
	if (below.length > SHEET_ROWS_MAX)
		throw new DomainError(
			'too_many',
			`This file has more than ${SHEET_ROWS_MAX.toLocaleString('en')} rows. Nothing was read; split it and use the parts one after another.`
		);
	const width = below.reduce((most, row) => Math.max(most, row.cells.length), heading === null ? 0 : rows[heading].cells.length);
	const header = Array.from({ length: width }, (_, i) => (heading === null ? '' : (rows[heading].cells[i]?.trim() ?? '')) || `Column ${i + 1}`);
	return {
		format: `${separator}, ${encoding}`,
		header,
		columns: recognise(
			header,
			below.slice(0, 50).map((row) => row.cells)
		),
		rows: below
	};
}

/** A row as its columns are understood. */
export interface SheetRow {
	line: number;
	client: string;
	email: string;
	/** what is put in for fields; an empty cell puts nothing in */
	values: Record<string, string>;
	/** the fields whose cell holds more than fits */
	tooLong: string[];
}

/** The rows of a file as its columns are understood. */
export function sheetRows({ columns, rows }: Pick<AskSheet, 'columns' | 'rows'>): SheetRow[] {
	return rows.map(({ line, cells }) => {
		const row: SheetRow = { line, client: '', email: '', values: {}, tooLong: [] };
		for (const [i, column] of columns.entries()) {
			const cell = (cells[i] ?? '').replace(/\s+/g, ' ').trim();
			if (!column || cell === '') continue;
			if (column === 'client' || column === 'email') row[column] = cell;
			else if (cell.length > SHEET_VALUE_MAX) row.tooLong.push(column);
			else row.values[column] = cell;
		}
		return row;
	});
}

/** A client that a row may mean, with whoever of it has the address in the row. */
export interface SheetCandidate {
	clientId: string;
	contactId: string | null;
}

export const SHEET_PROBLEMS = {
	nobody: 'names no client',
	unknown_client: 'no active client has this name',
	several_clients: 'several clients have this name; add an e-mail address that tells them apart',
	unknown_email: 'nobody has this address',
	several_of_person: 'this address is known at several clients; name the client',
	not_of_client: 'nobody of this client has this address',
	too_long: `a cell has more than ${SHEET_VALUE_MAX} letters`
} as const;
export type SheetProblem = keyof typeof SHEET_PROBLEMS;

/**
 * Which client a row means, and whom of it: the client by its name, whoever has the address; by the address alone where no client is named.
 * @param candidates active clients of that name, or if none is named, those at which somebody has the address
 * @returns the client, with nobody where no address says whom; or why it cannot be told
 */
export function whoIsMeant(
	row: Pick<SheetRow, 'client' | 'email' | 'tooLong'>,
	candidates: readonly SheetCandidate[]
): SheetCandidate | SheetProblem {
	if (row.client === '' && row.email === '') return 'nobody';
	if (candidates.length === 0) return row.client === '' ? 'unknown_email' : 'unknown_client';
	const meant = row.email === '' ? candidates : candidates.filter(({ contactId }) => contactId !== null);
	if (meant.length === 0) return 'not_of_client';
	if (meant.length > 1) return row.client === '' ? 'several_of_person' : 'several_clients';
	if (row.tooLong.length > 0) return 'too_long';
	return { clientId: meant[0].clientId, contactId: row.email === '' ? null : meant[0].contactId };
}

/**
 * A file to fill in: a row for each client, a column for each field that its words need.
 * @param fields names of fields; those whose value is known stand filled in
 */
export function blankSheet(
	fields: readonly string[],
	words: Readonly<Record<string, string>>,
	clients: readonly { name: string; email: string | null; values: Readonly<Record<string, string>> }[]
): string {
	return writeCsv([
		['client', 'email', ...fields].map((column) => guardCell(sheetColumnWords(column, words))),
		...clients.map(({ name, email, values }) => [guardCell(name), guardCell(email ?? ''), ...fields.map((field) => guardCell(values[field] ?? ''))])
	]);
}

/** What became of a row, in words. */
export const SHEET_OUTCOMES = {
	stays: 'not asked',
	draft: 'a draft that waits',
	problem: 'could not go',
	sent: 'asked',
	settled: 'asked, and done',
	thrown_away: 'its draft was thrown away'
} as const;
export type SheetOutcome = keyof typeof SHEET_OUTCOMES;

/** The words of a list, as they are written or as they go to somebody. */
interface ListWords {
	title: string;
	message: string;
	lines: readonly { kind: string; title: string; spec: object; document?: LetterDocument | null }[];
}

/**
 * The fields that the words of a list may use, but those that the product fills by itself: of its title, its message, its lines and its
 * letters.
 * @param comes which parts of its letters are meant
 */
export function fieldsOfList(list: ListWords, comes: (part: LetterPart) => boolean = () => true): string[] {
	const used = new Set(mergeFieldsInText([list.title, list.message, ...list.lines.map(({ title }) => title)].join('\n')));
	for (const line of list.lines)
		if (isWritten(line) && line.document) for (const name of mergeFieldsOf(withoutParts(line.document, comes))) used.add(name);
	return [...used].filter((name) => !(AUTOMATIC_FIELDS as readonly string[]).includes(name));
}
