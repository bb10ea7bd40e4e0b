import { z } from 'zod';
import type { FactDefinition } from '../facts/fact-definition';
import type { Saying } from '../errors/domain-error';
import { factSchema, sayingOf, type FactPlace } from '../facts/fact-values';
import { cleanText, oneLine, optionalText } from '../people/plain-fields';
import { columnsField } from '../facts/fact-form';
import { itemTextSchema } from '../requests/item-text';
import { questionConditionSchema } from '../requests/condition-schema';
import { bringSchema, BRINGS_MAX, whenSchema } from './brings';
import { fromMinor, minorDecimals, toMinor } from './minor-units';
import { checkProblem, MADE_OF, type Check } from './checks';
import { chosen, factKindOfAnswer, OTHER_MAX } from './comparable';
import { plainNumber, type Answer, type AnswerRow } from './answers';
import { SLOT_TYPES, type SlotType } from './slots';

const CURRENCY = /^[A-Z]{3}$/;

/** one may also write another choice */
const OTHER = z.boolean().optional();

/** How one question is answered. */
export const answerSpecSchema = z.discriminatedUnion('is', [
	z.object({ is: z.literal('line') }),
	z.object({ is: z.literal('words') }),
	z.object({ is: z.literal('number'), unit: z.string().trim().max(30).default('') }),
	z.object({ is: z.literal('money'), currency: z.string().regex(CURRENCY, 'Write the currency as three letters, such as CAD.') }),
	z.object({ is: z.literal('date') }),
	z.object({ is: z.literal('day_of_year') }),
	z.object({ is: z.literal('yes_no') }),
	z.object({ is: z.literal('one_of'), choices: choices(), other: OTHER }),
	z.object({ is: z.literal('several_of'), choices: choices(), other: OTHER }),
	z.object({ is: z.literal('email') }),
	z.object({ is: z.literal('phone') }),
	z.object({ is: z.literal('web') }),
	z.object({ is: z.literal('address') }),
	z.object({ is: z.literal('tax_number'), check: z.string().max(20).default('') }),
	z.object({ is: z.literal('table'), columns: columnsField }),
	z.object({ is: z.literal('file'), accepts: z.enum(Object.keys(SLOT_TYPES) as [SlotType, ...SlotType[]]).default('any') })
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

/** The kinds in the order in which they are offered: in the margin, and explained with an example where one is chosen. */
export const ANSWER_WORDS: Record<AnswerKind, { words: string; about: string }> = {
	words: { words: 'words', about: 'as many as they need, such as what the business does' },
	line: { words: 'a few words', about: 'one line, such as a name' },
	yes_no: { words: 'yes or no', about: 'such as “Does anyone work for you?”' },
	one_of: { words: 'one of', about: 'one of the choices you write, such as the legal form' },
	several_of: { words: 'several of', about: 'any number of the choices you write, such as how customers pay' },
	number: { words: 'number', about: 'with a unit if it has one, such as 4 people' },
	money: { words: 'money', about: 'an amount in one currency, such as sales of the last year' },
	date: { words: 'date', about: 'a day with its year, such as the first day of business' },
	day_of_year: { words: 'day of the year', about: 'a day that comes every year, such as the year end' },
	email: { words: 'e-mail', about: 'such as where bills are sent' },
	phone: { words: 'phone', about: 'kept in its international form' },
	web: { words: 'web address', about: 'such as their website' },
	address: { words: 'postal address', about: 'as it is written on an envelope' },
	tax_number: { words: 'tax number', about: 'checked digit by digit where the country has a rule for it' },
	table: { words: 'table', about: 'several of a kind with columns of their own, such as directors' },
	file: { words: 'a file', about: 'one or several files, such as the certificate of incorporation' }
};
export const ANSWER_KINDS = Object.keys(ANSWER_WORDS) as AnswerKind[];

/** The name of the fact that an answer becomes, so that it is never asked again. */
export const factOfAnswer = z
	.string()
	.regex(/^[a-z][a-z0-9_]{1,40}$/, 'This fact is not known here.')
	.nullable()
	.default(null);

/** The answer that fits a fact, so that what the client says can be kept as it. */
export function answerOfFact({ is }: Pick<FactDefinition, 'is'>): AnswerSpec {
	switch (is.kind) {
		case 'words':
			return { is: 'line' };
		case 'lines':
			return { is: 'words' };
		case 'tax_number':
			return { is: 'tax_number', check: is.check };
		case 'table':
			return { is: 'table', columns: is.columns.map((column) => ({ ...column })) as Extract<AnswerSpec, { is: 'table' }>['columns'] };
		case 'number':
			return { is: 'number', unit: is.unit };
		case 'money':
			return { is: 'money', currency: is.currency };
		case 'choice':
			return { is: 'one_of', choices: is.choices.map(({ words }) => words) };
		case 'several':
			return { is: 'several_of', choices: is.choices.map(({ words }) => words) };
		default:
			return { is: is.kind };
	}
}

/** An answer in the one spelling in which its fact is kept, or null if it cannot be that fact. */
export function factOf(fact: FactDefinition, answer: Answer, place: FactPlace): string | null {
	const typed =
		typeof answer === 'number'
			? fact.is.kind === 'money'
				? String(fromMinor(answer, fact.is.currency))
				: String(answer)
			: typeof answer === 'boolean'
				? answer
					? 'yes'
					: 'no'
				: answer;
	const parsed = factSchema(fact, place).safeParse(typed);
	return parsed.success ? parsed.data : null;
}

const BOUND = z.number('Write a number.').min(-1e12).max(1e12).optional();
const checkSchema: z.ZodType<Check | undefined, unknown> = z
	.object({
		least: BOUND,
		most: BOUND,
		day: z.enum(['not_future', 'not_past']).optional(),
		madeOf: z.enum(Object.keys(MADE_OF) as [keyof typeof MADE_OF]).optional()
	})
	.optional()
	.refine((check) => check?.least === undefined || check.most === undefined || check.least <= check.most, {
		path: ['most'],
		message: 'The most must not be less than the least.'
	});

export const questionSchema = z.object({
	/** by which its answer is known; stays when the words change */
	key: z.string().min(1).max(40),
	title: oneLine('the question', 200),
	help: optionalText('the explanation', 2000).transform((text) => text ?? ''),
	/** the same words with emphasis, lists, links and pictures, where there are any */
	helpText: itemTextSchema.nullable().optional(),
	required: z.boolean(),
	answer: answerSpecSchema,
	fact: factOfAnswer,
	/** the heading it stands under; the same as the one before it where there is none */
	part: z.string().trim().max(80).optional(),
	/** the key of an earlier question: asked only if that one is asked and answered as `when` says */
	under: z.string().min(1).max(40).optional(),
	/** how the question it is under must be answered; any answer will do without one */
	when: whenSchema.optional(),
	/** of whom, and after which earlier answers, it is asked at all; of everybody without one */
	condition: questionConditionSchema.optional(),
	check: checkSchema.optional(),
	/** what its answer brings about at the firm */
	brings: z.array(bringSchema).max(BRINGS_MAX, `At most ${BRINGS_MAX} things follow from one answer.`).optional()
});
export type Question = z.infer<typeof questionSchema>;

/** A question with what it is asked and how it is answered: needed, of everybody, no more than an answer. */
export const newQuestion = (
	key: string,
	title: string,
	answer: AnswerSpec,
	more: Partial<Omit<Question, 'key' | 'title' | 'answer'>> = {}
): Question => ({
	key,
	title,
	help: '',
	required: true,
	answer,
	fact: null,
	...more
});

/**
 * The schema of an answer as it is typed in a form; messages are keys of the catalogue.
 * Numbers and amounts are taken with point or comma; an amount is kept in the minor units of its currency, so that it stays exact.
 */
export function answerOf(spec: AnswerSpec, place: FactPlace): z.ZodType<Answer, unknown> {
	switch (spec.is) {
		case 'line':
		case 'day_of_year':
		case 'email':
		case 'phone':
		case 'web':
		case 'address':
		case 'tax_number':
			return factSchema({ is: factKindOfAnswer(spec) }, place);
		case 'table':
			return factSchema({ is: factKindOfAnswer(spec) }, place).transform((rows) => JSON.parse(rows) as AnswerRow[]);
		case 'words':
			return z.string('wrong.answer.empty').transform(cleanText).pipe(z.string().min(1, 'wrong.answer.empty').max(10_000, 'wrong.answer.long'));
		case 'number':
			return numberText(6).transform(Number);
		case 'money':
			return numberText(minorDecimals(spec.currency)).transform((text) => toMinor(Number(text), spec.currency));
		case 'date':
			return z.iso.date('wrong.answer.date');
		case 'yes_no':
			return z.enum(['yes', 'no'], 'wrong.answer.choose').transform((text) => text === 'yes');
		case 'file':
			// a file is added, not typed: see `answersOfFiles`
			return z.never('wrong.answer.file');
		case 'one_of':
		case 'several_of':
			return z
				.union([z.string().transform((one) => [one]), z.array(z.string()).max(200)], 'wrong.answer.choose')
				.transform((texts, context): Answer => {
					const answer = chosen(spec, texts);
					const written = [answer ?? []].flat().find((one) => !spec.choices.includes(one));
					const unknown = !spec.other && texts.some((text) => text !== '' && !spec.choices.includes(text));
					if (answer !== null && !unknown && (written?.length ?? 0) <= OTHER_MAX) return answer;
					context.addIssue(
						written !== undefined && written.length > OTHER_MAX
							? { code: 'custom', message: 'wrong.answer.long', params: { max: OTHER_MAX } }
							: { code: 'custom', message: 'wrong.answer.choose' }
					);
					return z.NEVER;
				});
	}
}

/** A number as people type it; see `plainNumber`. */
function numberText(decimals: number): z.ZodType<string, unknown> {
	return z
		.string('wrong.answer.number')
		.trim()
		.max(40, 'wrong.answer.number')
		.transform((text) => plainNumber(text) ?? '')
		.pipe(z.string().regex(new RegExp(`^-?\\d{1,12}${decimals > 0 ? `(\\.\\d{1,${decimals}})?` : ''}$`), 'wrong.answer.number'));
}

/** The answers of a questionnaire by question; what is not needed may be missing. */
export type Answers = Record<string, Answer>;

/**
 * The answers to those questions that want files. An answer says which files these are, also where one is exchanged for another of its name.
 * @param papers those of the item; a file's slot is the key of its question
 */
export function answersOfFiles(questions: readonly Question[], papers: readonly { id: string; name: string; slot: string | null }[]): Answers {
	return Object.fromEntries(
		questions.flatMap(({ key, answer }) => {
			const own = answer.is === 'file' ? papers.filter(({ slot }) => slot === key) : [];
			return own.length > 0 ? [[key, own.map(({ id, name }): AnswerRow => ({ paper: id, name }))]] : [];
		})
	);
}

/**
 * Reads the answers of a questionnaire from a form.
 * @param whole every needed question must be answered; otherwise what is there is taken, and what cannot be read is left out
 * @param place where the firm is, and which day it is there
 * @param files the answers to questions that want files, see `answersOfFiles`: nothing that a form says is a file
 */
export function answersOf(
	questions: readonly Question[],
	typed: Readonly<Record<string, unknown>>,
	whole: boolean,
	place: FactPlace & { today: string },
	files: Answers = {}
): { answers: Answers; problems: Record<string, Saying> } {
	const answers: Answers = {};
	const problems: Record<string, Saying> = {};
	for (const question of questions) {
		if (question.key in files) {
			answers[question.key] = files[question.key];
			continue;
		}
		const value = question.answer.is === 'file' ? undefined : typed[question.key];
		const given = Array.isArray(value)
			? value.some((one) => typeof one === 'string' && one.trim() !== '')
			: typeof value === 'string' && value.trim() !== '';
		if (!given) {
			if (whole && question.required) problems[question.key] = { key: missingAnswer(question.answer) };
			continue;
		}
		const parsed = answerOf(question.answer, place).safeParse(value);
		const wrong = parsed.success && checkProblem(question.answer, question.check, parsed.data, place.today);
		if (wrong) problems[question.key] = wrong;
		else if (parsed.success) answers[question.key] = parsed.data;
		else problems[question.key] = sayingOf(parsed.error.issues[0]);
	}
	return { answers, problems };
}

/** What is said of an answer that is needed and not there. */
function missingAnswer({ is }: AnswerSpec): string {
	if (is === 'number' || is === 'money') return 'wrong.answer.number';
	if (is === 'date') return 'wrong.answer.date';
	if (is === 'day_of_year') return 'wrong.answer.day';
	if (is === 'table') return 'wrong.answer.rows';
	if (is === 'file') return 'wrong.answer.file';
	return is === 'yes_no' || is === 'one_of' || is === 'several_of' ? 'wrong.answer.choose' : 'wrong.answer.empty';
}
