import { carryPlaces, type CarriedPlace } from '$lib/core/signing/carry-places';
import { textChanges, type TextChanges } from '$lib/core/signing/changes';
import type { Place } from '$lib/core/signing/places';
import { passagesOfPages } from './compare-texts';
import { readPrintedPages } from './read-words';
import { surveyPrinted, type DocumentSurvey } from './survey-document';

export interface EditionToCompare {
	before: Uint8Array;
	after: { name: string; pdf: Uint8Array };
	/** of the document, on the pages of its old edition */
	places: readonly Pick<Place, 'page' | 'x' | 'y' | 'width' | 'height'>[];
}
/** What a new edition of a PDF that is to be signed has, where the places are on it, and what it says otherwise. */
export interface NewEdition extends DocumentSurvey {
	carried: CarriedPlace[];
	changes: TextChanges;
}

/**
 * Compares a new edition of a PDF with the old one, and carries the places over.
 * @throws DomainError unreadable_file for what cannot be signed
 */
export async function compareEditions({ before, after, places }: EditionToCompare): Promise<NewEdition> {
	const { survey, printed } = await surveyPrinted(after.name, after.pdf);
	const old = (await readPrintedPages(before))?.pages ?? [];
	return { ...survey, carried: carryPlaces(places, old, printed), changes: textChanges(passagesOfPages(old), passagesOfPages(printed)) };
}
