/** The three-letter pieces of a text as PostgreSQL's pg_trgm counts them: each word with two spaces before and one behind. */
export function trigrams(text: string): Set<string> {
	const pieces = new Set<string>();
	for (const word of text.toLowerCase().split(/[^\p{Letter}\p{Number}]+/u)) {
		if (!word) continue;
		const padded = `  ${word} `;
		for (let i = 0; i + 3 <= padded.length; i++) pieces.add(padded.slice(i, i + 3));
	}
	return pieces;
}

/** pg_trgm's similarity of two texts, from 0 to 1. */
export function likeness(a: string, b: string): number {
	const [one, other] = [trigrams(a), trigrams(b)];
	let shared = 0;
	for (const piece of one) if (other.has(piece)) shared++;
	return shared === 0 ? 0 : shared / (one.size + other.size - shared);
}

/** Pieces that more names than these have are looked up only if the rarer ones do not decide. */
const COMMON = 300;

/**
 * Finds names like another one among thousands, by pg_trgm's similarity.
 * A name at least so alike shares a known number of pieces; so the most common pieces ("limited", "services") need not
 * be looked up at all: whoever reaches the number does so but for them.
 */
export class NameIndex {
	readonly #owners = new Map<string, number[]>();
	readonly #names: string[] = [];
	readonly #sizes: number[] = [];
	readonly #counted: number[] = [];

	/** Adds a name and answers its number: 0, 1, 2 … */
	add(name: string): number {
		const pieces = trigrams(name);
		const number = this.#names.push(name) - 1;
		this.#sizes.push(pieces.size);
		this.#counted.push(0);
		for (const piece of pieces) {
			const owners = this.#owners.get(piece);
			if (owners) owners.push(number);
			else this.#owners.set(piece, [number]);
		}
		return number;
	}

	/** The numbers of the names at least as alike as said, the likest first. */
	like(name: string, atLeast: number): { number: number; likeness: number }[] {
		const lists = [...trigrams(name)].map((piece) => this.#owners.get(piece) ?? []).sort((a, b) => a.length - b.length);
		const size = lists.length;
		// whoever is so alike shares at least this many pieces
		const needed = Math.ceil(size * atLeast);
		let looked = size;
		while (looked > 0 && lists[looked - 1].length > COMMON && size - (looked - 1) < needed) looked--;
		const wanted = needed - (size - looked);
		const touched: number[] = [];
		for (let i = 0; i < looked; i++)
			for (const number of lists[i]) {
				if (this.#counted[number] === 0) touched.push(number);
				this.#counted[number]++;
			}
		const found = [];
		for (const number of touched) {
			const enough = this.#counted[number] >= wanted && this.#sizes[number] * atLeast <= size && size * atLeast <= this.#sizes[number];
			this.#counted[number] = 0;
			if (!enough) continue;
			const alike = likeness(name, this.#names[number]);
			if (alike >= atLeast) found.push({ number, likeness: alike });
		}
		return found.sort((a, b) => b.likeness - a.likeness || a.number - b.number);
	}
}
