import { newestEvents } from '../audit/record-event';
import { nextChases } from '../chasing/read-forecast';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { countNamingNotes } from '../talk/notes';
import { countRounds } from './read-rounds';

export interface DeskHead {
	latestEvent: number;
	rounds: Awaited<ReturnType<typeof countRounds>>;
	nextChases: Awaited<ReturnType<typeof nextChases>>;
}

/** The last head of each firm, and of those who see only part of it, with what it was counted from. */
const heads = new Map<string, { mark: string; head: DeskHead }>();

/**
 * What stands in the head of every desk page. Whatever changes it writes an event, or is the passing of time: so it is
 * counted once for each new event and each minute, however many pages and screens ask.
 * @param mineOf whose clients Rounds is about; null for everybody's
 * @param reader who reads it: whoever is named in notes has a head of their own until they have seen them
 */
export async function readDeskHead(tx: Tx, firm: Firm, now: string, mineOf: string | null, reader: string | null = null): Promise<DeskHead> {
	const newest = await newestEvents(tx);
	const mark = `${newest.mark} ${now.slice(0, 16)}`;
	// whom some clients are closed to has a head of their own
	const named = reader ? await countNamingNotes(tx, reader) : 0;
	const key = `${tx.firmId} ${newest.unseen} ${mineOf ?? ''} ${named ? `${reader} ${named}` : ''}`;
	const known = heads.get(key);
	if (known?.mark === mark) return known.head;
	const head = { latestEvent: newest.id, rounds: await countRounds(tx, firm, now, mineOf, reader), nextChases: await nextChases(tx, firm, now) };
	heads.set(key, { mark, head });
	return head;
}
