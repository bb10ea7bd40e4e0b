import { describe, expect, test } from 'vitest';
import { daysLate, longestWait } from './lateness';
import { tickOf, ticksInWords, unpackTicks, STATE_LETTERS } from './tick-strip';
import { ITEM_STATES } from './item-states';

const today = '2026-05-04';

test.each([
	['asked', '2026-05-04', 0],
	['asked', '2026-05-03', 1],
	['sent_back', '2026-03-04', 61],
	['handed_in', '2026-03-04', 0],
	['waived', '2026-03-04', 0],
	['asked', null, 0]
] as const)('%s, due %s, is %i days late', (state, dueOn, late) => {
	expect(daysLate({ state, dueOn }, today)).toBe(late);
});

describe('the longest wait of a client', () => {
	const wait = (items: number, toLookAt: number, open: number, earliestOpenDue: string | null) =>
		longestWait({ items, toLookAt, open, earliestOpenDue }, today);
	test('late comes before handed in', () => expect(wait(3, 1, 2, '2026-05-01')).toEqual({ wait: { kind: 'late', days: 3 }, light: 'needs_you' }));
	test('handed in comes before due', () => expect(wait(3, 1, 2, '2026-05-06').wait.kind).toBe('to_look_at'));
	test('within five days is soon, after that it waits', () => {
		expect(wait(1, 0, 1, '2026-05-09').light).toBe('soon');
		expect(wait(1, 0, 1, '2026-05-10').light).toBe('waiting');
	});
	test('nothing open', () => {
		expect(wait(2, 0, 0, null).wait.kind).toBe('all_in');
		expect(wait(0, 0, 0, null).wait.kind).toBe('nothing_asked');
		expect(wait(1, 0, 1, null).wait.kind).toBe('no_due_date');
	});
});

describe('tick strip', () => {
	test('late is a shape of its own, but not for what is handed in or sent back', () => {
		expect(tickOf({ state: 'started', dueOn: '2026-05-03' }, today)).toBe('late');
		expect(tickOf({ state: 'started', dueOn: today }, today)).toBe('started');
		expect(tickOf({ state: 'handed_in', dueOn: '2026-05-03' }, today)).toBe('handed_in');
		expect(tickOf({ state: 'sent_back', dueOn: '2026-05-03' }, today)).toBe('sent_back');
	});
	test('every state has a letter of its own, and is read back to its tick', () => {
		expect(new Set(Object.values(STATE_LETTERS)).size).toBe(ITEM_STATES.length);
		for (const state of ITEM_STATES)
			expect(unpackTicks(STATE_LETTERS[state], ['2026-05-10'], today)).toEqual([tickOf({ state, dueOn: '2026-05-10' }, today)]);
	});
	test('in words', () => {
		expect(ticksInWords(['late', 'late', 'handed_in', 'settled'])).toBe('4 items: 2 late, 1 handed in, 1 settled');
		expect(ticksInWords(['asked'])).toBe('1 item: 1 asked');
		expect(ticksInWords([])).toBe('nothing asked for');
	});
});
