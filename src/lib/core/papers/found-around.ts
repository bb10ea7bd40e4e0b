import { bareText } from './bare-text';

/** Letters that are shown before and after what was found. */
const AROUND = 60;

/**
 * The words around the first place in a text where one of some words stands, case and marks left aside.
 * @returns null if none of them does
 */
export function foundAround(text: string, words: readonly string[]): string | null {
	const plain = bareText(text);
	const places = words.map((word) => ({ at: plain.indexOf(bareText(word)), length: word.length })).filter(({ at }) => at >= 0);
	if (places.length === 0) return null;
	const { at, length } = places.reduce((first, place) => (place.at < first.at ? place : first));
	const [from, to] = [Math.max(0, at - AROUND), Math.min(text.length, at + length + AROUND)];
	// words are not cut in two
	const begins = from === 0 ? 0 : from + Math.max(0, text.slice(from, at).search(/\s/) + 1);
	const cutEnd = to === text.length ? to : at + length + Math.max(0, text.slice(at + length, to).search(/\s\S*$/));
	const piece = text.slice(begins, cutEnd).replace(/\s+/g, ' ').trim();
	return `${begins > 0 ? '… ' : ''}${piece}${cutEnd < text.length ? ' …' : ''}`;
}
