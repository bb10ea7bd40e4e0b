import { IntlMessageFormat } from 'intl-messageformat';
import en from './en.json';
import fr from './fr.json';

export type WordKey = keyof typeof en;
const catalogues: Record<string, Record<WordKey, string>> = { en, fr };
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
		const catalogue = catalogues[locale] ?? catalogues[locale.split('-')[0]] ?? en;
		message = new IntlMessageFormat(catalogue[key], locale, undefined, { ignoreTag: true });
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
