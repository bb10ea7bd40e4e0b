import fc from 'fast-check';
import { expect, it } from 'vitest';
import { bareText } from './bare-text';

it('keeps every sign of a text in its place', () => {
	fc.assert(
		fc.property(fc.string({ unit: 'grapheme' }), (text) => {
			expect(bareText(text)).toHaveLength(text.length);
		})
	);
});
