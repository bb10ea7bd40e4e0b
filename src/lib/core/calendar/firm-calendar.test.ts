import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
	addBusinessDays,
	daysBetween,
	isBusinessDay,
	isSendingTime,
	localDate,
	localInstant,
	nextSendingTime,
	onOrAfterBusinessDay,
	openingsBetween,
	type FirmCalendar
} from './firm-calendar';

const halifax: FirmCalendar = {
	timeZone: 'America/Halifax',
	businessDays: [1, 2, 3, 4, 5],
	holidays: ['2026-04-03', '2026-05-18'],
	sendFrom: '09:00',
	sendTo: '17:00'
};
const auckland: FirmCalendar = { timeZone: 'Pacific/Auckland', businessDays: [1, 2, 3, 4, 5], holidays: [], sendFrom: '08:30', sendTo: '18:00' };

describe('business days', () => {
	test.each([
		['2026-05-04', 1, '2026-05-05'],
		['2026-05-08', 1, '2026-05-11'],
		['2026-05-09', 1, '2026-05-11'],
		['2026-05-09', -1, '2026-05-08'],
		['2026-05-09', 0, '2026-05-09'],
		['2026-05-11', -2, '2026-05-07'],
		['2026-05-15', 1, '2026-05-19'],
		['2026-04-02', 1, '2026-04-06'],
		['2026-04-07', -2, '2026-04-02'],
		['2028-02-28', 1, '2028-02-29'],
		['2026-12-31', 1, '2027-01-01']
	])('%s and %i business days is %s', (from, days, to) => {
		expect(addBusinessDays(from, days, halifax)).toBe(to);
	});

	test('a calendar full of holidays is refused instead of walked for ever', () => {
		const none = {
			...halifax,
			businessDays: [7],
			holidays: Array.from({ length: 600 }, (_, i) => new Date(Date.UTC(2026, 0, 4 + 7 * i)).toISOString().slice(0, 10))
		};
		expect(() => addBusinessDays('2026-01-01', 1, none)).toThrow(RangeError);
	});

	test('forward and back again returns to a business day', () => {
		const days = fc.integer({ min: 0, max: 900 }).map((n) => new Date(Date.UTC(2026, 0, 1 + n)).toISOString().slice(0, 10));
		fc.assert(
			fc.property(days, fc.integer({ min: 1, max: 30 }), (day, n) => {
				fc.pre(isBusinessDay(day, halifax));
				expect(addBusinessDays(addBusinessDays(day, n, halifax), -n, halifax)).toBe(day);
			})
		);
	});

	test('the next business day of a business day is itself', () => {
		expect(onOrAfterBusinessDay('2026-05-04', halifax)).toBe('2026-05-04');
		expect(onOrAfterBusinessDay('2026-05-16', halifax)).toBe('2026-05-19');
	});

	test('days between count calendar days across a year and a daylight-saving change', () => {
		expect(daysBetween('2026-03-07', '2026-03-09')).toBe(2);
		expect(daysBetween('2026-12-31', '2026-01-01')).toBe(-364);
	});
});

describe('local time', () => {
	test('the day depends on the place', () => {
		expect(localDate('2026-05-04T02:30:00Z', halifax)).toBe('2026-05-03');
		expect(localDate('2026-05-04T02:30:00Z', auckland)).toBe('2026-05-04');
	});

	test('09:00 stays 09:00 through daylight-saving changes in both hemispheres', () => {
		expect(localInstant('2026-03-06', '09:00', halifax)).toBe('2026-03-06T13:00:00Z');
		expect(localInstant('2026-03-09', '09:00', halifax)).toBe('2026-03-09T12:00:00Z');
		expect(localInstant('2026-11-02', '09:00', halifax)).toBe('2026-11-02T13:00:00Z');
		expect(localInstant('2026-04-03', '08:30', auckland)).toBe('2026-04-02T19:30:00Z');
		expect(localInstant('2026-04-06', '08:30', auckland)).toBe('2026-04-05T20:30:00Z');
	});

	test('a time that does not exist moves on, one that exists twice is the first', () => {
		expect(localInstant('2026-03-08', '02:30', halifax)).toBe('2026-03-08T06:30:00Z');
		expect(localInstant('2026-11-01', '01:30', halifax)).toBe('2026-11-01T04:30:00Z');
	});
});

describe('sending hours', () => {
	test.each([
		['2026-05-04T11:59:59Z', false],
		['2026-05-04T12:00:00Z', true],
		['2026-05-04T19:59:59Z', true],
		['2026-05-04T20:00:00Z', false],
		['2026-05-09T15:00:00Z', false],
		['2026-05-18T15:00:00Z', false]
	])('at %s in Halifax: %s', (at, expected) => {
		expect(isSendingTime(at, halifax)).toBe(expected);
	});

	test.each([
		['2026-05-04T11:00:00Z', '2026-05-04T12:00:00Z'],
		['2026-05-04T15:00:00Z', '2026-05-04T15:00:00Z'],
		['2026-05-04T21:00:00Z', '2026-05-05T12:00:00Z'],
		['2026-05-15T21:00:00Z', '2026-05-19T12:00:00Z'],
		['2026-03-06T22:00:00Z', '2026-03-09T12:00:00Z']
	])('after %s the next is %s', (at, next) => {
		expect(nextSendingTime(at, halifax)).toBe(next);
	});

	test('whatever the moment, the next sending time is one and not earlier', () => {
		fc.assert(
			fc.property(
				fc.date({ min: new Date('2026-01-01'), max: new Date('2027-12-31'), noInvalidDate: true }),
				fc.constantFrom(halifax, auckland),
				(date, calendar) => {
					const next = nextSendingTime(date.toISOString(), calendar);
					expect(isSendingTime(next, calendar)).toBe(true);
					expect(Date.parse(next)).toBeGreaterThanOrEqual(date.getTime());
				}
			)
		);
	});

	test('openings between two moments are every business morning, in order', () => {
		expect(openingsBetween('2026-05-14T12:00:00Z', '2026-05-20T12:00:00Z', halifax)).toEqual([
			'2026-05-15T12:00:00Z',
			'2026-05-19T12:00:00Z',
			'2026-05-20T12:00:00Z'
		]);
	});
});
