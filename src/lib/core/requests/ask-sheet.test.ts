import { describe, expect, test } from 'vitest';
import { READY_MADE_LETTER } from '../letters/ready-made-letter';
import { blankSheet, fieldsOfList, readAskSheet, sheetFields, sheetRows, SHEET_ROWS_MAX, whoIsMeant } from './ask-sheet';
import { staysWords } from './ask-stands';
import { requestListSchema } from './request-list';

const FIELDS = { monthly_fee: 'Monthly fee', start_date: 'Start date', year_end: 'Year end' };
const read = (text: string) => readAskSheet(new TextEncoder().encode(text), FIELDS);

describe('a file with a row for each request', () => {
	test.each([
		['commas', 'Client,E-mail,Monthly fee,Shoe size\n"Gull, String",mara@gull.example,450 CAD,39\n'],
		['semicolons', 'company;Email address;monthly_fee;Shoe size\nGull, String;mara@gull.example;450 CAD;39\n'],
		['tabs', 'Name\tmail of whom\tMONTHLY-FEE\tShoe size\nGull, String\tmara@gull.example\t450 CAD\t39\n']
	])('with %s: its columns are known by their headings, and addresses by their look', (separator, text) => {
		const sheet = read(text);
		expect(sheet.format).toBe(`${separator}, UTF-8`);
		expect(sheet.columns).toEqual(['client', 'email', 'monthly_fee', null]);
		expect(sheetRows(sheet)).toEqual([
			{ line: 2, client: 'Gull, String', email: 'mara@gull.example', values: { monthly_fee: '450 CAD' }, tooLong: [] }
		]);
	});
	test('a title above the headings, empty rows and rows that are short or long lose nothing', () => {
		const sheet = read('Letters of May,,\n,,\nClient,Start date,\nGull,\n,,\nFerry,1 June,\n');
		expect(sheet.header).toEqual(['Client', 'Start date', 'Column 3']);
		expect(sheetRows(sheet).map(({ line, client, values }) => [line, client, values])).toEqual([
			[4, 'Gull', {}],
			[6, 'Ferry', { start_date: '1 June' }]
		]);
	});
	test('what is no such file is refused, and says what it is', () => {
		expect(() => read('')).toThrow('empty');
		expect(() => read('Client,E-mail\n')).toThrow('no rows below it');
		expect(() => readAskSheet(new Uint8Array([0x50, 0x4b, 3, 4, 0]), FIELDS)).toThrow('spreadsheet');
		expect(() => read('Client\n"Gull\nFerry\n')).toThrow('not closed');
		expect(() => read(`Client\n${'Gull\n'.repeat(SHEET_ROWS_MAX + 1)}`)).toThrow('more than 1,000 rows');
		expect(read(`Client\n${'Gull\n'.repeat(SHEET_ROWS_MAX)}`).rows).toHaveLength(SHEET_ROWS_MAX);
	});
	test('a cell that holds more than fits is named, and none of it is put in', () => {
		const [row] = sheetRows(read(`Client,Monthly fee\nGull,${'x'.repeat(401)}\n`));
		expect(row).toMatchObject({ values: {}, tooLong: ['monthly_fee'] });
		expect(whoIsMeant(row, [{ clientId: 'gull', contactId: null }])).toBe('too_long');
	});
	test('what is handed out to be filled in is read again as it was, whatever the names look like', () => {
		const clients: Parameters<typeof blankSheet>[2] = [
			{ name: '=Gull & "String"', email: 'mara@gull.example', values: { year_end: '31 December' } },
			{ name: '-Ferry;Café', email: null, values: {} }
		];
		const sheet = read(blankSheet(['monthly_fee', 'year_end'], FIELDS, clients));
		expect(sheet.columns).toEqual(['client', 'email', 'monthly_fee', 'year_end']);
		expect(sheetRows(sheet).map(({ client, email, values }) => ({ name: client, email: email || null, values }))).toEqual(clients);
	});
});

const candidate = (clientId: string, contactId: string | null = null) => ({ clientId, contactId });
test.each([
	['', '', [], 'nobody'],
	['Gull', '', [], 'unknown_client'],
	['', 'a@x.example', [], 'unknown_email'],
	['Gull', '', [candidate('one')], candidate('one')],
	['Gull', '', [candidate('one'), candidate('two')], 'several_clients'],
	['Gull', 'a@x.example', [candidate('one'), candidate('two', 'a')], candidate('two', 'a')],
	['Gull', 'a@x.example', [candidate('one', 'a'), candidate('two', 'a')], 'several_clients'],
	['Gull', 'a@x.example', [candidate('one')], 'not_of_client'],
	['', 'a@x.example', [candidate('one', 'a')], candidate('one', 'a')],
	['', 'a@x.example', [candidate('one', 'a'), candidate('two', 'a')], 'several_of_person']
] as const)('“%s” with “%s” and %j means %j', (client, email, candidates, meant) => {
	expect(whoIsMeant({ client, email, tooLong: [] }, candidates)).toEqual(meant);
});

test('the fields that a list needs are those of all its words, without what the product knows by itself', () => {
	const line = { required: true, due: { from: 'asked', offset: 5, unit: 'business_days', roll: 'none' } };
	const list = requestListSchema.parse({
		name: 'Letters',
		title: 'For {client_name}',
		message: 'Your year ends on {year_end}.',
		shared: 'all',
		lines: [
			{ ...line, key: 'a', kind: 'letter', title: 'Letter', document: READY_MADE_LETTER },
			{ ...line, key: 'b', kind: 'paper', title: 'Books from {start_date}', spec: { slots: [] } }
		]
	});
	expect(fieldsOfList(list).sort()).toEqual(['monthly_fee', 'services', 'start_date', 'year_end']);
	expect(Object.keys(sheetFields({ today: 'Date', monthly_fee: 'Fee' }))).toEqual(['monthly_fee']);
});

test('why nothing is made of a row is said in words', () => {
	expect(staysWords({ stands: 'several_clients', goes: 0 })).toContain('add an e-mail address');
	expect(staysWords({ stands: null, goes: 0 })).toBe('nothing of it fits');
	expect(staysWords({ stands: null, goes: 1 })).toBeNull();
});
