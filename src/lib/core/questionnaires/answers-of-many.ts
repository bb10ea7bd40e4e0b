import { answerInWords, type AnswerReader } from '../items/answers';
import { fromMinor } from '../items/minor-units';
import type { Answers, Question } from '../items/questions';

/** What one client answered. */
export interface AnsweredBy {
	/** of the item, or of what came on a public page */
	id: string;
	/** null for what came on a public page and is no client's */
	clientId: string | null;
	/** of the client, or what whoever answered is called */
	clientName: string;
	/** who was asked, or who answered on a public page */
	contactName: string;
	/** of what came on a public page: whether it waits in Rounds still */
	public: 'waiting' | 'kept' | null;
	/** instant of handing in, or of what came last */
	at: string;
	version: number;
	answers: Answers;
}

/** What many answered to one question, by what makes sense of its kind. */
export type Gathered =
	| { as: 'counts'; answered: number; counts: { words: string; count: number }[]; /** what was written instead of a choice */ others: Said[] }
	| { as: 'numbers'; answered: number; least: number; middle: number; most: number; sum: number }
	| { as: 'words'; answered: number; said: Said[] };
export interface Said {
	id: string;
	clientName: string;
	words: string;
}

/** Gathers the answers to one question; whoever was not asked, or did not answer, does not count. */
export function gather(question: Question, all: readonly AnsweredBy[], reader: AnswerReader): Gathered {
	const { answer: spec, key } = question;
	const given = all.flatMap((one) => (key in one.answers ? [{ ...one, answer: one.answers[key] }] : []));
	const answered = given.length;
	if (spec.is === 'yes_no' || spec.is === 'one_of' || spec.is === 'several_of') {
		const choices = spec.is === 'yes_no' ? [true, false] : spec.choices;
		const chosen = given.flatMap((one) => [one.answer].flat().map((choice) => ({ ...one, choice: choice as string | boolean })));
		return {
			as: 'counts',
			answered,
			counts: choices.map((choice) => ({
				words: typeof choice === 'boolean' ? reader.yesNo(choice) : choice,
				count: chosen.filter((one) => one.choice === choice).length
			})),
			others: chosen
				.filter((one) => !(choices as unknown[]).includes(one.choice))
				.map(({ id, clientName, choice }) => ({ id, clientName, words: String(choice) }))
		};
	}
	const numbers = given
		.flatMap(({ answer }) => (typeof answer === 'number' ? [spec.is === 'money' ? fromMinor(answer, spec.currency) : answer] : []))
		.sort((a, b) => a - b);
	if ((spec.is === 'number' || spec.is === 'money') && numbers.length > 0) {
		const half = numbers.length / 2;
		return {
			as: 'numbers',
			answered,
			least: numbers[0],
			middle: Number.isInteger(half) ? (numbers[half - 1] + numbers[half]) / 2 : numbers[Math.floor(half)],
			most: numbers[numbers.length - 1],
			sum: numbers.reduce((sum, one) => sum + one, 0)
		};
	}
	return {
		as: 'words',
		answered,
		said: given.map(({ id, clientName, answer }) => ({ id, clientName, words: answerInWords(spec, answer, reader) }))
	};
}

/** Compares two answers to one question for sorting: by number, by day, by words; what is missing comes last. */
export function compareAnswers(question: Question, a: Answers, b: Answers, reader: AnswerReader): number {
	const [one, two] = [a[question.key], b[question.key]];
	if (one === undefined || two === undefined) return Number(one === undefined) - Number(two === undefined);
	if (typeof one === 'number' && typeof two === 'number') return one - two;
	if (question.answer.is === 'date') return String(one) < String(two) ? -1 : Number(one !== two);
	return answerInWords(question.answer, one, reader).localeCompare(answerInWords(question.answer, two, reader), 'en');
}
