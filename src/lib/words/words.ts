import { IntlMessageFormat } from 'intl-messageformat';
import { catalogueOf, type WordKey } from './catalogues';

export type { WordKey } from './catalogues';
const compiled = new Map<string, IntlMessageFormat>();

type Values = Readonly<Record<string, string | number>>;

/**
 * What the portal, the signing pages and the messages say, in a reader's language (ICU MessageFormat).
 * A locale without a catalogue of its own reads English, with its own dates and numbers.
 * @throws Error if a value the text needs is missing
 */
export function say(locale: string, key: WordKey, values: Values = {}): string {
	const id = `${locale} ${key}`;
	let message = compiled.get(id);
	if (!message) {
		message = new IntlMessageFormat(catalogueOf(locale)[key], locale, undefined, { ignoreTag: true });
		compiled.set(id, message);
	}
	return message.format(values) as string;
}

/** `say` for one reader. */
export function sayer(locale: string): (key: WordKey, values?: Values) => string {
	return (key, values) => say(locale, key, values);
}

/** Says what the catalogue has under a key, in one language. */
export type Say = ReturnType<typeof sayer>;
