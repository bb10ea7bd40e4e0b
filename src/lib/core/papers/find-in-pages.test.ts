import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { findInPages, FOUND_MOST, turnedBox, type LyingText } from './find-in-pages';

/** A line of ten signs to a tenth of the page each, at a height. */
const line = (text: string, y = 0.5, x = 0): LyingText => ({ text, x, y, along: [text.length / 20, 0], up: [0, -0.05] });
const found = (pages: LyingText[][], typed: string) =>
	findInPages(pages, typed).map(({ page, boxes }) => [page, ...boxes.map(({ left, width }) => `${left.toFixed(2)}+${width.toFixed(2)}`)].join(' '));

describe('words on pages', () => {
	test('are found by page, without case and marks, where they stand in their piece', () => {
		const pages = [[line('Reçu de la Marée')], [line('nothing')], [line('maree, MARÉE')]];
		expect(found(pages, 'Marée')).toEqual(['1 0.55+0.25', '3 0.00+0.25', '3 0.35+0.25']);
		expect(found(pages, '')).toEqual([]);
		expect(found(pages, '   ')).toEqual([]);
		expect(found(pages, '.*')).toEqual([]);
	});
	test('over the end of a piece or a line, whatever spaces are between', () => {
		const pages = [[line('Harbour '), line('  Hardware\u00a0Ltd', 0.6)]];
		expect(found(pages, 'harbour  hardware ltd')).toEqual(['1 0.00+0.40 0.10+0.60']);
		expect(found([[line('Total'), line('1,284.50', 0.5, 0.6)]], 'total 1,284')).toEqual(['1 0.00+0.25 0.60+0.25']);
	});
	test('boxes reach from the line upwards, also of text that is turned', () => {
		const [flat] = findInPages([[line('abc', 0.5)]], 'abc')[0].boxes;
		expect([flat.top, flat.height].map((n) => n.toFixed(3))).toEqual(['0.450', '0.050']);
		const [upright] = findInPages([[{ text: 'abcd', x: 0.5, y: 0.9, along: [0, -0.4], up: [-0.05, 0] }]], 'bc')[0].boxes;
		expect(Object.values(upright).map((n) => n.toFixed(2))).toEqual(['0.45', '0.60', '0.05', '0.20']);
	});
	test('are no more than somebody steps through', () => {
		expect(findInPages([[line('a '.repeat(2000))]], 'a')).toHaveLength(FOUND_MOST);
	});
	test('boxes turn with the page, and four turns lead back', () => {
		const share = fc.double({ min: 0, max: 0.5, noNaN: true });
		fc.assert(
			fc.property(fc.record({ left: share, top: share, width: share, height: share }), (box) => {
				let turned = box;
				for (let n = 0; n < 4; n++) turned = turnedBox(turned, 90);
				for (const key of ['left', 'top', 'width', 'height'] as const) expect(turned[key]).toBeCloseTo(box[key], 9);
				const [twice, half] = [turnedBox(turnedBox(box, 90), 90), turnedBox(box, 180)];
				const [back, left] = [turnedBox(box, 270), turnedBox(box, -90)];
				for (const key of ['left', 'top', 'width', 'height'] as const) {
					expect(twice[key]).toBeCloseTo(half[key], 9);
					expect(back[key]).toBeCloseTo(left[key], 9);
				}
			})
		);
		// what is in the upper left goes to the upper right
		expect(turnedBox({ left: 0, top: 0, width: 0.2, height: 0.1 }, 90)).toEqual({ left: 0.9, top: 0, width: 0.1, height: 0.2 });
	});
});
