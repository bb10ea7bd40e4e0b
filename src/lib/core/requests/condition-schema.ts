import { z } from 'zod';
import type { Saying } from '../errors/domain-error';
import type { FactKind, FirmFacts } from '../facts/fact-definition';
import { oneLine } from '../people/plain-fields';
import {
	comparedKind,
	kindIn,
	counts,
	FACT_TESTS,
	needsValue,
	testsOf,
	type AnswerCondition,
	type Condition,
	type FactCondition,
	type FactTest,
	type Test
} from './conditions';

const DEPTH_MAX = 4;
const BREADTH_MAX = 12;

const factCondition: z.ZodType<FactCondition, unknown> = z.object({
	kind: z.literal('fact'),
	fact: z.string().max(60),
	column: z.string().max(60).optional(),
	is: z.enum(FACT_TESTS),
	value: z.string().max(1000),
	to: z.string().max(300).optional()
});

const answerCondition: z.ZodType<AnswerCondition, unknown> = z.object({
	kind: z.literal('answer'),
	question: z.string().min(1).max(40),
	column: z.string().max(60).optional(),
	is: z.enum(FACT_TESTS),
	value: z.string().max(1000),
	to: z.string().max(300).optional()
});

function conditionOfDepth(depth: number, more: readonly z.ZodType<Condition>[] = []): z.ZodType<Condition> {
	const leaves: [z.ZodType<Condition>, ...z.ZodType<Condition>[]] = [
		factCondition,
		z.object({ kind: z.literal('service'), name: oneLine('the service', 80), is: z.enum(['has', 'has_not']) }),
		z.object({ kind: z.literal('client'), is: z.enum(['business', 'person']) }),
		...more
	];
	if (depth === 0) return z.union(leaves);
	const of = z
		.array(conditionOfDepth(depth - 1, more))
		.min(1, 'A group of conditions needs at least one.')
		.max(BREADTH_MAX, `A group holds at most ${BREADTH_MAX} conditions.`);
	return z.union([...leaves, z.object({ kind: z.literal('all'), of }), z.object({ kind: z.literal('any'), of })]);
}

/** A condition by its form, as it comes from a page or the database; groups in groups go four deep. Whether it fits the firm's facts, `settleCondition` says. */
export const conditionSchema: z.ZodType<Condition> = conditionOfDepth(DEPTH_MAX);
/** The same of a question, which may also ask how an earlier one is answered. */
export const questionConditionSchema: z.ZodType<Condition> = conditionOfDepth(DEPTH_MAX, [answerCondition]);

/** What is wrong with a condition, and where in it. */
export interface ConditionProblem {
	path: (string | number)[];
	message: string | Saying;
}
/** Reads a value as a kind of fact does: how it is kept, or what is wrong with it. */
export type Spell = (is: FactKind, value: string) => { value: string } | { message: string | Saying };

/**
 * Holds a condition against the firm's facts: each fact is there and can be compared so, each value is spelled as the fact is kept, a fact
 * that was merged goes by its new name.
 * @param spell reads a value as the fact does; throws nothing
 * @param earlier in a questionnaire: how the questions before it are answered, by their keys
 */
export function settleCondition(
	condition: Condition,
	facts: FirmFacts,
	spell: Spell,
	earlier: ReadonlyMap<string, FactKind> = new Map()
): { condition: Condition; problems: ConditionProblem[] } {
	if (condition.kind === 'all' || condition.kind === 'any') {
		const parts = condition.of.map((part) => settleCondition(part, facts, spell, earlier));
		return {
			condition: { ...condition, of: parts.map((part) => part.condition) },
			problems: parts.flatMap((part, i) => part.problems.map(({ path, message }) => ({ path: ['of', i, ...path], message })))
		};
	}
	if (condition.kind === 'answer') {
		const of = earlier.get(condition.question);
		if (!of)
			return {
				condition,
				problems: [{ path: ['question'], message: 'The question it looks at stands below it, or is not there any more. Choose another one.' }]
			};
		const { question } = condition;
		const settled = settleTest(condition, of, spell);
		return 'message' in settled
			? { condition, problems: [{ path: ['value'], message: settled.message }] }
			: { condition: { kind: 'answer', question, ...settled.test }, problems: [] };
	}
	if (condition.kind !== 'fact') return { condition, problems: [] };
	const wrong = (path: string, message: string | Saying) => ({ condition, problems: [{ path: [path], message }] });
	const fact = facts.get(condition.fact);
	if (!fact) return wrong('fact', 'This fact is not there any more. Choose another one.');
	const is = comparedKind(facts, condition);
	if (!is) return wrong('column', `“${fact.label}” has no such column any more. Choose another one.`);
	const { column, is: test } = condition;
	if (!testsOf(is, column === undefined ? 'fact' : 'column').includes(test)) return wrong('is', `“${fact.label}” cannot be compared this way.`);
	const settled: FactCondition = { kind: 'fact', fact: fact.name, ...(column === undefined ? {} : { column }), is: test, value: '' };
	if (!needsValue(test)) return { condition: settled, problems: [] };
	const read = (text: string) => spellFor(is, test, text, spell);
	const value = read(condition.value);
	if ('message' in value) return wrong('value', value.message);
	settled.value = value.value;
	if (test === 'between') {
		const to = read(condition.to ?? '');
		if ('message' in to) return wrong('to', to.message);
		settled.to = to.value;
	}
	return { condition: settled, problems: [] };
}

/** Holds a test of an answer against how it is answered: it makes sense, and its values are spelled as the answer is kept. */
export function settleTest(test: Test, of: FactKind, spell: Spell): { test: Test } | { message: string | Saying } {
	const is = kindIn(of, test.column);
	if (!is || !testsOf(is, test.column === undefined ? 'fact' : 'column').includes(test.is))
		return { message: 'That question cannot be compared this way. Choose again.' };
	const settled: Test = { ...(test.column === undefined ? {} : { column: test.column }), is: test.is, value: '' };
	if (!needsValue(test.is)) return { test: settled };
	const value = spellFor(is, test.is, test.value, spell);
	if ('message' in value) return value;
	settled.value = value.value;
	if (test.is !== 'between') return { test: settled };
	const to = spellFor(is, test.is, test.to ?? '', spell);
	return 'message' in to ? to : { test: { ...settled, to: to.value } };
}

function spellFor(is: FactKind, test: FactTest, text: string, spell: Spell): ReturnType<Spell> {
	const ownText = (schema: z.ZodType<string, string>) => {
		const parsed = schema.safeParse(text);
		return parsed.success ? { value: parsed.data } : { message: parsed.error.issues[0].message };
	};
	if (counts(test))
		return ownText(
			z
				.string()
				.trim()
				.regex(/^\d{1,5}$/, 'Please write a whole number.')
				.transform((digits) => String(Number(digits)))
		);
	if (test === 'one_of_these') return is.kind === 'choice' ? spell({ kind: 'several', choices: is.choices }, text) : { message: 'Please choose.' };
	// what is contained is a choice, or a part of the text
	if (test === 'contains' || test === 'lacks')
		return is.kind === 'several' ? spell({ kind: 'choice', choices: is.choices }, text) : ownText(oneLine('what it contains', 120));
	return spell(is, text);
}
