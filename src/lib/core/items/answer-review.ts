import type { Answer } from './answers';
import type { Answers, Question } from './questions';
import { whichApply, type Applying } from './which-apply';

/** What was said of single answers of a questionnaire, by their keys; what is not there was not said. */
export interface AnswerReview {
	/** asked back by the firm, with its words; the rest stays handed in */
	askedBack?: Readonly<Record<string, string>>;
	/** corrected by the firm: what the client had answered, if anything */
	corrected?: Readonly<Record<string, { was: Answer | null; by: string; /** instant */ at: string }>>;
	/** accepted by part */
	accepted?: readonly string[];
	/** what the client says they do not know */
	unknown?: readonly string[];
	/** what the answers would bring about and does not, by `bringKey` */
	leftOut?: readonly string[];
	/** the answers as they stood when the firm last sent something back */
	seen?: Answers | null;
}

/** The name of the field with which a client says that they do not know an answer. */
export const unknownField = (key: string): string => `${key}.unknown`;

/**
 * The questions that can be answered while some were asked back: those, and what did not apply with the answers before and may follow
 * from them now; null where all are open.
 * @param applied which applied with the answers before
 */
export function openWhileAskedBack(questions: readonly Question[], review: AnswerReview, before: Answers, applied: Applying): Set<string> | null {
	const back = review.askedBack ?? {};
	if (Object.keys(back).length === 0) return null;
	return new Set(questions.flatMap(({ key }) => (key in back || (!(key in before) && applied.get(key) !== 'yes') ? [key] : [])));
}

/** The answers that stay as they were handed in while some questions are open; none where all are. */
export const shutAnswers = (before: Answers, open: ReadonlySet<string> | null): Answers =>
	open ? Object.fromEntries(Object.entries(before).filter(([key]) => !open.has(key))) : {};

/** What was asked, by the answers; what was not answered and is asked of some clients alone may not have been. */
export function askedByAnswers(questions: readonly Question[], answers: Answers, review: AnswerReview): Question[] {
	const applies = whichApply(questions, answers, null, '');
	return questions.filter(({ key, condition }) => applies.get(key) === 'yes' && (!condition || key in answers || review.unknown?.includes(key)));
}

const same = (a: Answer | undefined, b: Answer | undefined): boolean => JSON.stringify(a) === JSON.stringify(b);

/** What stays said once a client hands in: nothing of what they answer differently now. */
export function reviewAfterHandIn(review: AnswerReview, before: Answers, now: Answers, unknown: readonly string[]): AnswerReview {
	const unchanged = (key: string) => same(before[key], now[key]);
	const corrected = Object.fromEntries(Object.entries(review.corrected ?? {}).filter(([key]) => unchanged(key)));
	return {
		...(Object.keys(corrected).length > 0 ? { corrected } : {}),
		...(review.accepted ? { accepted: review.accepted.filter(unchanged) } : {}),
		...(unknown.length > 0 ? { unknown } : {}),
		...(review.leftOut ? { leftOut: review.leftOut } : {}),
		...(review.seen ? { seen: review.seen } : {})
	};
}

/** What was answered when the firm last looked, where it is different now; undefined where nothing changed or nobody had looked. */
export function answerBefore(review: AnswerReview, key: string, now: Answers): { was: Answer | null } | undefined {
	if (!review.seen || same(review.seen[key], now[key])) return undefined;
	return { was: review.seen[key] ?? null };
}

/** An answer corrected by the firm; what the client had said first stays beside it. */
export function correct(review: AnswerReview, key: string, was: Answer | undefined, by: string, at: string): AnswerReview {
	const first = review.corrected?.[key];
	return {
		...review,
		corrected: { ...review.corrected, [key]: { was: first ? first.was : (was ?? null), by, at } },
		unknown: review.unknown?.filter((other) => other !== key)
	};
}
