import { z } from 'zod';
import { cleanText } from '../people/plain-fields';

/** How a fact is written down and read. Every value is kept as text in one spelling, so that facts compare. */
export type FactKind =
	| { kind: 'words'; max: number }
	| { kind: 'lines'; max: number }
	| { kind: 'yes_no' }
	| { kind: 'count' }
	| { kind: 'date' }
	/** a day of every year, `MM-DD` */
	| { kind: 'day_of_year' }
	| { kind: 'choice'; choices: Readonly<Record<string, string>> };

export interface FactDefinition {
	label: string;
	/** what it is needed for, where the label does not say it */
	hint?: string;
	is: FactKind;
}

/** What can be known about a client and its books, in the order of the record. */
export const FACTS = {
	legal_form: {
		label: 'Legal form',
		is: {
			kind: 'choice',
			choices: { sole_trader: 'sole trader', partnership: 'partnership', company: 'company', cooperative: 'co-operative', non_profit: 'non-profit' }
		}
	},
	tax_number: { label: 'Tax number', is: { kind: 'words', max: 40 } },
	address: { label: 'Address', is: { kind: 'lines', max: 300 } },
	year_end: { label: 'Year end', hint: 'the last day of the fiscal year', is: { kind: 'day_of_year' } },
	method: { label: 'Method', is: { kind: 'choice', choices: { accrual: 'accrual', cash: 'cash' } } },
	sales_tax: { label: 'Registered for sales tax', is: { kind: 'yes_no' } },
	sales_tax_period: { label: 'Files sales tax', is: { kind: 'choice', choices: { monthly: 'monthly', quarterly: 'quarterly', yearly: 'yearly' } } },
	payroll: { label: 'Runs payroll', is: { kind: 'yes_no' } },
	employees: { label: 'Employees', is: { kind: 'count' } },
	bank_accounts: { label: 'Bank and card accounts', is: { kind: 'count' } },
	software: { label: 'Connected software', is: { kind: 'words', max: 120 } },
	books_from: { label: 'We keep the books from', is: { kind: 'date' } }
} as const satisfies Record<string, FactDefinition>;
export type FactName = keyof typeof FACTS;
export const FACT_NAMES = Object.keys(FACTS) as FactName[];

const DAYS_IN_MONTH = [31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];

const schemas = new Map<FactName, z.ZodType<string, string>>();

/** The schema of one fact as it is typed in a form; the result is the one spelling in which it is kept. Lists ask for it by the cell. */
export function factSchema(name: FactName): z.ZodType<string, string> {
	let schema = schemas.get(name);
	if (!schema) schemas.set(name, (schema = makeFactSchema(name)));
	return schema;
}

function makeFactSchema(name: FactName): z.ZodType<string, string> {
	const { is }: FactDefinition = FACTS[name];
	switch (is.kind) {
		case 'words':
		case 'lines':
			return z
				.string()
				.transform((text) => (is.kind === 'lines' ? cleanText(text.replace(/\r\n?/g, '\n')) : cleanText(text).replace(/\s+/g, ' ')))
				.pipe(z.string().min(1, 'Please write it, or leave without saving.').max(is.max, `Please keep it to ${is.max} characters.`));
		case 'yes_no':
			return z.enum(['yes', 'no'], 'Choose yes or no.');
		case 'count':
			return z
				.string()
				.trim()
				.regex(/^\d{1,5}$/, 'Please write a whole number, 0 or more.')
				.transform((text) => String(Number(text)));
		case 'date':
			return z.iso.date('Please choose a date.');
		case 'day_of_year':
			return z
				.string()
				.regex(/^(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/, 'Please choose a day and a month.')
				.refine((text) => Number(text.slice(3)) <= DAYS_IN_MONTH[Number(text.slice(0, 2)) - 1], 'This month has no such day.');
		case 'choice':
			return z.enum(Object.keys(is.choices), 'Please choose one.');
	}
}

/** What somebody says about a client. */
export const sayFactSchema = z
	.object({ name: z.enum(FACT_NAMES, 'This fact is not known here.'), value: z.string() })
	.transform(({ name, value }, context) => {
		const parsed = factSchema(name).safeParse(value);
		if (parsed.success) return { name, value: parsed.data };
		context.addIssue({ code: 'custom', path: ['value'], message: parsed.error.issues[0].message });
		return z.NEVER;
	});

/**
 * A kept fact in words.
 * @param date puts `YYYY-MM-DD` into words
 * @param day puts `MM-DD` into words
 */
export function factInWords(name: string, value: string, words: { date(date: string): string; day(day: string): string }): string {
	const definition: FactDefinition | undefined = FACTS[name as FactName];
	switch (definition?.is.kind) {
		case 'date':
			return words.date(value);
		case 'day_of_year':
			return words.day(value);
		case 'choice':
			return definition.is.choices[value] ?? value;
		default:
			return value;
	}
}

/** Facts in the order of the record. */
export function inOrder<Fact extends { name: string }>(facts: readonly Fact[]): (Fact & { name: FactName })[] {
	return FACT_NAMES.flatMap((name) => facts.filter((fact) => fact.name === name).map((fact) => ({ ...fact, name })));
}

/** A kept fact with as few words as it is understood in, such as "year end 31 March"; null for what does not fit in a line, as an address. */
export function factInShort(name: string, value: string, words: { date(date: string): string; day(day: string): string }): string | null {
	const definition: FactDefinition | undefined = FACTS[name as FactName];
	if (!definition || definition.is.kind === 'lines') return null;
	const said = factInWords(name, value, words);
	if (name === 'legal_form') return said;
	return `${definition.label[0].toLowerCase()}${definition.label.slice(1)} ${said}`;
}
