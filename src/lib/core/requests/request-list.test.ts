import { describe, expect, test } from 'vitest';
import { READY_MADE_LETTER } from '../letters/ready-made-letter';
import { READY_MADE_LISTS } from './ready-made-lists';
import {
	asListLine,
	asRequestLine,
	inHand,
	keyOfWrongLine,
	LINES_MAX,
	linesOfText,
	newRequestSchema,
	requestLineSchema,
	requestListSchema
} from './request-list';

const ready = READY_MADE_LISTS[0];
const list = (more: object = {}) => ({ name: 'Ours', title: 'Papers', shared: 'all', lines: ready.lines, ...more });
const problems = (more: object) =>
	Object.fromEntries((requestListSchema.safeParse(list(more)).error?.issues ?? []).map((issue) => [issue.path.join('.'), issue.message]));

describe('a list', () => {
	test('of every ready-made one is one that a person could have written', () => {
		for (const { id, ...one } of READY_MADE_LISTS) expect(requestListSchema.safeParse({ ...one, shared: 'all' }).error?.issues, id).toBeUndefined();
	});
	test('says where it is wrong', () => {
		expect(problems({})).toEqual({});
		expect(problems({ shared: 'group' })).toEqual({ groupId: 'Choose the group.' });
		expect(problems({ shared: 'group', groupId: 'not one' })).toHaveProperty('groupId');
		expect(problems({ lines: [] })).toEqual({ lines: 'A list needs at least one line.' });
		expect(problems({ lines: [ready.lines[0], ready.lines[0]] })).toEqual({ lines: expect.stringContaining('the same one') });
		const many = Array.from({ length: LINES_MAX + 1 }, (_, i) => ({ ...ready.lines[1], key: `k${i}` }));
		expect(problems({ lines: many })).toEqual({ lines: 'A list holds at most 100 lines.' });
		expect(problems({ name: ' \u202e ' })).toHaveProperty('name');
		expect(problems({ title: 'x'.repeat(121) })).toHaveProperty('title');
		expect(problems({ lines: [{ ...ready.lines[1], title: '' }] })).toHaveProperty(['lines.0.title']);
	});
});

describe('a line in hand', () => {
	test('is kept in the list as it was, for every line that ships', () => {
		for (const one of READY_MADE_LISTS)
			for (const line of one.lines)
				expect(requestListSchema.shape.lines.element.parse(asListLine(inHand(line))), line.title).toEqual({ text: null, ...line });
	});
	test('is sent without its condition and rule, with its day; a letter with its words and values', () => {
		for (const line of ready.lines) {
			const sent = asRequestLine(inHand(line, { dueOn: '2026-05-20' }), { services: 'the books' });
			expect(sent).not.toHaveProperty('condition');
			expect(sent).not.toHaveProperty('due');
			expect(requestLineSchema.parse(sent)).toMatchObject({ title: line.title, dueOn: '2026-05-20' });
		}
		const letter = ready.lines.find((line) => line.kind === 'letter')!;
		expect(asRequestLine(inHand(letter, { dueOn: '2026-05-20' }), { services: 'the books' })).toMatchObject({
			document: READY_MADE_LETTER,
			values: { services: 'the books' }
		});
	});
	test('that was refused is found by its key', () => {
		const lines = ready.lines.map((line) => inHand(line));
		expect(keyOfWrongLine({ 'lines.2.spec.slots.0.name': 'Say what belongs there.' }, lines)).toBe(lines[2].key);
		expect(keyOfWrongLine({ title: 'Give it a title.' }, lines)).toBeNull();
		expect(keyOfWrongLine({ lines: 'Too many.' }, lines)).toBeNull();
		expect(keyOfWrongLine({ 'lines.99.title': 'x' }, lines)).toBeNull();
	});
});

test.each([
	['from a mail', 'Hello,\n\n1. Bank statement\n2. Card statement', ['Hello,', 'Bank statement', 'Card statement']],
	['with tabs and other spaces', '\t\u00a0* Lease\u00a0\r\n\u2013 Loan', ['Lease', 'Loan']],
	['with tick boxes', '- [ ] Lease\n* [x] Loan\n[] Will\n☐ Deed', ['Lease', 'Loan', 'Will', 'Deed']],
	[
		'with numbers that are none of the list',
		'3.5 % loan\n12.05.2026 invoice\n2)Lease\na) Will\ne.g. a deed\n1. 2025 return',
		['3.5 % loan', '12.05.2026 invoice', 'Lease', 'Will', 'e.g. a deed', '2025 return']
	],
	['that is one line', 'Lease', ['Lease']]
])('a list pasted %s', (_, text, titles) => expect(linesOfText(text).map((line) => line.title)).toEqual(titles));

test('a pasted list becomes lines under headings', () => {
	expect(linesOfText('Bank:\n- Statements of March\n  2) Loan agreement \n\n# People\n[x] Contracts\n• Who is paid?\n')).toEqual([
		{ heading: 'Bank', title: 'Statements of March' },
		{ heading: 'Bank', title: 'Loan agreement' },
		{ heading: 'People', title: 'Contracts' },
		{ heading: 'People', title: 'Who is paid?' }
	]);
	expect(linesOfText(' \n\t\n')).toEqual([]);
	expect(linesOfText(Array.from({ length: 500 }, (_, i) => `line ${i}`).join('\n'))).toHaveLength(100);
});

test('a request as it comes in a form: too much, nothing, or nonsense is told where', () => {
	const line = (kind: string, spec: object) => ({
		kind,
		spec,
		key: kind,
		title: `A ${kind}`,
		heading: '',
		why: null,
		required: true,
		acceptsItself: false,
		attachments: [],
		account: null,
		dueOn: '2026-05-20'
	});
	const wrong = (...lines: object[]) =>
		newRequestSchema
			.safeParse({
				clientId: '00000000-0000-4000-8000-000000000001',
				contactId: '00000000-0000-4000-8000-000000000002',
				others: [],
				each: false,
				quiet: false,
				tellNow: false,
				list: null,
				title: 'Getting started',
				message: 'A few things, please.',
				lines,
				withInvitation: false,
				idempotencyKey: '00000000-0000-4000-8000-000000000003'
			})
			.error?.issues.map((issue) => issue.path.join('.'));
	expect(wrong(line('paper', { slots: [], statementsOf: 'none' }))).toBeUndefined();
	expect(wrong()).toEqual(['lines']);
	expect(wrong(line('questionnaire', { questions: [] }))).toEqual(['lines.0.spec.questions']);
	expect(wrong(line('read', { link: 'javascript:alert(1)' }))).toEqual(['lines.0.spec.link']);
	expect(wrong(line('question', { answer: { is: 'one_of', choices: ['same', 'Same'] }, fact: null }))).toEqual(['lines.0.spec.answer.choices']);
});
