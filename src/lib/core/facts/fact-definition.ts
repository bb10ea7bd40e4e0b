import type { Act } from '../people/roles';

/** One of several: by its key a kept value stays what it is when the words are changed. */
export interface FactChoice {
	key: string;
	words: string;
}

/** How a fact is written down and read. Every value is kept as text in one spelling, so that facts compare; see `factSchema`. */
export type SingleFactKind =
	| { kind: 'words'; max: number }
	| { kind: 'lines'; max: number }
	| { kind: 'number'; unit: string; whole: boolean }
	| { kind: 'money'; currency: string }
	| { kind: 'date' }
	/** a day of every year, `MM-DD` */
	| { kind: 'day_of_year' }
	| { kind: 'yes_no' }
	| { kind: 'choice'; choices: readonly FactChoice[] }
	| { kind: 'several'; choices: readonly FactChoice[] }
	| { kind: 'email' }
	| { kind: 'phone' }
	| { kind: 'web' }
	| { kind: 'address' }
	/** by which check, of `TAX_NUMBER_CHECKS`; empty for none */
	| { kind: 'tax_number'; check: string };
/** Several of several do not fit into a cell. */
export type FactColumnKind = Exclude<SingleFactKind, { kind: 'several' }>;
export interface FactColumn {
	key: string;
	label: string;
	is: FactColumnKind;
}
export type FactKind = SingleFactKind | { kind: 'table'; columns: readonly FactColumn[] };
export type FactKindName = FactKind['kind'];

/** The kinds in the order in which they are offered, each with what it is for and an example. */
export const FACT_KIND_WORDS: Record<FactKindName, { words: string; about: string }> = {
	words: { words: 'words', about: 'a line of text, such as the software they use' },
	lines: { words: 'long words', about: 'text of several lines, such as what the business does' },
	number: { words: 'number', about: 'with a unit if it has one, such as 4 employees' },
	money: { words: 'money', about: 'an amount in one currency, such as sales of the last year' },
	date: { words: 'date', about: 'a day with its year, such as the first date of the books' },
	day_of_year: { words: 'day of the year', about: 'a day that comes every year, such as the year end' },
	yes_no: { words: 'yes or no', about: 'such as whether they run payroll' },
	choice: { words: 'one of', about: 'one of the choices you write, such as the legal form' },
	several: { words: 'several of', about: 'any number of the choices you write, such as how customers pay' },
	email: { words: 'e-mail', about: 'an e-mail address, such as where bills are sent' },
	phone: { words: 'phone', about: 'a phone number, kept in its international form' },
	web: { words: 'web address', about: 'such as their website' },
	address: { words: 'postal address', about: 'as it is written on an envelope' },
	tax_number: { words: 'tax number', about: 'checked digit by digit where the country has a rule for it' },
	table: { words: 'table', about: 'several of a kind with columns of their own, such as directors or premises' }
};
export const FACT_KIND_NAMES = Object.keys(FACT_KIND_WORDS) as FactKindName[];

/** Who of the firm may see a fact, by the act that they may do. */
export const SEEN_BY: Record<SeenBy, { act: Act; words: string }> = {
	all: { act: 'look', words: 'everybody in the firm' },
	keepers: { act: 'keep_record', words: 'everybody but filing assistants' },
	leaders: { act: 'close_client', words: 'administrators, partners and coordinators' }
};
export type SeenBy = 'all' | 'keepers' | 'leaders';

/** What clients may do with a fact of theirs. */
export const CLIENT_MAY = {
	nothing: 'not see it',
	read: 'see it, not change it',
	correct: 'see it and correct it'
} as const;
export type ClientMay = keyof typeof CLIENT_MAY;

/** One thing that a firm wants to know about its clients. */
export interface FactDefinition {
	/** by which values, conditions and merge fields know it; it stays when the label is changed */
	name: string;
	label: string;
	/** what it is needed for, or how it is to be written, where the label does not say it */
	hint: string;
	/** the heading it stands under in the record */
	heading: string;
	is: FactKind;
	/** ships with the product, which may give it a meaning: its kind stays */
	readyMade: boolean;
	clientMay: ClientMay;
	seenBy: SeenBy;
	/** shown only when somebody asks to see it, and in no list, letter or file */
	secret: boolean;
	/** so many months after it was said or confirmed it is to be confirmed; null for never */
	confirmAfter: number | null;
	/** kept, and no longer asked */
	retired: boolean;
	/** the name of the fact that took its place */
	mergedInto: string | null;
}

const yesNo = { kind: 'yes_no' } as const;
const choices = (all: Readonly<Record<string, string>>) => ({
	kind: 'choice' as const,
	choices: Object.entries(all).map(([key, words]) => ({ key, words }))
});
const readyMade = (name: string, label: string, heading: string, is: FactKind, hint = ''): FactDefinition => ({
	name,
	label,
	hint,
	heading,
	is,
	readyMade: true,
	clientMay: 'correct',
	seenBy: 'all',
	secret: false,
	confirmAfter: null,
	retired: false,
	mergedInto: null
});

/**
 * What every firm begins with. Some drive rules: `legal_form` is said without its label, `tax_number` tells clients apart in imports and
 * among likely doubles, `year_end` fills letters. The database hands them out by `add_ready_made_facts`; a test holds the two together.
 */
export const READY_MADE_FACTS: readonly FactDefinition[] = [
	readyMade(
		'legal_form',
		'Legal form',
		'The business',
		choices({ sole_trader: 'sole trader', partnership: 'partnership', company: 'company', cooperative: 'co-operative', non_profit: 'non-profit' })
	),
	readyMade('tax_number', 'Tax number', 'The business', { kind: 'tax_number', check: '' }),
	readyMade('address', 'Address', 'The business', { kind: 'address' }),
	readyMade('year_end', 'Year end', 'The books', { kind: 'day_of_year' }, 'the last day of the fiscal year'),
	readyMade('method', 'Method', 'The books', choices({ accrual: 'accrual', cash: 'cash' })),
	readyMade('sales_tax', 'Registered for sales tax', 'Tax and payroll', yesNo),
	readyMade('sales_tax_period', 'Files sales tax', 'Tax and payroll', choices({ monthly: 'monthly', quarterly: 'quarterly', yearly: 'yearly' })),
	readyMade('payroll', 'Runs payroll', 'Tax and payroll', yesNo),
	readyMade('employees', 'Employees', 'Tax and payroll', { kind: 'number', unit: '', whole: true }),
	readyMade('bank_accounts', 'Bank and card accounts', 'The books', { kind: 'number', unit: '', whole: true }),
	readyMade('software', 'Connected software', 'The books', { kind: 'words', max: 120 }),
	readyMade('books_from', 'We keep the books from', 'The books', { kind: 'date' })
];

/** All that a firm wants to know of its clients, in the order of the record. */
export interface FirmFacts {
	readonly all: readonly FactDefinition[];
	/** those that are asked: neither retired nor merged into another */
	readonly asked: readonly FactDefinition[];
	/** by its name, or by that of a fact that was merged into it */
	get(name: string): FactDefinition | undefined;
}

/** @param all in the order of the record */
export function firmFacts(all: readonly FactDefinition[]): FirmFacts {
	const byName = new Map(all.map((fact) => [fact.name, fact]));
	return {
		all,
		asked: all.filter((fact) => !fact.retired && !fact.mergedInto),
		get(name) {
			let fact = byName.get(name);
			// a chain of merges ends; a circle, which nothing can make, must not hang
			for (let steps = 0; fact?.mergedInto && steps < all.length; steps++) fact = byName.get(fact.mergedInto);
			return fact;
		}
	};
}

/** Names that stand for something else where facts are used: columns of lists, fields of a merge of two clients, merge fields. */
export const RESERVED_NAMES: readonly string[] = [
	...['client', 'kind', 'responsible', 'services', 'contact', 'first_name', 'last_name', 'name', 'email', 'phone', 'language', 'role', 'record'],
	...['client_name', 'contact_name', 'contact_first_name', 'firm_name', 'responsible_name', 'today', 'start_date', 'monthly_fee']
];

/** The name of a fact that is made from its label: letters and digits of it, told apart from the names that are taken. */
export function factNameOf(label: string, taken: (name: string) => boolean): string {
	const bare = label
		.normalize('NFKD')
		.toLowerCase()
		.replace(/[\u0300-\u036f]/g, '')
		.replace(/[^a-z0-9]+/g, '_')
		.replace(/^[^a-z]+|_+$/g, '')
		.slice(0, 32)
		.replace(/_+$/, '');
	const base = bare.length >= 2 ? bare : 'fact';
	let name = base;
	for (let n = 2; RESERVED_NAMES.includes(name) || taken(name); n++) name = `${base}_${n}`;
	return name;
}
