import { expect, test } from 'vitest';
import { isOneSpelling } from './pki';

const integer = (hex: string) => `02${(hex.length / 2).toString(16).padStart(2, '0')}${hex}`;
function spelled(r: string, s: string): Buffer {
	const both = integer(r) + integer(s);
	return Buffer.from(`30${(both.length / 2).toString(16).padStart(2, '0')}${both}`, 'hex');
}
const R = `7a${'11'.repeat(30)}01`;
const HIGH = `e8${'22'.repeat(31)}`;

test('a signature is spelled in one way only', () => {
	expect(isOneSpelling(spelled(R, `00${HIGH}`))).toBe(true);
	expect(isOneSpelling(spelled(R, '22'.repeat(31)))).toBe(true);
	expect(isOneSpelling(spelled(`00${'f1'.repeat(48)}`, '22'.repeat(48)))).toBe(true);
	// not positive, not as short as it can be, longer than the curve, which only looks the same where the number before ends in 01
	for (const s of [HIGH, `00${R}`, `01${HIGH}`, `01${'22'.repeat(48)}`, '']) expect(isOneSpelling(spelled(R, s)), s).toBe(false);
	expect(isOneSpelling(Buffer.concat([spelled(R, R), Buffer.from([0])]))).toBe(false);
});
