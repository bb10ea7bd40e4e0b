import type { FirmFacts } from '../facts/fact-definition';
import type { Question } from '../items/questions';
import type { Condition } from '../requests/conditions';

/** What whoever writes a questionnaire ought to know of one of its questions. */
export interface Trouble {
	/** of the question */
	key: string;
	words: string;
	/** it cannot be sent so */
	wrong: boolean;
}

/**
 * What is wrong with a questionnaire, or worth a second look: questions that nobody can reach, conditions on later questions, two questions
 * for one fact, a fact that is known of every client, choices that are written and lead nowhere.
 * @param alwaysKnown names of facts that are known of every client
 */
export function troublesOf(questions: readonly Question[], facts: FirmFacts, alwaysKnown: readonly string[] = []): Trouble[] {
	const at = new Map(questions.map(({ key }, i) => [key, i]));
	const number = (key: string) => (at.get(key) ?? 0) + 1;
	const asksFact = new Map<string, number>();
	const unreachable = new Set<string>();
	const troubles: Trouble[] = [];
	for (const [i, question] of questions.entries()) {
		const say = (words: string, wrong = false) => troubles.push({ key: question.key, words, wrong });
		if (question.title.trim() === '') say('has no words yet', true);
		const { answer } = question;
		if ('choices' in answer && answer.choices.filter((choice) => choice.trim()).length < 2) say('needs at least two choices', true);
		for (const asked of answersAsked(question.condition)) {
			const place = at.get(asked);
			if (place === undefined) say('asks about a question that is not there any more', true);
			else if (place === i) say('asks about itself', true);
			else if (place > i) say(`asks about question ${place + 1}, which comes later`, true);
		}
		const above = question.under === undefined ? undefined : at.get(question.under);
		if (question.under !== undefined && (above === undefined || above >= i)) say('hangs on a question that does not come before it', true);
		if (above !== undefined && (unreachable.has(question.under!) || neverSo(questions[above], question.when))) unreachable.add(question.key);
		if (question.condition && never(question.condition, questions, facts)) unreachable.add(question.key);
		if (unreachable.has(question.key)) say('is never asked: what it hangs on cannot be so');
		const fact = question.fact ? facts.get(question.fact) : undefined;
		if (fact) {
			const first = asksFact.get(fact.name);
			if (first !== undefined) say(`becomes the same fact as question ${first + 1}, ${fact.label}`);
			else asksFact.set(fact.name, i);
			if (alwaysKnown.includes(fact.name)) say(`${fact.label} is known of every client already; it would only be confirmed`);
		}
	}
	// a choice without a follow-up, where all others have one
	for (const { key, answer } of questions) {
		if (answer.is !== 'one_of' && answer.is !== 'yes_no') continue;
		const choices = answer.is === 'yes_no' ? ['yes', 'no'] : answer.choices;
		const led = new Set(questions.flatMap(({ under, when }) => (under === key && when?.is === 'equals' ? [when.value.toLowerCase()] : [])));
		const left = choices.filter((choice) => !led.has(choice.toLowerCase()));
		if (choices.length > 2 && left.length === 1 && led.size >= 2)
			troubles.push({ key, words: `nothing follows on “${left[0]}”, though something does on every other choice`, wrong: false });
	}
	return troubles.sort((a, b) => number(a.key) - number(b.key));
}

/** The keys of the questions that a condition asks about. */
export function answersAsked(condition: Condition | undefined): string[] {
	if (!condition) return [];
	if (condition.kind === 'all' || condition.kind === 'any') return condition.of.flatMap(answersAsked);
	return condition.kind === 'answer' ? [condition.question] : [];
}

/** Whether an answer can never be so: it is a choice that is not offered. */
function neverSo({ answer }: Question, when: { is: string; value: string } | undefined): boolean {
	if (!when || when.is !== 'equals' || answer.is !== 'one_of' || answer.other) return false;
	return !answer.choices.some((choice) => choice.toLowerCase() === when.value.toLowerCase());
}

/** Whether a condition contradicts itself: something is to be two things at once, or a choice that is not there. */
function never(condition: Condition, questions: readonly Question[], facts: FirmFacts): boolean {
	switch (condition.kind) {
		case 'any':
			return condition.of.every((part) => never(part, questions, facts));
		case 'all': {
			if (condition.of.some((part) => never(part, questions, facts))) return true;
			const wanted = new Map<string, string>();
			return condition.of.some((part) => {
				const what = aboutOne(part, facts);
				if (!what) return false;
				const before = wanted.get(what.of);
				wanted.set(what.of, what.value);
				return before !== undefined && before !== what.value;
			});
		}
		case 'answer': {
			const of = questions.find(({ key }) => key === condition.question);
			return of !== undefined && neverSo(of, condition);
		}
		default:
			return false;
	}
}

/** What a leaf wants one thing to be, if there can be only one. */
function aboutOne(condition: Condition, facts: FirmFacts): { of: string; value: string } | null {
	if (condition.kind === 'client') return { of: 'client', value: condition.is };
	if (condition.kind === 'fact' && condition.is === 'equals' && condition.column === undefined)
		return { of: `fact ${facts.get(condition.fact)?.name ?? condition.fact}`, value: condition.value.toLowerCase() };
	if (condition.kind === 'answer' && condition.is === 'equals' && condition.column === undefined)
		return { of: `answer ${condition.question}`, value: condition.value.toLowerCase() };
	return null;
}
