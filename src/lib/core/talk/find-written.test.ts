import { expect, test } from 'vitest';
import { aroundFound, findWrittenSchema } from './find-written';

const shown = (words: string, typed: string) =>
	aroundFound(words, findWrittenSchema.parse(typed))
		.map(({ text, found }) => (found ? `[${text}]` : text))
		.join('');

test.each([
	['The lease is with my brother.', 'lease', 'The [lease] is with my brother.'],
	['Le relevé d’avril, ÉTÉ compris', 'releve ete', 'Le [relevé] d’avril, [ÉTÉ] compris'],
	['one two\n\nthree', 'three ONE', '[one] two [three]'],
	['🏠 moved house', 'moved', '🏠 [moved] house'],
	['100% of it', '%', '100% of it'],
	['aaaa', 'aa', '[aaaa]'],
	['Nothing here', 'lease', 'Nothing here'],
	['', 'lease', '']
])('%s, looked through for “%s”', (words, typed, pieces) => expect(shown(words, typed)).toBe(pieces));

test('of long words the place is shown where something was found', () => {
	const words = `${'before '.repeat(100)}the lease${' after'.repeat(100)}`;
	const found = shown(words, 'lease');
	expect(found).toContain('the [lease] after');
	expect(found.startsWith('… ') && found.endsWith(' …')).toBe(true);
	expect(found.length).toBeLessThan(240);
});
test('what is typed is cut to words, each once', () => {
	expect(findWrittenSchema.parse('  Lease, LEASE; “Été”  ')).toEqual(['lease', 'ete']);
	expect(findWrittenSchema.parse('1 2 3 4 5 6 7 8 9 10').length).toBe(8);
	expect(findWrittenSchema.safeParse('x'.repeat(201)).success).toBe(false);
});
