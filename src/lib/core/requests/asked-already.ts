import type { IsoDate } from '../calendar/firm-calendar';

/** What is open with a client already. */
export interface OpenThing {
	id: string;
	title: string;
	dueOn: IsoDate | null;
	accountId: string | null;
	/** the last day of what it is about */
	periodTo: IsoDate | null;
	requestTitle: string;
}

/** A title without what two people write differently: capitals, accents, punctuation and blanks. */
const bare = (title: string): string =>
	title
		.normalize('NFKD')
		.replace(/\p{M}/gu, '')
		.toLowerCase()
		.replace(/[^\p{L}\p{N}]+/gu, ' ')
		.trim();

/**
 * The open thing that a line would ask for once more, or null: the statement of the same account and period, else the same words, whatever
 * list they come from.
 */
export function askedAlready(line: { title: string; account: { id: string; to: IsoDate } | null }, open: readonly OpenThing[]): OpenThing | null {
	const { account } = line;
	if (account) return open.find((thing) => thing.accountId === account.id && thing.periodTo === account.to) ?? null;
	const title = bare(line.title);
	return (title && open.find((thing) => thing.accountId === null && bare(thing.title) === title)) || null;
}
