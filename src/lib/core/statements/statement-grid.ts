import { addDays, daysBetween, type IsoDate } from '../calendar/firm-calendar';
import { isOpen, type ItemState } from '../requests/item-states';
import { cyclesClosingIn, type Account, type Cycle } from './accounts';
import { hundredths, inUnits } from './printed/sums';

/** A statement that is here. */
export interface StatementHere {
	id: string;
	from: IsoDate;
	to: IsoDate;
	/** exact, with two decimals; null where it was not read */
	opening: string | null;
	closing: string | null;
	/** nobody has to look at it any more */
	settled: boolean;
	/** why it does not join the one before it, where a person knows */
	explained: string;
}

/** A statement that was asked for. */
export interface StatementAsked {
	itemId: string;
	/** its last day */
	to: IsoDate;
	dueOn: IsoDate | null;
	state: ItemState;
}

/** Some days, and how many statements cover each of them. */
export interface Coverage extends Cycle {
	times: number;
}

/**
 * Every day of a span exactly once, in order: how often it is covered.
 * @param covers spans of days, in any order; what lies outside is cut off
 */
export function coverageOf(span: Cycle, covers: readonly Cycle[]): Coverage[] {
	if (span.from > span.to) return [];
	const edges = new Set([span.from]);
	for (const { from, to } of covers) {
		if (from > span.from && from <= span.to) edges.add(from);
		const after = addDays(to, 1);
		if (after > span.from && after <= span.to) edges.add(after);
	}
	const starts = [...edges].sort();
	const parts: Coverage[] = [];
	for (const [i, from] of starts.entries()) {
		const times = covers.filter((cover) => cover.from <= from && from <= cover.to).length;
		const to = i + 1 < starts.length ? addDays(starts[i + 1], -1) : span.to;
		const last = parts.at(-1);
		if (last?.times === times) last.to = to;
		else parts.push({ from, to, times });
	}
	return parts;
}

const daysOf = ({ from, to }: Cycle) => daysBetween(from, to) + 1;

/** How one statement goes on from the one before it. */
export interface Join {
	earlierId: string;
	laterId: string;
	is: 'joined' | 'differs' | 'explained' | 'unread';
	/** what the later one opens with, less what the earlier one closed with; null where one of them was not read */
	difference: string | null;
	/** days that both cover, where it is more than the one on which one ends and the next begins */
	overlap: number;
}

/** Statements by their days, without those that are here twice: of these the one with more read goes before. */
export function inTime(statements: readonly StatementHere[]): StatementHere[] {
	const worth = ({ opening, closing, settled }: StatementHere) => (opening ? 2 : 0) + (closing ? 2 : 0) + (settled ? 1 : 0);
	const byDays = new Map<string, StatementHere>();
	for (const one of statements) {
		const key = `${one.from} ${one.to}`;
		const other = byDays.get(key);
		if (!other || worth(one) > worth(other)) byDays.set(key, one);
	}
	return [...byDays.values()].sort((a, b) => (a.from < b.from ? -1 : a.from > b.from ? 1 : a.to < b.to ? -1 : 1));
}

/** How the statements of an account lead from one to the next. Between two that do not touch nothing is said: a statement is missing there. */
export function joinsOf(statements: readonly StatementHere[]): Join[] {
	const inOrder = inTime(statements);
	return inOrder.slice(1).flatMap((later, i): Join[] => {
		const earlier = inOrder[i];
		if (later.from > addDays(earlier.to, 1)) return [];
		const shared = later.from <= earlier.to ? daysBetween(later.from, earlier.to < later.to ? earlier.to : later.to) + 1 : 0;
		const overlap = shared > 1 ? shared : 0;
		// where they cover the same days, the sums of neither begin where the other ends
		const comparable = overlap === 0 && earlier.closing !== null && later.opening !== null;
		const difference = comparable ? inUnits(hundredths(later.opening!) - hundredths(earlier.closing!)) : null;
		return [
			{
				earlierId: earlier.id,
				laterId: later.id,
				is: difference === null ? 'unread' : difference === '0.00' ? 'joined' : later.explained ? 'explained' : 'differs',
				difference,
				overlap
			}
		];
	});
}

export const CELL_STATES = ['before', 'closed', 'not_over', 'in', 'to_look_at', 'part', 'asked', 'late', 'not_asked', 'not_needed'] as const;
export type CellState = (typeof CELL_STATES)[number];

/** One cycle of an account in the grid. */
export interface GridCell {
	cycle: Cycle;
	state: CellState;
	/** days of it that no statement covers, up to today */
	missingDays: number;
	/** after the day on which what was asked is due */
	lateDays: number;
	/** what was asked for it, if it was */
	itemId: string | null;
	/** the statements that cover days of it */
	statementIds: string[];
	/** a cycle that the account was open for only in part: the days of it that count */
	counts: Cycle;
}

/** From when statements of an account are expected: since it was opened, else since the first of it that is known. */
export function expectedFrom(
	account: Pick<Account, 'openedOn' | 'closingDay' | 'closedOn'>,
	notedOn: IsoDate,
	here: readonly StatementHere[],
	asked: readonly (StatementAsked & { from: IsoDate })[]
): IsoDate {
	if (account.openedOn) return account.openedOn;
	const known = [notedOn, ...here.map(({ from }) => from), ...asked.map(({ from }) => from)].sort()[0];
	// the whole of the cycle in which it became known
	return (
		cyclesClosingIn({ ...account, openedOn: null }, known, addDays(known, 40)).find(({ from, to }) => from <= known && known <= to)?.from ?? known
	);
}

const MISSING: readonly CellState[] = ['not_asked', 'asked', 'late', 'part'];
/** Whether a statement is missing in a cell: it is over, and not (all) here. */
export const isMissing = ({ state }: Pick<GridCell, 'state'>): boolean => MISSING.includes(state);

/**
 * The cycles of an account that close in a span, each with what is there.
 * @param since from when statements are expected, see `expectedFrom`
 */
export function gridRow(
	account: Pick<Account, 'closingDay' | 'openedOn' | 'closedOn'>,
	since: IsoDate,
	span: Cycle,
	today: IsoDate,
	here: readonly StatementHere[],
	asked: readonly StatementAsked[]
): GridCell[] {
	return cyclesClosingIn({ ...account, openedOn: null, closedOn: null }, span.from, span.to).map((cycle): GridCell => {
		const counts = {
			from: cycle.from < since ? since : cycle.from,
			to: account.closedOn && account.closedOn < cycle.to ? account.closedOn : cycle.to
		};
		const item = asked.findLast(({ to, state }) => to === cycle.to && state !== 'waived') ?? asked.findLast(({ to }) => to === cycle.to) ?? null;
		const within = here.filter(({ from, to }) => from <= counts.to && to >= counts.from);
		const cell = { cycle, counts, missingDays: 0, lateDays: 0, itemId: item?.itemId ?? null, statementIds: inTime(within).map(({ id }) => id) };
		if (cycle.to < since) return { ...cell, state: 'before' };
		if (account.closedOn && cycle.from > account.closedOn) return { ...cell, state: 'closed' };
		const over = counts.to < today;
		const parts = coverageOf(counts, within);
		const missing = parts.filter(({ times }) => times === 0).reduce((sum, part) => sum + daysOf(part), 0);
		if (missing === 0) return { ...cell, state: within.every(({ settled }) => settled) ? 'in' : 'to_look_at' };
		const lateDays = item && isOpen(item.state) && item.dueOn && item.dueOn < today ? daysBetween(item.dueOn, today) : 0;
		if (!over) return { ...cell, lateDays, state: lateDays > 0 ? 'late' : item && isOpen(item.state) ? 'asked' : 'not_over' };
		const short = { ...cell, missingDays: missing, lateDays };
		if (item?.state === 'waived') return { ...short, state: 'not_needed' };
		if (item?.state === 'answered_no' || item?.state === 'handed_in') return { ...short, state: 'to_look_at' };
		if (missing < daysOf(counts)) return { ...short, state: 'part' };
		if (item && isOpen(item.state)) return { ...short, state: lateDays > 0 ? 'late' : 'asked' };
		return { ...short, state: 'not_asked' };
	});
}

/** The longest run of days without a statement, up to the last cycle that is over; null if none is missing. */
export function longestHole(cells: readonly GridCell[], here: readonly StatementHere[]): Cycle | null {
	const over = cells.filter((cell) => isMissing(cell) || cell.state === 'in' || cell.state === 'to_look_at');
	const [first, last] = [over[0], over.findLast(isMissing)];
	if (!first || !last) return null;
	const given = cells.filter(({ state }) => state === 'not_needed' || state === 'to_look_at').map(({ counts }) => counts);
	const holes = coverageOf({ from: first.counts.from, to: last.counts.to }, [...here, ...given]).filter(({ times }) => times === 0);
	const [longest] = holes.sort((a, b) => daysOf(b) - daysOf(a));
	return longest ? { from: longest.from, to: longest.to } : null;
}
