import { expect, test } from 'vitest';
import { contrast } from './brand-color';

// figures of the formula in WCAG 2.2, worked out by hand
test.each([
	['#000000', '#ffffff', 21],
	['#ffffff', '#ffffff', 1],
	['#777777', '#ffffff', 4.48],
	['#ff0000', '#ffffff', 4.0],
	['#00ff00', '#000000', 15.3],
	['#0000ff', '#ffffff', 8.59]
])('%s on %s: %d to 1, whichever comes first', (a, b, ratio) => {
	expect(contrast(a, b)).toBeCloseTo(ratio, 1);
	expect(contrast(b, a)).toBeCloseTo(ratio, 1);
});
