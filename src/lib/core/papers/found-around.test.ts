import fc from 'fast-check';
import { expect, test } from 'vitest';
import { foundAround } from './found-around';

const LONG = `${'word '.repeat(40)}Relevé de compte 4471${' word'.repeat(40)}`;

test.each([
	['the whole of a short text', 'Notice of assessment', ['assess'], 'Notice of assessment'],
	['case and marks left aside', 'Relevé  de\ncompte', ['RELEVE'], 'Relevé de compte'],
	['marks that are typed too', 'Releve de compte', ['relevé'], 'Releve de compte'],
	['nothing', 'Notice', ['invoice'], null],
	['nothing to look for', 'Notice', [], null],
	['the first of several', 'one two three', ['three', 'two'], 'one two three']
])('%s', (_, text, words, found) => expect(foundAround(text, words)).toBe(found));

test('of a long text only what stands around it, without words cut in two', () => {
	const found = foundAround(LONG, ['compte'])!;
	expect(found).toMatch(/^… (word )+Relevé de compte 4471( word)+ …$/);
	expect(found.length).toBeLessThan(150);
});

test('what is found stands in what is shown', () => {
	fc.assert(
		fc.property(fc.string(), fc.stringMatching(/^[a-z]{1,12}$/), fc.string(), (before, word, after) => {
			const found = foundAround(`${before} ${word} ${after}`, [word]);
			expect(found?.toLowerCase()).toContain(word);
		})
	);
});
