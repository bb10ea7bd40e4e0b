import { describe, expect, test } from 'vitest';
import { answerReader, typedNumber } from '$lib/words/answers';
import { answerInWords, plainNumber } from './answers';
import type { AnswerSpec } from './questions';

test.each([
	['1234', '1234'],
	['1 234,50', '1234.50'],
	['1,234.50', '1234.50'],
	['1.234,5', '1234.5'],
	['1,234', '1234'],
	['1.234', '1.234'],
	['12,34', '12.34'],
	['1.234.567', '1234567'],
	['1,234,567', '1234567'],
	['$ 12', '12'],
	['−3', '-3'],
	['1,2,3', null],
	['1.2,3.4', null],
	['', null],
	['twelve', null],
	['1e5', null]
])('%j is the number %j', (typed, plain) => expect(plainNumber(typed)).toBe(plain));

describe('an answer as its reader writes it', () => {
	const read = (locale: string, is: AnswerSpec, answer: Parameters<typeof answerInWords>[1]) =>
		answerInWords(is, answer, answerReader(locale)).replace(/\s/g, ' ');
	test.each([
		[{ is: 'number', unit: 'km' }, 18640.25, '18,640.25 km', '18 640,25 km'],
		// six decimals are taken, so six are shown
		[{ is: 'number', unit: '' }, 0.123456, '0.123456', '0,123456'],
		[{ is: 'money', currency: 'CAD' }, 123_450, '1,234.50 CAD', '1 234,50 CAD'],
		[{ is: 'date' }, '2026-05-04', '4 May 2026', '4 mai 2026'],
		[{ is: 'yes_no' }, true, 'Yes', 'Oui'],
		[{ is: 'several_of', choices: ['A', 'B'] }, ['A', 'B'], 'A, B', 'A, B']
	] as [AnswerSpec, string | number | boolean | string[], string, string][])('%j %j', (is, answer, english, french) => {
		expect(read('en', is, answer)).toBe(english);
		expect(read('fr', is, answer)).toBe(french);
	});

	test('a number in a field is read back as the same number', () => {
		expect(typedNumber('fr', 1234.5, { least: 2, most: 2 })).toBe('1234,50');
		for (const locale of ['en', 'fr'])
			for (const value of [0, -3, 12, 1.234, 1234.5, 999_999.999, 0.000001, -1.5])
				expect(Number(plainNumber(typedNumber(locale, value, { least: 0, most: 6 })))).toBe(value);
	});
});
