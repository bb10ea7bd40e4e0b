import { DomainError, type Saying } from '../errors/domain-error';
import type { FactKind, FirmFacts } from '../facts/fact-definition';
import { factSchema, sayingOf, type FactPlace } from '../facts/fact-values';
import { factKindOfAnswer } from '../items/comparable';
import type { LetterDocument } from '../letters/letter-document';
import type { Question } from '../items/questions';
import { settleCondition, settleTest, type Spell } from './condition-schema';
import type { Condition } from './conditions';
import type { ListLine } from './request-list';

/** A value of a condition as the fact would keep it, or what is wrong with it. */
function speller(place: FactPlace): Spell {
	return (is, value) => {
		const parsed = factSchema({ is }, place).safeParse(value);
		return parsed.success ? { value: parsed.data } : { message: sayingOf(parsed.error.issues[0]) };
	};
}

/** Holds what is written against the firm's facts, and gathers what is wrong by field path. */
function settler(facts: FirmFacts, place: FactPlace) {
	const problems: Record<string, string | Saying> = {};
	const spell = speller(place);
	const condition = (of: Condition | null, path: string, earlier?: ReadonlyMap<string, FactKind>): Condition | null => {
		if (!of) return of;
		const settled = settleCondition(of, facts, spell, earlier);
		for (const problem of settled.problems) problems[[path, ...problem.path].join('.')] = problem.message;
		return settled.condition;
	};
	const fact = (name: string | null, path: string): string | null => {
		if (name === null) return null;
		const known = facts.get(name);
		if (!known) problems[path] = 'The fact that this becomes is not there any more. Choose another one, or none.';
		return known?.name ?? name;
	};
	const questions = (of: readonly Question[], path: string): Question[] => {
		const earlier = new Map<string, FactKind>();
		return of.map((question, n) => {
			const held = one(question, n);
			earlier.set(question.key, factKindOfAnswer(question.answer));
			return held;
		});
		function one(question: Question, n: number): Question {
			const at = `${path}.${n}`;
			const held: Question = { ...question, fact: fact(question.fact, `${at}.fact`) };
			if (question.condition) held.condition = condition(question.condition, `${at}.condition`, earlier) ?? undefined;
			if (question.under === undefined) return { ...held, when: undefined };
			const above = of.slice(0, n).find(({ key }) => key === question.under);
			if (!above) {
				problems[`${at}.under`] = 'The question it is under stands below it, or is not there any more. Move it, or take it out from under.';
				return held;
			}
			if (question.when) {
				const test = settleTest(question.when, factKindOfAnswer(above.answer), spell);
				if ('message' in test) problems[`${at}.when`] = test.message;
				else held.when = test.test;
			}
			return held;
		}
	};
	/** @throws DomainError invalid if something is wrong */
	const requireRight = () => {
		const [first] = Object.values(problems);
		if (first) throw new DomainError('invalid', first, problems);
	};
	return { condition, fact, questions, requireRight };
}

/**
 * Questions held against the firm's facts and against each other: what a follow-up hangs on comes before it and is compared in a way that
 * makes sense, spelled as its answer is kept.
 * @param path of the questions in the form
 * @throws DomainError invalid, by field path such as `questions.2.when`
 */
export function settleQuestions(questions: readonly Question[], facts: FirmFacts, place: FactPlace, path = 'questions'): Question[] {
	const settle = settler(facts, place);
	const settled = settle.questions(questions, path);
	settle.requireRight();
	return settled;
}

/** The conditions of a letter's parts, held against the firm's facts one by one. */
function settleParts(document: LetterDocument, settle: ReturnType<typeof settler>['condition'], path: string): LetterDocument {
	let part = 0;
	return {
		...document,
		content: document.content.map((block) =>
			block.type === 'part' ? { ...block, attrs: { onlyIf: settle(block.attrs.onlyIf, `${path}.parts.${part++}`) ?? block.attrs.onlyIf } } : block
		)
	};
}

/**
 * A letter whose parts hang on what the firm knows of its clients, in a way that makes sense.
 * @throws DomainError invalid
 */
export function settleLetter(document: LetterDocument, facts: FirmFacts, place: FactPlace): LetterDocument {
	const settle = settler(facts, place);
	const settled = settleParts(document, settle.condition, 'document');
	settle.requireRight();
	return settled;
}

/**
 * Lines of a list held against the firm's facts: conditions compare what is there, questions become facts that are there, and facts that
 * were merged go by their new names.
 * @throws DomainError invalid, by field path such as `lines.2.condition.value`
 */
export function settleFacts<Line extends ListLine>(lines: readonly Line[], facts: FirmFacts, place: FactPlace): Line[] {
	const { condition, fact, questions, requireRight } = settler(facts, place);
	const settled = lines.map((line, i): Line => {
		const path = `lines.${i}`;
		const held = { ...line, condition: condition(line.condition, `${path}.condition`) };
		if (held.kind === 'letter') return { ...held, document: settleParts(held.document, condition, `${path}.document`) };
		if (held.kind === 'question') return { ...held, spec: { ...held.spec, fact: fact(held.spec.fact, `${path}.spec.fact`) } };
		if (held.kind === 'questionnaire')
			return {
				...held,
				spec: {
					...held.spec,
					questions: questions(held.spec.questions, `${path}.spec.questions`)
				}
			};
		return held;
	});
	requireRight();
	return settled;
}
