import { expect, test } from 'vitest';
import { bareHeading } from './bare-heading';

test('headings that say the same are the same', () => {
	expect(bareHeading('  Numéro_de-compte: ')).toBe('numero de compte');
	expect(bareHeading('E-Mail (work)')).toBe('e mail work');
	expect(bareHeading('№ 2')).toBe('no 2');
	expect(bareHeading('—')).toBe('');
});
