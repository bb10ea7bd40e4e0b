import type { Question } from '../items/questions';

/** How deep questions may hang below each other: two follow-ups under a question. */
export const DEPTH_MAX = 2;

const at = (questions: readonly Question[], key: string | undefined) => questions.findIndex((question) => question.key === key);

/** The question that another one hangs on, if it is there. */
export const aboveOf = (questions: readonly Question[], { under }: Pick<Question, 'under'>): Question | undefined =>
	under === undefined ? undefined : questions[at(questions, under)];

/** How many questions another one hangs below. */
export function depthOf(questions: readonly Question[], question: Question): number {
	let depth = 0;
	for (let above = aboveOf(questions, question); above && depth <= questions.length; above = aboveOf(questions, above)) depth++;
	return depth;
}

/** How a question above is asked about to begin with: its yes, its first choice, else any answer. */
export function firstWhen({ answer }: Pick<Question, 'answer'>): Question['when'] {
	if (answer.is === 'yes_no') return { is: 'equals', value: 'yes' };
	if (answer.is === 'one_of') return { is: 'equals', value: answer.choices[0] ?? '' };
	if (answer.is === 'several_of') return { is: 'contains', value: answer.choices[0] ?? '' };
	return undefined;
}

/** Hangs a question under the nearest one before it that stands as deep. @returns that one; null if there is none, or it would hang too deep */
export function indent(questions: readonly Question[], question: Question): Question | null {
	const depth = depthOf(questions, question);
	const above = questions.slice(0, at(questions, question.key)).findLast((other) => depthOf(questions, other) === depth);
	// what hangs on it goes along, and must not hang too deep either
	const deepest = Math.max(
		0,
		...questions.filter((other) => hangsOn(questions, other, question.key)).map((other) => depthOf(questions, other) - depth)
	);
	if (!above || depth + deepest >= DEPTH_MAX) return null;
	question.under = above.key;
	question.when = firstWhen(above);
	return above;
}

/** Takes a question out from under the one above, to where that one stands. @returns whether it hung on one */
export function outdent(questions: readonly Question[], question: Question): boolean {
	const above = aboveOf(questions, question);
	if (!above) return false;
	question.under = above.under;
	question.when = above.under === undefined ? undefined : above.when && { ...above.when };
	return true;
}

function hangsOn(questions: readonly Question[], question: Question, key: string): boolean {
	let above = aboveOf(questions, question);
	for (let steps = 0; above && steps <= questions.length; steps++, above = aboveOf(questions, above)) if (above.key === key) return true;
	return false;
}

/** Takes a question out. What hung on it hangs where it hung, and its heading goes on with the next one. */
export function removeQuestion(questions: Question[], question: Question): void {
	const i = at(questions, question.key);
	if (i < 0) return;
	for (const other of questions)
		if (other.under === question.key) [other.under, other.when] = [question.under, question.when && { ...question.when }];
	const next = questions[i + 1];
	if (question.part !== undefined && next && next.part === undefined) next.part = question.part;
	questions.splice(i, 1);
}

/**
 * Moves a question by one place. A follow-up does not come before the one it is under: it comes out from under it. Headings stay where
 * they are. @returns its new place, or null at an end
 */
export function moveQuestion(questions: Question[], question: Question, by: -1 | 1): number | null {
	const i = at(questions, question.key);
	const to = i + by;
	if (i < 0 || to < 0 || to >= questions.length) return null;
	const other = questions[to];
	if (by < 0 && question.under === other.key) outdent(questions, question);
	if (by > 0 && other.under === question.key) outdent(questions, other);
	[question.part, other.part] = [other.part, question.part];
	questions.splice(i, 1);
	questions.splice(to, 0, question);
	return to;
}
