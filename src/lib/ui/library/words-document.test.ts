import fc from 'fast-check';
import { expect, test } from 'vitest';
import { MERGE_FIELDS } from '$lib/core/letters/merge-fields';
import { documentOfWords, documentPosition, wordsOfDocument } from './words-document';

test('known fields become chips, everything else stays text', () => {
	expect(documentOfWords('Dear {contact_first_name},\n\n{nonsense} {')).toEqual({
		type: 'doc',
		content: [
			{
				type: 'paragraph',
				content: [
					{ type: 'text', text: 'Dear ' },
					{ type: 'mergeField', attrs: { name: 'contact_first_name' } },
					{ type: 'text', text: ',' }
				]
			},
			{ type: 'paragraph' },
			{
				type: 'paragraph',
				content: [
					{ type: 'text', text: '{nonsense}' },
					{ type: 'text', text: ' {' }
				]
			}
		]
	});
});

test('there and back, whatever is written', () => {
	const piece = fc.oneof(fc.string(), fc.constantFrom('\n', '\n\n', '{', '}', '{}', ...Object.keys(MERGE_FIELDS).map((name) => `{${name}}`)));
	fc.assert(
		fc.property(fc.array(piece, { maxLength: 12 }), (pieces) => {
			const words = pieces.join('');
			expect(wordsOfDocument(documentOfWords(words))).toBe(words);
		})
	);
});

test('a place in the words is found again in the document', () => {
	const words = 'Dear {contact_first_name},\n\n{nonsense}';
	const places = Array.from({ length: words.length + 1 }, (_, offset) => documentPosition(words, offset));
	// “Dear ” letter by letter, the chip as one, the comma, an empty line, words in braces that are no field
	expect(places.slice(0, 7)).toEqual([1, 2, 3, 4, 5, 6, 7]);
	expect(new Set(places.slice(6, 26))).toEqual(new Set([7]));
	expect(places.slice(26)).toEqual([8, 10, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22]);
});
