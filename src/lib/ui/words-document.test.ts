import fc from 'fast-check';
import { expect, test } from 'vitest';
import { MERGE_FIELDS } from '$lib/core/letters/merge-fields';
import { documentOfWords, wordsOfDocument } from './words-document';

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
