import { readCatalogues } from '$lib/words/catalogues';

/** The desk shows what clients will see, in the language of each. */
export const load = () => readCatalogues();
