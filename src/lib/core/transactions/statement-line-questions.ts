import { z } from 'zod';
import { cleanText, oneLine } from '../people/plain-fields';
import { STATEMENT_LINE_ANSWERS } from './statement-line-answers';
import type { UnreadStatementLine } from './statement-line';

/** Most lines that one item asks about: nobody answers more in one go. */
export const ASKED_LINES_MAX = 300;

/** What is wanted for each line: what it was for, or the paper that belongs to it. */
export const STATEMENT_LINE_QUESTIONS = ['what', 'paper'] as const;
export type StatementLineQuestion = (typeof STATEMENT_LINE_QUESTIONS)[number];
export const STATEMENT_LINE_QUESTION_WORDS: Record<StatementLineQuestion, string> = {
	what: 'what it was for',
	paper: 'the receipt or invoice for it'
};

/** A line as the client sees it; what was sent never changes with the file. */
export const askedLineSchema = z.object({
	id: z.uuid(),
	day: z.iso.date(),
	amount: z.string().regex(/^-?\d{1,13}\.\d{2,6}$/),
	currency: z.string().max(3),
	who: z.string().max(1000),
	words: z.string().max(1000),
	/** the account in words, or '' */
	account: z.string().max(120).default('')
});
export type AskedLine = z.output<typeof askedLineSchema>;

export const transactionsSpec = z.object({
	asks: z.enum(STATEMENT_LINE_QUESTIONS).default('what'),
	/** what the client may choose instead of writing */
	choices: z.array(oneLine('each choice', 60)).max(12, 'At most 12 choices.').default([]),
	lines: z
		.array(askedLineSchema)
		.min(1, 'Choose at least one line.')
		.max(ASKED_LINES_MAX, `At most ${ASKED_LINES_MAX} lines in one question; ask the rest in a second one.`)
});

export type TransactionsSpec = z.output<typeof transactionsSpec>;

/** What is typed of an answer so far. */
export const typedStatementLineForm = z.object({ lineId: z.uuid(), words: z.string().max(2000) });

/**
 * The form that answers one line; messages are keys of the catalogue. A choice comes as `choice`, or as `pick` from a list in
 * which everything stands.
 */
export const statementLineAnswerForm = z.preprocess((form) => {
	const typed = { ...(form as Record<string, unknown>) };
	if (typeof typed.pick === 'string') {
		if (typed.pick.startsWith('choice:')) typed.choice = typed.pick.slice('choice:'.length);
		else typed.how = typed.pick;
	}
	return typeof typed.choice === 'string' ? { ...typed, how: 'choice', words: typed.choice } : typed;
}, answerForm());
function answerForm() {
	return z
		.object({
			lineId: z.uuid(),
			how: z.enum(STATEMENT_LINE_ANSWERS, 'wrong.answer.choose'),
			words: z.string().default('').transform(cleanText).pipe(z.string().max(2000, 'wrong.answer.long'))
		})
		.superRefine((typed, context) => {
			if ((typed.how === 'words' || typed.how === 'choice') && typed.words === '')
				context.addIssue({ code: 'custom', path: ['words'], message: 'wrong.answer.empty' });
		});
}

/** What of a file could not be read, in a sentence each, for the first few. */
export function unreadInWords(unread: readonly UnreadStatementLine[]): string[] {
	return unread.map((line) => `Line ${line.position} ${line.what}: ${line.text || 'empty'}`);
}
