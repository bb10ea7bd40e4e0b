import type { FactChoice, FactDefinition, FactKind, FirmFacts } from './fact-definition';
import type { FactRow } from './fact-values';

/** How the parts of a value are written for a reader. */
export interface ValueReader {
	/** @param date `YYYY-MM-DD` */
	date(date: string): string;
	/** @param day `MM-DD` */
	day(day: string): string;
	/** @param value as kept, with a point and as many decimals as it has */
	number(value: string): string;
	yesNo(yes: boolean): string;
	/** a phone number as people of the country write it */
	phone(number: string): string;
}
/** The same for facts. */
export interface FactReader extends ValueReader {
	/** a choice of a fact that ships with the product, in the reader's language; the firm's own stand as the firm wrote them */
	choice(fact: FactDefinition, key: string): string | null;
}

/** A kept table, row by row; none if it cannot be read. */
export function factRows(value: string): FactRow[] {
	try {
		const rows: unknown = JSON.parse(value);
		return Array.isArray(rows) ? (rows as FactRow[]) : [];
	} catch {
		return [];
	}
}

/** The keys of a kept "several of". */
export function factKeys(value: string): string[] {
	try {
		const keys: unknown = JSON.parse(value);
		return Array.isArray(keys) ? keys.map(String) : [];
	} catch {
		return [];
	}
}

/**
 * A value in words by its kind; a table has a line for each row.
 * @param choice the words for a choice, where they are not those that the kind has for it
 */
export function valueInWords(is: FactKind, value: string, reader: ValueReader, choice: (key: string) => string | null = () => null): string {
	const chosen = (choices: readonly FactChoice[], key: string) => choice(key) ?? choices.find((one) => one.key === key)?.words ?? key;
	switch (is.kind) {
		case 'date':
			return reader.date(value);
		case 'day_of_year':
			return reader.day(value);
		case 'yes_no':
			return reader.yesNo(value === 'yes');
		case 'number':
			return is.unit ? `${reader.number(value)} ${is.unit}` : reader.number(value);
		case 'money':
			return `${reader.number(value)} ${is.currency}`;
		case 'choice':
			return chosen(is.choices, value);
		case 'several':
			return factKeys(value)
				.map((key) => chosen(is.choices, key))
				.join(', ');
		case 'phone':
			return reader.phone(value);
		case 'table':
			return factRows(value)
				.map((row) =>
					is.columns
						.filter(({ key }) => row[key] !== undefined)
						.map((column) => valueInWords(column.is, row[column.key], reader, choice))
						.join(', ')
				)
				.join('\n');
		default:
			return value;
	}
}

/**
 * A kept fact in words.
 * @param is the kind the value is spelled by, if it is that of a part of the fact: a column, one choice
 */
export function factInWords(fact: FactDefinition | undefined, value: string, reader: FactReader, is: FactKind | undefined = fact?.is): string {
	return fact && is ? valueInWords(is, value, reader, (key) => reader.choice(fact, key)) : value;
}

/** The same in one line, for words among which it stands: rows of a table are parted by semicolons, other lines by commas. */
export const factInOneLine = (fact: FactDefinition, value: string, reader: FactReader): string =>
	factInWords(fact, value, reader).replaceAll('\n', fact.is.kind === 'table' ? '; ' : ', ');

const MANY_LINES: readonly FactKind['kind'][] = ['lines', 'address', 'table'];

/** A kept fact with as few words as it is understood in, such as "year end 31 March"; null for what does not fit in a line, as an address. */
export function factInShort(fact: FactDefinition | undefined, value: string, reader: FactReader): string | null {
	if (!fact || fact.secret || MANY_LINES.includes(fact.is.kind)) return null;
	const said = factInWords(fact, value, reader);
	// what a client is says itself
	if (fact.name === 'legal_form') return said;
	return `${fact.label[0].toLowerCase()}${fact.label.slice(1)} ${said}`;
}

/** What is known of a client, in the order of the record, each with its definition; what follows no definition is left out. */
export function inOrder<Fact extends { name: string }>(facts: FirmFacts, known: readonly Fact[]): (Fact & { definition: FactDefinition })[] {
	return facts.all.flatMap((definition) => {
		const fact = known.find(({ name }) => name === definition.name);
		return fact ? [{ ...fact, definition }] : [];
	});
}

/** A kept fact as it stands in the cell of a list, from which it is read as itself: of several choices their words, parted by semicolons. */
export function factInCell({ is }: FactDefinition, value: string): string {
	if (is.kind !== 'several' || is.choices.some(({ words }) => /[;|\n]/.test(words))) return value;
	return factKeys(value)
		.map((key) => is.choices.find((choice) => choice.key === key)?.words ?? key)
		.join('; ');
}
