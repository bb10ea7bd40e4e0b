import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { firmFacts, READY_MADE_FACTS, type FactDefinition, type FactKind } from '../facts/fact-definition';
import { factSchema } from '../facts/fact-values';
import {
	becauseInWords as because,
	conditionInWords as inWords,
	FACT_TESTS,
	comparedKind,
	judge as judgeWith,
	testsOf,
	type ClientKnown,
	type Condition,
	type FactCondition,
	type FactValueWords,
	type FactTest
} from './conditions';
import { conditionSchema, settleCondition } from './condition-schema';
import { tailor as tailorWith } from './tailoring';

const own = (name: string, label: string, is: FactKind, more: Partial<FactDefinition> = {}): FactDefinition => ({
	...READY_MADE_FACTS[0],
	name,
	label,
	is,
	readyMade: false,
	...more
});
const money = { kind: 'money', currency: 'CAD' } as const;
/** one of every kind */
const FACTS = firmFacts([
	...READY_MADE_FACTS,
	own('story', 'Story', { kind: 'lines', max: 4000 }),
	own('sales', 'Sales', money),
	own('paid_by', 'Customers pay by', { kind: 'several', choices: ['card', 'cash', 'transfer'].map((key) => ({ key, words: key })) }),
	own('bills_to', 'Bills go to', { kind: 'email' }),
	own('hotline', 'Hotline', { kind: 'phone' }),
	own('site', 'Website', { kind: 'web' }),
	own('directors', 'Directors', {
		kind: 'table',
		columns: [
			{ key: 'name', label: 'Name', is: { kind: 'words', max: 200 } },
			{ key: 'share', label: 'Share', is: { kind: 'number', unit: '%', whole: false } }
		]
	}),
	own('till', 'Kind of till', { kind: 'words', max: 200 }, { mergedInto: 'software' })
]);
const FACT_NAMES = FACTS.asked.map(({ name }) => name);
const judge = (condition: Condition, client: ClientKnown) => judgeWith(condition, client, FACTS);
const conditionInWords = (condition: Condition, words: FactValueWords) => inWords(condition, FACTS, words);
const becauseInWords = (of: Parameters<typeof because>[0], client: ClientKnown, words: FactValueWords) => because(of, client, FACTS, words);
const tailor = (lines: Parameters<typeof tailorWith>[0], client: ClientKnown, overrides: Parameters<typeof tailorWith>[2], words: FactValueWords) =>
	tailorWith(lines, client, overrides, FACTS, words);
const spell = (is: FactKind, text: string) => {
	const parsed = factSchema({ is }, { country: 'CA' }).safeParse(text);
	return parsed.success ? { value: parsed.data } : { message: parsed.error.issues[0].message };
};
const settle = (condition: Condition) => settleCondition(condition, FACTS, spell);

const known: ClientKnown = {
	today: '2026-05-04',
	kind: 'business',
	services: ['Monthly books', 'Payroll'],
	facts: {
		payroll: 'yes',
		employees: '4',
		sales_tax_period: 'monthly',
		books_from: '2026-01-01',
		software: 'Tidebook Online',
		year_end: '03-31',
		sales: '250000.00',
		paid_by: '["card","cash"]',
		directors: '[{"name":"Wren","share":"60"},{"name":"Otis","share":"40"},{"name":"Tam"}]'
	}
};
const words: FactValueWords = (_, value) => value;
const fact = (fact: string, is: FactTest, value = '', more: Partial<FactCondition> = {}): FactCondition => ({
	kind: 'fact',
	fact,
	is,
	value,
	...more
});

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
		[fact('sales', 'between', '250000.00', { to: '300000.00' }), true],
		[fact('sales', 'between', '250000.01', { to: '300000.00' }), false],
		// as numbers: as text, 90 lies behind 250000
		[fact('sales', 'between', '90.00', { to: '300000.00' }), true],
		[fact('sales_tax_period', 'one_of_these', '["monthly","yearly"]'), true],
		[fact('sales_tax_period', 'one_of_these', '["quarterly"]'), false],
		[fact('paid_by', 'contains', 'cash'), true],
		[fact('paid_by', 'lacks', 'transfer'), true],
		// 1 January to 4 May are 123 days
		[fact('books_from', 'older', '122'), true],
		[fact('books_from', 'older', '123'), false],
		[fact('books_from', 'newer', '123'), true],
		[fact('directors', 'more_rows', '2'), true],
		[fact('directors', 'fewer_rows', '3'), false],
		[fact('directors', 'greater', '50', { column: 'share' }), true],
		[fact('directors', 'greater', '60', { column: 'share' }), false],
		[fact('directors', 'equals', 'tam', { column: 'name' }), true],
		// a row without the cell is no row where it is so
		[fact('directors', 'differs', '60', { column: 'share' }), true],
		[fact('directors', 'equals', 'x', { column: 'gone' }), 'unknown'],
		[fact('gone', 'equals', 'x'), 'unknown'],
		// by the name of the fact it was merged into
		[fact('till', 'contains', 'tidebook'), true],
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
	expect(why(fact('method', 'known'))).toBe('Method is not known');
	expect(why(fact('directors', 'more_rows', '5'))).toBe('Directors has 3 rows');
	expect(why(fact('directors', 'greater', '50', { column: 'share' }))).toBe('a row of Directors is so');
	expect(why(fact('directors', 'greater', '90', { column: 'share' }))).toBe('no row of Directors is so');
	expect(conditionInWords(fact('directors', 'greater', '50', { column: 'share' }), words)).toBe('in a row of Directors, Share is more than 50');
	expect(conditionInWords(fact('books_from', 'older', '90'), words)).toBe('We keep the books from is more than 90 days ago');
	expect(conditionInWords(fact('sales', 'between', '1.00', { to: '2.00' }), words)).toBe('Sales is between 1.00 and 2.00');
});

describe('the schema', () => {
	test.each([
		['a group of nothing', { kind: 'all', of: [] }],
		['a test there is not', { kind: 'fact', fact: 'method', is: 'rhymes_with', value: '' }],
		['more than a group holds', { kind: 'any', of: Array(13).fill({ kind: 'client', is: 'person' }) }],
		['too deep', Array.from({ length: 5 }).reduce<unknown>((inner) => ({ kind: 'all', of: [inner] }), { kind: 'client', is: 'person' })]
	])('refuses %s', (_, condition) => expect(conditionSchema.safeParse(condition).success).toBe(false));
	test('takes four groups in each other', () => {
		const deep = Array.from({ length: 4 }).reduce<unknown>((inner) => ({ kind: 'all', of: [inner] }), { kind: 'client', is: 'person' });
		expect(conditionSchema.safeParse(deep).success).toBe(true);
	});
});

describe('held against the firm’s facts', () => {
	test('a value is spelled as the fact is kept, and a fact goes by its name of now', () => {
		expect(settle(fact('employees', 'greater', '007')).condition).toEqual(fact('employees', 'greater', '7'));
		expect(settle(fact('method', 'unknown', 'left over')).condition).toEqual(fact('method', 'unknown'));
		expect(settle(fact('sales', 'between', '1,000', { to: '2,000.5' })).condition).toEqual(fact('sales', 'between', '1000.00', { to: '2000.50' }));
		expect(settle(fact('sales_tax_period', 'one_of_these', 'yearly; monthly')).condition).toEqual(
			fact('sales_tax_period', 'one_of_these', '["monthly","yearly"]')
		);
		expect(settle(fact('till', 'contains', 'x')).condition).toEqual(fact('software', 'contains', 'x'));
	});
	test.each([
		['a test that makes no sense', fact('payroll', 'greater', '1'), ['is']],
		['a choice that is none', fact('method', 'equals', 'barter'), ['value']],
		['a fact that is gone', fact('shoe_size', 'known'), ['fact']],
		['a column that is gone', fact('directors', 'equals', 'x', { column: 'height' }), ['column']],
		['half a between', fact('sales', 'between', '1'), ['to']],
		['days that are none', fact('books_from', 'older', 'many'), ['value']],
		['one deep within', { kind: 'any', of: [{ kind: 'client', is: 'person' }, fact('method', 'equals', 'barter')] } as Condition, ['of', 1, 'value']]
	])('names %s', (_, condition, path) => expect(settle(condition).problems.map((problem) => problem.path)).toEqual([path]));
	test('what is settled stays as it is', () => {
		fc.assert(
			fc.property(anyCondition, (condition) => {
				const { condition: settled, problems } = settle(condition);
				expect(problems).toEqual([]);
				expect(settle(settled)).toEqual({ condition: settled, problems: [] });
				expect(conditionSchema.parse(settled)).toEqual(settled);
			})
		);
	});
});

/** Any condition about facts of a few spellings. */
const VALUES: Partial<Record<FactKind['kind'], string[]>> = {
	words: ['a', 'ab'],
	lines: ['a'],
	address: ['4 Quay\nGullhaven'],
	number: ['1', '5'],
	money: ['10.00', '250.50'],
	date: ['2026-01-01', '2026-06-30'],
	day_of_year: ['03-31', '12-31'],
	yes_no: ['yes', 'no'],
	several: ['["card"]', '["card","cash"]'],
	email: ['a@b.example', 'c@d.example'],
	phone: ['+19025550134'],
	web: ['https://a.example'],
	tax_number: ['R-204'],
	table: ['[{"name":"Wren","share":"60"}]', '[{"name":"Otis"},{"name":"Tam","share":"5"}]']
};
const valuesOf = (is: FactKind): string[] => (is.kind === 'choice' ? is.choices.map(({ key }) => key) : VALUES[is.kind]!);
/** A value that fits a test: of what is counted a number, of choices one or several of them. */
const valueFor = (is: FactKind, test: FactTest): fc.Arbitrary<string> =>
	['older', 'newer', 'more_rows', 'fewer_rows'].includes(test)
		? fc.constantFrom('1', '100')
		: ['known', 'unknown'].includes(test)
			? fc.constant('')
			: test === 'one_of_these'
				? fc.constantFrom(...valuesOf(is).map((key) => JSON.stringify([key])))
				: is.kind === 'several'
					? fc.constantFrom('card', 'cash')
					: fc.constantFrom(...valuesOf(is).map((value) => (is.kind === 'address' ? value.split('\n')[0] : value)));
const leaf = fc
	.constantFrom(...FACT_NAMES)
	.chain((name): fc.Arbitrary<{ name: string; column?: string }> => {
		const { is } = FACTS.get(name)!;
		return is.kind === 'table' ? fc.constantFrom({ name }, ...is.columns.map(({ key }) => ({ name, column: key }))) : fc.constant({ name });
	})
	.chain(({ name, column }) => {
		const is = comparedKind(FACTS, { fact: name, column })!;
		return fc
			.constantFrom(...testsOf(is, column ? 'column' : 'fact'))
			.chain((test) =>
				fc
					.tuple(valueFor(is, test), valueFor(is, test))
					.map(([value, to]) => fact(name, test, value, { ...(column ? { column } : {}), ...(test === 'between' ? { to } : {}) }))
			);
	});
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
	.array(fc.constantFrom(...FACT_NAMES).chain((name) => fc.constantFrom(...valuesOf(FACTS.get(name)!.is)).map((value) => [name, value] as const)))
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
			const all = Object.fromEntries(FACT_NAMES.map((name) => [name, facts[name] ?? valuesOf(FACTS.get(name)!.is)[0]]));
			expect(judge(condition, { ...client, facts: all }).holds).not.toBe('unknown');
			expect(conditionInWords(condition, words)).not.toMatch(/undefined/);
		})
	);
});

test('every test has a fact it is for', () => {
	for (const test of FACT_TESTS)
		expect(
			FACTS.all.some(({ is }) => testsOf(is).includes(test)),
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
