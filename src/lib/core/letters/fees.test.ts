import { describe, expect, test } from 'vitest';
import { feeAmount, feesMissing, feesTable, feeTotals, hasFees, hasPayment, withFees, type Fee, type FeeWords } from './fees';
import type { LetterDocument } from './letter-document';

const WORDS: FeeWords = { service: 'Service', fee: 'Fee', together: 'Together', amount: (amount, every) => `${amount} ${every}` };
const fee = (service: string, amount: string | null, every: Fee['every'] = 'month'): Fee => ({ service, amount, every });

test.each([
	['280', 'USD', '280.00'],
	[' 1,280.50 ', 'USD', '1280.50'],
	['1 280,5', 'EUR', '1280.50'],
	['$280', 'USD', '280.00'],
	['0', 'USD', '0.00'],
	['', 'USD', null],
	['30000', 'JPY', '30000'],
	['12.125', 'KWD', '12.125'],
	// more decimals than there is money for, and what is no amount
	['12.345', 'USD', undefined],
	['12.5', 'JPY', undefined],
	['-280', 'USD', undefined],
	['about 280', 'USD', undefined],
	['1234567890123', 'USD', undefined]
])('a fee typed as %j in %s is kept as %j', (typed, currency, kept) => expect(feeAmount(typed, currency)).toBe(kept));

test('what falls due together is added up to the cent; a single fee and hours are not', () => {
	const fees = [
		fee('Books', '0.10'),
		fee('Payroll', '0.20'),
		fee('Year end', '900.00', 'year'),
		fee('Calls', '80.00', 'hour'),
		fee('More calls', '90.00', 'hour')
	];
	expect(feeTotals(fees, 'USD')).toEqual([{ every: 'month', amount: '0.30' }]);
	const { content } = feesTable(fees, 'USD', WORDS);
	const rows = content.map((row) => row.content.map((cell) => cell.content[0].content?.map((node) => ('text' in node ? node.text : '')).join('')));
	expect(rows).toEqual([
		['Service', 'Fee'],
		['Books', '0.10 month'],
		['Payroll', '0.20 month'],
		['Year end', '900.00 year'],
		['Calls', '80.00 hour'],
		['More calls', '90.00 hour'],
		['Together', '0.30 month']
	]);
});

test('a fee that is not agreed yet is named, and so is a record without services', () => {
	expect(feesMissing([], 'USD')).toContain('no services');
	expect(feesMissing([fee('Books', '280.00'), fee('Payroll', null), fee('Year end', null)], 'USD')).toContain('Payroll, Year end');
	expect(feesMissing([fee('Books', '0.00')], 'USD')).toBeNull();
	expect(feesMissing([fee('Books', '12.345')], 'USD')).toContain('Books is no amount in USD');
});

describe('the places of a letter that are filled in as a whole', () => {
	const letter: LetterDocument = {
		type: 'doc',
		content: [
			{ type: 'paragraph' },
			{ type: 'part', attrs: { onlyIf: { kind: 'service', name: 'Payroll', is: 'has' } }, content: [{ type: 'fees' }, { type: 'payment' }] }
		]
	};
	test('are found within parts too', () => {
		expect([hasFees(letter), hasPayment(letter)]).toEqual([true, true]);
		expect([hasFees({ type: 'doc', content: [{ type: 'paragraph' }] }), hasPayment({ type: 'doc', content: [{ type: 'fees' }] })]).toEqual([
			false,
			false
		]);
	});
	test('take the table in their stead', () => {
		const table = feesTable([fee('Books', '280.00')], 'USD', WORDS);
		expect(hasFees(withFees(letter, table))).toBe(false);
		expect(withFees(letter, table).content[1]).toMatchObject({ content: [table, { type: 'payment' }] });
	});
});
