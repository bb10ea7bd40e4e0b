import { passagesOfText, textChanges, type TextChanges } from '$lib/core/signing/changes';
import { linesOf, type PrintedPage } from '$lib/core/statements/printed/page-lines';
import { readPrintedPages } from './read-words';

/** The passages of a text, or a PDF whose pages have one. */
export type TextToCompare = readonly string[] | Uint8Array;

async function passagesOf(text: TextToCompare): Promise<readonly string[]> {
	if (!(text instanceof Uint8Array)) return text;
	return passagesOfPages((await readPrintedPages(text))?.pages ?? []);
}

/** The sentences that are printed on pages. */
export const passagesOfPages = (pages: PrintedPage[]): string[] =>
	passagesOfText(
		linesOf(pages)
			.map((line) => line.text)
			.join(' ')
	);

/** What one says otherwise than the other. A page that is a picture has no text, and differs by nothing. */
export async function compareTexts(before: TextToCompare, after: TextToCompare): Promise<TextChanges> {
	return textChanges(await passagesOf(before), await passagesOf(after));
}
