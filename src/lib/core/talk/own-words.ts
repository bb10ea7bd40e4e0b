/** Words of their own, with nothing of another word before or after them: letters with accents count as letters. */
export const ownWords = (pattern: string): RegExp => new RegExp(`(?<!\\p{L})(?:${pattern})(?!\\p{L})`, 'iu');
