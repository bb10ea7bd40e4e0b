import { LETTER_STOPPED, type LetterState } from '../signing/letter-states';

/** A letter that a request or a standing request waits for. */
export interface AwaitedLetter {
	id: string;
	/** the line by which it was asked */
	itemId: string;
	title: string;
	state: LetterState;
}

const titles = (letters: readonly AwaitedLetter[]) => new Intl.ListFormat('en').format(letters.map(({ title }) => `“${title}”`));

const signedByAll = (letters: readonly AwaitedLetter[]) => `${titles(letters)} ${letters.length === 1 ? 'is' : 'are'} signed by all`;

/** When something goes that waits for letters, as the end of a sentence. */
export const onceSigned = (letters: readonly AwaitedLetter[]): string => `once ${signedByAll(letters)}`;

/** How long something waits for letters, as the end of a sentence. */
export const untilSigned = (letters: readonly AwaitedLetter[]): string => `until ${signedByAll(letters)}`;

const ENDED: Partial<Record<LetterState, string>> = { declined: 'was declined', withdrawn: 'was withdrawn', lapsed: 'has lapsed' };

/** What became of a letter that cannot be signed any more, as a sentence without its end; null while all still can be. */
function stopped(letters: readonly AwaitedLetter[]): string | null {
	const one = letters.find(({ state }) => LETTER_STOPPED.includes(state));
	return one ? `“${one.title}” ${ENDED[one.state]}` : null;
}

/** Why a request that waits does not go by itself any more, in sentences; null while it still can. */
export function stoppedWaiting(letters: readonly AwaitedLetter[]): string | null {
	const what = stopped(letters);
	return what && `${what}, so this does not go by itself. Send a new version of the letter, and it waits for that; or send it by hand.`;
}

/** The same for a standing request. */
export function stoppedPause(letters: readonly AwaitedLetter[]): string | null {
	const what = stopped(letters);
	return what && `${what}, so it does not go on by itself. Send a new version of the letter, and it waits for that; or resume it by hand.`;
}
