import { bareHeading } from '../../tables/bare-heading';
import { FACT_NAMES, FACTS, type FactName } from '../facts';

/** What a column of a list of clients can hold. One row is one person at one client. */
const OWN_COLUMNS = {
	client: {
		label: 'Client',
		known: ['client name', 'business', 'business name', 'company', 'company name', 'organisation', 'organization', 'org', 'customer', 'customer name']
	},
	kind: { label: 'Kind', known: ['type', 'client type', 'kind of client'] },
	responsible: { label: 'Looked after by', known: ['responsible', 'responsible person', 'account manager', 'client manager', 'assigned to'] },
	services: { label: 'Services', known: ['service', 'services we do'] },
	contact: { label: 'Contact', known: ['contact name', 'contact person', 'full name', 'person', 'primary contact', 'main contact'] },
	first_name: { label: 'First name', known: ['given name', 'forename', 'contact first name'] },
	last_name: { label: 'Last name', known: ['surname', 'family name', 'contact last name'] },
	email: { label: 'E-mail', known: ['email', 'e mail', 'email address', 'e mail address', 'mail', 'contact email'] },
	phone: { label: 'Phone', known: ['telephone', 'tel', 'mobile', 'cell', 'cell phone', 'phone number', 'mobile phone', 'contact phone'] },
	language: { label: 'Language', known: ['preferred language', 'language of correspondence', 'lang', 'langue'] },
	role: { label: 'Role', known: ['title', 'job title', 'position', 'function'] },
	record: { label: 'Record', known: ['record id', 'record number'] }
} as const;

type OwnColumn = keyof typeof OWN_COLUMNS;
export type ImportColumn = OwnColumn | FactName;

const FACT_KNOWN: Partial<Record<FactName, readonly string[]>> = {
	legal_form: ['legal structure', 'entity type', 'form'],
	tax_number: ['tax no', 'tax id', 'taxpayer number', 'vat number', 'vat no', 'business number'],
	address: ['postal address', 'street address', 'mailing address'],
	year_end: ['fiscal year end', 'financial year end', 'end of year'],
	method: ['accounting method', 'bookkeeping method'],
	sales_tax: ['sales tax', 'vat registered'],
	payroll: ['payroll'],
	employees: ['number of employees', 'staff'],
	bank_accounts: ['bank accounts', 'accounts'],
	software: ['accounting software', 'bookkeeping software'],
	books_from: ['books from', 'client since', 'start date']
};

/** Every column, in the order in which an export writes them. */
export const IMPORT_COLUMNS: readonly ImportColumn[] = [
	...(Object.keys(OWN_COLUMNS) as OwnColumn[]).filter((column) => column !== 'record'),
	...FACT_NAMES,
	'record'
];
export const EXPORT_COLUMNS = IMPORT_COLUMNS.filter((column) => column !== 'first_name' && column !== 'last_name');

export function columnLabel(column: ImportColumn): string {
	return column in OWN_COLUMNS ? OWN_COLUMNS[column as OwnColumn].label : FACTS[column as FactName].label;
}

export function isFactColumn(column: ImportColumn): column is FactName {
	return column in FACTS;
}

const BY_HEADING = new Map<string, ImportColumn>();
for (const column of IMPORT_COLUMNS) {
	const known = column in OWN_COLUMNS ? OWN_COLUMNS[column as OwnColumn].known : (FACT_KNOWN[column as FactName] ?? []);
	for (const heading of [column, columnLabel(column), ...known])
		if (!BY_HEADING.has(bareHeading(heading))) BY_HEADING.set(bareHeading(heading), column);
}

/** Most of a column's cells that must look like addresses before it is taken for one. */
const MOSTLY = 0.6;

/**
 * What each column of a file holds, by its heading, else (for addresses) by what stands in it. A bare "Name" is the
 * client's if nothing else is, else the contact's. No column is recognised twice.
 */
export function recogniseColumns(header: readonly string[], sample: readonly (readonly string[])[]): (ImportColumn | null)[] {
	const columns: (ImportColumn | null)[] = header.map((heading) => BY_HEADING.get(bareHeading(heading)) ?? null);
	const taken = new Set<ImportColumn>();
	for (const [i, column] of columns.entries()) {
		if (!column) continue;
		if (taken.has(column)) columns[i] = null;
		taken.add(column);
	}
	for (const [i, heading] of header.entries()) {
		if (columns[i]) continue;
		const cells = sample.map((row) => row[i] ?? '').filter((cell) => cell.trim() !== '');
		const mails = cells.filter((cell) => /^\S+@\S+\.\S+$/.test(cell.trim())).length;
		const guess: ImportColumn | null =
			bareHeading(heading) === 'name'
				? !taken.has('client')
					? 'client'
					: !taken.has('contact')
						? 'contact'
						: null
				: cells.length > 0 && mails / cells.length >= MOSTLY && !taken.has('email')
					? 'email'
					: null;
		if (guess) {
			columns[i] = guess;
			taken.add(guess);
		}
	}
	return columns;
}

/**
 * Which of the first rows holds the headings: the one that names the most columns we know and holds no address. Below the first row it
 * takes two, for a title may be a word we know. Null if none does.
 */
export function headingRow(rows: readonly (readonly string[])[]): number | null {
	let best: { at: number; known: number } | null = null;
	for (const [at, row] of rows.entries()) {
		if (row.some((cell) => cell.includes('@'))) continue;
		const known = new Set(row.map(bareHeading).filter((cell) => BY_HEADING.has(cell) || cell === 'name')).size;
		if (known >= (at === 0 ? 1 : 2) && known > (best?.known ?? 0)) best = { at, known };
	}
	return best?.at ?? null;
}
