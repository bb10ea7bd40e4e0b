import { describe, expect, test } from 'vitest';
import { addToInstant, isSendingTime, localDate, localInstant, weekdayOf, type FirmCalendar } from './firm-calendar';
import { hasOwnTimes, isTimeFor, nextTimeFor, theirOpeningsBetween, theirTimesForm, timesMeet, type TheirTimes } from './their-times';
import { timesInWords } from './times-in-words';

const halifax: FirmCalendar = {
	timeZone: 'America/Halifax',
	businessDays: [1, 2, 3, 4, 5],
	holidays: ['2026-05-18'],
	sendFrom: '09:00',
	sendTo: '17:00'
};
const auckland: FirmCalendar = { ...halifax, timeZone: 'Pacific/Auckland', holidays: [] };
const times = (more: Partial<TheirTimes> = {}): TheirTimes => ({ timeZone: null, from: null, to: null, quietDays: [], perWeek: null, ...more });

describe('when both the firm’s hours and theirs allow it', () => {
	test('where they are, the firm’s hours hold on their clock as well', () => {
		// Halifax opens at noon UTC, Vancouver at nine on its clock is 16:00 UTC
		const vancouver = times({ timeZone: 'America/Vancouver' });
		expect(nextTimeFor('2026-05-04T12:00:00Z', vancouver, halifax)).toBe('2026-05-04T16:00:00Z');
		expect(nextTimeFor('2026-05-04T17:30:00Z', vancouver, halifax)).toBe('2026-05-04T17:30:00Z');
		// the firm closes at 20:00 UTC; Saturday, Sunday; and the holiday of the firm
		expect(nextTimeFor('2026-05-08T20:00:00Z', vancouver, halifax)).toBe('2026-05-11T16:00:00Z');
		expect(nextTimeFor('2026-05-15T20:00:00Z', vancouver, halifax)).toBe('2026-05-19T16:00:00Z');
	});

	test('the clocks of two places that change on different days', () => {
		// the United Kingdom changes on 29 March 2026, Halifax on 8 March
		const evening = times({ timeZone: 'Europe/London', from: '18:00', to: '20:00' });
		expect(nextTimeFor('2026-03-06T08:00:00Z', evening, halifax)).toBe('2026-03-06T18:00:00Z');
		expect(nextTimeFor('2026-03-27T08:00:00Z', evening, halifax)).toBe('2026-03-27T18:00:00Z');
		expect(nextTimeFor('2026-03-30T08:00:00Z', evening, halifax)).toBe('2026-03-30T17:00:00Z');
		// Halifax closes at 20:00 UTC in summer, 21:00 in winter
		const late = times({ timeZone: 'Europe/London', from: '20:30', to: '22:00' });
		expect(nextTimeFor('2026-03-06T08:00:00Z', late, halifax)).toBe('2026-03-06T20:30:00Z');
		expect(timesMeet(late, halifax, '2026-03-06')).toBe(true);
		expect(nextTimeFor('2026-03-16T08:00:00Z', late, halifax)).toBe('2026-03-30T19:30:00Z');
	});

	test('their quiet days are those of their own calendar', () => {
		// Monday 9:00 in Auckland is Sunday in Vancouver until 17:00 and more
		const noSundays = times({ timeZone: 'America/Vancouver', from: '00:00', to: '23:59', quietDays: [7] });
		const monday = localInstant('2026-06-08', '09:00', auckland);
		expect(nextTimeFor(monday, noSundays, auckland)).toBe(localInstant('2026-06-09', '09:00', auckland));
		// their midnight lies within the firm's day: two windows
		const noMondays = times({ timeZone: 'Europe/London', from: '00:00', to: '23:59', quietDays: [1] });
		for (const [now, weekday] of [
			[localInstant('2026-06-09', '09:00', auckland), 2],
			[localInstant('2026-06-08', '09:00', auckland), 7]
		] as const) {
			const at = nextTimeFor(now, noMondays, auckland);
			expect(weekdayOf(localDate(at, { timeZone: 'Europe/London' }))).toBe(weekday);
			expect(isSendingTime(at, auckland)).toBe(true);
		}
	});

	test('hours that never meet the firm’s hold nobody back for ever: the firm’s hold alone', () => {
		const night = times({ from: '20:00', to: '22:00' });
		expect(timesMeet(night, halifax, '2026-05-04')).toBe(false);
		expect(nextTimeFor('2026-05-04T11:00:00Z', night, halifax)).toBe('2026-05-04T12:00:00Z');
		expect(isTimeFor('2026-05-04T14:00:00Z', night, halifax)).toBe(true);
		expect(timesMeet(times({ quietDays: [1, 2, 3, 4, 5] }), halifax, '2026-05-04')).toBe(false);
		expect(timesMeet(times({ quietDays: [1, 2, 3, 4] }), halifax, '2026-05-04')).toBe(true);
	});

	test('without times of their own it is the firm’s hours', () => {
		for (let hour = 0; hour < 24 * 21; hour++) {
			const at = addToInstant('2026-10-20T04:10:00Z', { hours: hour });
			expect(isTimeFor(at, null, halifax)).toBe(isSendingTime(at, halifax));
			expect(isTimeFor(at, times({ perWeek: 1 }), halifax)).toBe(isSendingTime(at, halifax));
		}
	});

	test('a clock that is moved forward stops at each of their openings', () => {
		expect(
			theirOpeningsBetween('2026-05-04T12:00:00Z', '2026-05-06T16:00:00Z', times({ timeZone: 'America/Vancouver', quietDays: [2] }), halifax)
		).toEqual(['2026-05-04T16:00:00Z', '2026-05-06T16:00:00Z']);
	});
});

describe('what is typed', () => {
	const wrong = (typed: Record<string, unknown>) =>
		theirTimesForm
			.safeParse({ timeZone: '', from: '', to: '', quietDays: [], perWeek: '', ...typed })
			.error?.issues.map(({ path, message }) => `${path.join('.')}: ${message}`);

	test('nothing is nothing, and what is chosen is kept in order', () => {
		expect(hasOwnTimes(theirTimesForm.parse({ timeZone: '', from: '', to: '', quietDays: [], perWeek: '' }))).toBe(false);
		expect(theirTimesForm.parse({ timeZone: 'America/Vancouver', from: '18:00', to: '20:00', quietDays: ['7', '6', '7'], perWeek: '1' })).toEqual(
			times({ timeZone: 'America/Vancouver', from: '18:00', to: '20:00', quietDays: [6, 7], perWeek: 1 })
		);
	});

	test.each([
		[{ from: '18:00' }, 'to: wrong.times.both'],
		[{ to: '18:00' }, 'from: wrong.times.both'],
		[{ from: '18:00', to: '18:00' }, 'to: wrong.times.order'],
		[{ from: '25:00', to: '26:00' }, 'from: wrong.times.time'],
		[{ timeZone: 'Atlantis/Capital' }, 'timeZone: wrong.times.zone'],
		[{ timeZone: 'x'.repeat(2_000_000) }, 'timeZone: wrong.times.zone'],
		[{ quietDays: ['1', '2', '3', '4', '5', '6', '7'] }, 'quietDays: wrong.times.days'],
		[{ perWeek: '0' }, 'perWeek: wrong.times.week'],
		[{ perWeek: 'often' }, 'perWeek: wrong.times.week']
	])('%o is refused at its field', (typed, problem) => expect(wrong(typed)).toContain(problem));

	test('in words', () => {
		expect(timesInWords(null)).toBe('whenever the firm writes');
		expect(timesInWords(times({ timeZone: 'America/Argentina/Buenos_Aires' }))).toBe('in the firm’s hours in Buenos Aires');
		expect(timesInWords(times({ timeZone: 'America/Vancouver', from: '18:00', to: '20:00', quietDays: [6, 7], perWeek: 1 }))).toBe(
			'from 18:00 to 20:00 in Vancouver, not on Saturdays and Sundays; at most one reminder a week'
		);
	});
});
