import { describe, expect, test } from 'vitest';
import {
	isFinished,
	isOpen,
	ITEM_MOVES,
	ITEM_STATES,
	itemMovesFrom,
	itemStateAfter,
	mayRestore,
	type ItemMove,
	type ItemState,
	type Mover
} from './item-states';

/** What is meant to be allowed, written down a second time and by hand: state → move:mover → state. */
const ALLOWED: Record<ItemState, Partial<Record<`${ItemMove}:${Mover}`, ItemState>>> = {
	drafted: { 'send:firm': 'asked' },
	asked: {
		'see:contact': 'seen',
		'start:contact': 'started',
		'hand_in:contact': 'handed_in',
		'say_no:contact': 'answered_no',
		'decline:contact': 'declined',
		'lapse:machine': 'declined',
		'file:firm': 'handed_in',
		'file:machine': 'handed_in',
		'fill_in:firm': 'handed_in',
		'waive:firm': 'waived',
		'waive:machine': 'waived',
		'take_back:contact': 'waived'
	},
	seen: {
		'start:contact': 'started',
		'hand_in:contact': 'handed_in',
		'say_no:contact': 'answered_no',
		'decline:contact': 'declined',
		'lapse:machine': 'declined',
		'file:firm': 'handed_in',
		'file:machine': 'handed_in',
		'fill_in:firm': 'handed_in',
		'waive:firm': 'waived',
		'waive:machine': 'waived',
		'take_back:contact': 'waived'
	},
	started: {
		'file:firm': 'handed_in',
		'file:machine': 'handed_in',
		'fill_in:firm': 'handed_in',
		'hand_in:contact': 'handed_in',
		'say_no:contact': 'answered_no',
		'decline:contact': 'declined',
		'lapse:machine': 'declined',
		'waive:firm': 'waived',
		'waive:machine': 'waived',
		'take_back:contact': 'waived'
	},
	handed_in: {
		'accept:firm': 'accepted',
		'accept:machine': 'accepted',
		'send_back:firm': 'sent_back',
		'waive:firm': 'waived',
		'waive:machine': 'waived',
		'unfile:firm': 'asked',
		'go_on:contact': 'started'
	},
	accepted: { 'reopen:firm': 'asked', 'unfile:firm': 'asked' },
	sent_back: {
		'file:firm': 'handed_in',
		'file:machine': 'handed_in',
		'fill_in:firm': 'handed_in',
		'hand_in:contact': 'handed_in',
		'say_no:contact': 'answered_no',
		'waive:firm': 'waived',
		'waive:machine': 'waived'
	},
	waived: { 'reopen:firm': 'asked' },
	answered_no: {
		'fill_in:firm': 'handed_in',
		'hand_in:contact': 'handed_in',
		'send_back:firm': 'sent_back',
		'waive:firm': 'waived',
		'waive:machine': 'waived'
	},
	declined: { 'waive:firm': 'waived', 'waive:machine': 'waived', 'reopen:firm': 'asked' }
};
const MOVERS: Mover[] = ['firm', 'contact', 'machine'];

describe('the moves of an item', () => {
	for (const state of ITEM_STATES)
		test(`from ${state}, every move by everybody`, () => {
			for (const move of ITEM_MOVES)
				for (const by of MOVERS) expect(itemStateAfter(state, move, by), `${move} by ${by}`).toBe(ALLOWED[state][`${move}:${by}`] ?? null);
		});

	test('taken back, only what was accepted or waived is again what it was', () => {
		const pairs = ITEM_STATES.flatMap((from) => ITEM_STATES.filter((to) => mayRestore(from, to)).map((to) => `${from} ${to}`));
		expect(pairs.sort()).toEqual([
			'accepted handed_in',
			'waived answered_no',
			'waived asked',
			'waived handed_in',
			'waived seen',
			'waived sent_back',
			'waived started'
		]);
	});

	test('what is offered is what is allowed', () => {
		for (const state of ITEM_STATES)
			for (const by of MOVERS) expect(itemMovesFrom(state, by).every((move) => itemStateAfter(state, move, by) !== null)).toBe(true);
	});

	test('only what the client can still do counts as open', () => {
		expect(ITEM_STATES.filter(isOpen)).toEqual(['asked', 'seen', 'started', 'sent_back']);
	});
});

describe('a request is finished', () => {
	test.each([
		[[], false],
		[[{ state: 'accepted', required: true }], true],
		[
			[
				{ state: 'waived', required: true },
				{ state: 'asked', required: false }
			],
			true
		],
		[
			[
				{ state: 'accepted', required: true },
				{ state: 'handed_in', required: true }
			],
			false
		]
	] as const)('%j: %s', (items, finished) => {
		expect(isFinished(items)).toBe(finished);
	});
});
