/** The languages whose words are told apart, for their forms to be found. */
export type PaperLanguage = 'en' | 'fr' | 'de';

/** Small words that stand in every text of a language and in no other of these. */
const SMALL_WORDS: Record<PaperLanguage, ReadonlySet<string>> = {
	en: new Set([
		'the',
		'of',
		'and',
		'to',
		'from',
		'for',
		'with',
		'this',
		'that',
		'your',
		'you',
		'is',
		'are',
		'be',
		'by',
		'at',
		'or',
		'has',
		'not',
		'will'
	]),
	fr: new Set([
		'le',
		'la',
		'les',
		'du',
		'et',
		'à',
		'au',
		'aux',
		'pour',
		'avec',
		'ce',
		'cette',
		'votre',
		'vous',
		'est',
		'sont',
		'par',
		'ou',
		'une',
		'dans'
	]),
	de: new Set([
		'der',
		'die',
		'das',
		'und',
		'zu',
		'vom',
		'für',
		'mit',
		'dies',
		'diese',
		'ihr',
		'ihre',
		'sie',
		'ist',
		'sind',
		'von',
		'oder',
		'ein',
		'eine',
		'im'
	])
};
/** Fewer small words than this say nothing. */
const ENOUGH = 4;

/** The language of a text by its small words; null where it has too few of them, or as many of two. */
export function languageOf(text: string): PaperLanguage | null {
	const counts = new Map<PaperLanguage, number>();
	for (const word of text.toLowerCase().match(/\p{L}+/gu) ?? [])
		for (const language of Object.keys(SMALL_WORDS) as PaperLanguage[])
			if (SMALL_WORDS[language].has(word)) counts.set(language, (counts.get(language) ?? 0) + 1);
	const [first, second] = [...counts].sort((x, y) => y[1] - x[1]);
	return first && first[1] >= ENOUGH && first[1] > (second?.[1] ?? 0) ? first[0] : null;
}
