import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { FACT_NAMES, FACTS, type FactName } from '../clients/facts';
import {
	becauseInWords,
	conditionInWords,
	conditionSchema,
	FACT_TESTS,
	judge,
	testsOf,
	testWords,
	type ClientKnown,
	type Condition,
	type FactTest
} from './conditions';
import { tailor } from './tailoring';

const known: ClientKnown = {
	kind: 'business',
	services: ['Monthly books', 'Payroll'],
	facts: { payroll: 'yes', employees: '4', sales_tax_period: 'monthly', books_from: '2026-01-01', software: 'Tidebook Online', year_end: '03-31' }
};
const words = (_: FactName, value: string) => value;
const fact = (fact: FactName, is: FactTest, value = ''): Condition => ({ kind: 'fact', fact, is, value });

describe('one leaf', () => {
	test.each([
		[fact('payroll', 'equals', 'yes'), true],
		[fact('payroll', 'differs', 'yes'), false],
		[fact('employees', 'greater', '3'), true],
		[fact('employees', 'greater', '4'), false],
		// as numbers, not as text
		[fact('employees', 'less', '10'), true],
		[fact('books_from', 'before', '2026-01-02'), true],
		[fact('books_from', 'after', '2026-01-01'), false],
		[fact('software', 'contains', 'tidebook'), true],
		[fact('year_end', 'equals', '03-31'), true],
		[fact('method', 'unknown'), true],
		[fact('method', 'known'), false],
		[fact('payroll', 'known'), true],
		[fact('method', 'equals', 'cash'), 'unknown'],
		[{ kind: 'service', name: 'payroll', is: 'has' }, true],
		[{ kind: 'service', name: 'Year end', is: 'has_not' }, true],
		[{ kind: 'client', is: 'person' }, false]
	] as [Condition, boolean | 'unknown'][])('%j: %s', (condition, holds) => expect(judge(condition, known).holds).toBe(holds));
});

test('what is missing is named only where it would decide', () => {
	const asksMethod = fact('method', 'equals', 'cash');
	expect(judge({ kind: 'any', of: [asksMethod, fact('payroll', 'equals', 'yes')] }, known)).toMatchObject({ holds: true, missing: [] });
	expect(judge({ kind: 'all', of: [asksMethod, fact('payroll', 'equals', 'no')] }, known)).toMatchObject({ holds: false, missing: [] });
	expect(judge({ kind: 'all', of: [asksMethod, fact('payroll', 'equals', 'yes'), fact('legal_form', 'equals', 'company')] }, known)).toEqual({
		holds: 'unknown',
		because: [],
		missing: ['method', 'legal_form']
	});
});

test('in words, nested, and why', () => {
	const condition: Condition = {
		kind: 'all',
		of: [fact('payroll', 'equals', 'yes'), { kind: 'any', of: [fact('employees', 'greater', '3'), { kind: 'client', is: 'person' }] }]
	};
	expect(conditionInWords(condition, words)).toBe('Runs payroll is yes, and (Employees is more than 3, or the client is a person)');
	expect(becauseInWords(judge(condition, known).because, known, words)).toBe('Runs payroll is yes and Employees is 4');
	expect(conditionInWords(fact('software', 'contains', 'x'), words)).toBe('Connected software contains “x”');
});

test('services and kinds, in words and as a reason', () => {
	const why = (condition: Condition) => becauseInWords(judge(condition, known).because, known, words);
	const service = (name: string, is: 'has' | 'has_not'): Condition => ({ kind: 'service', name, is });
	expect(conditionInWords(service('Payroll', 'has'), words)).toBe('we do Payroll for them');
	expect(conditionInWords(service('Payroll', 'has_not'), words)).toBe('we do not do Payroll for them');
	// the reason is how it is, whatever the condition asks
	expect(why(service('payroll', 'has_not'))).toBe('we do payroll for them');
	expect(why(service('Year end', 'has'))).toBe('we do not do Year end for them');
	expect(why({ kind: 'client', is: 'person' })).toBe('the client is a business');
	expect(why(fact('method', 'known'))).toBe(`${FACTS.method.label} is not known`);
	for (const is of FACT_TESTS) expect(conditionInWords(fact('software', is, 'x'), words)).toContain(testWords(is));
});

describe('the schema', () => {
	test('a value is spelled as the fact is kept', () => {
		expect(conditionSchema.parse(fact('employees', 'greater', '007'))).toEqual(fact('employees', 'greater', '7'));
		expect(conditionSchema.parse(fact('method', 'unknown', 'left over'))).toEqual(fact('method', 'unknown'));
	});
	test.each([
		['a test that makes no sense', fact('payroll', 'greater', '1')],
		['a choice that is none', fact('method', 'equals', 'barter')],
		['a group of nothing', { kind: 'all', of: [] }],
		['a fact that is none', { kind: 'fact', fact: 'shoe_size', is: 'known', value: '' }],
		['more than a group holds', { kind: 'any', of: Array(13).fill({ kind: 'client', is: 'person' }) }],
		['too deep', Array.from({ length: 5 }).reduce<unknown>((inner) => ({ kind: 'all', of: [inner] }), { kind: 'client', is: 'person' })]
	])('refuses %s', (_, condition) => expect(conditionSchema.safeParse(condition).success).toBe(false));
	test('takes four groups in each other', () => {
		const deep = Array.from({ length: 4 }).reduce<unknown>((inner) => ({ kind: 'all', of: [inner] }), { kind: 'client', is: 'person' });
		expect(conditionSchema.safeParse(deep).success).toBe(true);
	});
});

/** Any condition about facts of a few spellings. */
const VALUES: Record<string, string[]> = {
	words: ['a', 'ab'],
	lines: ['a'],
	count: ['1', '5'],
	date: ['2026-01-01', '2026-06-30'],
	day_of_year: ['03-31', '12-31'],
	yes_no: ['yes', 'no']
};
const valuesOf = (name: FactName) =>
	FACTS[name].is.kind === 'choice' ? Object.keys((FACTS[name].is as { choices: object }).choices) : VALUES[FACTS[name].is.kind];
const leaf = fc
	.constantFrom(...FACT_NAMES)
	.chain((name) => fc.tuple(fc.constantFrom(...testsOf(name)), fc.constantFrom(...valuesOf(name))).map(([is, value]) => fact(name, is, value)));
const { condition: anyCondition } = fc.letrec<{ condition: Condition }>((tie) => ({
	condition: fc.oneof(
		{ maxDepth: 3 },
		leaf,
		fc.record({
			kind: fc.constantFrom('all' as const, 'any' as const),
			of: fc.array(tie('condition') as fc.Arbitrary<Condition>, { minLength: 1, maxLength: 4 })
		})
	)
}));
const anyFacts = fc
	.array(fc.constantFrom(...FACT_NAMES).chain((name) => fc.constantFrom(...valuesOf(name)).map((value) => [name, value] as const)))
	.map((pairs) => Object.fromEntries(pairs) as ClientKnown['facts']);

test('knowing more never turns a decision round, except where not knowing was the question', () => {
	const asksKnowledge = (condition: Condition): boolean =>
		condition.kind === 'all' || condition.kind === 'any'
			? condition.of.some(asksKnowledge)
			: condition.kind === 'fact' && ['known', 'unknown'].includes(condition.is);
	fc.assert(
		fc.property(anyCondition, anyFacts, anyFacts, (condition, facts, more) => {
			fc.pre(!asksKnowledge(condition));
			const before = judge(condition, { ...known, facts }).holds;
			const after = judge(condition, { ...known, facts: { ...more, ...facts } }).holds;
			if (before !== 'unknown') expect(after).toBe(before);
		})
	);
});

test('it is unknown exactly when something is missing, and once that is known it is decided', () => {
	fc.assert(
		fc.property(anyCondition, anyFacts, (condition, facts) => {
			const client = { ...known, facts };
			const verdict = judge(condition, client);
			expect(verdict.holds === 'unknown').toBe(verdict.missing.length > 0);
			const all = Object.fromEntries(FACT_NAMES.map((name) => [name, facts[name] ?? valuesOf(name)[0]]));
			expect(judge(condition, { ...client, facts: all }).holds).not.toBe('unknown');
			expect(conditionInWords(condition, words)).not.toMatch(/undefined/);
		})
	);
});

test('every test has a fact it is for', () => {
	for (const test of FACT_TESTS)
		expect(
			FACT_NAMES.some((name) => testsOf(name).includes(test)),
			test
		).toBe(true);
});

describe('tailoring', () => {
	const lines = [
		{ key: 'always', condition: null },
		{ key: 'payroll', condition: fact('payroll', 'equals', 'yes') },
		{ key: 'till', condition: fact('method', 'equals', 'cash') },
		{ key: 'company', condition: fact('employees', 'less', '2') }
	];
	test('what stays, what goes, why, and what to ask first', () => {
		expect(tailor(lines, known, {}, words)).toEqual({
			lines: [
				{ key: 'always', out: false, why: null, missing: [], overridden: false },
				{ key: 'payroll', out: false, why: 'Runs payroll is yes', missing: [], overridden: false },
				{ key: 'till', out: false, why: null, missing: ['method'], overridden: false },
				{ key: 'company', out: true, why: 'Employees is 4', missing: [], overridden: false }
			],
			missing: ['method']
		});
	});
	test('what a person decided comes first, and says what it goes against', () => {
		const { lines: tailored, missing } = tailor(lines, known, { company: 'in', payroll: 'in', till: 'out' }, words);
		expect(tailored.map((line) => [line.key, line.out, line.why])).toEqual([
			['always', false, null],
			['payroll', false, 'you decided so for this client'],
			['till', true, 'you decided so for this client'],
			['company', false, 'you decided so for this client, though Employees is 4']
		]);
		expect(missing).toEqual([]);
	});
});
