import { describe, expect, test } from 'vitest';
import type { FirmCalendar } from '../calendar/firm-calendar';
import { announcementTime } from './announcing';

const halifax: FirmCalendar = {
	timeZone: 'America/Halifax',
	businessDays: [1, 2, 3, 4, 5],
	holidays: ['2026-05-18'],
	sendFrom: '09:00',
	sendTo: '17:00'
};
const auckland: FirmCalendar = { ...halifax, timeZone: 'Pacific/Auckland' };

describe('somebody is told', () => {
	test.each<[string, string, string | null, FirmCalendar, string]>([
		['at once within sending hours', '2026-05-04T13:30:00Z', null, halifax, '2026-05-04T13:30:00Z'],
		['at once though told yesterday', '2026-05-05T13:30:00Z', '2026-05-04', halifax, '2026-05-05T13:30:00Z'],
		['in the morning before them', '2026-05-04T10:00:00Z', null, halifax, '2026-05-04T12:00:00Z'],
		['the next day when told today', '2026-05-04T13:30:00Z', '2026-05-04', halifax, '2026-05-05T12:00:00Z'],
		['on Monday when told on Friday', '2026-05-08T13:30:00Z', '2026-05-08', halifax, '2026-05-11T12:00:00Z'],
		['after a holiday', '2026-05-15T13:30:00Z', '2026-05-15', halifax, '2026-05-19T12:00:00Z'],
		['an hour later by the sun when clocks go forward', '2026-03-06T14:00:00Z', '2026-03-06', halifax, '2026-03-09T12:00:00Z'],
		['an hour earlier when they go back', '2026-10-30T13:00:00Z', '2026-10-30', halifax, '2026-11-02T13:00:00Z'],
		['by the day of the firm, not of Greenwich', '2026-05-04T22:30:00Z', '2026-05-04', auckland, '2026-05-04T22:30:00Z'],
		['the next day of the firm', '2026-05-04T22:30:00Z', '2026-05-05', auckland, '2026-05-05T21:00:00Z']
	])('%s', (_what, now, lastOn, calendar, at) => {
		expect(announcementTime(now, lastOn, calendar)).toBe(at);
	});
});
