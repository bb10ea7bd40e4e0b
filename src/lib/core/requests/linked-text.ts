/** A piece of plain text: words, or the address of a page in it. */
export type LinkedPiece = { words: string } | { link: string; shown: string };

const ADDRESS = /https?:\/\/[^\s<>"'“”«»]+/gi;

/**
 * Plain text with the addresses of pages found in it. Only http and https become links; a full stop or a bracket at the end of
 * an address belongs to the sentence.
 */
export function linkedText(text: string): LinkedPiece[] {
	const pieces: LinkedPiece[] = [];
	let from = 0;
	for (const match of text.matchAll(ADDRESS)) {
		const address = match[0].replace(/[.,;:!?)\]]+$/, '');
		let url: URL;
		try {
			url = new URL(address);
		} catch {
			continue;
		}
		// an address that hides where it leads behind a name and a password stays words
		if (url.username || url.password || !url.hostname.includes('.')) continue;
		if (match.index > from) pieces.push({ words: text.slice(from, match.index) });
		pieces.push({ link: url.href, shown: `${url.hostname.replace(/^www\./, '')}${url.pathname.length > 1 ? url.pathname : ''}`.slice(0, 60) });
		from = match.index + address.length;
	}
	if (from < text.length) pieces.push({ words: text.slice(from) });
	return pieces;
}
