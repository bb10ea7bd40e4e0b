import type { ItemKind } from '$lib/core/items/item-kinds';
import type { ItemState } from '$lib/core/requests/item-states';
import type { RoundsSection } from '$lib/core/rounds/sections';
import type { Actor } from '../actor';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

/** A row of Rounds, whatever section it stands in. */
export interface RoundsRow {
	section: RoundsSection;
	/** what opens its leaf: the leaf's key and an id */
	key: string;
	clientId: string | null;
	clientName: string;
	since: string;
	words: string;
	aside: string;
	isNew: boolean;
	/** of a row about an item */ itemId?: string;
	kind?: ItemKind;
	state?: ItemState;
}
export type SectionRow = Omit<RoundsRow, 'section' | 'isNew'>;

/** For whom and when Rounds is read. */
export interface RoundsAt {
	firm: Pick<Firm, 'calendar' | 'country'>;
	/** instant */ now: string;
	/** of the firm, `YYYY-MM-DD` */ today: string;
	/** whose clients it is about; null for everybody's */ mineOf: string | null;
	/** who reads it */ reader: string | null;
	/** how many rows of a section are read */ limit: number;
	/** a due date in words */ due(date: string): string;
	/** what several sections read together is read once */ once<T>(what: string, read: () => Promise<T>): Promise<T>;
}

/** What lies beside the list when a row is opened. */
export interface LeafReader<Data> {
	/** the first part of a row's key */ key: string;
	/** @throws DomainError not_found */
	read(tx: Tx, actor: Actor, firm: Firm, id: string): Promise<Data>;
	/** the client it is about; null if it is about nobody's in particular */
	clientOf(leaf: Data): string | null;
}

/** The parameters of the statement that counts all sections, besides the firm, which is $1. */
export const COUNTED = { now: '$2::timestamptz', today: '$3::date', mineOf: 4, reader: '$5::uuid' } as const;

/** One section of Rounds: how many there are, which ones, and what is open beside them. */
export interface RoundsSectionDefinition<Data> {
	/** an expression of SQL that counts; see `COUNTED`. `closed` holds the clients the firm does not work for just now */
	count: string;
	/** subqueries that the count and the rows need, by their names */
	shared?: (today: string) => string;
	/** the oldest first */
	rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]>;
	leaf: LeafReader<Data>;
}
