import type { Say } from './words';

/** For whom somebody signs a letter, as it stands under their name: the firm, the client, or, from outside, nobody but themselves. */
export function signsFor(words: Say, signer: { side: 'client' | 'firm'; outside: boolean }, names: { firm: string; client: string }): string {
	if (signer.outside) return words('letter.ownName');
	return signer.side === 'firm' ? words('letter.firmSide', { firm: names.firm }) : words('letter.clientSide', { client: names.client });
}
