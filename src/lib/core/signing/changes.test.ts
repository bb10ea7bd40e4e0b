import fc from 'fast-check';
import { expect, test } from 'vitest';
import { READY_MADE_LETTER } from '../letters/ready-made-letter';
import { passagesOf } from '../letters/letter-document';
import { passagesOfText, textChanges } from './changes';

const passages = fc.array(fc.constantFrom('We begin in June.', 'The fee is $280.', 'Either may end this.', 'With kind regards,'), { maxLength: 12 });
const said = (of: { is: string; text: string }[][], without: 'added' | 'removed') =>
	of.flatMap((parts) =>
		parts.every(({ is }) => is === without)
			? []
			: [
					parts
						.filter(({ is }) => is !== without)
						.map(({ text }) => text)
						.join('')
				]
	);

test('a word that was put differently is found within its passage; what is the same is left out', () => {
	const before = passagesOf(READY_MADE_LETTER.content);
	const after = before.map((text) => text.replace('one month’s notice', 'three months’ notice'));
	const { passages: found } = textChanges(before, after);
	expect(found).toHaveLength(1);
	expect(
		found[0]
			.filter(({ is }) => is !== 'added')
			.map(({ text }) => text)
			.join('')
	).toContain('one month’s notice');
	expect(
		found[0]
			.filter(({ is }) => is !== 'removed')
			.map(({ text }) => text)
			.join('')
	).toContain('three months’ notice');
	expect(found[0].find(({ is }) => is === 'removed')).toEqual({ is: 'removed', text: 'one' });
	expect(textChanges(before, before)).toEqual({ passages: [], more: 0 });
});

test('what is named is what was taken out of the one and put into the other, whatever they are', () => {
	fc.assert(
		fc.property(passages, passages, (before, after) => {
			const { passages: found } = textChanges(before, after);
			const rest = (all: string[], some: string[]) => {
				const left = [...all];
				for (const one of some) left.splice(left.indexOf(one), 1);
				return left.sort();
			};
			const [gone, come] = [said(found, 'added'), said(found, 'removed')];
			for (const one of gone) expect(before).toContain(one);
			for (const one of come) expect(after).toContain(one);
			expect(rest(before, gone)).toEqual(rest(after, come));
		})
	);
});

test('lines that break anew differ by nothing, and no more are named than anybody reads', () => {
	expect(passagesOfText('We begin\nin June. The fee\n is $280.')).toEqual(passagesOfText('We begin in\nJune.\nThe fee is $280.'));
	const many = Array.from({ length: 90 }, (_, n) => `Passage ${n}.`);
	expect(textChanges(many, [])).toMatchObject({ more: 30 });
});

test('texts that have nothing in common differ as a whole, however long they are, and the same way on every machine', () => {
	const [before, after] = ['old', 'new'].map((word) => Array.from({ length: 3000 }, (_, n) => `${word} ${n}.`));
	expect(textChanges(before, after)).toMatchObject({ more: 2940 });
	const [long] = textChanges([before.join(' ')], [after.join(' ')]).passages;
	expect(long.map(({ is }) => is)).toEqual(['removed', 'added']);
});
