import { openPdf } from './open-pdf';

/** What a paper is stands on its first pages. */
const PAGES_MOST = 5;
const WORDS_MOST = 20_000;

/**
 * The words of the first pages of a PDF, a line of the page a line.
 * @returns null if there are none (a scan is a picture), or if the file cannot be read or is locked
 */
export async function readFirstWords(pdf: Uint8Array): Promise<string | null> {
	const loading = openPdf(pdf);
	try {
		const document = await loading.promise;
		let words = '';
		for (let n = 1; n <= Math.min(PAGES_MOST, document.numPages) && words.length < WORDS_MOST; n++) {
			const { items } = await (await document.getPage(n)).getTextContent();
			for (const item of items) if ('str' in item) words += item.hasEOL ? `${item.str}\n` : item.str;
			words += '\n';
		}
		// a control character would be refused by the database
		const clean = words
			.toWellFormed()
			.replace(/[\u0000-\u0008\u000b-\u001f]/g, ' ')
			.trim();
		return clean ? clean.slice(0, WORDS_MOST) : null;
	} catch {
		return null;
	} finally {
		await loading.destroy();
	}
}
