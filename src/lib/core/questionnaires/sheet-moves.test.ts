import fc from 'fast-check';
import { expect, test } from 'vitest';
import { questionSchema, type Question } from '../items/questions';
import { DEPTH_MAX, depthOf, indent, moveQuestion, outdent, removeQuestion } from './sheet-moves';

const sheet = (...keys: string[]): Question[] =>
	keys.map((key) => questionSchema.parse({ key, title: key, answer: { is: 'yes_no' }, required: true }));
const shape = (questions: readonly Question[]) =>
	questions.map((question) => `${question.part ? `[${question.part}]` : ''}${'>'.repeat(depthOf(questions, question))}${question.key}`).join(' ');

test('Tab hangs a question under the nearest one that stands as deep, two deep at most; Shift+Tab takes it out again', () => {
	const questions = sheet('a', 'b', 'c', 'd');
	const [a, b, c, d] = questions;
	expect(indent(questions, a)).toBeNull();
	expect(indent(questions, b)).toBe(a);
	expect(b.when).toEqual({ is: 'equals', value: 'yes' });
	expect(indent(questions, c)).toBe(a);
	expect(indent(questions, c)).toBe(b);
	expect(indent(questions, c)).toBeNull();
	expect(indent(questions, d)).toBe(a);
	expect(shape(questions)).toBe('a >b >>c >d');
	expect(outdent(questions, c)).toBe(true);
	expect(shape(questions)).toBe('a >b >c >d');
	expect(outdent(questions, a)).toBe(false);
});

test('what hangs on a question does not get too deep when it is hung itself', () => {
	const questions = sheet('a', 'b', 'c');
	const [, b, c] = questions;
	indent(questions, c);
	b.under = undefined;
	c.under = 'b';
	indent(questions, c);
	expect(indent(questions, b)).not.toBeNull();
	expect(shape(questions)).toBe('a >b >>c');
	const deeper = sheet('x', 'a', 'b', 'c');
	[deeper[2].under, deeper[3].under] = ['a', 'b'];
	expect(indent(deeper, deeper[1])).toBeNull();
});

test('a question that goes leaves its follow-ups where it hung, and its heading to the next', () => {
	const questions = sheet('a', 'b', 'c', 'd');
	questions[0].part = 'One';
	questions[1].under = 'a';
	questions[2].under = 'b';
	removeQuestion(questions, questions[1]);
	expect(shape(questions)).toBe('[One]a >c d');
	removeQuestion(questions, questions[0]);
	expect(shape(questions)).toBe('[One]c d');
});

test('moved, headings stay, and a follow-up comes out rather than before what it hangs on', () => {
	const questions = sheet('a', 'b', 'c');
	[questions[0].part, questions[2].part] = ['One', 'Two'];
	questions[1].under = 'a';
	expect(moveQuestion(questions, questions[1], -1)).toBe(0);
	expect(shape(questions)).toBe('[One]b a [Two]c');
	expect(moveQuestion(questions, questions[0], -1)).toBeNull();
	expect(moveQuestion(questions, questions[2], 1)).toBeNull();
});

test('whatever is done, nothing hangs on a later question, in a circle or too deep, and nothing is lost', () => {
	const act = fc.record({ what: fc.constantFrom('indent', 'outdent', 'up', 'down', 'remove'), at: fc.nat(7) });
	fc.assert(
		fc.property(fc.array(act, { maxLength: 40 }), (acts) => {
			const questions = sheet('a', 'b', 'c', 'd', 'e', 'f', 'g', 'h');
			questions[0].part = 'One';
			let left = questions.length;
			for (const { what, at } of acts) {
				const question = questions[at % questions.length];
				if (what === 'indent') indent(questions, question);
				else if (what === 'outdent') outdent(questions, question);
				else if (what === 'up' || what === 'down') moveQuestion(questions, question, what === 'up' ? -1 : 1);
				else if (questions.length > 1) {
					removeQuestion(questions, question);
					left--;
				}
				expect(questions).toHaveLength(left);
				expect(questions[0].part).toBe('One');
				for (const [i, { under }] of questions.entries()) {
					if (under !== undefined) expect(questions.slice(0, i).map(({ key }) => key)).toContain(under);
					expect(depthOf(questions, questions[i])).toBeLessThanOrEqual(DEPTH_MAX);
				}
			}
		})
	);
});
