import { bareText } from './bare-text';

/** A piece of text as it lies on a page, in shares of the page from its upper left. */
export interface LyingText {
	text: string;
	/** where its line begins, and how far it goes along it */
	x: number;
	y: number;
	along: readonly [number, number];
	/** how far its letters reach up from the line */
	up: readonly [number, number];
}

/** A box on a page, in shares of it. */
export interface PageBox {
	left: number;
	top: number;
	width: number;
	height: number;
}

/** A place where what is looked for stands; over the end of a line it has several boxes. */
export interface FoundOnPage {
	page: number;
	boxes: PageBox[];
}

/** Places that are found at most: nobody steps through more. */
export const FOUND_MOST = 500;

function boxOf({ x, y, along, up }: LyingText, from: number, to: number): PageBox {
	const corners = [from, to].flatMap((share) => [
		[x + along[0] * share, y + along[1] * share],
		[x + along[0] * share + up[0], y + along[1] * share + up[1]]
	]);
	const [xs, ys] = [corners.map(([cx]) => cx), corners.map(([, cy]) => cy)];
	const [left, top] = [Math.min(...xs), Math.min(...ys)];
	return { left, top, width: Math.max(...xs) - left, height: Math.max(...ys) - top };
}

/**
 * Where words stand on pages: case and marks left aside, any space for any other, also over the end of a line.
 * @param pages the pieces of text of each page in their order
 */
export function findInPages(pages: readonly (readonly LyingText[])[], typed: string): FoundOnPage[] {
	const wanted = bareText(typed).trim().replace(/\s+/g, ' ');
	if (wanted === '') return [];
	const found: FoundOnPage[] = [];
	for (const [index, pieces] of pages.entries()) {
		/** of each sign of the page's text the piece that it is in, and where in it; null for a space between two pieces */
		const places: ({ piece: LyingText; at: number } | null)[] = [];
		let text = '';
		for (const piece of pieces) {
			const bare = bareText(piece.text);
			if (text !== '' && !text.endsWith(' ')) {
				text += ' ';
				places.push(null);
			}
			for (let at = 0; at < bare.length; at++) {
				const sign = /\s/.test(bare[at]) ? ' ' : bare[at];
				if (sign === ' ' && text.endsWith(' ')) continue;
				text += sign;
				places.push({ piece, at });
			}
		}
		for (let at = text.indexOf(wanted); at >= 0; at = text.indexOf(wanted, at + wanted.length)) {
			const spans = new Map<LyingText, { from: number; to: number }>();
			for (const place of places.slice(at, at + wanted.length)) {
				if (!place) continue;
				const span = spans.get(place.piece);
				if (span) span.to = place.at + 1;
				else spans.set(place.piece, { from: place.at, to: place.at + 1 });
			}
			found.push({
				page: index + 1,
				boxes: [...spans].map(([piece, { from, to }]) => boxOf(piece, from / piece.text.length, to / piece.text.length))
			});
			if (found.length === FOUND_MOST) return found;
		}
	}
	return found;
}

/** A box on a page that is turned to the right by so many degrees, a multiple of 90. */
export function turnedBox({ left, top, width, height }: PageBox, degrees: number): PageBox {
	switch (((degrees % 360) + 360) % 360) {
		case 90:
			return { left: 1 - top - height, top: left, width: height, height: width };
		case 180:
			return { left: 1 - left - width, top: 1 - top - height, width, height };
		case 270:
			return { left: top, top: 1 - left - width, width: height, height: width };
		default:
			return { left, top, width, height };
	}
}
