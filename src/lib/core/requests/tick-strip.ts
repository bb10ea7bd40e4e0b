import type { IsoDate } from '../calendar/firm-calendar';
import { isOpen, isSettled, type ItemState } from './item-states';

/** The shape of one tick. Late is a shape of its own, since colour never stands alone. */
export type Tick = 'asked' | 'started' | 'late' | 'handed_in' | 'sent_back' | 'settled';

export function tickOf(item: { state: ItemState; dueOn: IsoDate | null }, today: IsoDate): Tick {
	if (isSettled(item.state)) return 'settled';
	if (item.state === 'sent_back') return 'sent_back';
	if (!isOpen(item.state)) return 'handed_in';
	if (item.dueOn && item.dueOn < today) return 'late';
	return item.state === 'started' ? 'started' : 'asked';
}

const TICK_WORDS: Record<Tick, string> = {
	late: 'late',
	sent_back: 'sent back',
	handed_in: 'handed in',
	started: 'started',
	asked: 'asked',
	settled: 'settled'
};

/** Ticks of one shape that stand next to each other in a strip. */
export interface TickRun {
	tick: Tick;
	count: number;
}

/** The strip in words, for those who do not see it: "8 items: 2 late, 1 handed in, 5 settled". */
export function ticksInWords(runs: readonly TickRun[]): string {
	const counts = new Map<Tick, number>();
	let all = 0;
	for (const { tick, count } of runs) {
		counts.set(tick, (counts.get(tick) ?? 0) + count);
		all += count;
	}
	if (all === 0) return 'nothing asked for';
	const parts = (Object.keys(TICK_WORDS) as Tick[]).filter((tick) => counts.has(tick)).map((tick) => `${counts.get(tick)} ${TICK_WORDS[tick]}`);
	return `${all} ${all === 1 ? 'item' : 'items'}: ${parts.join(', ')}`;
}

/** The last ticks of a strip one by one, and how many stand before them: what is settled is shortened first. */
export function lastTicks(runs: readonly TickRun[], most: number): { before: number; ticks: Tick[] } {
	const ticks = runs.flatMap(({ tick, count }) => Array<Tick>(count).fill(tick));
	return { before: Math.max(0, ticks.length - most), ticks: ticks.slice(-most) };
}

/** The letter by which the database keeps a state in a client's position; see `unpackTicks`. */
export const STATE_LETTERS: Record<ItemState, string> = {
	drafted: '-',
	asked: 'a',
	seen: 'e',
	started: 't',
	handed_in: 'h',
	accepted: 'c',
	sent_back: 'b',
	waived: 'w',
	answered_no: 'n',
	declined: 'd'
};
const LETTER_STATES = Object.fromEntries(Object.entries(STATE_LETTERS).map(([state, letter]) => [letter, state])) as Record<string, ItemState>;

/**
 * Reads the ticks that the database keeps for a client: one letter per item in due order, and the
 * due dates beside them.
 */
export function unpackTicks(letters: string, dues: readonly (IsoDate | null)[], today: IsoDate): TickRun[] {
	return runsOf([...letters].map((letter, i) => tickOf({ state: LETTER_STATES[letter] ?? 'asked', dueOn: dues[i] ?? null }, today)));
}

/** Ticks in their order, those of one shape that stand next to each other as one run. */
export function runsOf(ticks: readonly Tick[]): TickRun[] {
	const runs: TickRun[] = [];
	for (const tick of ticks) {
		const last = runs.at(-1);
		if (last?.tick === tick) last.count++;
		else runs.push({ tick, count: 1 });
	}
	return runs;
}
