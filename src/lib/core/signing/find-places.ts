import type { PrintedPage } from '../statements/printed/page-lines';
import { inReadingOrder, PLACES, type Place, type PlaceKind } from './places';

/** A place that a page seems to have: a line to write on, a word that asks for one, or a field of its form. */
export type FoundPlace = Pick<Place, 'page' | 'x' | 'y' | 'width' | 'height' | 'kind' | 'label'>;

/** Words that say what belongs on a line, in the languages that ship. The first that fits counts. */
const WORDS: readonly (readonly [PlaceKind, RegExp])[] = [
	['initials', /\b(initials?|paraphes?)\b/i],
	// only what means the signer and the day of signing: “Date of birth” and “Name of the bank” are asked, not filled in
	['date', /^(dated?|date signed|date (of|de) (the )?signature|(fait |signé )?le)$/i],
	['account', /^(iban|(bank )?account (number|no\.?)|(n°|numéro) de compte( bancaire)?)$/i],
	['routing', /^(routing|transit|aba) (transit )?(number|no\.?)$|^sort code$|^bsb( number)?$/i],
	['holder', /^(name of (the )?)?account holder( name)?$|^titulaire du compte$/i],
	['signature', /\b(signatures?|signed|sign here|signé|signer ici)\b/i],
	['email', /^(your )?(e-?mail|courriel|e-?mail address|adresse (électronique|e-?mail|courriel))$/i],
	['title', /^((your|job) )?title$|^(titre|fonction)$/i],
	['name', /^((your|print|printed|full|first and last|type) )*name( \(print(ed)?\)| in full)?$|^(nom|nom complet|nom et prénom|prénom et nom)$/i]
];
/** A line of these is one to write on. */
const LINE = /_{5,}|\.{9,}|…{4,}/g;
/** How far below its line, and beside it, a word may stand that says what it is for; in points. */
const [BELOW, BESIDE] = [18, 260];
const FOUND_MOST = 300;
/** A place to sign in is at least so high, in points. */
const LOWEST = 22;

const LINE_CHARACTERS = /[_.…]/;
/** How wide a character of a line may be, by the height of its letters. */
const clamp = (width: number, height: number) => Math.max(0.4 * height, Math.min(width, 0.62 * height));

interface Piece {
	text: string;
	x: number;
	/** of the line that it stands on */ y: number;
	width: number;
	height: number;
}

/** What a label asks for, or null where it says nothing known. */
export function kindOfLabel(label: string): PlaceKind | null {
	const words = bare(label);
	return WORDS.find(([, known]) => known.test(words))?.[0] ?? null;
}

/**
 * Runs of a page cut where a line to write on begins or ends. Only a run's whole width is known: a letter of it is about half as wide as it is
 * high, and what is left is shared out among the characters of the line.
 */
function cut(page: PrintedPage): { lines: Piece[]; words: Piece[] } {
	const [lines, words]: [Piece[], Piece[]] = [[], []];
	for (const run of page.runs) {
		const drawn = [...run.text.matchAll(LINE)].reduce((sum, [line]) => sum + line.length, 0);
		const letters = run.text.length - drawn;
		const stroke = drawn === 0 ? 0 : letters === 0 ? run.width / drawn : clamp((run.width - 0.52 * run.height * letters) / drawn, run.height);
		const letter = letters === 0 ? 0 : (run.width - stroke * drawn) / letters;
		// how far it is to each character, worked out once for the run
		const ends = [0];
		for (let at = 0; at < run.text.length; at++) ends.push(ends[at] + (drawn > 0 && LINE_CHARACTERS.test(run.text[at]) ? stroke : letter));
		const piece = (from: number, to: number): Piece => ({
			text: run.text.slice(from, to).trim(),
			x: run.x + ends[from],
			y: run.y,
			width: ends[to] - ends[from],
			height: run.height
		});
		let at = 0;
		for (const match of run.text.matchAll(LINE)) {
			if (match.index > at) words.push(piece(at, match.index));
			lines.push(piece(match.index, match.index + match[0].length));
			at = match.index + match[0].length;
		}
		if (at < run.text.length) words.push(piece(at, run.text.length));
	}
	return { lines, words: words.filter(({ text }) => text !== '') };
}

/** How high a place can be on its line without covering what stands above it; in points. */
function heightAbove(line: Piece, words: readonly Piece[], wanted: number): number {
	const above = words
		.filter((word) => word.y < line.y - 4 && word.x < line.x + line.width && word.x + word.width > line.x)
		.map(({ y }) => line.y + 3 - y - 3);
	return Math.max(Math.min(wanted, LOWEST), Math.min(wanted, ...above));
}

/** Pieces of one line that follow each other without a gap are one. */
function joined(pieces: readonly Piece[]): Piece[] {
	const made: Piece[] = [];
	for (const piece of [...pieces].sort((a, b) => Math.round(a.y) - Math.round(b.y) || a.x - b.x)) {
		const last = made.at(-1);
		if (last && Math.abs(last.y - piece.y) < 2 && piece.x - (last.x + last.width) < piece.height * 0.6) {
			last.text = `${last.text} ${piece.text}`;
			last.width = piece.x + piece.width - last.x;
		} else made.push({ ...piece });
	}
	return made;
}

/**
 * Places that a page asks for: every line to write on, called by the words that stand before it or under it, and words such as
 * “Signature:” that have room behind them. Words that stand in a sentence are none.
 * @param number of the page, from 1
 */
export function findPlaces(page: PrintedPage, number: number): FoundPlace[] {
	const pieces = cut(page);
	const lines = joined(pieces.lines);
	const words = joined(pieces.words);
	const found: FoundPlace[] = [];
	const used = new Set<Piece>();
	for (const line of lines) {
		const before = words
			.filter((word) => Math.abs(word.y - line.y) < 4 && word.x + word.width <= line.x + 2 && line.x - (word.x + word.width) < BESIDE)
			.filter((word) => !lines.some((other) => other !== line && Math.abs(other.y - line.y) < 4 && other.x > word.x && other.x < line.x))
			.at(-1);
		const under = words.find(
			(word) => word.y > line.y + 2 && word.y - line.y < BELOW && word.x < line.x + line.width && word.x + word.width > line.x
		);
		const label = [before, under].find((word) => word && kindOfLabel(word.text)) ?? before ?? under;
		if (label) used.add(label);
		const words_ = label ? bare(label.text) : '';
		const kind = (label && kindOfLabel(words_)) ?? (label ? 'text' : line.width >= 120 ? 'signature' : 'text');
		const height = heightAbove(line, words, PLACES[kind].height);
		found.push({
			page: number,
			x: Math.max(0, line.x),
			y: Math.max(0, line.y - height + 3),
			width: Math.max(24, Math.min(line.width, page.width - line.x)),
			height,
			kind,
			label: PLACES[kind].asks ? words_ : ''
		});
	}
	for (const word of words) {
		const kind = kindOfLabel(word.text);
		// a word that asks ends in a colon and stands for itself; nothing follows it on its line
		if (!kind || used.has(word) || !/^.{1,40}:$/u.test(word.text.trim())) continue;
		const from = word.x + word.width + 6;
		const next = words.filter((other) => other !== word && Math.abs(other.y - word.y) < 4 && other.x > word.x).sort((a, b) => a.x - b.x)[0];
		const room = Math.min(next ? next.x - 6 : page.width - 30, page.width - 10) - from;
		const { width, height } = PLACES[kind];
		if (room < 50) continue;
		found.push({ page: number, x: from, y: Math.max(0, word.y - height + 4), width: Math.min(width, room), height, kind, label: '' });
	}
	return inOrder(found.filter(({ width, height }) => width >= 4 && height >= 4)).slice(0, FOUND_MOST);
}

const inOrder = (found: readonly FoundPlace[]): FoundPlace[] =>
	inReadingOrder(found.map((one) => ({ ...one, document: 0 }))).map(({ document: _, ...one }) => one);

/** A label without what leads to its line. */
const bare = (text: string): string =>
	text
		.replace(/[:.\s]+$/u, '')
		.trim()
		.slice(0, 80);

/**
 * Whose the places are, as far as their order tells: what stands around the first signature is the first signer's, what stands around the
 * second is the second's, and whatever comes after the last one's stays theirs.
 * @returns for each place the number of its signer, from 0
 */
export function partiesOf(places: readonly Pick<Place, 'document' | 'page' | 'x' | 'y' | 'width' | 'height' | 'kind'>[], signers: number): number[] {
	const signatures = inReadingOrder(places.filter(({ kind }) => kind === 'signature'));
	const near = (place: (typeof places)[number]): number => {
		let [best, distance] = [0, Infinity];
		for (const [at, signature] of signatures.entries()) {
			const pages = Math.abs(signature.document - place.document) * 100 + Math.abs(signature.page - place.page);
			const away = pages * 2000 + Math.abs(signature.y + signature.height - place.y - place.height) + Math.abs(signature.x - place.x) / 4;
			if (away < distance) [best, distance] = [at, away];
		}
		return best;
	};
	return places.map((place) => Math.min(near(place), Math.max(0, signers - 1)));
}
