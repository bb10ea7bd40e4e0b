import { z } from 'zod';
import type { FactDefinition } from '../facts/fact-definition';
import { factSchema, type FactPlace } from '../facts/fact-values';
import { cleanText, oneLine, optionalText } from '../people/plain-fields';
import { plainNumber, type Answer } from './answers';

const CURRENCY = /^[A-Z]{3}$/;

/** How one question is answered. */
export const answerSpecSchema = z.discriminatedUnion('is', [
	z.object({ is: z.literal('words') }),
	z.object({ is: z.literal('number'), unit: z.string().trim().max(30).default('') }),
	z.object({ is: z.literal('money'), currency: z.string().regex(CURRENCY, 'Write the currency as three letters, such as CAD.') }),
	z.object({ is: z.literal('date') }),
	z.object({ is: z.literal('yes_no') }),
	z.object({ is: z.literal('one_of'), choices: choices() }),
	z.object({ is: z.literal('several_of'), choices: choices() })
]);
function choices() {
	return z
		.array(oneLine('each choice', 120))
		.min(2, 'Give at least two choices, each on a line of its own.')
		.max(30, 'At most 30 choices.')
		.refine((all) => new Set(all.map((choice) => choice.toLowerCase())).size === all.length, 'Two choices read the same.');
}
export type AnswerSpec = z.infer<typeof answerSpecSchema>;
export type AnswerKind = AnswerSpec['is'];

export const ANSWER_WORDS: Record<AnswerKind, string> = {
	words: 'in words',
	number: 'a number',
	money: 'an amount of money',
	date: 'a date',
	yes_no: 'yes or no',
	one_of: 'one of several',
	several_of: 'several of several'
};

/** The name of the fact that an answer becomes, so that it is never asked again. */
export const factOfAnswer = z
	.string()
	.regex(/^[a-z][a-z0-9_]{1,40}$/, 'This fact is not known here.')
	.nullable()
	.default(null);

/** The answer that fits a fact, so that what the client says can be kept as it; null for a fact that no plain question brings. */
export function answerOfFact({ is }: Pick<FactDefinition, 'is'>): AnswerSpec | null {
	switch (is.kind) {
		case 'yes_no':
		case 'date':
			return { is: is.kind };
		case 'number':
			return { is: 'number', unit: is.unit };
		case 'money':
			return { is: 'money', currency: is.currency };
		case 'choice':
			return { is: 'one_of', choices: is.choices.map(({ words }) => words) };
		case 'several':
			return { is: 'several_of', choices: is.choices.map(({ words }) => words) };
		case 'day_of_year':
		case 'table':
			return null;
		default:
			return { is: 'words' };
	}
}

/** An answer in the one spelling in which its fact is kept, or null if it cannot be that fact. */
export function factOf(fact: FactDefinition, answer: Answer, place: FactPlace): string | null {
	const typed =
		typeof answer === 'number'
			? fact.is.kind === 'money'
				? String(answer / 100)
				: String(answer)
			: typeof answer === 'boolean'
				? answer
					? 'yes'
					: 'no'
				: answer;
	const parsed = factSchema(fact, place).safeParse(typed);
	return parsed.success ? parsed.data : null;
}

export const questionSchema = z.object({
	/** by which its answer is known; stays when the words change */
	key: z.string().min(1).max(40),
	title: oneLine('the question', 200),
	help: optionalText('the explanation', 600).transform((text) => text ?? ''),
	required: z.boolean(),
	answer: answerSpecSchema,
	fact: factOfAnswer
});
export type Question = z.infer<typeof questionSchema>;

/**
 * The schema of an answer as it is typed in a form; messages are keys of the catalogue.
 * Numbers and amounts are taken with point or comma; an amount is kept in hundredths, so that it stays exact.
 */
export function answerOf(spec: AnswerSpec): z.ZodType<Answer, unknown> {
	switch (spec.is) {
		case 'words':
			return z.string('wrong.answer.empty').transform(cleanText).pipe(z.string().min(1, 'wrong.answer.empty').max(10_000, 'wrong.answer.long'));
		case 'number':
			return numberText(6).transform(Number);
		case 'money':
			return numberText(2).transform((text) => Math.round(Number(text) * 100));
		case 'date':
			return z.iso.date('wrong.answer.date');
		case 'yes_no':
			return z.enum(['yes', 'no'], 'wrong.answer.choose').transform((text) => text === 'yes');
		case 'one_of':
			return z.enum(spec.choices as [string, ...string[]], 'wrong.answer.choose');
		case 'several_of':
			return z
				.union([z.string().transform((one) => [one]), z.array(z.string())], 'wrong.answer.choose')
				.pipe(z.array(z.enum(spec.choices as [string, ...string[]], 'wrong.answer.choose')).min(1, 'wrong.answer.choose'))
				.transform((chosen) => spec.choices.filter((choice) => chosen.includes(choice)));
	}
}

/** A number as people type it; see `plainNumber`. */
function numberText(decimals: number): z.ZodType<string, unknown> {
	return z
		.string('wrong.answer.number')
		.trim()
		.max(40, 'wrong.answer.number')
		.transform((text) => plainNumber(text) ?? '')
		.pipe(z.string().regex(new RegExp(`^-?\\d{1,12}(\\.\\d{1,${decimals}})?$`), 'wrong.answer.number'));
}

/** The answers of a questionnaire by question; what is not needed may be missing. */
export type Answers = Record<string, Answer>;

/**
 * Reads the answers of a questionnaire from a form.
 * @param whole every needed question must be answered; otherwise what is there is taken, and what cannot be read is left out
 */
export function answersOf(
	questions: readonly Question[],
	typed: Readonly<Record<string, unknown>>,
	whole: boolean
): { answers: Answers; problems: Record<string, string> } {
	const answers: Answers = {};
	const problems: Record<string, string> = {};
	for (const question of questions) {
		const value = typed[question.key];
		const given = Array.isArray(value) ? value.length > 0 : typeof value === 'string' && value.trim() !== '';
		if (!given) {
			if (whole && question.required) problems[question.key] = question.answer.is === 'words' ? 'wrong.answer.empty' : answerProblem(question.answer);
			continue;
		}
		const parsed = answerOf(question.answer).safeParse(value);
		if (parsed.success) answers[question.key] = parsed.data;
		else problems[question.key] = parsed.error.issues[0].message;
	}
	return { answers, problems };
}

function answerProblem(spec: AnswerSpec): string {
	return spec.is === 'number' || spec.is === 'money' ? 'wrong.answer.number' : spec.is === 'date' ? 'wrong.answer.date' : 'wrong.answer.choose';
}
