import { createHash } from 'node:crypto';
import { buffer } from 'node:stream/consumers';
import { DomainError } from '$lib/core/errors/domain-error';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { SIGNED_MOST_BYTES, type LetterSigning } from '$lib/core/items/kinds/letter';
import { hasPayment } from '$lib/core/letters/fees';
import { fillLetter, isBlankLetter, mergeFieldsOf, passagesOf, type LetterDocument } from '$lib/core/letters/letter-document';
import { firstName, mergeFieldWords, unfilledFields } from '$lib/core/letters/merge-fields';
import type { RequestLine } from '$lib/core/requests/request-list';
import type { TextChanges } from '$lib/core/signing/changes';
import { bankFormOf, bankKindsOf } from '$lib/core/signing/bank-accounts';
import { BANK_KINDS, placesSchema, type Place } from '$lib/core/signing/places';
import { dateWords } from '$lib/words/dates';
import { signsFor } from '$lib/words/signs-for';
import { say, sayer } from '$lib/words/words';
import type { Firm } from '../firms/firm';
import type { Database } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import { paperOf } from '../platform/pdf/compose-letter';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { bothSides, requireSigners, type LetterSigner } from './letter-signers';

type LineOfKind = Extract<RequestLine, { kind: 'letter' }>;
/** Where and for whom a letter is prepared. */
interface PreparingLetter {
	place: { db: Database; pdf: PdfWork; papers: PaperStore };
	firm: Firm;
	clientId: string;
	to: LetterParties & { id: string };
	/** the firm's, as a data address of a PNG */ logo: string | null;
	now: string;
}

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
	/** its words; none that count where it is made of files */
	document: LetterDocument;
	storageKey: string;
	sha256: Buffer;
	pages: number;
	signaturePage: number | null;
	signatureTop: number | null;
	/** in the order in which they are asked */
	signers: LetterSigner[];
	/** the files it is made of, with the page on which each begins */
	documents: { name: string; sha256: string; firstPage: number; pages: number }[];
	/** with their page in the whole */
	places: Place[];
	/** the last day on which it can be signed; null for no end */
	lapsesOn: string | null;
	/** what it says otherwise than the version before; null for a first version */
	changes: TextChanges | null;
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
	if (letter.document.content.filter(({ type }) => type === 'payment').length > 1)
		throw new DomainError('invalid', 'The letter asks for an account more than once. Take one of the places for it out.');
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
 * Makes the PDF of a letter, of its words or of files, and stores it. Outside any transaction: it takes a moment. Whoever calls
 * it removes the file if what it was made for fails.
 * @throws DomainError unfilled_fields naming each field, invalid if it is empty or cannot be drawn, unreadable_file
 */
export async function prepareLetter(line: LineOfKind, by: PreparingLetter): Promise<PreparedLetter> {
	const { firm, to, place } = by;
	const { signing } = line.spec;
	const signers = signing ? await place.db.inFirm(firm.id, (tx) => requireSigners(tx, firm, by.clientId, signing, to)) : bothSides(to, firm);
	await requireMaySee(place.db, firm.id, by.clientId, signers);
	if (signing?.documents.length) return bindLetter(line, signing, signers, by);
	const values = requireFilledLetter(firm, to, line, by.now);
	const document = fillLetter(line.document, values);
	const composed = await place.pdf.compose({
		title: line.title,
		document,
		firm: { name: firm.name, address: firm.address, color: firm.color, logo: by.logo },
		dateLine: values.today,
		recipient: [to.clientName, to.contactName].filter((line, i, all) => all.indexOf(line) === i),
		paper: paperOf(firm.country),
		signers: signers
			.filter(({ copy }) => !copy)
			.map((signer) => ({ name: signer.name, of: signsFor(sayer(to.locale), signer, { firm: firm.name, client: to.clientName }) })),
		payment: hasPayment(document)
			? {
					title: say(to.locale, 'letter.payment.title'),
					fields: bankKindsOf(firm.country).map((kind) => ({ kind, label: paymentLabel(to.locale, firm.country, kind) }))
				}
			: null,
		pageWords: say(to.locale, 'letter.page', { page: '{page}', count: '{count}' }),
		locale: to.locale
	});
	const changes = await changesOf(line, by, document);
	const stored = await place.papers.putBuffer(composed.pdf);
	return {
		document,
		storageKey: stored.key,
		sha256: createHash('sha256').update(composed.pdf).digest(),
		pages: composed.pages,
		signaturePage: composed.signaturePage,
		signatureTop: composed.signatureTop,
		signers,
		documents: [],
		// who is asked first names the account
		places: placesSchema.parse(
			composed.payment.map((place, at) => ({
				...place,
				id: `payment-${at}`,
				document: 0,
				of: signers.find(({ contactId, copy }) => contactId === to.id && !copy)!.key,
				country: firm.country
			}))
		),
		lapsesOn: lapsesOn(line, by),
		changes
	};
}

/** How what is asked of an account is called where the firm is. */
function paymentLabel(locale: string, country: string, kind: 'holder' | 'routing' | 'account'): string {
	if (kind === 'account') return say(locale, 'letter.payment.account', { form: bankFormOf(country) });
	return kind === 'routing' ? say(locale, 'letter.payment.routing', { country }) : say(locale, 'letter.payment.holder');
}

/** One PDF of the files that are signed, with the places where they are in it. */
async function bindLetter(line: LineOfKind, signing: LetterSigning, signers: LetterSigner[], by: PreparingLetter): Promise<PreparedLetter> {
	const { place, firm, to } = by;
	const files = await place.db.inFirm(firm.id, (tx) =>
		tx.rows<{ id: string; name: string; key: string; sha256: string; bytes: number }>(
			`select id, name, storage_key key, bytes, encode(sha256, 'hex') sha256 from attachment where id = any ($1)`,
			[signing.documents.map(({ id }) => id)]
		)
	);
	const ordered = signing.documents.map(({ id }) => {
		const file = files.find((one) => one.id === id);
		if (!file) throw new DomainError('not_found', 'A document to sign is not there any more. Take it out, and add it again.');
		return file;
	});
	if (ordered.reduce((sum, file) => sum + file.bytes, 0) > SIGNED_MOST_BYTES)
		throw new DomainError(
			'unreadable_file',
			'These documents are larger than 60 MB together. Save them smaller, or have only the pages with the signatures signed.'
		);
	const sources: { name: string; bytes: Uint8Array }[] = [];
	for (const { name, key } of ordered) sources.push({ name, bytes: await buffer(place.papers.read(key)) });
	const about = say(to.locale, 'letter.signaturePage.about', { documents: new Intl.ListFormat(to.locale).format(ordered.map(({ name }) => name)) });
	const bound = await place.pdf.bind({
		title: line.title,
		sources,
		placed: signing.places.map(({ document, page }) => ({ document, page })),
		signaturePage: signing.places.length > 0 ? null : { heading: say(to.locale, 'letter.signaturePage.heading'), about }
	});
	const { firstPages } = bound;
	const places = signing.places.map((one) => ({
		...one,
		document: 0,
		page: (firstPages[one.document] ?? 0) + one.page - 1,
		...(BANK_KINDS.includes(one.kind) ? { country: firm.country } : {})
	}));
	const lost = signing.places.find((one) => one.page > (bound.pagesOf[one.document] ?? 0));
	if (lost) throw new DomainError('changed_meanwhile', `A place is on page ${lost.page} of a document that has no such page. Open its pages again.`);
	const changes = await changesOf(line, by, bound.pdf);
	const stored = await place.papers.putBuffer(bound.pdf);
	return {
		document: { type: 'doc', content: [{ type: 'paragraph' }] },
		storageKey: stored.key,
		sha256: createHash('sha256').update(bound.pdf).digest(),
		pages: bound.pages,
		signaturePage: bound.signaturePage,
		signatureTop: bound.signatureTop,
		signers,
		documents: ordered.map(({ name, sha256 }, at) => ({ name, sha256, firstPage: firstPages[at], pages: bound.pagesOf[at] })),
		places,
		lapsesOn: lapsesOn(line, by),
		changes
	};
}

/** What a new version says otherwise than the one before, by its words or, where one of them is made of files, by what stands on the pages. */
async function changesOf(line: LineOfKind, { place, firm }: PreparingLetter, made: LetterDocument | Uint8Array): Promise<TextChanges | null> {
	if (!line.spec.replaces) return null;
	const old = await place.db.inFirm(firm.id, (tx) =>
		tx.first<{ document: LetterDocument; of_files: boolean; storage_key: string }>(
			`select document, documents <> '[]' of_files, storage_key from letter where id = $1`,
			[line.spec.replaces]
		)
	);
	if (!old) return null;
	return place.pdf.changes(
		old.of_files ? await buffer(place.papers.read(old.storage_key)) : passagesOf(old.document.content),
		made instanceof Uint8Array ? made.slice() : passagesOf(made.content)
	);
}

/** Never before it is due: nobody is reminded of what cannot be done any more. */
function lapsesOn(line: LineOfKind, { firm, now }: PreparingLetter): string | null {
	const days = line.spec.signing?.lapseDays;
	if (!days) return null;
	const last = addDays(localDate(now, firm.calendar), days);
	return line.dueOn && line.dueOn > last ? line.dueOn : last;
}

/** @throws DomainError not_allowed if somebody of the firm who is named may not see the client */
async function requireMaySee(db: Database, firmId: string, clientId: string, signers: readonly LetterSigner[]): Promise<void> {
	for (const { staffId, name } of signers) {
		if (!staffId) continue;
		const sees = await db.inFirm(firmId, (tx) => tx.first('select 1 from client where id = $1', [clientId]), { staffId });
		if (!sees) throw new DomainError('not_allowed', `${name} may not see this client. Choose somebody else.`);
	}
}
