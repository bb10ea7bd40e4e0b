import { bareHeading } from '../../tables/bare-heading';
import { headingRowBy, recogniseBy } from '../../tables/recognise';
import type { FirmFacts } from '../../facts/fact-definition';

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
/** One of our own, or the name of a fact of the firm: no fact may be called as one of ours, see `RESERVED_NAMES`. */
export type ImportColumn = string;
export const OWN_COLUMN_NAMES = Object.keys(OWN_COLUMNS) as OwnColumn[];
const isOwn = (column: ImportColumn): column is OwnColumn => Object.hasOwn(OWN_COLUMNS, column);

/** Headings that other programs give to facts that ship with the product. */
const FACT_KNOWN: Record<string, readonly string[] | undefined> = {
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

/** What of a firm's facts fits into a cell that goes out into files: no secrets, no tables. */
const inCells = (facts: FirmFacts) => facts.all.filter((fact) => !fact.secret && !fact.mergedInto && fact.is.kind !== 'table');

/** Every column of a firm, in the order in which an export writes them; facts that are retired are no longer asked. */
export const importColumns = (facts: FirmFacts): ImportColumn[] => [
	...OWN_COLUMN_NAMES.filter((column) => column !== 'record'),
	...inCells(facts).flatMap(({ retired, name }) => (retired ? [] : [name])),
	'record'
];
/** What an export writes: also what is retired and still known. */
export const exportColumns = (facts: FirmFacts): ImportColumn[] => [
	...OWN_COLUMN_NAMES.filter((column) => column !== 'record' && column !== 'first_name' && column !== 'last_name'),
	...inCells(facts).map(({ name }) => name),
	'record'
];

export function columnLabel(column: ImportColumn, facts: FirmFacts): string {
	return isOwn(column) ? OWN_COLUMNS[column].label : (facts.get(column)?.label ?? column);
}

/** The headings that a column of our own goes by, as they are written. */
export const headingsOf = (column: OwnColumn): string[] => [column, OWN_COLUMNS[column].label, ...OWN_COLUMNS[column].known];

const headings = new WeakMap<FirmFacts, ReadonlyMap<string, ImportColumn>>();
/** The columns by the headings they go by. */
function byHeading(facts: FirmFacts): ReadonlyMap<string, ImportColumn> {
	const made = headings.get(facts);
	if (made) return made;
	const map = new Map<string, ImportColumn>();
	for (const column of importColumns(facts)) {
		const known = isOwn(column) ? OWN_COLUMNS[column].known : (FACT_KNOWN[column] ?? []);
		for (const heading of [column, columnLabel(column, facts), ...known]) if (!map.has(bareHeading(heading))) map.set(bareHeading(heading), column);
	}
	headings.set(facts, map);
	return map;
}

/**
 * What each column of a file holds, by its heading, else (for addresses) by what stands in it. A bare "Name" is the
 * client's if nothing else is, else the contact's. No column is recognised twice.
 */
export function recogniseColumns(header: readonly string[], sample: readonly (readonly string[])[], facts: FirmFacts): (ImportColumn | null)[] {
	return recogniseBy(byHeading(facts), header, sample, { name: ['client', 'contact'], email: 'email' });
}

/** Which of the first rows holds the headings; see `headingRowBy`. */
export function headingRow(rows: readonly (readonly string[])[], facts: FirmFacts): number | null {
	return headingRowBy(byHeading(facts), rows);
}
