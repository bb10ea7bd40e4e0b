import { expect, test } from 'vitest';
import { readHolidays } from './holidays';

const calendar = (...events: string[][]) =>
	['BEGIN:VCALENDAR', 'VERSION:2.0', ...events.flatMap((lines) => ['BEGIN:VEVENT', ...lines, 'END:VEVENT']), 'END:VCALENDAR'].join('\r\n');
const read = (text: string) => readHolidays(text, '2026-05-04', '2029-05-03').map(({ day, name }) => `${day} ${name}`);

test('whole days, ranges and rules; what lies behind and meetings are left out', () => {
	expect(
		read(
			calendar(
				['SUMMARY:Natal Day', 'DTSTART;VALUE=DATE:20260803'],
				['SUMMARY:Long ago', 'DTSTART;VALUE=DATE:20200101'],
				['SUMMARY:Meeting', 'DTSTART:20260804T130000Z'],
				['SUMMARY:Closed\\, for the\\n harbour fair', 'DTSTART;VALUE=DATE:20260810', 'DTEND;VALUE=DATE:20260812'],
				['SUMMARY:Canada Day', 'DTSTART;VALUE=DATE:20200701', 'RRULE:FREQ=YEARLY'],
				['SUMMARY:Labour Day', 'DTSTART;VALUE=DATE:20250901', 'RRULE:FREQ=YEARLY;BYMONTH=9;BYDAY=1MO;UNTIL=20270901']
			)
		)
	).toEqual([
		'2026-07-01 Canada Day',
		'2026-08-03 Natal Day',
		'2026-08-10 Closed, for the harbour fair',
		'2026-08-11 Closed, for the harbour fair',
		'2026-09-07 Labour Day',
		'2027-07-01 Canada Day',
		'2028-07-01 Canada Day'
	]);
});

test('many rules that began long ago are refused together, not each by itself', () => {
	const daily = ['SUMMARY:x', 'DTSTART;VALUE=DATE:19500101', 'RRULE:FREQ=DAILY;UNTIL=20260101'];
	expect(() => read(calendar(daily))).toThrow(/no whole day/);
	expect(() => read(calendar(...Array.from({ length: 400 }, () => daily)))).toThrow(/repeats itself too often/);
});

test.each([
	['a picture', '\u0089PNG'],
	['nothing', ''],
	['a card', 'BEGIN:VCARD\r\nFN:x\r\nEND:VCARD']
])('%s is told to be no calendar', (_, text) => expect(() => read(text)).toThrow(/cannot be read as a calendar/));

test('nothing in the time ahead, or far too much, is told', () => {
	expect(() => read(calendar(['SUMMARY:x', 'DTSTART;VALUE=DATE:20200101']))).toThrow(/no whole day/);
	expect(() => read(calendar(['SUMMARY:x', 'DTSTART;VALUE=DATE:20200101', 'RRULE:FREQ=DAILY']))).toThrow(/more than 400/);
});
