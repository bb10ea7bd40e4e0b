import { describe, expect, it } from 'vitest';
import type { ItemKind } from '../items/item-kinds';
import type { ItemState } from '../requests/item-states';
import { whereWeAre } from './where-we-are';

const item = (kind: ItemKind, state: ItemState, dueOn: string | null = null) => ({ kind, state, dueOn });
const where = (...items: ReturnType<typeof item>[]) => whereWeAre({ state: 'active', items }, '2026-05-04');

describe('where the work with a client stands', () => {
	it('says what is late by what it is, then what is still to come', () => {
		expect(where(item('paper', 'asked', '2026-05-01'), item('paper', 'sent_back', '2026-04-01'), item('question', 'seen', '2026-05-10'))).toBe(
			'Two papers are late, one more is still to come.'
		);
		expect(where(item('paper', 'started', '2026-05-03'), item('letter', 'asked', '2026-05-03'))).toBe('One paper and one signature are late.');
		expect(where(item('question', 'asked', '2026-05-03'))).toBe('One answer is late.');
	});
	it('takes the due day itself as in time, and what has no date as still to come', () => {
		expect(where(item('paper', 'asked', '2026-05-04'))).toBe('One paper is still to come.');
		expect(where(item('paper', 'asked'), item('read', 'asked'), item('do', 'asked'))).toBe('One paper and two things are still to come.');
	});
	it('counts more than two sorts together, and beyond twelve in figures', () => {
		expect(where(item('paper', 'asked'), item('letter', 'asked'), item('question', 'asked'))).toBe('Three things are still to come.');
		expect(where(...Array.from({ length: 13 }, () => item('paper', 'asked')))).toBe('13 papers are still to come.');
	});
	it('says what waits for the firm once nothing is open', () => {
		expect(where(item('paper', 'accepted'), item('paper', 'handed_in'))).toBe('Everything is in; one thing waits for us to look at.');
		expect(where(item('paper', 'waived'), item('letter', 'declined'), item('paper', 'answered_no'))).toBe(
			'Everything is in; two things wait for us to look at.'
		);
		expect(where(item('paper', 'accepted'))).toBe('Everything we asked for is in.');
	});
	it('says so when nothing was asked, or the client is locked or gone', () => {
		expect(where()).toBe('Nothing has been asked yet.');
		expect(whereWeAre({ state: 'locked', items: [item('paper', 'asked')] }, '2026-05-04')).toBe('Locked: nothing is asked for now.');
		expect(whereWeAre({ state: 'ended', items: [] }, '2026-05-04')).toBe('No longer a client.');
	});
});
