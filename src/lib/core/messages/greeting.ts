const GREETING =
	/^\s*(?:dear|hello|hi|hey|good (?:morning|afternoon|evening|day)|cher|chère|chers|chères|bonjour|bonsoir|salut)(?:\s[^\n.?]{0,50}?)?(?:[,!]|\n|$)/iu;

/** Whether words begin with a greeting of their own, in English or French: then a message puts none before them. */
export function greetsItself(words: string): boolean {
	return GREETING.test(words);
}
