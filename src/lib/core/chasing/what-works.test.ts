import { describe, expect, test } from 'vitest';
import { FEW, shareInWords, wilson, worksInWords, type Works } from './what-works';

const works = (name: string, sent: number, answered: number, before = 0): Works & { name: string } => ({
	name,
	sent,
	answered,
	before,
	came: answered,
	handedIn: answered,
	stopped: 0
});

describe('which reminders work', () => {
	// figures of Newcombe (1998), Statistics in Medicine 17, table I, method 3
	test.each([
		[81, 263, 0.2553, 0.3662],
		[15, 148, 0.0624, 0.1605],
		[0, 20, 0, 0.1611],
		[1, 29, 0.0061, 0.1718]
	])('%i of %i lies between %f and %f', (hits, all, from, to) => {
		const interval = wilson(hits, all);
		expect(interval.from).toBeCloseTo(from, 4);
		expect(interval.to).toBeCloseTo(to, 4);
	});
	test('nothing known is anything', () => {
		expect(wilson(0, 0)).toEqual({ from: 0, to: 1 });
		expect(shareInWords(0, 0)).toBe('–');
		expect(shareInWords(2, 3)).toBe('67 % (21 to 94)');
	});
	test('few are said to be few, and none to be none', () => {
		expect(worksInWords([])).toBe('No reminder has gone yet.');
		expect(worksInWords([works('a', 3, 3), works('b', FEW - 1, 19)])).toBe('22 reminders have gone, too few of any kind to say which works best.');
	});
	test('the best of those of which there are enough, against the days without one', () => {
		expect(worksInWords([works('a', 3, 3), works('after 3 days', 96, 39, 8), works('b', 100, 20)])).toBe(
			'Answered most: after 3 days, 41 % (31 to 51) within two days, of 96. That is clearly more than the 8 % (4 to 16) who answered in the two days before it.'
		);
		expect(worksInWords([works('a', 20, 6, 4)])).toContain('though perhaps by chance');
		expect(worksInWords([works('a', 20, 4, 4)])).toContain('no more than');
	});
});
