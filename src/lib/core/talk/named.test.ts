import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { namedIn, namingAt, piecesOf } from './named';

const imre = { id: 'i', name: 'Imre Vask' };
const ana = { id: 'a', name: 'Ana Reyes' };
const anna = { id: 'n', name: 'Anna Reyes-Lund' };
const other = { id: 'o', name: 'Ana Costa' };
const all = [imre, ana, anna, other];
const ids = (words: string) => namedIn(words, all).told.map(({ id }) => id);

describe('whom a note names', () => {
	test.each([
		['@Imre, could you call them?', ['i']],
		['(@imre vask) and @Anna’s list, @IMRE', ['i', 'n']],
		['@Ana Costa knows', ['o']],
		['@Ana\u00a0Reyes knows', ['a']],
		['@Anna Reyes-Lund', ['n']],
		['write to mara@imre.example, or a@Imre', []],
		['@ Imre', []],
		['Imre', []],
		['@Imrek', []]
	])('%s', (words, told) => expect(ids(words)).toEqual(told));

	test('a first name that two have tells nobody, and says so; a name that nobody has does too', () => {
		expect(namedIn('@Ana and @Bram, @bram', all)).toEqual({ told: [], unclear: ['Ana'], unknown: ['Bram', 'bram'] });
	});

	test('a decomposed letter is the same name', () => {
		expect(namedIn('@Ána'.normalize('NFD'), [{ id: 'x', name: 'Ána Ruiz' }]).told).toHaveLength(1);
	});

	test('what is suggested is taken, and is clear then', () => {
		expect(namingAt('ask @An', 7, all)?.choices.map(({ id }) => id)).toEqual(['a', 'n', 'o']);
		expect(namingAt('ask @Ana R', 10, all)).toEqual({ from: 4, choices: [ana] });
		expect(namingAt('ask @', 5, all)?.choices).toHaveLength(4);
		expect(namingAt('ask @Imre Vask', 14, all)).toBeNull();
		expect(namingAt('a@An', 4, all)).toBeNull();
		expect(namingAt('ask @An', 3, all)).toBeNull();
		fc.assert(
			fc.property(fc.constantFrom(...all), fc.string(), (who, before) => {
				fc.pre(!before.includes('@'));
				expect(ids(`${before} @${who.name} please`)).toEqual([who.id]);
			})
		);
	});

	test('names are set apart, and not a letter is lost', () => {
		expect(piecesOf('Please, @Imre: ask @Ana Reyes.', ['Imre Vask', 'Ana Reyes'])).toEqual([
			{ text: 'Please, ', name: false },
			{ text: 'Imre', name: true },
			{ text: ': ask ', name: false },
			{ text: 'Ana Reyes', name: true },
			{ text: '.', name: false }
		]);
		fc.assert(
			fc.property(fc.string(), (words) => {
				const text = piecesOf(words, ['Imre Vask'])
					.map((piece) => (piece.name ? `@${piece.text}` : piece.text))
					.join('');
				expect(text).toBe(words);
			})
		);
	});
});
