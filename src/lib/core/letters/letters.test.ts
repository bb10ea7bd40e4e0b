import { describe, expect, test } from 'vitest';
import { signatureSchema, strokesAsPath } from '../signing/signature';
import {
	blockText,
	fillLetter,
	isBlankLetter,
	letterDocumentSchema,
	mergeFieldsOf,
	partsOf,
	passagesOf,
	plainText,
	numbered,
	withoutParts,
	type LetterPart,
	type LetterDocument
} from './letter-document';
import { sayer } from '$lib/words/words';
import { fillText, firstName, greeted, MERGE_FIELDS, mergeFieldsInText, unfilledFields } from './merge-fields';
import { READY_MADE_LETTER } from './ready-made-letter';

describe('the ready-made letter', () => {
	test('is a letter, and uses only fields that exist', () => {
		expect(letterDocumentSchema.safeParse(READY_MADE_LETTER).success).toBe(true);
		for (const name of mergeFieldsOf(READY_MADE_LETTER)) expect(Object.keys(MERGE_FIELDS)).toContain(name);
	});
	test('names every unfilled field once, in order', () => {
		expect(
			unfilledFields(mergeFieldsOf(READY_MADE_LETTER), {
				contact_first_name: 'Mara',
				firm_name: 'P',
				client_name: 'G',
				services: ' ',
				responsible_name: 'O'
			})
		).toEqual(['start_date', 'services', 'monthly_fee']);
	});
	test('has no field left when all are filled', () => {
		const values = Object.fromEntries(Object.keys(MERGE_FIELDS).map((name) => [name, `<${name}>`]));
		const filled = fillLetter(READY_MADE_LETTER, values);
		expect(mergeFieldsOf(filled)).toEqual([]);
		expect(JSON.stringify(filled)).toContain('<monthly_fee>');
		expect(letterDocumentSchema.safeParse(filled).success).toBe(true);
	});
});

describe('what may be in a letter', () => {
	const doc = (content: unknown) => letterDocumentSchema.safeParse({ type: 'doc', content });
	test.each([
		['a picture', [{ type: 'image', attrs: { src: 'https://x.example/a.png' } }]],
		['a script node', [{ type: 'script', content: [] }]],
		['a link mark', [{ type: 'paragraph', content: [{ type: 'text', text: 'x', marks: [{ type: 'link', attrs: { href: 'javascript:1' } }] }] }]],
		['nothing', []]
	])('%s is refused', (_, content) => {
		expect(doc(content).success).toBe(false);
	});
	test('a blank letter is recognised', () => {
		expect(isBlankLetter({ type: 'doc', content: [{ type: 'paragraph' }, { type: 'paragraph', content: [{ type: 'text', text: '  ' }] }] })).toBe(
			true
		);
		expect(isBlankLetter(READY_MADE_LETTER)).toBe(false);
	});
	test('marks survive filling', () => {
		const letter: LetterDocument = {
			type: 'doc',
			content: [{ type: 'paragraph', content: [{ type: 'mergeField', attrs: { name: 'firm_name' }, marks: [{ type: 'bold' }] }] }]
		};
		const [block] = fillLetter(letter, { firm_name: 'P' }).content;
		expect(block).toEqual({ type: 'paragraph', content: [{ type: 'text', text: 'P', marks: [{ type: 'bold' }] }] });
		expect(plainText(letter.content[0].type === 'paragraph' ? letter.content[0].content : [])).toBe('{firm_name}');
	});
});

test('fields in plain text', () => {
	expect(mergeFieldsInText('Dear {contact_name}, {client_name} and {contact_name} {Not A Field}')).toEqual(['contact_name', 'client_name']);
	expect(fillText('Dear {contact_name}, {x}', { contact_name: 'Mara' })).toBe('Dear Mara, {x}');
	expect(firstName('  Mara Whitlock')).toBe('Mara');
	// an address stands where nobody has written a name: nobody is called by it
	for (const nameless of ['mara@gull.example', ' mara@gull.example ', '', '  '])
		expect(sayer('en')('mail.greeting', greeted(nameless))).toBe('Hello,');
	expect(sayer('fr')('portal.greeting.morning', greeted('mara@gull.example'))).toBe('Bonjour.');
	expect(sayer('en')('portal.greeting.evening', greeted('Mara Whitlock'))).toBe('Good evening, Mara.');
});

describe('tables, new pages and parts', () => {
	const text = (words: string) => ({ type: 'paragraph' as const, content: [{ type: 'text' as const, text: words }] });
	const field = (name: string) => ({ type: 'paragraph' as const, content: [{ type: 'mergeField' as const, attrs: { name } }] });
	const letter: LetterDocument = {
		type: 'doc',
		content: [
			text('What it costs'),
			{
				type: 'table',
				content: [
					{
						type: 'tableRow',
						content: [
							{ type: 'tableHeader', content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Service' }] }] },
							{ type: 'tableHeader', content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Fee' }] }] }
						]
					},
					{
						type: 'tableRow',
						content: [
							{ type: 'tableCell', content: [field('services')] },
							{ type: 'tableCell', content: [field('monthly_fee')] }
						]
					}
				]
			},
			{ type: 'pageBreak' },
			{
				type: 'part',
				attrs: { onlyIf: { kind: 'service', name: 'Payroll', is: 'has' } },
				content: [
					{
						type: 'paragraph',
						content: [
							{ type: 'text', text: 'Wages by the ' },
							{ type: 'mergeField', attrs: { name: 'pay_day' } }
						]
					}
				]
			},
			{ type: 'part', attrs: { onlyIf: { kind: 'client', is: 'person' } }, content: [text('For a person')] }
		]
	};
	test('are a letter, and their fields are its fields', () => {
		expect(letterDocumentSchema.parse(letter)).toEqual(letter);
		expect(mergeFieldsOf(letter)).toEqual(['services', 'monthly_fee', 'pay_day']);
		const filled = fillLetter(letter, { services: 'Books', monthly_fee: '$280', pay_day: '15th' });
		expect(mergeFieldsOf(filled)).toEqual([]);
		expect(passagesOf(filled.content)).toEqual(['What it costs', 'Service | Fee', 'Books | $280', 'Wages by the 15th', 'For a person']);
		expect(blockText(filled.content[1])).toBe('Service\nFee\nBooks\n$280');
	});
	test('a part comes for whom it is, and its fields with it; a letter of nothing else is blank without it', () => {
		expect(partsOf(letter)).toHaveLength(2);
		const numbers: number[] = [];
		const theirs = withoutParts(letter, (part, number) => numbers.push(number) > 0 && part.attrs.onlyIf.kind === 'client');
		expect(numbers).toEqual([1, 2]);
		expect(mergeFieldsOf(theirs)).toEqual(['services', 'monthly_fee']);
		expect(passagesOf(theirs.content)).toContain('For a person');
		expect(isBlankLetter(withoutParts({ type: 'doc', content: [letter.content[4]] }, () => false))).toBe(true);
	});
	test('clauses are numbered on over headings, parts and whatever else stands between, and anew without a part that does not come', () => {
		const list = (n: number, attrs: { start?: number; goesOn?: boolean }): LetterPart['content'][number] => ({
			type: 'orderedList',
			attrs,
			content: Array.from({ length: n }, () => ({ type: 'listItem' as const, content: [text('A clause.')] }))
		});
		const clauses: LetterDocument = {
			type: 'doc',
			content: [
				list(3, { start: 2 }),
				{ type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: 'What it costs' }] },
				{ type: 'part', attrs: { onlyIf: { kind: 'client', is: 'person' } }, content: [text('For a person'), list(2, { goesOn: true, start: 1 })] },
				list(1, { goesOn: true }),
				list(1, {}),
				list(1, { goesOn: true })
			]
		};
		const starts = (of: LetterDocument) =>
			of.content
				.flatMap((block) => (block.type === 'part' ? block.content : [block]))
				.flatMap((block) => (block.type === 'orderedList' ? block.attrs!.start : []));
		expect(starts(numbered(clauses))).toEqual([2, 5, 7, 1, 2]);
		expect(numbered(numbered(clauses))).toEqual(numbered(clauses));
		expect(letterDocumentSchema.parse(numbered(clauses))).toEqual(numbered(clauses));
		expect(starts(withoutParts(clauses, () => true))).toEqual([2, 5, 7, 1, 2]);
		expect(starts(withoutParts(clauses, () => false))).toEqual([2, 5, 1, 2]);
		// nothing is numbered higher than a letter may have it
		expect(starts(numbered({ type: 'doc', content: [list(200, { start: 9990 }), list(1, { goesOn: true })] }))).toEqual([9990, 9999]);
	});
	test.each([
		['a part in a part', { type: 'part', attrs: { onlyIf: { kind: 'client', is: 'person' } }, content: [letter.content[4]] }],
		['a part for nobody in particular', { type: 'part', attrs: { onlyIf: null }, content: [text('x')] }],
		[
			'a part that hangs on an answer',
			{ type: 'part', attrs: { onlyIf: { kind: 'answer', question: 'q', is: 'known', value: '' } }, content: [text('x')] }
		],
		[
			'a table of 13 columns',
			{
				type: 'table',
				content: [{ type: 'tableRow', content: Array.from({ length: 13 }, () => ({ type: 'tableCell', content: [{ type: 'paragraph' }] })) }]
			}
		],
		['a table in a cell', { type: 'table', content: [{ type: 'tableRow', content: [{ type: 'tableCell', content: [letter.content[1]] }] }] }]
	])('%s is refused', (_, block) => expect(letterDocumentSchema.safeParse({ type: 'doc', content: [block] }).success).toBe(false));
});

describe('a signature', () => {
	test('drawn: too little, too much and out of the pad are refused', () => {
		const drawn = (strokes: unknown) => signatureSchema.safeParse({ method: 'drawn', name: 'Mara', width: 300, height: 120, strokes }).success;
		expect(
			drawn([
				[
					[1, 1],
					[2, 2],
					[3, 3],
					[4, 4]
				]
			])
		).toBe(true);
		expect(drawn([])).toBe(false);
		expect(drawn([[[1, 1]]])).toBe(false);
		expect(
			drawn([
				[
					[1, 1],
					[2, 2],
					[3, 3],
					[1e9, 4]
				]
			])
		).toBe(false);
		expect(
			drawn([
				[
					[1, 1],
					[2, 2],
					[3, 3],
					['4', 4]
				]
			])
		).toBe(false);
	});
	test('typed: a name is needed', () => expect(signatureSchema.safeParse({ method: 'typed', name: ' ' }).success).toBe(false));
	test('strokes become path data', () =>
		expect(
			strokesAsPath([
				[
					[1, 2],
					[3, 4.55]
				],
				[[5, 6]]
			])
		).toBe('M1.0 2.0 L3.0 4.5 M5.0 6.0'));
});
