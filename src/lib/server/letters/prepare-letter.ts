import { createHash } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { fillLetter, isBlankLetter, mergeFieldsOf, type LetterDocument } from '$lib/core/letters/letter-document';
import { firstName, mergeFieldWords, unfilledFields } from '$lib/core/letters/merge-fields';
import { dateWords } from '$lib/words/dates';
import { say } from '$lib/words/words';
import type { Firm } from '../firms/firm';
import type { PaperStore } from '../platform/files/paper-store';
import { paperOf } from '../platform/pdf/compose-letter';
import type { PdfWork } from '../platform/pdf/pdf-work';

export interface LetterParties {
	clientName: string;
	contactName: string;
	contactEmail: string;
	responsibleName: string;
	locale: string;
}

/** The values the product knows by itself for merge fields. */
export function automaticValues(firm: Firm, parties: LetterParties, now: string): Record<string, string> {
	return {
		client_name: parties.clientName,
		contact_name: parties.contactName,
		contact_first_name: firstName(parties.contactName),
		firm_name: firm.name,
		responsible_name: parties.responsibleName,
		today: dateWords(parties.locale, localDate(now, firm.calendar), 'withYear')
	};
}

export interface PreparedLetter {
	document: LetterDocument;
	storageKey: string;
	sha256: Buffer;
	pages: number;
	signaturePage: number;
	signatureTop: number;
}

/**
 * The value of every field of a letter.
 * @throws DomainError unfilled_fields naming each field, invalid if the letter is empty
 */
export function requireFilledLetter(
	firm: Firm,
	parties: LetterParties,
	letter: { document: LetterDocument; values: Record<string, string> },
	now: string
): Record<string, string> {
	if (isBlankLetter(letter.document)) throw new DomainError('invalid', 'The letter has no words yet. Write it, or take the line out.');
	const values = { ...letter.values, ...automaticValues(firm, parties, now) };
	const unfilled = unfilledFields(mergeFieldsOf(letter.document), values);
	if (unfilled.length > 0)
		throw new DomainError(
			'unfilled_fields',
			`The letter cannot go yet. Still to fill in: ${unfilled.map(mergeFieldWords).join(', ')}.`,
			Object.fromEntries(unfilled.map((name) => [name, `Please write: ${mergeFieldWords(name)}.`]))
		);
	return values;
}

/**
 * Fills a letter, renders it to PDF and stores it. Outside any transaction: it takes a moment. Whoever calls
 * it removes the file if what it was made for fails.
 * @param logo the firm's, as a data address of a PNG
 * @throws DomainError unfilled_fields naming each field, invalid if it is empty or cannot be drawn
 */
export async function prepareLetter(
	place: { pdf: PdfWork; papers: PaperStore },
	firm: Firm,
	parties: LetterParties,
	logo: string | null,
	letter: { title: string; document: LetterDocument; values: Record<string, string> },
	now: string
): Promise<PreparedLetter> {
	const values = requireFilledLetter(firm, parties, letter, now);
	const document = fillLetter(letter.document, values);
	const composed = await place.pdf.compose({
		title: letter.title,
		document,
		firm: { name: firm.name, address: firm.address, color: firm.color, logo },
		dateLine: values.today,
		recipient: [parties.clientName, parties.contactName].filter((line, i, all) => all.indexOf(line) === i),
		paper: paperOf(firm.country),
		signers: [
			{ name: parties.contactName, of: say(parties.locale, 'letter.clientSide', { client: parties.clientName }) },
			{ name: firm.name, of: say(parties.locale, 'letter.firmSide', { firm: firm.name }) }
		],
		pageWords: say(parties.locale, 'letter.page', { page: '{page}', count: '{count}' }),
		locale: parties.locale
	});
	const stored = await place.papers.putBuffer(composed.pdf);
	return {
		document,
		storageKey: stored.key,
		sha256: createHash('sha256').update(composed.pdf).digest(),
		pages: composed.pages,
		signaturePage: composed.signaturePage,
		signatureTop: composed.signatureTop
	};
}
