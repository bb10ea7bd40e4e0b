import { describe, expect, test } from 'vitest';
import { logoSize, pngSize } from './logo';
import { brandSchema, COUNTRIES, firmHoursSchema, shortNameField, shortNameOf } from './firm-forms';
import { websiteButton } from './website-button';

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

describe('a logo', () => {
	const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAMAAAACCAIAAAASFvFNAAAAEElEQVR4nGOoko+BIAY4CwA6NAW/Ek33vwAAAABJRU5ErkJggg==', 'base64');
	test('its size stands in its header; nothing else is taken for one', () => {
		expect(pngSize(png)).toEqual({ width: 3, height: 2 });
		expect(pngSize(new Uint8Array(Buffer.concat([Buffer.alloc(5), png])).subarray(5))).toEqual({ width: 3, height: 2 });
		for (const other of [png.subarray(0, 20), Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>'.padEnd(60)), Buffer.alloc(60), Buffer.alloc(0)])
			expect(pngSize(other)).toBeNull();
	});
	test.each([
		[
			{ width: 2000, height: 500 },
			{ width: 960, height: 240 }
		],
		[
			{ width: 100, height: 3200 },
			{ width: 10, height: 320 }
		],
		[
			{ width: 60, height: 20 },
			{ width: 60, height: 20 }
		],
		[
			{ width: 0, height: 0 },
			{ width: 960, height: 320 }
		],
		[
			{ width: 100_000, height: 1 },
			{ width: 960, height: 1 }
		]
	])('%j is drawn at %j', (picture, drawn) => expect(logoSize(picture)).toEqual(drawn));
});

test('hours need a day, a zone there is, and an end after the beginning', () => {
	const hours = { timeZone: 'America/Halifax', businessDays: ['1', '5'], sendFrom: '09:00', sendTo: '17:00' };
	expect(firmHoursSchema.parse(hours).businessDays).toEqual([1, 5]);
	for (const wrong of [{ businessDays: [] }, { businessDays: ['8'] }, { timeZone: 'Gullhaven' }, { sendTo: '09:00' }, { sendFrom: '9' }])
		expect(firmHoursSchema.safeParse({ ...hours, ...wrong }).success, JSON.stringify(wrong)).toBe(false);
	expect(COUNTRIES).toContain('CA');
});

test('the button for a website is one harmless link, whatever the firm is called', () => {
	const html = websiteButton('Gull & <script>alert("x")</script>', 'https://portal.example/portal/gull/sign-in', '#2f5d50');
	expect(html).toMatch(/^<a href="https:\/\/portal\.example\/portal\/gull\/sign-in" style="[^"<>]*">Sign in to [^<>]*<\/a>$/);
	expect(html).toContain('Gull &amp; &lt;script&gt;');
});
