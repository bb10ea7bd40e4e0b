import { z } from 'zod';
import { oneLine, optionalText } from '../people/plain-fields';
import { questionConditionSchema } from '../requests/condition-schema';
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
/** Most things that all answers together bring about. */
export const ENDS_MAX = 20;

const shared = {
	/** by which it is known that it was brought about; stays when the words change */
	key: z.string().min(1).max(40),
	what: z.discriminatedUnion('does', [
		z.object({ does: z.literal('task'), words: oneLine('what is to be done', 200), staffId: z.uuid('Choose whose task it is.').nullable() }),
		z.object({
			does: z.literal('tell'),
			words: optionalText('the words to them', 400).transform((text) => text ?? ''),
			staffId: z.uuid('Choose who is told.').nullable()
		}),
		/** the whole list, or one line of it */
		z.object({ does: z.literal('list'), listId: z.uuid('Choose a list.'), line: z.string().min(1).max(40).optional() }),
		z.object({ does: z.literal('service'), name: oneLine('which service', 80) })
	])
};

/** What an answer brings about once it is accepted; nothing of it is told to the client. Whoever looks after the client does what is nobody's in particular. */
export const bringSchema = z.object({
	...shared,
	/** how the question must be answered; any answer will do without one */
	when: whenSchema.optional()
});
export type Bring = z.infer<typeof bringSchema>;

/** What a questionnaire brings about as a whole once its answers are accepted. */
export const endSchema = z.object({
	...shared,
	/** what must be so, of the answers and of the client; always without one */
	condition: questionConditionSchema.optional()
});
export type End = z.infer<typeof endSchema>;
export const endsSchema = z.array(endSchema).max(ENDS_MAX, `At most ${ENDS_MAX} things follow at the end.`).default([]);

/** By what a person leaves out one thing that is brought about, by an answer, or (without a question) at the end. */
export const bringKey = (question: { key: string } | null, bring: { key: string }): string => `${question?.key ?? ''} ${bring.key}`;

/** Whether anything may follow from the answers to some questions. */
export const bringsAnything = ({ questions, ends }: { questions: readonly { brings?: readonly Bring[] }[]; ends: readonly End[] }): boolean =>
	ends.length > 0 || questions.some(({ brings }) => brings && brings.length > 0);

export const BRING_WORDS: Record<Bring['what']['does'], string> = {
	task: 'a task for',
	tell: 'mail to',
	list: 'a draft from the list',
	service: 'propose the service'
};

/** Names of those people and lists of the firm that are there. */
export interface BringNames {
	staff: ReadonlyMap<string, string>;
	lists: ReadonlyMap<string, { name: string; /** titles by the keys of the lines */ lines: ReadonlyMap<string, string> }>;
}

/** What is brought about, as it stands in a list. */
export function bringInWords({ what }: Pick<Bring, 'what'>, { staff, lists }: BringNames): string {
	const nameOf = (id: string | null) => (id === null ? undefined : staff.get(id)) ?? 'whoever looks after the client';
	switch (what.does) {
		case 'task':
			return `a task for ${nameOf(what.staffId)}: “${what.words}”`;
		case 'tell':
			return `mail to ${nameOf(what.staffId)}${what.words ? `: “${what.words}”` : ''}`;
		case 'list':
			return listInWords(lists.get(what.listId), what.line);
		case 'service':
			return `a task for whoever looks after the client: propose ${what.name}`;
	}
}

function listInWords(list: { name: string; lines: ReadonlyMap<string, string> } | undefined, line: string | undefined): string {
	if (!list) return 'nothing: the list is not in the Library any more';
	if (line === undefined) return `a draft of the list “${list.name}”`;
	const title = list.lines.get(line);
	return title === undefined ? `nothing: the line is not in the list “${list.name}” any more` : `a draft of “${title}” from the list “${list.name}”`;
}
