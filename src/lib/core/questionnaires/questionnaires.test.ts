import { describe, expect, test } from 'vitest';
import fc from 'fast-check';
import { DomainError } from '../errors/domain-error';
import { firmFacts, READY_MADE_FACTS, type FactDefinition } from '../facts/fact-definition';
import { answerBefore, correct, openWhileAskedBack, reviewAfterHandIn, type AnswerReview } from '../items/answer-review';
import { bringInWords } from '../items/brings';
import { checkProblem, type Check } from '../items/checks';
import { answersOf, questionSchema, type Answers, type AnswerSpec, type Question } from '../items/questions';
import { broughtAbout, leftOut, questionsFor, whichApply } from '../items/which-apply';
import type { AnswerCondition, Condition } from '../requests/conditions';
import type { ItemText } from '../requests/item-text';
import { settleQuestions } from '../requests/facts-of-lines';
import { answerReader } from '$lib/words/answers';
import { factReader } from '$lib/words/facts';
import { answerConditionInWords } from './answer-words';
import { compareAnswers, gather, type AnsweredBy } from './answers-of-many';
import { PRETEND_CLIENTS } from './pretend-clients';
import { nameForYear } from './questionnaire';
import { questionnaireFile, readQuestionnaireFile } from './questionnaire-file';
import { READY_MADE_QUESTIONNAIRES } from './ready-made';
import { troublesOf } from './troubles';

const TODAY = '2026-05-04';
const PLACE = { country: 'CA' };
const FACTS = firmFacts(READY_MADE_FACTS);
const question = (key: string, answer: AnswerSpec, more: Partial<Question> = {}): Question =>
	questionSchema.parse({ key, title: `About ${key}`, answer, required: true, ...more });
const yesNo = { is: 'yes_no' } as const;
const number = { is: 'number', unit: '' } as const;
const client = (facts: Record<string, string> = {}, kind: 'business' | 'person' = 'business') => ({
	known: { kind, services: ['Payroll'], facts, today: TODAY },
	facts: FACTS
});
const asked = (questions: Question[], answers: Answers, of: Parameters<typeof whichApply>[2] = client()) =>
	questions.map(({ key }) => key).filter((key) => whichApply(questions, answers, of, TODAY).get(key) === 'yes');
const answerIs = (of: string, value: string): Condition => ({ kind: 'answer', question: of, is: 'equals', value });

describe('conditions on earlier answers', () => {
	const questions = [
		question('staff', yesNo),
		question('stock', yesNo),
		question('both', yesNo, { condition: { kind: 'all', of: [answerIs('staff', 'yes'), answerIs('stock', 'yes')] } }),
		question('either', yesNo, { condition: { kind: 'any', of: [answerIs('staff', 'yes'), answerIs('stock', 'yes')] } }),
		question('untold', yesNo, { condition: { kind: 'answer', question: 'either', is: 'unknown', value: '' } })
	];
	test('all of several and one of several; what is not answered is not so', () => {
		expect(asked(questions, {})).toEqual(['staff', 'stock', 'untold']);
		expect(asked(questions, { staff: true })).toEqual(['staff', 'stock', 'either', 'untold']);
		expect(asked(questions, { staff: true, stock: true, either: false })).toEqual(['staff', 'stock', 'both', 'either']);
	});
	test('what was answered while it applied counts no more once it does not', () => {
		expect(
			asked([...questions, question('after', yesNo, { condition: answerIs('both', 'yes') })], { staff: false, stock: true, both: true })
		).not.toContain('after');
	});
	test('a fact that an earlier question asks is asked of its answer; before it is answered nothing hangs on what was known', () => {
		const forCompany: Condition = { kind: 'fact', fact: 'legal_form', is: 'equals', value: 'company' };
		const form = question('form', { is: 'one_of', choices: ['sole trader', 'company'] }, { fact: 'legal_form' });
		const directors = question('directors', { is: 'words' }, { condition: forCompany });
		const trader = client({ legal_form: 'sole_trader' });
		expect(asked([form, directors], { form: 'company' }, trader)).toEqual(['form', 'directors']);
		expect(asked([form, directors], { form: 'sole trader' }, client({ legal_form: 'company' }))).toEqual(['form']);
		expect(asked([form, directors], {}, client({ legal_form: 'company' }))).toEqual(['form']);
		// without the question it is what is known that counts
		expect(asked([directors], {}, trader)).toEqual([]);
		// and so it is where the question that asks for it is not asked
		const onlyPeople = { ...form, condition: { kind: 'client', is: 'person' } as const };
		expect(asked([onlyPeople, directors], { form: 'company' }, trader)).toEqual([]);
		const conditions: [Condition, boolean][] = [
			[{ kind: 'fact', fact: 'legal_form', is: 'one_of_these', value: '["company","partnership"]' }, true],
			[{ kind: 'fact', fact: 'legal_form', is: 'differs', value: 'sole_trader' }, true],
			[{ kind: 'fact', fact: 'legal_form', is: 'known', value: '' }, true],
			[{ kind: 'fact', fact: 'legal_form', is: 'unknown', value: '' }, false]
		];
		for (const [condition, holds] of conditions)
			expect(asked([form, { ...directors, condition }], { form: 'company' }, trader).includes('directors')).toBe(holds);
	});
	test('a client gets nothing of what only the firm may know, and is asked the same', () => {
		const mixed = question('mixed', yesNo, {
			condition: {
				kind: 'all',
				of: [
					{ kind: 'service', name: 'payroll', is: 'has' },
					{ kind: 'any', of: [{ kind: 'fact', fact: 'employees', is: 'greater', value: '3' }, answerIs('staff', 'yes')] }
				]
			}
		});
		const sent = questionsFor([questions[0], mixed], client({ employees: '1' }));
		expect(JSON.stringify(sent)).not.toMatch(/service|fact":"employees|kind":"client/);
		expect(sent[1].condition).toEqual(answerIs('staff', 'yes'));
		expect(questionsFor([questions[0], mixed], client({ employees: '5' }))[1].condition).toBeUndefined();
		// not known: it is asked
		expect(questionsFor([questions[0], mixed], client())[1].condition).toBeUndefined();
		expect(
			questionsFor([question('p', yesNo, { condition: { kind: 'client', is: 'person' } }), question('q', yesNo, { under: 'p' })], client())
		).toEqual([]);
	});

	const leaf: fc.Arbitrary<Condition> = fc.oneof(
		fc.record({ at: fc.nat(7), yes: fc.boolean() }).map(({ at, yes }) => answerIs(`q${at}`, yes ? 'yes' : 'no')),
		fc.constantFrom<Condition>(
			{ kind: 'client', is: 'person' },
			{ kind: 'service', name: 'Payroll', is: 'has' },
			{ kind: 'fact', fact: 'payroll', is: 'equals', value: 'yes' },
			{ kind: 'fact', fact: 'sales_tax', is: 'equals', value: 'no' }
		)
	);
	const group = (of: fc.Arbitrary<Condition>) =>
		fc.record({ kind: fc.constantFrom('all' as const, 'any' as const), of: fc.array(of, { minLength: 1, maxLength: 3 }) });
	const anyCondition: fc.Arbitrary<Condition> = fc.oneof(leaf, group(leaf), group(fc.oneof(leaf, group(leaf))));
	const anyQuestionnaire = fc
		.array(fc.record({ condition: fc.option(anyCondition), under: fc.option(fc.nat(7)), fact: fc.boolean() }), { minLength: 2, maxLength: 8 })
		.map((all) =>
			all.map(({ condition, under, fact }, i) =>
				question(`q${i}`, yesNo, {
					...(condition ? { condition } : {}),
					...(under !== null && i > 0 ? { under: `q${under % i}`, when: { is: 'equals' as const, value: 'yes' } } : {}),
					fact: fact ? 'payroll' : null
				})
			)
		);
	const anyAnswers = fc
		.array(fc.constantFrom(true, false, null), { minLength: 8, maxLength: 8 })
		.map((given): Answers => Object.fromEntries(given.flatMap((one, i) => (one === null ? [] : [[`q${i}`, one]]))));
	const anyClient = fc.record({ payroll: fc.option(fc.constantFrom('yes', 'no')), person: fc.boolean() });

	test('answering a question never changes which earlier ones apply, whatever they depend on', () => {
		fc.assert(
			fc.property(anyQuestionnaire, anyAnswers, fc.nat(7), fc.boolean(), anyClient, (questions, answers, at, yes, { payroll, person }) => {
				const of = client(payroll ? { payroll } : {}, person ? 'person' : 'business');
				const before = whichApply(questions, answers, of, TODAY);
				const after = whichApply(questions, { ...answers, [`q${at}`]: yes }, of, TODAY);
				for (let i = 0; i <= Math.min(at, questions.length - 1); i++) expect(after.get(`q${i}`)).toBe(before.get(`q${i}`));
			})
		);
	});
	test('what a client gets asks the same of them as the whole does at the firm', () => {
		fc.assert(
			fc.property(anyQuestionnaire, anyAnswers, anyClient, (questions, answers, { payroll, person }) => {
				const of = client(payroll ? { payroll } : {}, person ? 'person' : 'business');
				// a condition on a later question is refused when it is written
				const earlier = questions.map((one, i) => (onlyEarlier(one.condition, i) ? one : { ...one, condition: undefined }));
				expect(asked(questionsFor(earlier, of), answers, null)).toEqual(asked(earlier, answers, of));
			})
		);
	});
	function onlyEarlier(condition: Condition | undefined, i: number): boolean {
		if (!condition) return true;
		if (condition.kind === 'all' || condition.kind === 'any') return condition.of.every((part) => onlyEarlier(part, i));
		return condition.kind !== 'answer' || Number(condition.question.slice(1)) < i;
	}

	test('why something is left out is said', () => {
		const words = {
			fact: (_of: FactDefinition, value: string) => value,
			answer: ({ question: of }: { question: string }) => `${of} is so`
		};
		const tried = leftOut(
			[
				question('a', yesNo, { condition: { kind: 'fact', fact: 'payroll', is: 'equals', value: 'yes' } }),
				question('b', yesNo, { under: 'a' }),
				question('c', yesNo),
				question('d', yesNo, { condition: answerIs('c', 'yes') })
			],
			{ c: false },
			client({ payroll: 'no' }),
			TODAY,
			words
		);
		expect(tried).toEqual([
			{ key: 'a', why: 'Runs payroll is no' },
			{ key: 'b', why: 'it goes with 1' },
			{ key: 'd', why: 'c is so' }
		]);
	});
	test('what is asked of an earlier answer is said by its number, on the screen and on paper alike', () => {
		const asks = [question('a', number), question('b', { is: 'one_of', choices: ['x', 'y'] })];
		const said = (condition: Omit<AnswerCondition, 'kind'>) => answerConditionInWords({ kind: 'answer', ...condition }, asks, factReader('en', ''));
		expect(said({ question: 'a', is: 'between', value: '1', to: '3' })).toBe('1 is between 1 and 3');
		expect(said({ question: 'a', is: 'unknown', value: '' })).toBe('1 is not answered');
		expect(said({ question: 'b', is: 'one_of_these', value: '["x","y"]' })).toBe('2 is one of x or y');
		expect(said({ question: 'gone', is: 'known', value: '' })).toBe('a question that is gone');
	});
	test.each<[string, Condition, string]>([
		['a later question', answerIs('c', 'yes'), 'questions.1.condition.question'],
		['itself', answerIs('b', 'yes'), 'questions.1.condition.question'],
		['one that is gone', { kind: 'any', of: [answerIs('a', 'yes'), answerIs('gone', 'yes')] }, 'questions.1.condition.of.1.question'],
		['what its answer cannot be', { kind: 'answer', question: 'a', is: 'greater', value: '3' }, 'questions.1.condition.value'],
		['a value that is none', answerIs('a', 'perhaps'), 'questions.1.condition.value']
	])('a condition on %s is refused where it stands', (_, condition, path) => {
		const refused = () => settleQuestions([question('a', yesNo), question('b', yesNo, { condition }), question('c', yesNo)], FACTS, PLACE);
		expect(refused).toThrow(DomainError);
		try {
			refused();
		} catch (cause) {
			expect(Object.keys((cause as DomainError).fields)).toEqual([path]);
		}
	});
	test('its value is spelled as its question is answered', () => {
		const [, held] = settleQuestions(
			[
				question('a', { is: 'money', currency: 'CAD' }),
				question('b', yesNo, { condition: { kind: 'answer', question: 'a', is: 'greater', value: '1,000' } })
			],
			FACTS,
			PLACE
		);
		expect(held.condition).toEqual({ kind: 'answer', question: 'a', is: 'greater', value: '1000.00' });
	});
});

describe('checks', () => {
	test.each<[AnswerSpec, Check, Answers[string], string | null]>([
		[number, { least: 1, most: 8 }, 0, 'wrong.check.amount.least'],
		[number, { least: 1, most: 8 }, 8, null],
		[number, { most: 8 }, 8.5, 'wrong.check.amount.most'],
		[{ is: 'money', currency: 'CAD' }, { least: 10 }, 999, 'wrong.check.amount.least'],
		[{ is: 'money', currency: 'CAD' }, { least: 10 }, 1000, null],
		[{ is: 'words' }, { most: 3 }, 'ab🪁', null],
		[{ is: 'words' }, { most: 2 }, 'ab🪁', 'wrong.check.characters.most'],
		[{ is: 'several_of', choices: ['a', 'b', 'c'] }, { least: 2 }, ['a'], 'wrong.check.choices.least'],
		[{ is: 'date' }, { day: 'not_future' }, '2026-05-05', 'wrong.check.future'],
		[{ is: 'date' }, { day: 'not_future' }, TODAY, null],
		[{ is: 'date' }, { day: 'not_past' }, '2026-05-03', 'wrong.check.past'],
		[{ is: 'line' }, { madeOf: 'digits' }, '12 34-5', null],
		[{ is: 'line' }, { madeOf: 'digits' }, '12a', 'wrong.check.digits'],
		[{ is: 'line' }, { madeOf: 'letters' }, 'Zoë O’Neil-Ng', null],
		[yesNo, { least: 5 }, true, null]
	])('%o keeps to %o: %o', (spec, check, answer, key) => {
		expect(checkProblem(spec, check, answer, TODAY)?.key ?? null).toBe(key);
	});
	test('an answer that does not keep to it is not taken', () => {
		const rows = question('who', { is: 'table', columns: [{ key: 'n', label: 'Name', is: { kind: 'words', max: 200 } }] }, { check: { least: 2 } });
		expect(answersOf([rows], { who: '[{"n":"Mara"}]' }, true, { ...PLACE, today: TODAY })).toEqual({
			answers: {},
			problems: { who: { key: 'wrong.check.rows.least', values: { least: 2 } } }
		});
	});
	test('the most is not less than the least', () => {
		expect(questionSchema.safeParse({ key: 'a', title: 'a', answer: number, required: true, check: { least: 5, most: 4 } }).success).toBe(false);
	});
});

describe('another choice than those offered', () => {
	const read = (spec: AnswerSpec, typed: unknown) => answersOf([question('a', spec)], { a: typed }, true, { ...PLACE, today: TODAY });
	const one = { is: 'one_of', choices: ['x', 'y'], other: true } as const;
	const several = { is: 'several_of', choices: ['x', 'y'], other: true } as const;
	test.each<[AnswerSpec, unknown, Answers[string]]>([
		[one as never, ['', ' kites '], 'kites'],
		[one as never, ['y', 'kites'], 'y'],
		[one as never, 'kites', 'kites'],
		[several as never, ['y', 'x', 'kites'], ['x', 'y', 'kites']],
		[several as never, ['', 'kites'], ['kites']]
	])('%o of %o is %o', (spec, typed, answer) => {
		expect(read(spec, typed)).toEqual({ answers: { a: answer }, problems: {} });
	});
	test('is refused where none was offered, or where it is a story', () => {
		expect(read({ is: 'one_of', choices: ['x', 'y'] }, 'kites').problems.a.key).toBe('wrong.answer.choose');
		expect(read({ is: 'several_of', choices: ['x', 'y'] }, ['x', 'kites']).problems.a.key).toBe('wrong.answer.choose');
		expect(read(one as never, ['', 'k'.repeat(121)]).problems.a).toEqual({ key: 'wrong.answer.long', values: { max: 120 } });
		expect(read(one as never, ['', '  ']).problems.a.key).toBe('wrong.answer.choose');
	});
});

describe('what whoever writes ought to know', () => {
	const words = (questions: Question[], always: string[] = []) =>
		troublesOf(questions, FACTS, always).map(({ key, words: said }) => `${key} ${said}`);
	test('is said of the question it is about', () => {
		const three = { is: 'one_of' as const, choices: ['x', 'y', 'z'] };
		expect(words([question('a', yesNo, { condition: answerIs('b', 'yes') }), question('b', yesNo, { under: 'gone' })])).toEqual([
			'a asks about question 2, which comes later',
			'b hangs on a question that does not come before it'
		]);
		expect(words([question('a', yesNo, { condition: answerIs('a', 'yes') })])).toEqual(['a asks about itself']);
		expect(words([question('a', yesNo, { fact: 'payroll' }), question('b', yesNo, { fact: 'payroll' })], ['payroll'])).toEqual([
			'a Runs payroll is known of every client already; it would only be confirmed',
			'b becomes the same fact as question 1, Runs payroll',
			'b Runs payroll is known of every client already; it would only be confirmed'
		]);
		expect(
			words([
				question('a', three),
				question('b', yesNo, { under: 'a', when: { is: 'equals', value: 'x' } }),
				question('c', yesNo, { under: 'a', when: { is: 'equals', value: 'y' } })
			])
		).toEqual(['a nothing follows on “z”, though something does on every other choice']);
		expect(
			words([
				question('a', three),
				question('b', yesNo, { under: 'a', when: { is: 'equals', value: 'w' } }),
				question('c', yesNo, { under: 'b' }),
				question('d', yesNo, { condition: { kind: 'all', of: [answerIs('a', 'x'), answerIs('a', 'y')] } })
			])
		).toEqual(['b', 'c', 'd'].map((key) => `${key} is never asked: what it hangs on cannot be so`));
	});
});

describe('the ready-made ones', () => {
	const all = READY_MADE_QUESTIONNAIRES.map((ready) => [ready.name, ready.of('CAD', 2025)] as const);
	test.each(all)('%s can be kept, and nothing is wrong with it', (_, { questions }) => {
		const settled = settleQuestions(
			questions.map((one) => questionSchema.parse(one)),
			FACTS,
			PLACE
		);
		expect(troublesOf(settled, FACTS)).toEqual([]);
		for (const { known } of PRETEND_CLIENTS)
			expect(asked(settled, {}, { known: { ...known, today: TODAY }, facts: FACTS }).length).toBeGreaterThan(1);
		for (const { fact, answer, title } of settled) if (fact) expect([title, answer.is]).toEqual([title, expect.any(String)]);
	});
});

describe('as a file', () => {
	const questionnaire = {
		name: 'Getting to know you',
		about: '',
		files: true,
		signed: true,
		ends: [],
		year: 2025,
		questions: [
			question('form', { is: 'one_of', choices: ['sole trader', 'company'] }, { fact: 'legal_form', part: 'You' }),
			question('staff', yesNo, { fact: 'payroll', condition: { kind: 'fact', fact: 'legal_form', is: 'equals', value: 'company' } }),
			question('shoes', number, {
				fact: 'shoe_size',
				condition: { kind: 'any', of: [{ kind: 'fact', fact: 'shoe_size', is: 'known', value: '' }, answerIs('staff', 'yes')] }
			})
		]
	};
	const shoes: FactDefinition = {
		...READY_MADE_FACTS[0],
		name: 'shoe_size',
		label: 'Shoe size',
		is: { kind: 'number', unit: '', whole: true },
		readyMade: false
	};
	const theirs = firmFacts([...READY_MADE_FACTS, shoes]);
	const file = questionnaireFile(questionnaire, theirs);
	interface FileJson {
		version: number;
		questionnaire: { questions: { title: string; answer: unknown }[] };
	}
	test('emphasis and links go along; pictures are files of one firm, and stay', () => {
		const words = { type: 'paragraph' as const, content: [{ type: 'text' as const, text: 'As in the charter', marks: [{ type: 'bold' as const }] }] };
		const picture = { type: 'picture' as const, attrs: { id: '6f1f9f0e-2a43-4b4b-8f56-0f3c2a2f9a10', alt: 'Where it stands' } };
		const explained = (content: ItemText['content']) =>
			questionnaireFile({ ...questionnaire, questions: [question('form', yesNo, { help: 'x', helpText: { type: 'doc', content } })] }, theirs);
		const of = (text: string) => readQuestionnaireFile(text, theirs).questionnaire.questions[0];
		expect(of(explained([words, picture]))).toMatchObject({ help: 'As in the charter', helpText: { content: [words] } });
		expect(explained([picture])).not.toContain(picture.attrs.id);
		expect(of(explained([picture]))).toMatchObject({ help: '', helpText: null });
		// written by hand into a file
		const planted = explained([words]).replace('"content": [', `"content": [${JSON.stringify(picture)},`);
		expect(JSON.stringify(of(planted))).not.toContain(picture.attrs.id);
		const script = explained([words]).replace('"type": "bold"', '"type": "link", "attrs": { "href": "javascript:alert(1)" }');
		expect(() => of(script)).toThrow('Question 1: This link cannot be followed. Nothing was added.');
	});
	const changed = (change: (json: FileJson) => unknown): string => {
		const json = JSON.parse(file) as FileJson;
		change(json);
		return JSON.stringify(json);
	};
	test('reads as itself where the facts are the same', () => {
		expect(readQuestionnaireFile(file, theirs)).toEqual({ questionnaire, leftOut: [] });
	});
	test('a fact of the same label and kind takes the place of theirs; one that is not there leaves the question', () => {
		const ours = firmFacts([...READY_MADE_FACTS, { ...shoes, name: 'feet', label: 'shoe SIZE' }]);
		expect(readQuestionnaireFile(file, ours).questionnaire.questions[2]).toMatchObject({ fact: 'feet', condition: { of: [{ fact: 'feet' }, {}] } });
		const { questionnaire: read, leftOut: out } = readQuestionnaireFile(file, FACTS);
		expect(read.questions[2]).toMatchObject({ fact: null, condition: { kind: 'any', of: [answerIs('staff', 'yes')] } });
		expect(out).toEqual(['You have no fact “Shoe size” of this kind: what asked for it is now only a question, and nothing depends on it.']);
	});
	test.each<[string, string, RegExp]>([
		['nonsense', 'kites', /cannot be read as JSON/],
		['another file', '{"format":"kites"}', /not a questionnaire/],
		['a newer version', changed((json) => (json.version = 2)), /newer version \(2\)/],
		['an unknown kind of answer', changed((json) => (json.questionnaire.questions[1].answer = { is: 'hologram' })), /Question 2 .*hologram/],
		['a question without words', changed((json) => (json.questionnaire.questions[0].title = ' ')), /^Question 1: /]
	])('%s is refused in words', (_, text, words) => {
		expect(() => readQuestionnaireFile(text, FACTS)).toThrow(words);
	});
	test('script in its texts stays text', () => {
		const { questionnaire: read } = readQuestionnaireFile(
			changed((json) => (json.questionnaire.questions[0].title = '<script>alert(1)</script>')),
			theirs
		);
		expect(read.questions[0].title).toBe('<script>alert(1)</script>');
	});
});

test('the copy for the next year is named after it', () => {
	expect(nameForYear('Your year 2025, for your tax return', 2025, 2026)).toBe('Your year 2026, for your tax return');
	expect(nameForYear('Household 2024', null, 2026)).toBe('Household 2026');
	expect(nameForYear('Household', 2025, 2026)).toBe('Household 2026');
});

describe('answers of many', () => {
	const by = (clientName: string, answers: Answers): AnsweredBy => ({
		id: clientName,
		public: null,
		clientId: clientName,
		clientName,
		contactName: '',
		at: TODAY,
		version: 1,
		answers
	});
	const reader = answerReader('en');
	test('choices are counted with what was written instead; whoever was not asked does not count', () => {
		const how = question('how', { is: 'one_of', choices: ['well', 'badly'], other: true });
		const all = [by('A', { how: 'well' }), by('B', { how: 'well' }), by('C', { how: 'it depends' }), by('D', {})];
		expect(gather(how, all, reader)).toEqual({
			as: 'counts',
			answered: 3,
			counts: [
				{ words: 'well', count: 2 },
				{ words: 'badly', count: 0 }
			],
			others: [{ id: 'C', clientName: 'C', words: 'it depends' }]
		});
		expect(gather(question('staff', yesNo), [by('A', { staff: true })], reader)).toMatchObject({
			counts: [
				{ words: 'Yes', count: 1 },
				{ words: 'No', count: 0 }
			]
		});
		const several = question('in', { is: 'several_of', choices: ['cash', 'card'] });
		expect(gather(several, [by('A', { in: ['cash', 'card'] }), by('B', { in: ['card'] })], reader)).toMatchObject({
			answered: 2,
			counts: [{ count: 1 }, { count: 2 }]
		});
	});
	test('numbers have a least, a middle and a most; amounts count in their currency', () => {
		const all = [by('A', { n: 300 }), by('B', { n: 100 }), by('C', { n: 250 }), by('D', { n: 900 })];
		expect(gather(question('n', number), all, reader)).toMatchObject({ least: 100, middle: 275, most: 900, sum: 1550 });
		expect(gather(question('n', { is: 'money', currency: 'CAD' }), all.slice(0, 3), reader)).toMatchObject({ least: 1, middle: 2.5, most: 3 });
		expect(gather(question('n', number), [], reader)).toEqual({ as: 'words', answered: 0, said: [] });
	});
	test('sorted by number, day or words; what is missing comes last', () => {
		const order = (spec: AnswerSpec, ...answers: (Answers[string] | undefined)[]) =>
			answers
				.map((answer): Answers => (answer === undefined ? {} : { a: answer }))
				.sort((one, two) => compareAnswers(question('a', spec), one, two, reader))
				.map(({ a }) => a);
		expect(order(number, 10, undefined, 9)).toEqual([9, 10, undefined]);
		expect(order({ is: 'date' }, '2026-02-01', '2025-12-31')).toEqual(['2025-12-31', '2026-02-01']);
		expect(order({ is: 'words' }, 'zebra', 'Ärger', undefined)).toEqual(['Ärger', 'zebra', undefined]);
	});
});

describe('single answers asked back', () => {
	const questions = [
		question('staff', yesNo),
		question('many', number, { under: 'staff', when: { is: 'equals', value: 'yes' } }),
		question('left empty', { is: 'words' }, { required: false })
	];
	test('open are those, and what may follow from them; not what was left empty before', () => {
		const open = (review: AnswerReview, before: Answers) => openWhileAskedBack(questions, review, before, whichApply(questions, before, null, TODAY));
		expect(open({}, { staff: false })).toBeNull();
		expect(open({ askedBack: { staff: 'Really?' } }, { staff: false })).toEqual(new Set(['staff', 'many']));
		expect(open({ askedBack: { many: 'More?' } }, { staff: true, many: 2 })).toEqual(new Set(['many']));
	});
	test('what is answered differently is no longer accepted or corrected; corrected twice, the client’s own words stay', () => {
		const first = correct({}, 'many', 2, 'Odalys', TODAY);
		const second = correct(first, 'many', 3, 'Ferrin', TODAY);
		expect(second.corrected).toEqual({ many: { was: 2, by: 'Ferrin', at: TODAY } });
		const review = { ...second, accepted: ['staff', 'many'], seen: { many: 4 } };
		expect(reviewAfterHandIn(review, { staff: true, many: 4 }, { staff: true, many: 5 }, [])).toEqual({ accepted: ['staff'], seen: { many: 4 } });
		expect(answerBefore({ seen: { many: 4 } }, 'many', { many: 5 })).toEqual({ was: 4 });
		expect(answerBefore({ seen: { many: 5 } }, 'many', { many: 5 })).toBeUndefined();
		expect(answerBefore({}, 'many', { many: 5 })).toBeUndefined();
	});
});

describe('what an answer brings about', () => {
	const staffId = '00000000-0000-4000-8000-000000000001';
	const task = (key: string, when?: object) => ({ key, ...(when ? { when } : {}), what: { does: 'task', words: `Do ${key}`, staffId } });
	const questions = [
		{
			key: 'staff',
			title: 'Do you have staff?',
			answer: { is: 'yes_no' },
			brings: [task('a', { is: 'equals', value: 'yes' }), task('b', { is: 'equals', value: 'no' })]
		},
		{
			key: 'many',
			title: 'How many?',
			answer: { is: 'number', unit: '' },
			under: 'staff',
			when: { is: 'equals', value: 'yes' },
			brings: [task('c', { is: 'greater', value: '9' })]
		},
		{
			key: 'pay',
			title: 'How are they paid?',
			answer: { is: 'several_of', choices: ['weekly', 'monthly'] },
			brings: [task('d', { is: 'contains', value: 'weekly' }), task('e')]
		}
	].map((one) => questionSchema.parse({ help: '', required: false, fact: null, ...one }));
	const held = (answers: Answers) => broughtAbout({ questions, ends: [] }, answers, null, '2026-05-04').map(({ bring }) => bring.key);
	test.each([
		[{}, []],
		[{ staff: true }, ['a']],
		[{ staff: false }, ['b']],
		[{ staff: true, many: 9 }, ['a']],
		[{ staff: true, many: 10 }, ['a', 'c']],
		// what was not asked with these answers brings about nothing
		[{ staff: false, many: 10 }, ['b']],
		[{ pay: ['monthly'] }, ['e']],
		[{ pay: ['monthly', 'weekly'] }, ['d', 'e']]
	] as [Answers, string[]][])('%j: %j', (answers, keys) => expect(held(answers)).toEqual(keys));
	test.each([
		['always', undefined, {}, true],
		['as answered', { kind: 'answer', question: 'staff', is: 'equals', value: 'yes' }, { staff: true }, true],
		['answered otherwise', { kind: 'answer', question: 'staff', is: 'equals', value: 'yes' }, { staff: false }, false],
		['of a question that was not asked', { kind: 'answer', question: 'many', is: 'greater', value: '3' }, { staff: false, many: 9 }, false],
		['of a question that is gone', { kind: 'answer', question: 'gone', is: 'known', value: '' }, { staff: true }, false],
		['known of the client', { kind: 'service', is: 'has', name: 'Tax' }, {}, true],
		// unlike a question, which is asked in doubt
		['of what is not known', { kind: 'fact', fact: 'legal_form', is: 'equals', value: 'company' }, {}, false],
		// what was answered here is not recorded yet, and goes before what was known
		['a fact answered here', { kind: 'fact', fact: 'payroll', is: 'equals', value: 'yes' }, { pays: true }, true],
		['a fact known, and answered otherwise', { kind: 'fact', fact: 'employees', is: 'greater', value: '5' }, { hands: 2 }, false],
		['a fact known', { kind: 'fact', fact: 'employees', is: 'greater', value: '5' }, {}, true]
	] as [string, Condition | undefined, Answers, boolean][])('at the end, %s', (_what, condition, answers, follows) => {
		const asking = [...questions, question('pays', yesNo, { fact: 'payroll' }), question('hands', number, { fact: 'employees' })];
		const end = { key: 'end', what: { does: 'task' as const, words: 'Look', staffId: null }, ...(condition ? { condition } : {}) };
		const known = { kind: 'business' as const, services: ['tax'], facts: { employees: '9' }, today: TODAY };
		const brought = broughtAbout({ questions: asking, ends: [end] }, answers, { known, facts: FACTS }, TODAY);
		expect(brought.some(({ question: of }) => of === null)).toBe(follows);
	});
	test('a draft is of a whole list, or of one line of it', () => {
		const lists = new Map([['l', { name: 'Payroll start', lines: new Map([['p', 'Payslips']]) }]]);
		const words = (listId: string, line?: string) => bringInWords({ what: { does: 'list', listId, line } }, { staff: new Map(), lists });
		expect(words('l')).toBe('a draft of the list “Payroll start”');
		expect(words('l', 'p')).toBe('a draft of “Payslips” from the list “Payroll start”');
		expect(words('l', 'gone')).toBe('nothing: the line is not in the list “Payroll start” any more');
		expect(words('gone')).toBe('nothing: the list is not in the Library any more');
	});
	test('the client and the file are told nothing of it', () => {
		const known = { kind: 'business' as const, services: [], facts: {}, today: '2026-05-04' };
		expect(JSON.stringify(questionsFor(questions, { known, facts: firmFacts([]) }))).not.toContain('brings');
		const file = questionnaireFile({ name: 'x', about: '', questions, files: false, signed: false, ends: [], year: null }, firmFacts([]));
		expect(file).not.toContain(staffId);
		const theirs = file.replace('"key": "staff",', `"key": "staff", "brings": [${JSON.stringify(task('a'))}],`);
		expect(JSON.stringify(readQuestionnaireFile(theirs, firmFacts([])))).not.toContain(staffId);
	});
	test('a task says what is to be done', () => {
		const parsed = questionSchema.safeParse({ ...questions[0], brings: [{ key: 'x', what: { does: 'task', words: ' ', staffId } }] });
		expect(parsed.error?.issues[0]).toMatchObject({ path: ['brings', 0, 'what', 'words'], message: 'Please write what is to be done.' });
	});
});
