import { readCatalogue } from '$lib/words/catalogues';

/** Also where somebody chose another language since the page was opened. */
export const load = async ({ data }) => {
	await readCatalogue(data.locale);
	return data;
};
