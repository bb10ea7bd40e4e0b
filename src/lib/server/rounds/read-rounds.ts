import { localDate } from '$lib/core/calendar/firm-calendar';
import { ROUNDS_SECTION_ROWS, ROUNDS_SECTIONS, type RoundsSection } from '$lib/core/rounds/sections';
import { requireStaff, type Actor } from '../actor';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { COUNTED, type RoundsAt, type RoundsRow, type RoundsSectionDefinition } from './section';
import { SECTIONS } from './sections';

const definitionOf = (section: RoundsSection): RoundsSectionDefinition<unknown> => SECTIONS[section];

/**
 * What needs a person of the firm now, section by section, the oldest of each first. See `countRounds` for how many there are.
 * @param mineOf whose clients it is about; null for everybody's
 */
export async function readRounds(
	tx: Tx,
	actor: Actor,
	firm: Pick<Firm, 'calendar' | 'country'>,
	dates: { due(date: string): string },
	mineOf: string | null = null
): Promise<{ rows: RoundsRow[]; lastLooked: string | null }> {
	requireStaff(actor, 'look');
	const lastLooked = (await tx.first<{ at: string | null }>('select last_looked_at as at from staff where id = $1', [actor.id]))?.at ?? null;
	const read = new Map<string, Promise<unknown>>();
	const at: RoundsAt = {
		firm,
		now: actor.now,
		today: localDate(actor.now, firm.calendar),
		mineOf,
		reader: actor.id,
		limit: ROUNDS_SECTION_ROWS,
		due: dates.due,
		once<T>(what: string, reading: () => Promise<T>) {
			if (!read.has(what)) read.set(what, reading());
			return read.get(what) as Promise<T>;
		}
	};
	const rows: RoundsRow[] = [];
	for (const { section } of ROUNDS_SECTIONS)
		for (const row of await definitionOf(section).rows(tx, at)) rows.push({ ...row, section, isNew: lastLooked !== null && row.since > lastLooked });
	return { rows, lastLooked };
}

const SHARED = ROUNDS_SECTIONS.flatMap(({ section }) => definitionOf(section).shared?.(COUNTED.today) ?? []);
const COUNTS = `with
	-- every parameter has its type, whichever of them the counts use
	given as (select $1::uuid, $2::timestamptz, $3::date, $4::uuid, $5::uuid),
	closed as materialized (select id from client where firm_id = $1 and state <> 'active'),
	${SHARED.join(',\n\t')}
	select ${ROUNDS_SECTIONS.map(({ section }) => `(${definitionOf(section).count}) ${section}`).join(',\n\t\t')}`;

/**
 * How many things are in each section of Rounds, counted in one statement: their sum stands in the head of every desk page.
 * @param mineOf whose clients it is about; null for everybody's
 * @param reader who reads it, for what is meant for them alone; null counts none of that
 */
export async function countRounds(
	tx: Tx,
	firm: Pick<Firm, 'calendar' | 'country'>,
	now: string,
	mineOf: string | null = null,
	reader: string | null = null
): Promise<Record<RoundsSection, number>> {
	return (await tx.first<Record<RoundsSection, number>>(COUNTS, [tx.firmId, now, localDate(now, firm.calendar), mineOf, reader]))!;
}

/** Notes when this person last looked at Rounds, for what is new since. */
export async function noteLooked(tx: Tx, actor: Actor): Promise<void> {
	requireStaff(actor, 'look');
	await tx.rows('update staff set last_looked_at = $2 where id = $1', [actor.id, actor.now]);
}

/** Whether somebody's Rounds shows only what comes of the clients they look after. */
export async function isOnlyMine(tx: Tx, actor: Actor): Promise<boolean> {
	requireStaff(actor, 'look');
	return (await tx.first<{ mine: boolean }>('select rounds_only_mine mine from staff where id = $1', [actor.id]))?.mine ?? false;
}

/** Keeps whether it does; it is kept with the person, on every device. */
export async function showOnlyMine(tx: Tx, actor: Actor, onlyMine: boolean): Promise<void> {
	requireStaff(actor, 'look');
	await tx.rows('update staff set rounds_only_mine = $2 where id = $1', [actor.id, onlyMine]);
}
