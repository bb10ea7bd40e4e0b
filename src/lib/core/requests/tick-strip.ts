import { daysBetween, type IsoDate } from '../calendar/firm-calendar';
import { isOpen, isSettled, type ItemState } from './item-states';

/** The shape of one tick. Late is a shape of its own, since colour never stands alone. */
export type Tick = 'asked' | 'started' | 'late' | 'handed_in' | 'sent_back' | 'settled';

export function tickOf(item: { state: ItemState; dueOn: IsoDate | null }, today: IsoDate): Tick {
	if (isSettled(item.state)) return 'settled';
	if (item.state === 'sent_back') return 'sent_back';
	if (!isOpen(item.state)) return 'handed_in';
	if (item.dueOn && daysBetween(item.dueOn, today) > 0) return 'late';
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

/** The strip in words, for those who do not see it: "8 items: 2 late, 1 handed in, 5 settled". */
export function ticksInWords(ticks: readonly Tick[]): string {
	if (ticks.length === 0) return 'nothing asked for';
	const parts = (Object.keys(TICK_WORDS) as Tick[])
		.map((tick) => ({ tick, count: ticks.filter((t) => t === tick).length }))
		.filter((part) => part.count > 0)
		.map((part) => `${part.count} ${TICK_WORDS[part.tick]}`);
	return `${ticks.length} ${ticks.length === 1 ? 'item' : 'items'}: ${parts.join(', ')}`;
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
export function unpackTicks(letters: string, dues: readonly (IsoDate | null)[], today: IsoDate): Tick[] {
	return [...letters].map((letter, i) => tickOf({ state: LETTER_STATES[letter] ?? 'asked', dueOn: dues[i] ?? null }, today));
}
