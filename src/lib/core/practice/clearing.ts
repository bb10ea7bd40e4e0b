/** What can be cleared in a practice workspace, each kind with what hangs on it. */
export const CLEARABLE = ['requests', 'messages', 'clients'] as const;
export type Clearable = (typeof CLEARABLE)[number];

/**
 * The kinds that go when some are chosen: clients do not go without what was asked of them and written to them.
 * @returns in the order in which they have to go
 */
export function clearedWith(chosen: readonly Clearable[]): Clearable[] {
	return chosen.includes('clients') ? [...CLEARABLE] : CLEARABLE.filter((kind) => chosen.includes(kind));
}

/** How many of each thing a kind holds. */
export interface PracticeCounts {
	requests: number;
	papers: number;
	letters: number;
	messages: number;
	invitations: number;
	clients: number;
	people: number;
}

/** Which counts belong to which kind. */
export const COUNTS_OF: Record<Clearable, readonly (keyof PracticeCounts)[]> = {
	requests: ['requests', 'papers', 'letters'],
	messages: ['messages', 'invitations'],
	clients: ['clients', 'people']
};

const WORDS: Record<keyof PracticeCounts, [one: string, many: string]> = {
	requests: ['request', 'requests'],
	papers: ['paper', 'papers'],
	letters: ['letter', 'letters'],
	messages: ['message', 'messages'],
	invitations: ['invitation', 'invitations'],
	clients: ['client', 'clients'],
	people: ['person', 'people']
};

/** "3 clients, 4 people and 12 requests"; what there is none of is left out. */
export function countsInWords(counts: Partial<PracticeCounts>): string {
	const parts = (Object.keys(WORDS) as (keyof PracticeCounts)[])
		.filter((what) => (counts[what] ?? 0) > 0)
		.map((what) => `${counts[what]!.toLocaleString('en')} ${WORDS[what][counts[what] === 1 ? 0 : 1]}`);
	return parts.length <= 1 ? (parts[0] ?? 'nothing') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
}
