import fc from 'fast-check';
import { expect, test } from 'vitest';
import { holdOrder } from './hold-order';

const rows = (keys: string) => [...keys].map((key) => ({ key }));
const held = (now: string, before: string) =>
	holdOrder(rows(now), [...before])
		.map(({ key }) => key)
		.join('');

test.each([
	['the first time, the list as it was read', 'abc', '', 'abc'],
	['one is dealt with, and its client’s next would stand at the end', 'xyab', 'cabxy', 'abxy'],
	['what is new follows the row before it', 'xyanb', 'abxy', 'anbxy'],
	['several new ones keep their order', 'xmnya', 'axy', 'axmny'],
	['what is new at the beginning begins', 'nabc', 'abc', 'nabc'],
	['nothing is left', '', 'abc', '']
])('%s', (_, now, before, expected) => expect(held(now, before)).toBe(expected));

test('nothing is lost or doubled, and what stood there stands in its order', () => {
	const keys = fc.uniqueArray(fc.constantFrom(...'abcdefghij'));
	fc.assert(
		fc.property(keys, keys, (now, before) => {
			const result = held(now.join(''), before.join(''));
			expect([...result].sort()).toEqual([...now].sort());
			expect([...result].filter((key) => before.includes(key))).toEqual(before.filter((key) => now.includes(key)));
		})
	);
});
