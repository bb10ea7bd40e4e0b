import { z } from 'zod';
import { oneLine, optionalText } from '../people/plain-fields';
import { FACT_TESTS } from '../requests/conditions';

/** How a question must be answered so that something follows from it. */
export const whenSchema = z.object({
	column: z.string().max(60).optional(),
	is: z.enum(FACT_TESTS),
	value: z.string().max(1000),
	to: z.string().max(300).optional()
});

/** Most things that one answer brings about. */
export const BRINGS_MAX = 6;

/** What an answer brings about once it is accepted; nothing of it is told to the client. Whoever looks after the client does what is nobody's in particular. */
export const bringSchema = z.object({
	/** by which it is known that it was brought about; stays when the words change */
	key: z.string().min(1).max(40),
	/** how the question must be answered; any answer will do without one */
	when: whenSchema.optional(),
	what: z.discriminatedUnion('does', [
		z.object({ does: z.literal('task'), words: oneLine('what is to be done', 200), staffId: z.uuid('Choose whose task it is.').nullable() }),
		z.object({
			does: z.literal('tell'),
			words: optionalText('the words to them', 400).transform((text) => text ?? ''),
			staffId: z.uuid('Choose who is told.').nullable()
		}),
		z.object({ does: z.literal('list'), listId: z.uuid('Choose a list.') }),
		z.object({ does: z.literal('service'), name: oneLine('which service', 80) })
	])
});
export type Bring = z.infer<typeof bringSchema>;

/** By what a person leaves out one thing that an answer would bring about. */
export const bringKey = (question: { key: string }, bring: { key: string }): string => `${question.key} ${bring.key}`;

export const BRING_WORDS: Record<Bring['what']['does'], string> = {
	task: 'a task for',
	tell: 'mail to',
	list: 'a draft of the list',
	service: 'propose the service'
};

/** Names of those people and lists of the firm that are there. */
export interface BringNames {
	staff: ReadonlyMap<string, string>;
	lists: ReadonlyMap<string, string>;
}

/** What is brought about, as it stands in a list. */
export function bringInWords({ what }: Bring, { staff, lists }: BringNames): string {
	const nameOf = (id: string | null) => (id === null ? undefined : staff.get(id)) ?? 'whoever looks after the client';
	switch (what.does) {
		case 'task':
			return `a task for ${nameOf(what.staffId)}: “${what.words}”`;
		case 'tell':
			return `mail to ${nameOf(what.staffId)}${what.words ? `: “${what.words}”` : ''}`;
		case 'list':
			return lists.has(what.listId) ? `a draft of the list “${lists.get(what.listId)}”` : 'nothing: the list is not in the Library any more';
		case 'service':
			return `a task for whoever looks after the client: propose ${what.name}`;
	}
}
