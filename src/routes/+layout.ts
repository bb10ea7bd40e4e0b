import { browser } from '$app/environment';
import { readCatalogue } from '$lib/words/catalogues';

/** The words of the language that the page is in, before anything is drawn with them. */
export const load = async () => {
	if (browser) await readCatalogue(document.documentElement.lang);
};
