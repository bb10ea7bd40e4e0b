import { describe, expect, test } from 'vitest';
import type { PrintedPage } from './page-lines';
import { linesOf } from './page-lines';
import { labelOfSum, offBy, readPrintedStatements, STATEMENT_VALUES, type LearntLabel } from './read-printed';

/** A page out of rows of cells: each at its place from the left, in points. */
const page = (...rows: (readonly [x: number, text: string])[][]): PrintedPage => ({
	width: 600,
	height: 800,
	runs: rows.flatMap((row, n) => row.map(([x, text]) => ({ text, x, y: 40 + n * 16, width: text.length * 5, height: 10 })))
});
const HEAD = [
	[[40, 'Harbour Union']],
	[
		[40, 'Account 0020 447710'],
		[300, 'Statement period 1 – 30 April 2026']
	]
] as (readonly [number, string])[][];
const read = (pages: PrintedPage[], learnt: LearntLabel[] = []) =>
	readPrintedStatements(pages, learnt).map((one) => Object.fromEntries(STATEMENT_VALUES.map((name) => [name, one[name]?.value ?? null])));
const APRIL = { account: '7710', from: '2026-04-01', to: '2026-04-30', currency: null };

test('words of a line are put together by where they stand, whatever their order in the file', () => {
	const [line] = linesOf([
		{
			width: 600,
			height: 800,
			runs: [
				{ text: 'balance', x: 92, y: 50, width: 35, height: 10 },
				{ text: '12.00', x: 400, y: 50.4, width: 25, height: 10 },
				{ text: 'Opening', x: 40, y: 50, width: 48, height: 10 }
			]
		}
	]);
	expect(line.cells.map(({ text }) => text)).toEqual(['Opening balance', '12.00']);
});

describe('balances', () => {
	test('stand beside their label, or below it in its column, and say where', () => {
		const beside = page(
			...HEAD,
			[
				[40, 'Opening balance'],
				[500, '12,204.11']
			],
			[
				[40, 'Closing balance'],
				[500, '13,931.46']
			]
		);
		expect(read([beside])).toEqual([{ ...APRIL, opening: '12204.11', closing: '13931.46' }]);
		const [{ opening }] = readPrintedStatements([beside]);
		expect(opening!.at).toEqual({ page: 1, x: 0.8333, y: 0.0775, width: 0.075, height: 0.015 });
		const below = page(
			...HEAD,
			[
				[40, 'Opening balance'],
				[300, 'Closing balance']
			],
			[
				[50, '12,204.11'],
				[310, '13,931.46']
			]
		);
		expect(read([below])).toEqual([{ ...APRIL, opening: '12204.11', closing: '13931.46' }]);
	});
	test('said in two ways are not read, and what one label lacks is not taken from the next', () => {
		expect(
			read([
				page(
					...HEAD,
					[
						[40, 'Opening balance'],
						[500, '1.00']
					],
					[
						[40, 'Opening balance'],
						[500, '2.00']
					]
				)
			])[0].opening
		).toBeNull();
		expect(
			read([
				page(...HEAD, [
					[40, 'Opening balance'],
					[200, 'Closing balance'],
					[500, '7.00']
				])
			])[0]
		).toMatchObject({ opening: null, closing: '7.00' });
	});
	test('carried from page to page count by the first and the last', () => {
		const pages = [
			page(
				...HEAD,
				[
					[40, 'Brought forward'],
					[500, '1.00']
				],
				[
					[40, 'Carried forward'],
					[500, '2.00']
				]
			),
			page(
				[
					[40, 'Brought forward'],
					[500, '2.00']
				],
				[
					[40, 'Carried forward'],
					[500, '3.00']
				]
			)
		];
		expect(read(pages)).toEqual([{ ...APRIL, opening: '1.00', closing: '3.00' }]);
	});
	test('of two days open and close by their order; the last day of the month before opens the next', () => {
		const dated = page([[40, 'Account 0020 447710']], [[40, 'Balance on 30 April 2026: 3.00']], [[40, 'Balance on 31 March 2026: 1.00']]);
		expect(read([dated])).toEqual([{ ...APRIL, opening: '1.00', closing: '3.00' }]);
		const between = (from: string, to: string) =>
			read([page([[40, 'Account 0020 447710']], [[40, `Balance on ${to}: 3.00`]], [[40, `Balance on ${from}: 1.00`]])])[0];
		expect(between('20 March 2026', '20 April 2026')).toMatchObject({ from: '2026-03-21', to: '2026-04-20' });
		// whether it begins on this day or on the next is not known
		expect(between('12 April 2026', '30 April 2026')).toMatchObject({ from: null, to: null, opening: '1.00', closing: '3.00' });
	});
});

describe('the days that it covers', () => {
	test.each([
		['From 21 December to 20 January 2026', '2025-12-21', '2026-01-20'],
		['Période du 1er au 30 avril 2026', '2026-04-01', '2026-04-30'],
		['Zeitraum 01.04. bis 30.04.2026', '2026-04-01', '2026-04-30'],
		['Statement period April 1, 2026 through April 30, 2026', '2026-04-01', '2026-04-30'],
		['Statement for February 2028', '2028-02-01', '2028-02-29'],
		['Period start 2026-04-01 Period end 2026-04-30', '2026-04-01', '2026-04-30']
	])('“%s”', (text, from, to) => {
		expect(
			read([
				page(
					[[40, 'Account 0020 447710']],
					[[40, text]],
					[
						[40, 'Closing balance'],
						[500, '1.00']
					]
				)
			])
		).toMatchObject([{ from, to }]);
	});
	test('a heading goes before any other span, and two headings that differ are none', () => {
		const other = [[40, 'Holiday offer 1 July 2026 – 31 August 2026']] as (readonly [number, string])[];
		expect(read([page(...HEAD, other)])).toMatchObject([{ from: '2026-04-01' }]);
		expect(
			read([
				page(
					...HEAD,
					[[40, 'Statement period 1 – 31 May 2026']],
					[
						[40, 'Closing balance'],
						[500, '1.00']
					]
				)
			])
		).toMatchObject([{ from: null, to: null }]);
	});
	test('in numbers that may be either day are left out, unless the language says which goes first', () => {
		const of = (text: string) =>
			read([
				page(
					[[40, 'Account 0020 447710']],
					[[40, text]],
					[
						[40, 'Closing balance'],
						[500, '1.00']
					]
				)
			])[0];
		expect(of('Statement period 04/01/2026 to 05/02/2026')).toMatchObject({ from: null, to: null });
		expect(of('Extracto del 01/04/2026 al 12/04/2026')).toMatchObject({ from: '2026-04-01', to: '2026-04-12' });
	});
});

describe('the account', () => {
	test.each([
		['Account 0020 447710', '7710'],
		['Card number **** **** **** 3304', '3304'],
		['Card ending in 3304', '3304'],
		['Kontonummer: 2233 81', '3381'],
		['IBAN DE44 5001 0517 0000 2233 81', '3381'],
		['IBAN GB29 NWBK 6016 1331 9268 19', '6819'],
		['N° de compte : 815-30-44712', '4712'],
		['Account 0020 447710 1 April 2026', '7710'],
		['Account 2 of 3', null],
		['Account fees 12.00', null]
	])('of “%s” ends in %s', (text, account) => {
		expect(
			read([
				page(
					[[40, text]],
					[[40, 'Statement period 1 – 30 April 2026']],
					[
						[40, 'Closing balance'],
						[500, '1.00']
					]
				)
			])[0].account
		).toBe(account);
	});
	test('of two in a file each has its own balances', () => {
		const file = page(
			[[40, 'Statement period 1 – 30 April 2026']],
			[[40, 'Account 0020 447710']],
			[
				[40, 'Opening balance'],
				[500, '1.00']
			],
			[[40, 'Account 0020 447728']],
			[
				[40, 'Opening balance'],
				[500, '2.00']
			]
		);
		expect(read([file])).toMatchObject([
			{ account: '7710', opening: '1.00', from: '2026-04-01' },
			{ account: '7728', opening: '2.00', from: '2026-04-01' }
		]);
	});
	test('that money went to is not another statement', () => {
		const file = page(
			...HEAD,
			[
				[40, 'Opening balance'],
				[500, '1.00']
			],
			[
				[40, 'Transfer to account 9999 123456'],
				[500, '50.00']
			],
			[
				[40, 'Closing balance'],
				[500, '2.00']
			]
		);
		expect(read([file])).toMatchObject([{ account: '7710', opening: '1.00', closing: '2.00' }]);
	});
});

test('what is no statement is not read as one', () => {
	expect(
		read([
			page(
				[[40, 'Invoice 20417, 3 April 2026']],
				[
					[40, 'Total to pay'],
					[500, '412.00']
				]
			)
		])
	).toEqual([]);
	expect(read([page([[40, 'Dear Mara, we met on 3 April 2026 about your account.']])])).toEqual([]);
	expect(read([])).toEqual([]);
});

describe('what a firm teaches', () => {
	const odd = page(
		...HEAD,
		[
			[40, 'Carried over from last time'],
			[500, '77.00']
		],
		[
			[40, 'To your good'],
			[500, '88.00']
		]
	);
	test('the name of a sum is what stands beside it, or above it, outside of payments', () => {
		expect(labelOfSum([odd], '77.00')).toBe('carried over from last time');
		expect(labelOfSum([page([[40, 'In hand']], [[40, '5.00']])], '5.00')).toBe('in hand');
		expect(
			labelOfSum(
				[
					page([
						[40, '3 April 2026'],
						[200, 'Rope Walk'],
						[500, '5.00']
					])
				],
				'5.00'
			)
		).toBeNull();
		expect(labelOfSum([odd], '1.00')).toBeNull();
	});
	test('is read on sheets of this institution alone', () => {
		const learnt = (institution: string): LearntLabel[] => [{ institution, value: 'opening', label: 'carried over from last time' }];
		expect(read([odd])[0].opening).toBeNull();
		expect(read([odd], learnt('Harbour Union'))[0].opening).toBe('77.00');
		expect(read([odd], learnt('Tideline Savings'))[0].opening).toBeNull();
	});
});

test('payments lead from one balance to the other, also on a card’s sheet, where what is owed counts up', () => {
	expect(offBy({ opening: '10.00', closing: '7.50', lines: { sum: '-2.50' } })).toBe('0.00');
	expect(offBy({ opening: '10.00', closing: '12.50', lines: { sum: '-2.50' } })).toBe('0.00');
	expect(offBy({ opening: '10.00', closing: '12.50', lines: { sum: '2.00' } })).toBe('0.50');
	expect(offBy({ opening: null, closing: '12.50', lines: { sum: '2.00' } })).toBeNull();
});

test('a page of nonsense is no statement', () => {
	const noise = Array.from(
		{ length: 400 },
		(_, n) => [[40, `account ${'9 '.repeat(200)} balance on ${'1 '.repeat(100)} ${'.,'.repeat(80)} ${n}`]] as never
	);
	expect(read([page(...noise)])).toEqual([]);
});
