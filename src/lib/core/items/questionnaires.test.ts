import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { firmFacts, READY_MADE_FACTS, type FactDefinition } from '../facts/fact-definition';
import { choicesOfText, guessKind } from '../facts/guess-kind';
import { settleFacts } from '../requests/facts-of-lines';
import { inHand, listLineSchema, asListLine, newLine } from '../requests/request-list';
import { answerOfKnown, comparable, typedAnswer } from './comparable';
import { answerOf, answerOfFact, answerSpecSchema, factOf, questionSchema, type Answers, type AnswerSpec, type Question } from './questions';
import { guessAnswer, questionsOfText } from './questions-of-text';
import { minutesOf, partsOf, whichApply, withoutFiles } from './which-apply';

const TODAY = '2026-05-04';
const PLACE = { country: 'CA' };
const FACTS = firmFacts(READY_MADE_FACTS);
const question = (key: string, answer: AnswerSpec, more: Partial<Question> = {}): Question =>
	questionSchema.parse({ key, title: key, answer, required: true, ...more });
const yesNo = { is: 'yes_no' } as const;
const number = { is: 'number', unit: '' } as const;
const known = (facts: Record<string, string> = {}) => ({
	known: { kind: 'business' as const, services: ['Payroll'], facts, today: TODAY },
	facts: FACTS
});
const asked = (questions: Question[], answers: Answers, client: Parameters<typeof whichApply>[2] = null) =>
	questions.map(({ key }) => key).filter((key) => whichApply(questions, answers, client, TODAY).get(key) === 'yes');

describe('which questions apply', () => {
	const staff = [
		question('staff', yesNo),
		question('many', number, { under: 'staff', when: { is: 'equals', value: 'yes' } }),
		question('union', yesNo, { under: 'many', when: { is: 'greater', value: '9' } }),
		question('alone', { is: 'words' }, { under: 'staff', when: { is: 'equals', value: 'no' } })
	];
	test('a follow-up comes with the answer it hangs on, and goes with it', () => {
		expect(asked(staff, {})).toEqual(['staff']);
		expect(asked(staff, { staff: true })).toEqual(['staff', 'many']);
		expect(asked(staff, { staff: true, many: 10 })).toEqual(['staff', 'many', 'union']);
		expect(asked(staff, { staff: false })).toEqual(['staff', 'alone']);
		// what was answered while it applied does not keep its own follow-ups alive
		expect(asked(staff, { staff: false, many: 10, union: true })).toEqual(['staff', 'alone']);
	});
	test('of this client not at all, with everything under it; what is not known decides nothing', () => {
		const forCompanies = { kind: 'fact' as const, fact: 'legal_form', is: 'equals' as const, value: 'company' };
		const questions = [question('board', yesNo, { condition: forCompanies }), question('names', { is: 'words' }, { under: 'board' })];
		const soleTrader = whichApply(questions, { board: true }, known({ legal_form: 'sole_trader' }), TODAY);
		expect(['board', 'names', 'gone'].map((key) => soleTrader.get(key))).toEqual(['not_for_client', 'not_for_client', undefined]);
		expect(asked(questions, { board: true }, known({ legal_form: 'company' }))).toEqual(['board', 'names']);
		expect(asked(questions, {}, known())).toEqual(['board']);
		const forPayroll = question('pay', yesNo, { condition: { kind: 'service', name: 'payroll', is: 'has' } });
		expect(asked([forPayroll], {}, known())).toEqual(['pay']);
	});
	test('a question above that is gone, or stands below, is none', () => {
		expect(asked([question('a', yesNo, { under: 'gone' }), question('b', yesNo, { under: 'c' }), question('c', yesNo)], {})).toEqual(['a', 'b', 'c']);
	});
	test('a table is asked about by its rows', () => {
		const table = { is: 'table', columns: [{ key: 'share', label: 'Share', is: { kind: 'number', unit: '%', whole: false } }] } as const;
		const questions = [
			question('owners', answerSpecSchema.parse(table)),
			question('agreement', yesNo, { under: 'owners', when: { is: 'more_rows', value: '1' } }),
			question('major', yesNo, { under: 'owners', when: { column: 'share', is: 'greater', value: '50' } })
		];
		expect(asked(questions, { owners: [{ share: '60' }] })).toEqual(['owners', 'major']);
		expect(asked(questions, { owners: [{ share: '50' }, { share: '50' }] })).toEqual(['owners', 'agreement']);
	});
	test('answering never changes which earlier questions apply, whatever is asked', () => {
		const anyQuestions = fc
			.array(fc.record({ under: fc.nat(7), hangs: fc.boolean(), yes: fc.boolean(), any: fc.boolean() }), { minLength: 2, maxLength: 8 })
			.map((all) =>
				all.map(({ under, hangs, yes, any }, i) =>
					question(`q${i}`, yesNo, {
						...(hangs && i > 0 ? { under: `q${under % i}`, ...(any ? {} : { when: { is: 'equals' as const, value: yes ? 'yes' : 'no' } }) } : {})
					})
				)
			);
		fc.assert(
			fc.property(
				anyQuestions,
				fc.array(fc.constantFrom(true, false, null), { minLength: 8, maxLength: 8 }),
				fc.nat(7),
				fc.boolean(),
				(questions, given, at, yes) => {
					const answers = Object.fromEntries(given.flatMap((one, i) => (one === null ? [] : [[`q${i}`, one]])));
					const before = whichApply(questions, answers, null, TODAY);
					const after = whichApply(questions, { ...answers, [`q${at}`]: yes }, null, TODAY);
					for (let i = 0; i <= Math.min(at, questions.length - 1); i++) expect(after.get(`q${i}`)).toBe(before.get(`q${i}`));
					// nothing below what does not apply applies
					for (const { key, under } of questions) if (under && after.get(under) !== 'yes') expect(after.get(key)).not.toBe('yes');
				}
			)
		);
	});
	test('parts follow each other, each under its heading; a minute at least', () => {
		const parts = partsOf([
			question('a', yesNo),
			question('b', yesNo, { part: 'Two' }),
			question('c', yesNo),
			question('d', yesNo, { part: 'Three' })
		]);
		expect(parts.map((part) => [part.title, part.questions.map(({ key }) => key)])).toEqual([
			['', ['a']],
			['Two', ['b', 'c']],
			['Three', ['d']]
		]);
		expect(minutesOf([])).toBe(1);
		expect(minutesOf(Array.from({ length: 24 }, () => question('x', { is: 'line' })))).toBe(6);
	});
});

describe('kept with a list', () => {
	const settle = (questions: Question[]) => {
		const line = newLine({
			key: 'l',
			kind: 'questionnaire',
			title: 'Us',
			spec: { questions, files: false, signed: false, ends: [] },
			due: { from: 'asked', offset: 5, unit: 'business_days', roll: 'none' },
			dueOn: ''
		});
		const [settled] = settleFacts([listLineSchema.parse(asListLine(inHand(listLineSchema.parse(asListLine(line)))))], FACTS, PLACE);
		return settled.kind === 'questionnaire' ? settled.spec.questions : [];
	};
	test('the test of a follow-up is spelled as its question is answered', () => {
		const questions = settle([
			question('sales', { is: 'money', currency: 'CAD' }),
			question('why', { is: 'words' }, { under: 'sales', when: { is: 'greater', value: '250,000' } })
		]);
		expect(questions[1].when).toEqual({ is: 'greater', value: '250000.00' });
		expect(asked(questions, { sales: 25_000_001 })).toEqual(['sales', 'why']);
		expect(asked(questions, { sales: 25_000_000 })).toEqual(['sales']);
	});
	test.each<[string, Question[], string]>([
		['a question above that stands below', [question('a', yesNo, { under: 'b' }), question('b', yesNo)], 'lines.0.spec.questions.0.under'],
		['itself', [question('a', yesNo, { under: 'a' })], 'lines.0.spec.questions.0.under'],
		[
			'a comparison that makes no sense',
			[question('a', yesNo), question('b', yesNo, { under: 'a', when: { is: 'greater', value: '1' } })],
			'lines.0.spec.questions.1.when'
		],
		[
			'a choice that is none',
			[question('a', { is: 'one_of', choices: ['x', 'y'] }), question('b', yesNo, { under: 'a', when: { is: 'equals', value: 'z' } })],
			'lines.0.spec.questions.1.when'
		],
		['a fact that is gone', [question('a', yesNo, { fact: 'shoe_size' })], 'lines.0.spec.questions.0.fact'],
		[
			'a condition on one',
			[question('a', yesNo, { condition: { kind: 'fact', fact: 'shoe_size', is: 'known', value: '' } })],
			'lines.0.spec.questions.0.condition.fact'
		]
	])('%s is named at its question', (_, questions, field) => {
		expect(() => settle(questions)).toThrow(expect.objectContaining({ fields: expect.objectContaining({ [field]: expect.anything() }) }));
	});
});

describe('answers and facts', () => {
	test('the answer to a fact becomes it, and what is known answers its question: of every kind there and back', () => {
		const values: Record<string, string> = {
			legal_form: 'company',
			tax_number: 'R-1',
			address: '4 Quay\nGullhaven',
			year_end: '03-31',
			method: 'cash',
			sales_tax: 'no',
			sales_tax_period: 'monthly',
			payroll: 'yes',
			employees: '4',
			bank_accounts: '0',
			software: 'Tidebook',
			books_from: '2026-01-01',
			sales: '1250.50',
			paid_by: '["card"]',
			people: '[{"name":"Wren"}]'
		};
		const own = (name: string, is: FactDefinition['is']): FactDefinition => ({ ...READY_MADE_FACTS[0], name, is, readyMade: false });
		const all = [
			...READY_MADE_FACTS,
			own('sales', { kind: 'money', currency: 'CAD' }),
			own('paid_by', {
				kind: 'several',
				choices: [
					{ key: 'card', words: 'by card' },
					{ key: 'cash', words: 'in cash' }
				]
			}),
			own('people', { kind: 'table', columns: [{ key: 'name', label: 'Name', is: { kind: 'words', max: 200 } }] })
		];
		for (const fact of all) {
			const spec = answerSpecSchema.parse(answerOfFact(fact));
			const answer = answerOfKnown(spec, fact, values[fact.name]);
			expect(answer, fact.name).not.toBeNull();
			expect(factOf(fact, answer!, PLACE), fact.name).toBe(values[fact.name]);
		}
		expect(answerOfKnown({ is: 'one_of', choices: ['red', 'blue'] }, READY_MADE_FACTS[0], 'company')).toBeNull();
		expect(answerOfKnown({ is: 'words' }, READY_MADE_FACTS[0], 'company')).toBeNull();
	});
	test('what a page takes for the answer while somebody types is what is read in the end', () => {
		const specs: [AnswerSpec, string | string[]][] = [
			[{ is: 'words' }, ' Kites '],
			[yesNo, 'yes'],
			[yesNo, 'no'],
			[number, '1 234,5'],
			[{ is: 'money', currency: 'CAD' }, '1,250.5'],
			[{ is: 'one_of', choices: ['a', 'b'] }, 'b'],
			[{ is: 'several_of', choices: ['a', 'b', 'c'] }, ['c', 'a']],
			[{ is: 'date' }, '2026-02-28'],
			[{ is: 'email' }, 'a@b.example'],
			[answerSpecSchema.parse({ is: 'table', columns: [{ key: 'n', label: 'N', is: { kind: 'words' } }] }), '[{"n":"x"}]']
		];
		for (const [spec, typed] of specs) expect(typedAnswer(spec, typed), spec.is).toEqual(answerOf(spec, PLACE).parse(typed));
		for (const [spec] of specs) expect(typedAnswer(spec, spec.is === 'several_of' ? [] : ' ')).toBeUndefined();
		expect(typedAnswer(number, 'many')).toBeUndefined();
		expect(comparable(1250, { is: 'money', currency: 'CAD' })).toBe('12.5');
	});
});

describe('written like a document', () => {
	let n = 0;
	const of = (text: string) => questionsOfText(text, 'CAD', () => `k${n++}`);
	test('a line a question, headings make parts, dashes choices, numbers and empty lines are left out', () => {
		const questions = of(
			'# Who you are\n1. What does your business do?\n\n2) How many people work for you?\nThe money:\nWhere does money come in? (all that apply)\n- card\n* cash\n– transfer\nHow do you pay?\n- cash\nSales of the last year'
		);
		expect(questions.map(({ title, answer, part }) => [title, answer.is, part])).toEqual([
			['What does your business do?', 'words', 'Who you are'],
			['How many people work for you?', 'number', undefined],
			['Where does money come in? (all that apply)', 'several_of', 'The money'],
			['How do you pay?', 'words', undefined],
			['Sales of the last year', 'money', undefined]
		]);
		expect(questions[2].answer).toEqual({ is: 'several_of', choices: ['card', 'cash', 'transfer'] });
		// a colon before dashes is a question, not a heading
		expect(of('Which of these:\n- a\n- b')[0]).toMatchObject({ title: 'Which of these', answer: { is: 'several_of', choices: ['a', 'b'] } });
		for (const one of questions) expect(questionSchema.parse(one)).toEqual(one);
	});
	test.each([
		['How many vans do you have?', 'number'],
		['When did you begin?', 'date'],
		['Do you pay wages?', 'yes_no'],
		['E-mail for bills', 'email'],
		['Phone of the workshop', 'phone'],
		['Your website', 'web'],
		['GST number', 'tax_number'],
		['Where is your year end', 'day_of_year'],
		['How much do you sell in a year?', 'money'],
		['Address of the shop', 'address'],
		['Who looks after it?', 'words'],
		['', 'words']
	])('“%s” is guessed to be answered as %s', (title, is) => {
		expect(guessAnswer(title, 'CAD').is).toBe(is);
		expect(guessKind(title, 'CAD').kind).toBe(is);
	});
	test('choices keep their keys: by their words, and where they were only called otherwise by their place', () => {
		const before = [
			{ key: 'card', words: 'card' },
			{ key: 'cash', words: 'cash' }
		];
		expect(choicesOfText('Card\ncoins', before)).toEqual([
			{ key: 'card', words: 'Card' },
			{ key: 'cash', words: 'coins' }
		]);
		expect(choicesOfText('- cash\n- card\n- bank transfer', before).map(({ key }) => key)).toEqual(['cash', 'card', 'bank_transfer']);
		expect(choicesOfText('cash', before).map(({ key }) => key)).toEqual(['cash']);
		// more new ones than were there are new ones
		expect(choicesOfText('card\na b\na-b', before).map(({ key }) => key)).toEqual(['card', 'a_b', 'a_b_2']);
	});
});

describe('questions that want a file', () => {
	const file = { is: 'file', accepts: 'any' } as const;
	test.each([
		['Upload your bank statement', 'file'],
		['A copy of your passport', 'file'],
		['Please attach the lease', 'file'],
		['Photo of the till', 'file'],
		['Do you have a copy of the lease?', 'yes_no'],
		['How many copies of the key are there?', 'number']
	])('%s: %s', (title, is) => expect(guessAnswer(title, 'CAD').is).toBe(is));
	test('are not asked where nobody adds files, and neither is what hangs on them', () => {
		const questions = [
			question('a', yesNo),
			question('b', file, { under: 'a' }),
			question('c', { is: 'words' }, { under: 'b' }),
			question('d', { is: 'words' }, { under: 'a' })
		];
		expect(withoutFiles(questions).map(({ key }) => key)).toEqual(['a', 'd']);
	});
	test('what hangs on one is asked once it is there', () => {
		const questions = [question('b', file), question('c', { is: 'words' }, { under: 'b' })];
		expect(asked(questions, {})).toEqual(['b']);
		expect(asked(questions, { b: [{ paper: 'x', name: 'Lease.pdf' }] })).toEqual(['b', 'c']);
	});
});
