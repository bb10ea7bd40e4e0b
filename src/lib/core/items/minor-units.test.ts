import { codes } from 'currency-codes';
import { expect, test } from 'vitest';
import { decimalsOf } from '../firms/currency';
import { answerInWords } from './answers';
import { answerOfKnown, comparable, typedAnswer } from './comparable';
import { fromMinor, minorDecimals, toMinor } from './minor-units';
import { answerOf, factOf } from './questions';

// funds and metals of the list are no money that anybody answers with
const MONEY = codes().filter((code) => !/^X[A-EP-Z]/.test(code) || /^X(AF|CD|OF|PF)$/.test(code));

test('the decimals of every currency are those of ISO 4217', () => {
	expect(MONEY.length).toBeGreaterThan(150);
	expect(MONEY.filter((code) => minorDecimals(code) !== decimalsOf(code))).toEqual([]);
});

const reader = {
	number: (value: number, { least, most }: { least: number; most: number }) =>
		value.toLocaleString('en', { minimumFractionDigits: least, maximumFractionDigits: most })
} as Parameters<typeof answerInWords>[2];

test.each([
	['JPY', '12,500', 12500, '12,500 JPY', '12500'],
	['CAD', '12.5', 1250, '12.50 CAD', '12.50'],
	['KWD', '1.234', 1234, '1.234 KWD', '1.234'],
	['KWD', '0.005', 5, '0.005 KWD', '0.005'],
	['CAD', '-0.01', -1, '-0.01 CAD', '-0.01']
])('an amount in %s typed as %s', (currency, typed, minor, words, fact) => {
	const spec = { is: 'money' as const, currency };
	expect(answerOf(spec, { country: 'CA' }).parse(typed)).toBe(minor);
	expect(typedAnswer(spec, typed)).toBe(minor);
	expect(answerInWords(spec, minor, reader)).toBe(words);
	expect(Number(comparable(minor, spec))).toBe(Number(fact));
	const definition = { name: 'x', is: { kind: 'money', currency } } as Parameters<typeof factOf>[0];
	expect(factOf(definition, minor, { country: 'CA' })).toBe(fact);
	expect(answerOfKnown(spec, definition, fact)).toBe(minor);
	expect(toMinor(fromMinor(minor, currency), currency)).toBe(minor);
});

test.each([
	['JPY', '12.5'],
	['CAD', '0.001'],
	['KWD', '0.0001']
])('more decimals than %s has are refused: %s', (currency, typed) => {
	expect(answerOf({ is: 'money', currency }, { country: 'CA' }).safeParse(typed).success).toBe(false);
});
