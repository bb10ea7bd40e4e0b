import { bareHeading } from './bare-heading';

/** Most of a column's cells that must look like addresses before it is taken for one. */
const MOSTLY = 0.6;

/**
 * What each column of a table holds, by its heading, else (for addresses) by what stands in it. No column is recognised twice.
 * @param known the columns by the bare headings they go by
 * @param guesses.name what a bare "Name" is: the first of these that is not there yet
 * @param guesses.email the column of addresses
 */
export function recogniseBy(
	known: ReadonlyMap<string, string>,
	header: readonly string[],
	sample: readonly (readonly string[])[],
	guesses: { name: readonly string[]; email: string }
): (string | null)[] {
	const columns: (string | null)[] = header.map((heading) => known.get(bareHeading(heading)) ?? null);
	const taken = new Set<string>();
	for (const [i, column] of columns.entries()) {
		if (!column) continue;
		if (taken.has(column)) columns[i] = null;
		taken.add(column);
	}
	for (const [i, heading] of header.entries()) {
		if (columns[i]) continue;
		const cells = sample.map((row) => row[i] ?? '').filter((cell) => cell.trim() !== '');
		const mails = cells.filter((cell) => /^\S+@\S+\.\S+$/.test(cell.trim())).length;
		const guess =
			bareHeading(heading) === 'name'
				? guesses.name.find((name) => !taken.has(name))
				: cells.length > 0 && mails / cells.length >= MOSTLY && !taken.has(guesses.email)
					? guesses.email
					: undefined;
		if (guess) {
			columns[i] = guess;
			taken.add(guess);
		}
	}
	return columns;
}

/**
 * Which of the first rows holds the headings: the one that names the most columns we know and holds no address. Below the first row it
 * takes two, for a title may be a word we know. Null if none does.
 */
export function headingRowBy(known: ReadonlyMap<string, string>, rows: readonly (readonly string[])[]): number | null {
	let best: { at: number; known: number } | null = null;
	for (const [at, row] of rows.entries()) {
		if (row.some((cell) => cell.includes('@'))) continue;
		const named = new Set(row.map(bareHeading).filter((cell) => known.has(cell) || cell === 'name')).size;
		if (named >= (at === 0 ? 1 : 2) && named > (best?.known ?? 0)) best = { at, known: named };
	}
	return best?.at ?? null;
}
