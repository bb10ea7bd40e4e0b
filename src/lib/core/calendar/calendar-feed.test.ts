import ICAL from 'ical.js';
import { expect, test } from 'vitest';
import { calendarFeed } from './calendar-feed';

test('a feed says whole days, in any time zone, and what stands in names does not break it', () => {
	const title = 'Gull, String; \\ “Kites”: 2 things are due\r\nBEGIN:VEVENT';
	const text = calendarFeed(
		'Pennywhistle Row: what is due',
		[
			{ uid: 'due-1', on: '2026-12-31', title, words: `First\nSecond ${'ä'.repeat(200)}`, url: 'https://desk.example/desk/clients/1' },
			{ uid: 'call-1', on: '2026-03-08', title: 'Call Mara', words: '', url: 'https://desk.example/desk/rounds/call-1' }
		],
		'2026-05-04T11:30:00.123Z'
	);
	// RFC 5545, 3.1: lines of at most 75 octets, ended by CR and LF
	expect(text.split('\r\n').every((line) => Buffer.byteLength(line) <= 75)).toBe(true);
	expect(text.replaceAll('\r\n', '')).not.toMatch(/[\r\n]/);
	const events = new ICAL.Component(ICAL.parse(text)).getAllSubcomponents('vevent').map((event) => new ICAL.Event(event));
	expect(events).toHaveLength(2);
	expect(events[0].summary).toBe(title.replace('\r\n', '\n'));
	expect(events[0].description).toContain('First\nSecond ä');
	expect([events[0].startDate.isDate, events[0].startDate.toString(), events[0].endDate.toString()]).toEqual([true, '2026-12-31', '2027-01-01']);
	expect(events[1].component.getFirstPropertyValue('transp')).toBe('TRANSPARENT');
	expect(text).toContain('REFRESH-INTERVAL;VALUE=DURATION:PT1H');
	expect(text).toContain('DTSTAMP:20260504T113000Z');
});
