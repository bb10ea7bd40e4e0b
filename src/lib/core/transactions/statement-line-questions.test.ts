import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { amountWords } from '$lib/words/amounts';
import { identityMaker, isUncategorised, mayBeSame } from './statement-line-identity';
import { statementLineAnswerForm, transactionsSpec } from './statement-line-questions';
import { allowsAnswer, statementLineAnswerInWords, openStatementLines, type StatementLineAnswer } from './statement-line-answers';
import type { StatementLine } from './statement-line';

const line = (more: Partial<StatementLine> = {}): StatementLine => ({
	position: 1,
	day: '2026-04-02',
	amount: '-84.20',
	currency: 'CAD',
	who: 'Harbour Hardware',
	words: 'CARD 4471',
	category: '',
	reference: '',
	document: null,
	account: '',
	original: [],
	...more
});

describe('by what a line is known again', () => {
	test('the bank’s own name, within its account', () => {
		const of = identityMaker('');
		expect(of(line({ reference: 'A1', account: '000-4471' })).identity).toBe('4471 ref A1');
		expect(of(line({ reference: 'A1', account: '000-9999' })).identity).not.toBe('4471 ref A1');
		expect(identityMaker('acc')(line({ reference: 'A1', account: 'whatever' })).identity).toBe(
			identityMaker('acc')(line({ reference: 'A1' })).identity
		);
	});
	test('a name that is used for two lines that differ is none', () => {
		const of = identityMaker('');
		const first = of(line({ reference: '0' }));
		const second = of(line({ reference: '0', amount: '-1.00' }));
		expect(second.identity).toBe(second.content);
		expect(first.identity).not.toBe(second.identity);
		// the same line twice in overlapping parts of a file is one
		expect(of(line({ reference: '0' })).identity).toBe(first.identity);
	});
	test('what it says: the same in another form of file, several of a kind told apart, the same at another read', () => {
		const read = () => {
			const of = identityMaker('acc');
			return [line(), line(), line({ who: '', words: 'Card 4471 HARBOUR  hardware', amount: '-84.200' }), line({ day: '2026-04-03' })].map(
				(one) => of(one).content
			);
		};
		const [first, second, third, other] = read();
		expect(second).toBe(`${first} #2`);
		expect(third).toBe(`${first} #3`);
		expect(other).not.toBe(first);
		expect(read()).toEqual([first, second, third, other]);
	});
	test('no two lines of a file share what they say, however many are alike', () => {
		const some = fc.record({
			amount: fc.constantFrom('1.00', '-1.00'),
			who: fc.constantFrom('a', 'b', ''),
			day: fc.constantFrom('2026-01-01', '2026-01-02')
		});
		fc.assert(
			fc.property(fc.array(some, { maxLength: 30 }), (lines) => {
				const of = identityMaker('');
				const contents = lines.map((one) => of(line(one)).content);
				expect(new Set(contents).size).toBe(contents.length);
			})
		);
	});
	test('what may be the same payment is asked about, not decided', () => {
		expect(mayBeSame(line(), line({ day: '2026-04-05', who: 'HARBOUR HDW', words: '' }))).toBe(true);
		expect(mayBeSame(line(), line({ day: '2026-04-06' }))).toBe(false);
		expect(mayBeSame(line(), line({ amount: '84.20' }))).toBe(false);
		expect(mayBeSame(line({ words: '' }), line({ who: 'Seabright Fuel', words: '' }))).toBe(false);
		expect(mayBeSame(line(), line({ who: '', words: '' }))).toBe(true);
		expect(mayBeSame(line({ amount: '-84.2000' }), line())).toBe(true);
	});
	test.each([
		['', true],
		['Uncategorised', true],
		['Ask my accountant', true],
		['Suspense account', true],
		['À classer', true],
		['Office:Rent', false],
		['Sales', false]
	])('category %j waits: %s', (category, waits) => expect(isUncategorised(category)).toBe(waits));
});

describe('answers', () => {
	const id = '0198a000-0000-7000-8000-000000000001';
	const spec = transactionsSpec.parse({
		asks: 'what',
		choices: ['Business expense'],
		lines: [{ id, day: '2026-04-02', amount: '-84.20', currency: 'CAD', who: 'x', words: '' }]
	});
	const answer = (how: StatementLineAnswer['how'], words = ''): StatementLineAnswer => ({ how, words, by: 'Mara', at: '2026-05-04T11:00:00.000Z' });

	test('the form: words, a choice, one of a list; nothing is none', () => {
		expect(statementLineAnswerForm.parse({ lineId: id, how: 'words', words: ' lent ' })).toEqual({ lineId: id, how: 'words', words: 'lent' });
		expect(statementLineAnswerForm.parse({ lineId: id, choice: 'Business expense', words: 'typed before' })).toMatchObject({
			how: 'choice',
			words: 'Business expense'
		});
		expect(statementLineAnswerForm.parse({ lineId: id, pick: 'choice:Business expense' })).toMatchObject({
			how: 'choice',
			words: 'Business expense'
		});
		expect(statementLineAnswerForm.parse({ lineId: id, pick: 'unknown', words: 'ask Jo' })).toMatchObject({ how: 'unknown', words: 'ask Jo' });
		expect(statementLineAnswerForm.safeParse({ lineId: id, how: 'words', words: ' \u202e ' }).success).toBe(false);
		expect(statementLineAnswerForm.safeParse({ lineId: id, how: 'guess' }).success).toBe(false);
		expect(statementLineAnswerForm.safeParse({ lineId: 'x', how: 'unknown' }).success).toBe(false);
	});
	test('only what is offered is taken', () => {
		expect(allowsAnswer(spec, { how: 'choice', words: 'Business expense' })).toBe(true);
		expect(allowsAnswer(spec, { how: 'choice', words: 'Something else' })).toBe(false);
		expect(allowsAnswer(spec, { how: 'no_paper', words: '' })).toBe(false);
		expect(allowsAnswer({ ...spec, asks: 'paper' }, { how: 'no_paper', words: '' })).toBe(true);
	});
	test('a line is open until it has an answer or a file', () => {
		expect(openStatementLines(spec.lines, {}, [])).toHaveLength(1);
		expect(openStatementLines(spec.lines, { [id]: answer('unknown') }, [])).toHaveLength(0);
		expect(openStatementLines(spec.lines, {}, [{ slot: id }])).toHaveLength(0);
	});
	test('in words, as they go out', () => {
		expect(statementLineAnswerInWords(answer('personal', 'a present'), [])).toBe('personal: a present');
		expect(statementLineAnswerInWords(answer('no_paper'), ['a.pdf', 'b.pdf'])).toBe('there is no paper; a.pdf, b.pdf');
		expect(statementLineAnswerInWords(undefined, [])).toBe('');
	});
	test('an amount is grouped in the reader’s language, digit by digit', () => {
		expect(amountWords('en', '-1234567.50', 'CAD')).toBe('1,234,567.50\u00a0CAD');
		expect(amountWords('fr', '1234.5678', '')).toBe('1\u202f234,5678');
		expect(amountWords('en', '9007199254740993.10', '')).toBe('9,007,199,254,740,993.10');
	});
});
