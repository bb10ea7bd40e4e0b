import { hash, verify } from '@node-rs/argon2';
import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';

/** argon2id with the parameters OWASP names as a minimum: 19 MiB, two passes, one lane. */
const OPTIONS = { memoryCost: 19456, timeCost: 2, parallelism: 1 };
const common = new Set<string>(dictionary['passwords-common'] as string[]);
let decoy: Promise<string> | undefined;

/** Characters that are looked at: what begins so weakly gains little after them, and the work grows with the square of the length. */
const GUESSED_LENGTH = 32;
/** Made when the first password is chosen: most processes never need it. */
let guesser: ZxcvbnFactory | undefined;
/** Guesses, as a power of ten, that a password has to stand: NIST SP 800-63B counts on some millions online, this is a hundred times more. */
const GUESSES_LOG10 = 9;

/** Whether whoever knows a person and common passwords would soon guess a password. @param ownWords names and addresses of person and firm */
export function isSoonGuessed(password: string, ownWords: readonly string[]): boolean {
	const own = ownWords.flatMap((words) => [words, ...words.split(/[^\p{L}\p{N}]+/u)]).filter((word) => word.length >= 3);
	guesser ??= new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs, maxLength: GUESSED_LENGTH, l33tMaxSubstitutions: 20 });
	return guesser.check(password.slice(0, GUESSED_LENGTH), own.slice(0, 30)).guessesLog10 < GUESSES_LOG10;
}

export function hashPassword(password: string): Promise<string> {
	return hash(password.normalize('NFKC'), OPTIONS);
}

/** Compares; without a hash it takes the same time and answers no, so that time tells nobody who exists. */
export async function verifyPassword(stored: string | null, password: string): Promise<boolean> {
	decoy ??= hashPassword('no such person');
	const matches = await verify(stored ?? (await decoy), password.normalize('NFKC'));
	return stored !== null && matches;
}

/** Whether a lower-case text is in the shipped list of common passwords. */
export function isCommonPassword(text: string): boolean {
	return common.has(text);
}
