import type en from './en.json';

export type WordKey = keyof typeof en;
type Catalogue = Readonly<Record<WordKey, string>>;

/** The catalogues that ship, each read when somebody needs it. */
const READ: Record<string, () => Promise<{ default: Catalogue }>> = {
	en: () => import('./en.json'),
	fr: () => import('./fr.json')
};
const there: Record<string, Catalogue> = {};

/** The language of a locale that has a catalogue; English where there is none. */
const languageOf = (locale: string): string => (locale in READ ? locale : locale.split('-')[0] in READ ? locale.split('-')[0] : 'en');

/** Reads the words of a language, so that they can be said: a browser has none but those of its reader. */
export async function readCatalogue(locale: string): Promise<void> {
	const language = languageOf(locale);
	there[language] ??= (await READ[language]()).default;
}

/** Reads all of them. */
export async function readCatalogues(): Promise<void> {
	await Promise.all(Object.keys(READ).map(readCatalogue));
}

/** @throws Error if it was not read before */
export function catalogueOf(locale: string): Catalogue {
	const catalogue = there[languageOf(locale)];
	if (!catalogue) throw new Error(`the words for ${locale} were not read`);
	return catalogue;
}

// the server speaks with everybody
if (import.meta.env.SSR) await readCatalogues();
