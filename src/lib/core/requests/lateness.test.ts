import { describe, expect, test } from 'vitest';
import { daysLate, longestWait } from './lateness';
import { lastTicks, tickOf, ticksInWords, unpackTicks, STATE_LETTERS } from './tick-strip';
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
	const runs = (letters: string) => unpackTicks(letters, Array(letters.length).fill('2026-05-03'), today);
	test('neighbours of one shape are one run; the last are shown', () => {
		expect(runs('ccwaa')).toEqual([
			{ tick: 'settled', count: 3 },
			{ tick: 'late', count: 2 }
		]);
		expect(lastTicks(runs('ccwaa'), 3)).toEqual({ before: 2, ticks: ['settled', 'late', 'late'] });
		expect(lastTicks(runs('ca'), 3)).toEqual({ before: 0, ticks: ['settled', 'late'] });
	});
	test('every state has a letter of its own, and is read back to its tick', () => {
		expect(new Set(Object.values(STATE_LETTERS)).size).toBe(ITEM_STATES.length);
		for (const state of ITEM_STATES)
			expect(unpackTicks(STATE_LETTERS[state], ['2026-05-10'], today)).toEqual([{ tick: tickOf({ state, dueOn: '2026-05-10' }, today), count: 1 }]);
	});
	test('in words', () => {
		expect(ticksInWords(runs('cahaa'))).toBe('5 items: 3 late, 1 handed in, 1 settled');
		expect(ticksInWords([{ tick: 'asked', count: 1 }])).toBe('1 item: 1 asked');
		expect(ticksInWords([])).toBe('nothing asked for');
	});
});
