import ICAL from 'ical.js';
import { expect, test } from 'vitest';
import { calendarFile } from './calendar-file';

test('an appointment is read by a calendar as what it is, on either side of a clock change', () => {
	for (const at of ['2026-03-08T05:30:00Z', '2026-11-01T05:30:00Z']) {
		const text = calendarFile(
			{
				uid: 'one@firm',
				at,
				minutes: 45,
				title: 'A first look; your books, 2026',
				where: '4 Pennywhistle Row',
				organizer: { name: 'Firm', email: 'office@firm.example' }
			},
			'2026-03-01T12:00:00Z'
		);
		expect(text.split('\r\n').every((line) => Buffer.byteLength(line) <= 75)).toBe(true);
		const event = new ICAL.Event(new ICAL.Component(ICAL.parse(text)).getFirstSubcomponent('vevent')!);
		expect(event.startDate.toJSDate().toISOString()).toBe(at.replace('Z', '.000Z'));
		expect(event.duration.toSeconds()).toBe(45 * 60);
		expect([event.summary, event.location, event.organizer]).toEqual([
			'A first look; your books, 2026',
			'4 Pennywhistle Row',
			'mailto:office@firm.example'
		]);
	}
});
