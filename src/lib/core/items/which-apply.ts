import type { FirmFacts } from '../facts/fact-definition';
import { judge, testHolds, type ClientKnown } from '../requests/conditions';
import { comparable, factKindOfAnswer } from './comparable';
import type { Answers, Question } from './questions';

/** Whether a question is asked, and if not, why: of this client not at all, or not with the answers so far. */
export type Applies = 'yes' | 'not_for_client' | 'not_by_answer';

/**
 * Which questions apply, given the answers so far and what is known of the client: the one function that the editor, the client's page,
 * handing in and counting ask. A follow-up depends on earlier questions alone, so answering one never changes what was asked before it.
 * @param client null where the questions were chosen for the client already
 * @param today `YYYY-MM-DD`
 */
export function whichApply(
	questions: readonly Question[],
	answers: Readonly<Answers>,
	client: { known: ClientKnown; facts: FirmFacts } | null,
	today: string
): Map<string, Applies> {
	const applies = new Map<string, Applies>();
	const byKey = new Map(questions.map((question) => [question.key, question]));
	for (const question of questions) applies.set(question.key, one(question));
	return applies;

	function one({ under, when, condition }: Question): Applies {
		// what is not known decides nothing: it is asked
		if (condition && client && judge(condition, client.known, client.facts).holds === false) return 'not_for_client';
		if (under === undefined) return 'yes';
		const above = byKey.get(under);
		const aboveApplies = applies.get(under);
		// a question above that is gone, or stands below, is none
		if (!above || aboveApplies === undefined) return 'yes';
		if (aboveApplies !== 'yes') return aboveApplies;
		const answer = answers[under];
		if (answer === undefined) return 'not_by_answer';
		if (!when) return 'yes';
		return testHolds(comparable(answer, above.answer), comparedIn(above, when.column), when, today) ? 'yes' : 'not_by_answer';
	}
	function comparedIn({ answer }: Question, column: string | undefined) {
		const is = factKindOfAnswer(answer);
		return (column !== undefined && is.kind === 'table' && is.columns.find(({ key }) => key === column)?.is) || is;
	}
}

/** Seconds that an answer takes, roughly, with reading its question. */
const SECONDS: Record<Question['answer']['is'], number> = {
	yes_no: 8,
	one_of: 12,
	several_of: 15,
	date: 15,
	day_of_year: 12,
	line: 15,
	email: 15,
	phone: 15,
	web: 15,
	number: 15,
	money: 20,
	tax_number: 30,
	address: 30,
	words: 45,
	table: 90
};

/** About how many minutes some questions take; at least one. */
export const minutesOf = (questions: readonly Pick<Question, 'answer'>[]): number =>
	Math.max(1, Math.round(questions.reduce((sum, { answer }) => sum + SECONDS[answer.is], 0) / 60));

/** The questions in their parts: those under one heading, until the next heading. */
export function partsOf<Q extends Pick<Question, 'part'>>(questions: readonly Q[]): { title: string; questions: Q[] }[] {
	const parts: { title: string; questions: Q[] }[] = [];
	for (const question of questions) {
		const title = question.part ?? parts.at(-1)?.title ?? '';
		const last = parts.at(-1);
		if (last && last.title === title) last.questions.push(question);
		else parts.push({ title, questions: [question] });
	}
	return parts;
}
