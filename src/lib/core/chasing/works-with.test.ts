import { describe, expect, test } from 'vitest';
import { worksWithInWords, type Tried } from './works-with';

const tries = (n: number, answered: number, more: Partial<Tried> = {}): Tried[] =>
	Array.from({ length: n }, (_, i) => ({ weekday: 1, hour: 9, way: 'email', came: i < answered, answered: i < answered, ...more }));

describe('what works with one person', () => {
	test('what stands out is said with both figures, and that it may be chance where they are few', () => {
		expect(worksWithInWords('Mara', [...tries(5, 4, { way: 'text', weekday: 6 }), ...tries(9, 1)])).toBe(
			'Mara answers best by text message: 4 of 5 within two days, against 1 of 9 otherwise. These are few, and it may be chance.'
		);
		expect(worksWithInWords('Mara', [...tries(12, 11, { weekday: 6 }), ...tries(20, 1)])).toBe(
			'Mara answers best on Saturdays: 11 of 12 within two days, against 1 of 20 otherwise.'
		);
		expect(worksWithInWords('Mara', [...tries(4, 4, { hour: 15 }), ...tries(4, 0)])).toContain('best after noon: 4 of 4');
	});
	test('a way on a day, where neither alone says as much', () => {
		const tried = [
			...tries(6, 6, { way: 'text', weekday: 6 }),
			...tries(6, 0, { way: 'text', weekday: 2 }),
			...tries(6, 0, { way: 'email', weekday: 6 })
		];
		expect(worksWithInWords('Mara', tried)).toContain('best by text message on Saturdays: 6 of 6');
	});
	test('too few of anything, or all alike: nothing is proposed', () => {
		expect(worksWithInWords('Mara', tries(5, 2))).toBe('2 of 5 reminders of the last year were answered within two days; no day or way stands out.');
		expect(worksWithInWords('Mara', [...tries(2, 2, { way: 'text' }), ...tries(5, 0)])).toContain('no day or way stands out');
		expect(worksWithInWords('Mara', tries(3, 3))).toContain('All 3 reminders');
	});
	test('one of several is said in the singular', () => {
		expect(worksWithInWords('Mara', tries(5, 1))).toContain('1 of 5 reminders of the last year was answered');
	});
	test('nothing was answered, or nothing was sent', () => {
		expect(worksWithInWords('Mara', tries(4, 0))).toBe(
			'None of the 4 reminders of the last year was answered within two days. Another way may help: a call.'
		);
		expect(worksWithInWords('Mara', tries(4, 0, { came: true }))).toContain('though Mara came to the page after each of them');
		expect(worksWithInWords('Mara', tries(1, 0))).toContain('The one reminder of the last year was not answered');
		expect(worksWithInWords('Mara', [])).toBe('No reminder of the last year tells yet what works with Mara.');
	});
});
