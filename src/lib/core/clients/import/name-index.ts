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

/** Finds names like another one among thousands, each with pg_trgm's similarity from 0 to 1. */
export class NameIndex {
	readonly #owners = new Map<string, number[]>();
	readonly #sizes: number[] = [];
	readonly #shared: number[] = [];

	/** Adds a name and answers its number: 0, 1, 2 … */
	add(name: string): number {
		const pieces = trigrams(name);
		const number = this.#sizes.push(pieces.size) - 1;
		this.#shared.push(0);
		for (const piece of pieces) {
			const owners = this.#owners.get(piece);
			if (owners) owners.push(number);
			else this.#owners.set(piece, [number]);
		}
		return number;
	}

	/** The numbers of the names at least as alike as said, the likest first. */
	like(name: string, atLeast: number): { number: number; likeness: number }[] {
		const pieces = trigrams(name);
		const touched: number[] = [];
		for (const piece of pieces)
			for (const number of this.#owners.get(piece) ?? []) {
				if (this.#shared[number] === 0) touched.push(number);
				this.#shared[number]++;
			}
		const found = [];
		for (const number of touched) {
			const shared = this.#shared[number];
			this.#shared[number] = 0;
			const likeness = shared / (pieces.size + this.#sizes[number] - shared);
			if (likeness >= atLeast) found.push({ number, likeness });
		}
		return found.sort((a, b) => b.likeness - a.likeness || a.number - b.number);
	}
}
