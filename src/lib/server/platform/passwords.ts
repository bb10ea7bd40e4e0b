import { hash, verify } from '@node-rs/argon2';
import { dictionary } from '@zxcvbn-ts/language-common';

/** argon2id with the parameters OWASP names as a minimum: 19 MiB, two passes, one lane. */
const OPTIONS = { memoryCost: 19456, timeCost: 2, parallelism: 1 };
const common = new Set<string>(dictionary['passwords-common'] as string[]);
let decoy: Promise<string> | undefined;

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
