import { z } from 'zod';
import { cleanText } from '../people/plain-fields';
import { plainLetters } from '../people/plain-letters';

/** Most words that are looked for at once. */
const TERMS_MOST = 8;
/** Letters shown before the first word that was found, and in all. */
const BEFORE = 60;
const SHOWN = 220;

/** What somebody typed to find words that were written: each of its words has to be there. */
export const findWrittenSchema = z
	.string()
	.max(200)
	.transform((typed) => [
		...new Set(
			plainLetters(cleanText(typed))
				.split(/[^\p{L}\p{N}@._-]+/u)
				.filter((term) => term !== '')
		)
	])
	.transform((terms) => terms.slice(0, TERMS_MOST));

export interface Piece {
	text: string;
	found: boolean;
}

/**
 * What is shown of words in which something was found: the place around it, with what was found apart from the rest.
 * @param terms as they were looked for, without case and accents
 */
export function aroundFound(words: string, terms: readonly string[]): Piece[] {
	const letters = [...words.replace(/\s+/g, ' ')];
	// each letter of the compared text knows the one that is shown, for a letter may become two, or none
	const compared: { letter: string; at: number }[] = letters.flatMap((letter, at) => [...plainLetters(letter)].map((one) => ({ letter: one, at })));
	const text = compared.map(({ letter }) => letter).join('');
	// indices of `text` count code units, as those of its letters do where they are one each
	const atUnit = compared.flatMap(({ letter, at }) => Array.from({ length: letter.length }, () => at));
	const found = new Set<number>();
	for (const term of terms)
		for (let from = text.indexOf(term); from >= 0; from = text.indexOf(term, from + term.length))
			for (let unit = from; unit < from + term.length; unit++) found.add(atUnit[unit]);
	const first = found.size > 0 ? Math.min(...found) : 0;
	const begin = Math.max(0, first - BEFORE);
	const end = Math.min(letters.length, begin + SHOWN);
	const pieces: Piece[] = [];
	for (let at = begin; at < end; at++) {
		const is = found.has(at);
		const last = pieces.at(-1);
		if (last && last.found === is) last.text += letters[at];
		else pieces.push({ text: letters[at], found: is });
	}
	if (begin > 0) pieces.unshift({ text: '… ', found: false });
	if (end < letters.length) pieces.push({ text: ' …', found: false });
	return pieces;
}
