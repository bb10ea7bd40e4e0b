import { z } from 'zod';
import { cleanText, oneLine } from '../people/plain-fields';
import type { UnreadLine } from './statement-line';

/** Most lines that one item asks about: nobody answers more in one go. */
export const ASKED_LINES_MAX = 300;

/** What is wanted for each line: what it was for, or the paper that belongs to it. */
export const LINE_QUESTIONS = ['what', 'paper'] as const;
export type LineQuestion = (typeof LINE_QUESTIONS)[number];
export const LINE_QUESTION_WORDS: Record<LineQuestion, string> = {
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
	asks: z.enum(LINE_QUESTIONS).default('what'),
	/** what the client may choose instead of writing */
	choices: z.array(oneLine('each choice', 60)).max(12, 'At most 12 choices.').default([]),
	lines: z
		.array(askedLineSchema)
		.min(1, 'Choose at least one line.')
		.max(ASKED_LINES_MAX, `At most ${ASKED_LINES_MAX} lines in one question; ask the rest in a second one.`)
});

/** How a line may be answered, besides with a file. */
export const LINE_ANSWERS = ['choice', 'words', 'personal', 'unknown', 'no_paper'] as const;
export type LineAnswerKind = (typeof LINE_ANSWERS)[number];

export interface LineAnswer {
	how: LineAnswerKind;
	/** the choice, or what was written; may go with any of them */
	words: string;
	by: string;
	at: string;
}
/** The answers so far, by line. */
export type LineAnswers = Record<string, LineAnswer>;

/**
 * The form that answers one line; messages are keys of the catalogue. A choice comes as `choice`, or as `pick` from a list in
 * which everything stands.
 */
export const lineAnswerForm = z.preprocess((form) => {
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
			how: z.enum(LINE_ANSWERS, 'wrong.answer.choose'),
			words: z.string().default('').transform(cleanText).pipe(z.string().max(2000, 'wrong.answer.long'))
		})
		.superRefine((typed, context) => {
			if ((typed.how === 'words' || typed.how === 'choice') && typed.words === '')
				context.addIssue({ code: 'custom', path: ['words'], message: 'wrong.answer.empty' });
		});
}

/** Whether an answer may be given to lines of this question. */
export function allowsAnswer(spec: z.output<typeof transactionsSpec>, answer: Pick<LineAnswer, 'how' | 'words'>): boolean {
	if (answer.how === 'no_paper') return spec.asks === 'paper';
	if (answer.how === 'choice') return spec.choices.includes(answer.words);
	return true;
}

/** The lines that are still open: neither answered nor with a file. @param withFile lines that files were added for */
export function openLines<Line extends { id: string }>(lines: readonly Line[], answers: LineAnswers, withFile: ReadonlySet<string>): Line[] {
	return lines.filter((line) => !answers[line.id] && !withFile.has(line.id));
}

/** An answer as the firm reads it, and as it goes out. */
export function lineAnswerInWords(answer: LineAnswer | undefined, files: readonly string[]): string {
	const said = !answer
		? ''
		: answer.how === 'personal'
			? ['personal', answer.words].filter(Boolean).join(': ')
			: answer.how === 'unknown'
				? ['does not know', answer.words].filter(Boolean).join(': ')
				: answer.how === 'no_paper'
					? ['there is no paper', answer.words].filter(Boolean).join(': ')
					: answer.words;
	return [said, ...(files.length > 0 ? [files.join(', ')] : [])].filter(Boolean).join('; ');
}

/** What of a file could not be read, in a sentence each, for the first few. */
export function unreadInWords(unread: readonly UnreadLine[]): string[] {
	return unread.map((line) => `Line ${line.position} ${line.what}: ${line.text || 'empty'}`);
}
