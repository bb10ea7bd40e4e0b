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
import type { Bring, End } from './brings';
import type { Answers, Question } from './questions';

/** Whether a question is asked, and if not, why: of this client not at all, or not with the answers so far. */
export type Applies = 'yes' | 'not_for_client' | 'not_by_answer';
/** Whether each question of a questionnaire is asked, by its key; undefined for one that is not of it. */
export type Applying = Pick<ReadonlyMap<string, Applies>, 'get'>;
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
export function whichApply(questions: readonly Question[], answers: Readonly<Answers>, client: Asked | null, today: string): Applying {
	return decider(questions, client?.facts ?? NO_FACTS)(answers, client?.known ?? null, today);
}

/**
 * The same for many clients of one questionnaire: what can be read from the questions alone is read once.
 * @returns decides for some answers, what is known of a client (null where the questions were chosen for them already), and a day
 */
export function decider(
	questions: readonly Question[],
	facts: FirmFacts
): (answers: Readonly<Answers>, known: ClientKnown | null, today: string) => Applying {
	const rules = rulesOf(questions, facts);
	return (answers, known, today) => {
		const judged = judgeQuestions(rules, answers, known, today);
		return { get: (key) => judged.get(key)?.applies ?? (rules.at.has(key) ? 'yes' : undefined) };
	};
}

/** What decides which questions are asked, as far as it depends on neither client nor answers. */
interface Rules {
	questions: readonly Question[];
	facts: FirmFacts;
	/** the place of a question by its key */
	at: ReadonlyMap<string, number>;
	/** the places of those that are not asked always */
	sometimes: readonly number[];
	/** the last question before a place that asks for a fact */
	asksFor: (fact: string, before: number) => Question | undefined;
}

function rulesOf(questions: readonly Question[], facts: FirmFacts): Rules {
	const asking = new Map<string, number[]>();
	const sometimes: number[] = [];
	for (let i = 0; i < questions.length; i++) {
		const { fact: name, condition, under } = questions[i];
		if (condition !== undefined || under !== undefined) sometimes.push(i);
		const fact = name ? facts.get(name) : undefined;
		if (fact) asking.set(fact.name, [...(asking.get(fact.name) ?? []), i]);
	}
	return {
		questions,
		facts,
		at: new Map(questions.map(({ key }, i) => [key, i])),
		sometimes,
		asksFor: (fact, before) => {
			const place = asking.get(fact)?.findLast((one) => one < before);
			return place === undefined ? undefined : questions[place];
		}
	};
}

/** Why a question is left out: what decided it, or the question above it that is left out. */
interface Judged {
	applies: Applies;
	because: Verdict['because'];
	/** the key of the question it goes with */
	with?: string;
}
const ASKED: Judged = { applies: 'yes', because: [] };

/** Judges those questions that are not asked always; what is not there is. */
function judgeQuestions(rules: Rules, answers: Readonly<Answers>, known: ClientKnown | null, today: string): Map<string, Judged> {
	const { questions, at } = rules;
	const judged = new Map<string, Judged>();
	const own = known ? restsOf(rules, known) : null;
	/** the place of the question that is being judged */
	let place = 0;
	/** asks about answers alone */
	const answered: ClientKnown = { kind: 'business', services: [], facts: {}, today, answered: holds };
	for (place of rules.sometimes) judged.set(questions[place].key, one(questions[place]));
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
		const verdict = left && judge(left, answered, rules.facts);
		return verdict?.holds === false ? { applies: 'not_by_answer', because: verdict.because } : ASKED;
	}
	function holds(condition: AnswerCondition): boolean {
		const is = earlier(condition.question);
		// one that is gone, or stands below, decides nothing
		if (is === undefined) return true;
		if (is !== 'yes' && condition.otherwise !== undefined) return condition.otherwise;
		const answer = is === 'yes' ? answers[condition.question] : undefined;
		if (!needsValue(condition.is)) return (condition.is === 'known') === (answer !== undefined);
		return answer !== undefined && answerMeets(questions[at.get(condition.question)!], answer, condition, today);
	}
}

/** Whether an answer is so. @param today `YYYY-MM-DD` */
export function answerMeets({ answer: spec }: Pick<Question, 'answer'>, answer: Answer, test: Test, today: string): boolean {
	const is = factKindOfAnswer(spec);
	return testHolds(comparable(answer, spec), kindIn(is, test.column) ?? is, test, today);
}

/** What some answers bring about: those of the questions that were asked, in their order, then all of them together (without a question). */
export function broughtAbout(
	{ questions, ends }: { questions: readonly Question[]; ends: readonly End[] },
	answers: Readonly<Answers>,
	client: Asked | null,
	today: string
): { question: Question | null; bring: Pick<Bring, 'key' | 'what'> }[] {
	const applies = whichApply(questions, answers, client, today);
	const answered = (key: string) => (applies.get(key) === 'yes' ? answers[key] : undefined);
	const byQuestion = questions.flatMap((question) => {
		const answer = answered(question.key);
		if (answer === undefined) return [];
		return (question.brings ?? []).flatMap((bring) => (!bring.when || answerMeets(question, answer, bring.when, today) ? [{ question, bring }] : []));
	});
	const rules = rulesOf(questions, client?.facts ?? NO_FACTS);
	const known: ClientKnown = {
		...(client?.known ?? { kind: null, services: [], facts: {}, today }),
		answered: (condition) => {
			const of = rules.at.get(condition.question);
			const answer = answered(condition.question);
			if (of === undefined || !needsValue(condition.is)) return of !== undefined && (condition.is === 'known') === (answer !== undefined);
			return answer !== undefined && answerMeets(questions[of], answer, condition, today);
		}
	};
	// unlike a question, which is asked in doubt, nothing follows from what is not known
	const atEnd = ends.filter(({ condition }) => !condition || judge(aboutAnswers(condition), known, rules.facts).holds === true);
	return [...byQuestion, ...atEnd.map((bring) => ({ question: null, bring }))];

	/** A fact that was answered here is not recorded yet: what is asked of it is asked of the answer. */
	function aboutAnswers(condition: Condition): Condition {
		if (condition.kind === 'all' || condition.kind === 'any') return { ...condition, of: condition.of.map(aboutAnswers) };
		const fact = condition.kind === 'fact' ? rules.facts.get(condition.fact) : undefined;
		const asks = fact && rules.asksFor(fact.name, questions.length);
		return condition.kind === 'fact' && asks && answered(asks.key) !== undefined ? aboutAnswer(condition, fact, asks, false) : condition;
	}
}

const NO_FACTS = firmFacts([]);

/** What is left of a question's condition for one client: nothing, what asks about answers, or that it is left out, with the reason. */
interface Rest {
	condition?: Condition;
	out?: Verdict['because'];
}
const HOLDS: Rest = {};

/**
 * Decides of every question's condition what can be decided of the client beforehand, so that what goes to the client asks about their own
 * answers alone. A fact that an earlier question asks is asked of its answer, not of what was known before.
 */
function restsOf({ questions, facts, sometimes, asksFor }: Rules, known: ClientKnown): Map<string, Rest> {
	/** of those that have a condition */
	const rests = new Map<string, Rest>();
	/** those that this client is never asked, with what hangs on them */
	const never = new Set<string>();
	let place = 0;
	for (place of sometimes) {
		const { key, condition, under } = questions[place];
		const rest = condition && restOf(condition);
		if (rest) rests.set(key, rest);
		if (rest?.out || (under !== undefined && never.has(under))) never.add(key);
	}
	return rests;

	function restOf(condition: Condition): Rest {
		if (condition.kind === 'answer') {
			if (!never.has(condition.question)) return { condition };
			// what is never asked is never answered
			return condition.is === 'unknown' ? HOLDS : { out: [condition] };
		}
		if (condition.kind === 'all' || condition.kind === 'any') {
			const all = condition.kind === 'all';
			const left: Condition[] = [];
			const because: Verdict['because'] = [];
			let outs = 0;
			let holds = false;
			for (const part of condition.of) {
				const rest = restOf(part);
				if (rest.out) {
					outs++;
					because.push(...rest.out);
				} else if (rest.condition) left.push(rest.condition);
				else holds = true;
			}
			// one that fails decides "all", one that holds decides "any"
			if (all ? outs > 0 : outs === condition.of.length) return { out: because };
			if ((!all && holds) || left.length === 0) return HOLDS;
			return { condition: left.length === 1 ? left[0] : { kind: condition.kind, of: left } };
		}
		const verdict = judge(condition, known, facts);
		// there is no "not", so what is unknown may stand for what holds: either way it is asked
		const otherwise = verdict.holds !== false;
		const fact = condition.kind === 'fact' ? facts.get(condition.fact) : undefined;
		const asks = fact && asksFor(fact.name, place);
		if (condition.kind === 'fact' && asks && !never.has(asks.key)) return { condition: aboutAnswer(condition, fact, asks, otherwise) };
		return otherwise ? HOLDS : { out: verdict.because };
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
	const rests = restsOf(rulesOf(questions, client.facts), client.known);
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
	return [...judgeQuestions(rulesOf(questions, client.facts), answers, client.known, today)].flatMap(([key, { applies, because, with: above }]) =>
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
