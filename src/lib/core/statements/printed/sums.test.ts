import fc from 'fast-check';
import { expect, it } from 'vitest';
import { hundredths, inUnits, markOf, settledSum, sumsIn } from './sums';

const read = (text: string) => {
	const sums = sumsIn(text);
	const mark = markOf(sums);
	return sums.map((sum) => settledSum(sum, mark));
};

it.each([
	['Opening balance 12,204.11', ['12204.11']],
	['Alter Saldo 12.204,11', ['12204.11']],
	['Solde 12 204,11 $', ['12204.11']],
	["Saldo CHF 12'204.11", ['12204.11']],
	['1,204.00 DR and 3.50 CR', ['-1204.00', '3.50']],
	['13.931,46 S', ['-13931.46']],
	['13.931,46 H', ['13931.46']],
	['412.00-', ['-412.00']],
	['(412.00)', ['-412.00']],
	['−412.00', ['-412.00']],
	['- 412.00', ['-412.00']],
	['$1,000.00', ['1000.00']],
	['12,34,567.00', ['1234567.00']],
	['0.00', ['0.00']],
	['01.04.2026 30.04.2026', []],
	['3.14159, version 1.2.34, 10:45, 12.5', []],
	['7 May 2026 Rope Walk 120.50 8,940.55', ['120.50', '8940.55']]
])('reads the sums of “%s”', (text, sums) => expect(read(text)).toEqual(sums));

it('reads back sums in the forms of six locales, with their sign', () => {
	fc.assert(
		fc.property(
			fc.integer({ min: 1_000_00, max: 999_999_999_99 }),
			fc.boolean(),
			fc.constantFrom('en-CA', 'en-GB', 'fr-CA', 'de-DE', 'es-ES', 'de-CH'),
			(cents, negative, locale) => {
				const value = (negative ? -1 : 1) * (cents / 100);
				const text = new Intl.NumberFormat(locale, { minimumFractionDigits: 2, maximumFractionDigits: 2, useGrouping: 'always' } as never).format(
					value
				);
				expect(read(`Saldo ${text}`), text).toEqual([inUnits(BigInt(negative ? -cents : cents))]);
			}
		)
	);
});

it('counts in hundredths and back', () => {
	fc.assert(
		fc.property(fc.bigInt({ min: -(10n ** 15n), max: 10n ** 15n }), (value) => {
			expect(hundredths(inUnits(value))).toBe(value);
		})
	);
});
