/** Shortest allowed password, in characters as a person counts them. */
export const PASSWORD_MIN = 12;
/** Longest allowed password; hashing takes time by length. */
export const PASSWORD_MAX = 200;

export type PasswordProblem = 'too_short' | 'too_long' | 'common' | 'own_words';

/**
 * Says what is wrong with a new password, or null. There are no composition rules (NIST SP 800-63B,
 * 5.1.1.2): length, a list of common passwords, and the person's own words.
 * @param isCommon answers whether a lower-case text is in the list of common passwords
 * @param ownWords name, address and firm of the person
 */
export function passwordProblem(password: string, isCommon: (text: string) => boolean, ownWords: readonly string[]): PasswordProblem | null {
	const length = [...password].length;
	if (length < PASSWORD_MIN) return 'too_short';
	if (length > PASSWORD_MAX) return 'too_long';
	const lower = password.normalize('NFKC').toLowerCase();
	const bare = lower.replace(/^[\d\W_]+|[\d\W_]+$/g, '');
	if (isCommon(lower) || isCommon(bare) || isRepetitive(lower, isCommon)) return 'common';
	const own = ownWords.map((w) => w.toLowerCase().trim()).filter((w) => w.length >= 4);
	if (own.some((word) => lower === word || bare === word.replace(/^[\d\W_]+|[\d\W_]+$/g, ''))) return 'own_words';
	return null;
}

/** "aaaaaaaaaaaa", "abcabcabcabc", "passwordpassword": one short or common part, again and again. */
function isRepetitive(text: string, isCommon: (text: string) => boolean): boolean {
	for (let size = 1; size <= text.length / 2; size++) {
		if (text.length % size !== 0) continue;
		const part = text.slice(0, size);
		if (part.repeat(text.length / size) === text && (size <= 4 || isCommon(part))) return true;
	}
	return false;
}
