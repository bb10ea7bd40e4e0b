import { describe, expect, test } from 'vitest';
import { brandSchema, COUNTRIES, firmHoursSchema, shortNameField, shortNameOf } from './firm-forms';

describe('the short name in the portal’s address', () => {
	test.each([
		['Pennywhistle Row Bookkeeping', 'pennywhistle-row-bookkeeping'],
		['Gull & Söhne, Ærø', 'gull-and-sohne-r'],
		['  --  ', 'firm-one'],
		['Desk', 'firm-desk'],
		['帳簿', 'firm-one'],
		['x'.repeat(200), 'x'.repeat(50)]
	])('of %j is %s, and allowed', (name, short) => {
		expect(shortNameOf(name)).toBe(short);
		expect(shortNameField.safeParse(short).success).toBe(true);
	});
	test.each(['a', '-a', 'a-', 'a--b', 'a_b', 'a/b', 'ä', '../desk', 'portal', 'x'.repeat(62), ''])('%j is refused', (name) => {
		expect(shortNameField.safeParse(name).success).toBe(false);
	});
	test('capitals are taken as small letters', () => expect(shortNameField.parse(' Gull-2 ')).toBe('gull-2'));
});

test.each([
	['#2F5D50', '#2f5d50'],
	['2f5d50', null],
	['#fff', null],
	['#2f5d50;background:url(x)', null]
])('the colour %j is kept as %j', (color, kept) => {
	const parsed = brandSchema.safeParse({ color, welcome: '', shortName: 'gull' });
	expect(parsed.success ? parsed.data.color : null).toBe(kept);
});

test('hours need a day, a zone there is, and an end after the beginning', () => {
	const hours = { timeZone: 'America/Halifax', businessDays: ['1', '5'], sendFrom: '09:00', sendTo: '17:00' };
	expect(firmHoursSchema.parse(hours).businessDays).toEqual([1, 5]);
	for (const wrong of [{ businessDays: [] }, { businessDays: ['8'] }, { timeZone: 'Gullhaven' }, { sendTo: '09:00' }, { sendFrom: '9' }])
		expect(firmHoursSchema.safeParse({ ...hours, ...wrong }).success, JSON.stringify(wrong)).toBe(false);
	expect(COUNTRIES).toContain('CA');
});
