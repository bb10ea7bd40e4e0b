import { expect, test } from 'vitest';
import { answersOf, answerSpecSchema, questionSchema, type AnswerSpec } from './questions';

const question = (key: string, answer: AnswerSpec, required = true) => questionSchema.parse({ key, title: key, answer, required });

test('choices that read the same are refused', () => {
	const choices = (...all: string[]) => answerSpecSchema.safeParse({ is: 'one_of', choices: all }).success;
	expect(choices('Cash', 'Accrual')).toBe(true);
	expect(choices('Cash', 'cash')).toBe(false);
	expect(choices('Cash')).toBe(false);
});

test('what is missing is said by its kind, and only of what is needed, once everything is handed in', () => {
	const questions = [
		question('words', { is: 'words' }),
		question('number', { is: 'number', unit: '' }),
		question('money', { is: 'money', currency: 'CAD' }),
		question('date', { is: 'date' }),
		question('one', { is: 'one_of', choices: ['a', 'b'] }),
		question('many', { is: 'several_of', choices: ['a', 'b'] }),
		question('not needed', { is: 'words' }, false)
	];
	expect(answersOf(questions, { many: [] }, true, { country: 'CA', today: '2026-05-04' })).toEqual({
		answers: {},
		problems: {
			words: { key: 'wrong.answer.empty' },
			number: { key: 'wrong.answer.number' },
			money: { key: 'wrong.answer.number' },
			date: { key: 'wrong.answer.date' },
			one: { key: 'wrong.answer.choose' },
			many: { key: 'wrong.answer.choose' }
		}
	});
	expect(answersOf(questions, {}, false, { country: 'CA', today: '2026-05-04' })).toEqual({ answers: {}, problems: {} });
	expect(answersOf(questions, { words: ' Kites ', many: ['b'] }, false, { country: 'CA', today: '2026-05-04' })).toEqual({
		answers: { words: 'Kites', many: ['b'] },
		problems: {}
	});
});
