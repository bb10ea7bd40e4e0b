import { z } from 'zod';
import { FEES_MOST, feeSchema } from '../../letters/fees';
import { BANK_KINDS, fieldsOf, placesMissing, placesSchema } from '../../signing/places';
import { LAPSE_DAYS } from '../../signing/letter-states';
import { isOfFirm, signerSchema, SIGNERS_MOST } from '../../signing/signers';
import { FILES_MOST, USUAL, type ItemKindDefinition } from '../item-kind';

/** What a new letter is called until it has a name of its own. */
export const LETTER_TITLE = 'Engagement letter';

/** Files of more bytes, alone or together, are not made one letter of. */
export const SIGNED_MOST_BYTES = 60_000_000;

/** Most documents that are signed as one. */
export const DOCUMENTS_MOST = 10;

const signing = z.object({
	/** a PDF is to be signed, also before one is chosen: its words are not sent instead */
	ofFiles: z.boolean().optional(),
	/** files of the firm that are signed, in their order; none where its words are written here */
	documents: z
		.array(
			z.object({
				id: z.uuid(),
				name: z.string().min(1).max(200),
				/** as they are seen, in points */
				pages: z.array(z.object({ width: z.number().positive(), height: z.number().positive() })).max(400)
			})
		)
		.max(DOCUMENTS_MOST, `At most ${DOCUMENTS_MOST} documents are signed as one.`),
	signers: z.array(signerSchema).min(1, 'Somebody has to sign.').max(SIGNERS_MOST, `At most ${SIGNERS_MOST} people sign one letter.`),
	/** where on the pages; none where a page for the signatures is added */
	places: placesSchema,
	/** days from its sending for which somebody of the client can sign; null for as long as it waits */
	lapseDays: z
		.number('For how many days can it be signed?')
		.int()
		.min(LAPSE_DAYS.least, `Leave at least ${LAPSE_DAYS.least} days to sign.`)
		.max(LAPSE_DAYS.most, `At most ${LAPSE_DAYS.most} days to sign.`)
		.nullish()
});
export type LetterSigning = z.output<typeof signing>;

/** Its words are kept apart. Without more, the client signs and then anyone of the firm who may. */
const spec = z.object({
	signing: signing.nullish(),
	/** the letter of which it is a new version */
	replaces: z.uuid().nullish(),
	/** the fees in this copy, where they are not those of the client's record */
	fees: z.array(feeSchema).max(FEES_MOST, `A table has at most ${FEES_MOST} fees.`).nullish()
});

/** Whether files are signed: they are chosen, or are about to be. */
export const isOfFiles = (signing: Pick<LetterSigning, 'ofFiles' | 'documents'> | null | undefined): boolean =>
	Boolean(signing && (signing.ofFiles || signing.documents.length > 0));

/** Whether the words of a line are signed, and not files. */
export const isWritten = (line: { kind: string; spec: object }): boolean =>
	line.kind === 'letter' && !isOfFiles((line.spec as { signing?: LetterSigning | null }).signing);

export const letter = {
	...USUAL,
	words: { short: 'letter', words: 'a letter to sign', about: 'they read and sign; we countersign' },
	spec,
	empty: () => ({}),
	minutes: () => 5,
	// pages that are signed by hand
	filesMost: () => FILES_MOST,
	// the places of each signer are counted from 0
	typed: ({ signing }) => {
		// a payment authorisation among its words asks for as many
		const most = Math.max(BANK_KINDS.length, ...(signing?.signers ?? []).map(({ key }) => fieldsOf(signing!.places, key).length));
		return Array.from({ length: most }, (_, at) => `place.${at}`);
	},
	judged: false,
	missing: ({ title, spec: { signing } }) => {
		if (signing?.ofFiles && signing.documents.length === 0)
			return {
				message: `“${title}” has no PDF to sign yet. Add it, or write its words here.`,
				field: 'spec',
				hint: 'Add the PDF that is signed.'
			};
		const ofUs = signing?.places.find(
			(place) => BANK_KINDS.includes(place.kind) && signing.signers.some((one) => one.key === place.of && isOfFirm(one))
		);
		const missing = ofUs
			? `“${ofUs.label}” asks somebody of the firm for a bank account. Give the place to somebody of the client.`
			: signing && placesMissing(signing.places);
		return missing ? { message: `“${title}”: ${missing}`, field: 'spec', hint: missing } : null;
	}
} satisfies ItemKindDefinition<typeof spec>;
