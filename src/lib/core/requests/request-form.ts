import { z } from 'zod';
import { letterDocumentSchema } from '../letters/letter-document';
import { longText, oneLine, optionalText } from '../people/plain-fields';

export const ITEM_KINDS = ['paper', 'question', 'letter'] as const;
export type ItemKind = (typeof ITEM_KINDS)[number];

const dueDate = z.iso.date('Choose a due date.');

const lineFields = {
	title: oneLine('what you ask for', 160),
	why: optionalText('the explanation', 1000),
	required: z.boolean(),
	dueOn: dueDate
};

/** One line of a request as it is written before sending. */
export const requestLineSchema = z.discriminatedUnion('kind', [
	z.object({ kind: z.literal('paper'), ...lineFields }),
	z.object({ kind: z.literal('question'), ...lineFields }),
	z.object({
		kind: z.literal('letter'),
		...lineFields,
		document: letterDocumentSchema,
		values: z.record(z.string().max(60), z.string().max(400))
	})
]);
export type RequestLine = z.infer<typeof requestLineSchema>;

/** A request as it is written before sending. */
export const newRequestSchema = z.object({
	clientId: z.uuid(),
	contactId: z.uuid('Choose who gets this request.'),
	title: oneLine('a title for the request', 120),
	message: longText('the words of the message', 4000),
	lines: z
		.array(requestLineSchema)
		.min(1, 'A request needs at least one line. Add one, or leave without sending.')
		.max(100, 'A request holds at most 100 lines.'),
	/** invites the contact in the same message if they have no access yet */
	withInvitation: z.boolean(),
	/** made once in the form, so that a second click sends nothing twice */
	onceKey: z.uuid()
});
export type NewRequest = z.infer<typeof newRequestSchema>;

/** A ready-made list of the Library. */
export interface RequestList {
	id: string;
	name: string;
	about: string;
	lines: {
		kind: ItemKind;
		title: string;
		why: string;
		required: boolean;
		/** business days after sending on which the line falls due */
		dueInBusinessDays: number;
	}[];
}

export const answerSchema = z.object({ answer: longText({ empty: 'wrong.answer.empty', long: 'wrong.answer.long' }, 10_000) });
export const reasonSchema = z.object({ reason: longText({ empty: 'wrong.reason.empty', long: 'wrong.reason.long' }, 1000) });
export const dueOnSchema = z.object({ dueOn: dueDate });
