import { z } from 'zod';
import { monthsIn, plain } from './likely-places';

/** Words of a rule, and letters of one, at most. */
const [WORDS_MOST, WORD_MAX] = [6, 40];

/** What regularly comes from somebody, by what it is called. */
export interface KeepingRule {
	/** who sends it */
	contactId: string;
	/** all of them stand in its name, in what is said of it, or in it */
	words: readonly string[];
}
/** A file that came by itself. */
export interface CameFile {
	name: string;
	/** what whoever sent it says that it is */
	note: string;
	/** the words in it, as far as they were read */
	words: string | null;
	/** who sent it; null for nobody who is known */
	contactId: string | null;
}

const lettersOf = (text: string): string[] => plain(text).split(/[^\p{L}]+/u);

/** Words that cameras, scanners and people give to any file. */
const SAYS_NOTHING = new Set([
	...['scan', 'scanned', 'file', 'page', 'pages', 'document', 'doc', 'copy', 'final', 'image', 'img', 'photo', 'picture', 'new', 'the', 'and', 'for'],
	...['from', 'with', 'your', 'les', 'des', 'pour', 'avec', 'dans', 'der', 'die', 'das', 'und', 'fur', 'von', 'pdf', 'untitled', 'signed']
]);

/** The words of a name by which the next file of its kind is known: no numbers, no months, nothing that any file is called. */
export function ruleWords(name: string): string[] {
	const stem = name.replace(/\.[a-z0-9]{1,9}$/i, '');
	const found = lettersOf(stem).filter(
		(word) => word.length >= 3 && word.length <= WORD_MAX && !SAYS_NOTHING.has(word) && monthsIn(word).length === 0
	);
	return [...new Set(found)].slice(0, WORDS_MOST);
}

/**
 * Whether a file is what a rule speaks of: two signs that do not hang together, who sent it and what it is called, both hold.
 */
export function isOfRule(rule: KeepingRule, file: CameFile): boolean {
	if (file.contactId !== rule.contactId || rule.words.length === 0) return false;
	const there = new Set(lettersOf(`${file.name} ${file.note} ${file.words ?? ''}`));
	return rule.words.every((word) => there.has(word));
}

/** The words of a rule as somebody types them, with commas or spaces between them. */
export const ruleWordsField = z
	.string()
	.max(300)
	.transform((text) => [...new Set(lettersOf(text).filter((word) => word !== ''))])
	.pipe(
		z
			.array(z.string().max(WORD_MAX, `Keep each word to ${WORD_MAX} letters.`))
			.min(1, 'Write at least one word that stands in its name.')
			.max(WORDS_MOST, `At most ${WORDS_MOST} words.`)
	);

/** “till”, “till and reports” */
export const ruleWordsSaid = (words: readonly string[]): string =>
	words.length < 2
		? `“${words[0] ?? ''}”`
		: `${words
				.slice(0, -1)
				.map((word) => `“${word}”`)
				.join(', ')} and “${words.at(-1)}”`;
