import { firmFacts, type FactDefinition, type FirmFacts } from '../facts/fact-definition';
import { factKeys } from '../facts/fact-words';
import {
	becauseInWords,
	judge,
	kindIn,
	needsValue,
	testHolds,
	type AnswerCondition,
	type AnswerWords,
	type ClientKnown,
	type Condition,
	type FactCondition,
	type FactValueWords,
	type Test,
	type Verdict
} from '../requests/conditions';
import { answerOfKnown, comparable, factKindOfAnswer } from './comparable';
import type { Answer } from './answers';
import type { Bring } from './brings';
import type { Answers, Question } from './questions';

/** Whether a question is asked, and if not, why: of this client not at all, or not with the answers so far. */
export type Applies = 'yes' | 'not_for_client' | 'not_by_answer';
/** What the firm knows of whoever is asked. */
export interface Asked {
	known: ClientKnown;
	facts: FirmFacts;
}

/**
 * Which questions apply, given the answers so far and what is known of the client: the one function that the editor, the client's page,
 * handing in and counting ask. A question depends on earlier ones alone, so answering one never changes what was asked before it.
 * @param client null where the questions were chosen for the client already
 * @param today `YYYY-MM-DD`
 */
export function whichApply(questions: readonly Question[], answers: Readonly<Answers>, client: Asked | null, today: string): Map<string, Applies> {
	const judged = judgeQuestions(questions, answers, client, today);
	const applies = new Map<string, Applies>();
	for (const { key } of questions) applies.set(key, judged.get(key)?.applies ?? 'yes');
	return applies;
}

/** Why a question is left out: what decided it, or the question above it that is left out. */
interface Judged {
	applies: Applies;
	because: Verdict['because'];
	/** the key of the question it goes with */
	with?: string;
}

/** Judges those questions that are not asked always; what is not there is. */
function judgeQuestions(questions: readonly Question[], answers: Readonly<Answers>, client: Asked | null, today: string): Map<string, Judged> {
	const judged = new Map<string, Judged>();
	const own = client ? questionsOf(questions, client) : null;
	const at = new Map<string, number>();
	for (let i = 0; i < questions.length; i++) at.set(questions[i].key, i);
	/** the place of the question that is being judged */
	let place = 0;
	/** asks about answers alone */
	const answered: ClientKnown = { kind: 'business', services: [], facts: {}, today, answered: holds };
	const facts = client?.facts ?? NO_FACTS;
	for (; place < questions.length; place++) {
		const question = questions[place];
		if (question.condition !== undefined || question.under !== undefined) judged.set(question.key, one(question));
	}
	return judged;

	/** What was said of an earlier question; undefined for one that is gone, or stands below. */
	function earlier(key: string): Applies | undefined {
		const its = at.get(key);
		return its !== undefined && its < place ? (judged.get(key)?.applies ?? 'yes') : undefined;
	}

	function one({ key, under, when, condition }: Question): Judged {
		const rest = own?.get(key);
		if (rest?.out) return { applies: 'not_for_client', because: rest.out };
		if (under !== undefined) {
			const aboveIs = earlier(under);
			// a question above that is gone, or stands below, is none
			if (aboveIs !== undefined) {
				if (aboveIs !== 'yes') return { applies: aboveIs, because: [], with: under };
				const hangs: AnswerCondition = { kind: 'answer', question: under, ...(when ?? { is: 'known', value: '' }) };
				if (!holds(hangs)) return { applies: 'not_by_answer', because: [hangs] };
			}
		}
		const left = rest ? rest.condition : condition;
		// what is not known decides nothing: it is asked
		const verdict = left && judge(left, answered, facts);
		return verdict?.holds === false ? { applies: 'not_by_answer', because: verdict.because } : { applies: 'yes', because: [] };
	}
	function holds({ question, otherwise, ...test }: AnswerCondition): boolean {
		const is = earlier(question);
		// one that is gone, or stands below, decides nothing
		if (is === undefined) return true;
		const of = questions[at.get(question)!];
		if (is !== 'yes' && otherwise !== undefined) return otherwise;
		const answer = is === 'yes' ? answers[question] : undefined;
		if (!needsValue(test.is)) return (test.is === 'known') === (answer !== undefined);
		return answer !== undefined && answerMeets(of, answer, test, today);
	}
}

/** Whether an answer is so. @param today `YYYY-MM-DD` */
export function answerMeets({ answer: spec }: Pick<Question, 'answer'>, answer: Answer, test: Test, today: string): boolean {
	const is = factKindOfAnswer(spec);
	return testHolds(comparable(answer, spec), kindIn(is, test.column) ?? is, test, today);
}

/** What some answers bring about: of the questions that were asked, in their order. */
export function broughtAbout(
	questions: readonly Question[],
	answers: Readonly<Answers>,
	applies: ReadonlyMap<string, Applies>,
	today: string
): { question: Question; bring: Bring }[] {
	return questions.flatMap((question) => {
		const answer = applies.get(question.key) === 'yes' ? answers[question.key] : undefined;
		if (answer === undefined) return [];
		return (question.brings ?? []).flatMap((bring) => (!bring.when || answerMeets(question, answer, bring.when, today) ? [{ question, bring }] : []));
	});
}

const NO_FACTS = firmFacts([]);

/** What is left of a question's condition for one client: nothing, what asks about answers, or that it is left out, with the reason. */
interface Rest {
	condition?: Condition;
	out?: Verdict['because'];
}

/**
 * Decides of every question's condition what can be decided of the client beforehand, so that what goes to the client asks about their own
 * answers alone. A fact that an earlier question asks is asked of its answer, not of what was known before.
 */
function questionsOf(questions: readonly Question[], { known, facts }: Asked): Map<string, Rest> {
	/** the questions so far that ask for a fact, by its name */
	const earlier = new Map<string, Question>();
	/** of those that have a condition */
	const rests = new Map<string, Rest>();
	/** those that this client is never asked, with what hangs on them */
	const never = new Set<string>();
	for (const question of questions) {
		const rest = question.condition && restOf(question.condition);
		if (rest) rests.set(question.key, rest);
		if (rest?.out || (question.under !== undefined && never.has(question.under))) never.add(question.key);
		const fact = question.fact ? facts.get(question.fact) : undefined;
		if (fact) earlier.set(fact.name, question);
	}
	return rests;

	function restOf(condition: Condition): Rest {
		if (condition.kind === 'answer') {
			if (!never.has(condition.question)) return { condition };
			// what is never asked is never answered
			return condition.is === 'unknown' ? {} : { out: [condition] };
		}
		if (condition.kind === 'all' || condition.kind === 'any') {
			const parts = condition.of.map(restOf);
			const outs = parts.flatMap(({ out }) => (out ? [out] : []));
			if (condition.kind === 'all' ? outs.length > 0 : outs.length === parts.length) return { out: outs.flat() };
			if (condition.kind === 'any' && parts.some(({ condition: left, out }) => !left && !out)) return {};
			const of = parts.flatMap(({ condition: left }) => left ?? []);
			return of.length === 0 ? {} : of.length === 1 ? { condition: of[0] } : { condition: { kind: condition.kind, of } };
		}
		const verdict = judge(condition, known, facts);
		// there is no "not", so what is unknown may stand for what holds: either way it is asked
		const otherwise = verdict.holds !== false;
		const fact = condition.kind === 'fact' ? facts.get(condition.fact) : undefined;
		const asks = fact && earlier.get(fact.name);
		if (condition.kind === 'fact' && asks && !never.has(asks.key)) return { condition: aboutAnswer(condition, fact, asks, otherwise) };
		return otherwise ? {} : { out: verdict.because };
	}
}

/** A condition on a fact as one on the question that asks for it: choices are known there by their words. */
function aboutAnswer(
	{ kind: _kind, fact: _fact, ...test }: FactCondition,
	fact: FactDefinition,
	{ key }: Question,
	otherwise: boolean
): AnswerCondition {
	const words = (one: string) => ('choices' in fact.is ? (fact.is.choices.find((choice) => choice.key === one)?.words ?? one) : one);
	const value = !('choices' in fact.is)
		? test.value
		: test.is === 'one_of_these'
			? JSON.stringify(factKeys(test.value).map(words))
			: words(test.value);
	return { ...test, kind: 'answer', question: key, value, otherwise };
}

/** The questions that a client is asked at all, without what only the firm may know: parts of conditions, and what an answer brings about. */
export function questionsFor(questions: readonly Question[], client: Asked): Question[] {
	const rests = questionsOf(questions, client);
	const out = new Set<string>();
	return questions.flatMap((question) => {
		const { condition, out: because }: Rest = rests.get(question.key) ?? {};
		if (because || (question.under !== undefined && out.has(question.under))) {
			out.add(question.key);
			return [];
		}
		const { condition: _before, brings: _ours, ...rest } = question;
		return [condition ? { ...rest, condition } : rest];
	});
}

/** The questions without those that want a file, and without what hangs on them. */
export function withoutFiles(questions: readonly Question[]): Question[] {
	const out = new Set<string>();
	return questions.filter(({ key, under, answer }) => {
		const left = answer.is === 'file' || (under !== undefined && out.has(under));
		if (left) out.add(key);
		return !left;
	});
}

/** What is known of a client, as answers to the questions that ask for it. */
export function knownAnswers(questions: readonly Question[], { known, facts }: Asked): Answers {
	return Object.fromEntries(
		questions.flatMap(({ key, answer, fact: name }) => {
			const fact = name ? facts.get(name) : undefined;
			const value = fact && known.facts[fact.name];
			const one = fact && value !== undefined ? answerOfKnown(answer, fact, value) : null;
			return one === null ? [] : [[key, one]];
		})
	);
}

/** A question that is left out, and why, in words; those that go with another one are named with it. */
export interface LeftOut {
	key: string;
	why: string;
}

/** What is left out and why, for whoever tries a questionnaire. */
export function leftOut(
	questions: readonly Question[],
	answers: Readonly<Answers>,
	client: Asked,
	today: string,
	words: { fact: FactValueWords; answer: AnswerWords }
): LeftOut[] {
	const numbers = new Map(questions.map(({ key }, i) => [key, i + 1]));
	return [...judgeQuestions(questions, answers, client, today)].flatMap(([key, { applies, because, with: above }]) =>
		applies === 'yes'
			? []
			: [
					{
						key,
						why:
							above === undefined
								? becauseInWords(because, client.known, client.facts, words.fact, words.answer)
								: `it goes with ${numbers.get(above)}`
					}
				]
	);
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
	table: 90,
	file: 60
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
