import { describe, expect, test } from 'vitest';
import { nameInAddress, pace, publicPageSchema, siteOf } from './public-page';
import { visitorSchema } from './visitor';

test.each([
	['Tell us about your business', 'tell-us-about-your-business'],
	['  Été à Québec! ', 'ete-a-quebec'],
	['--', ''],
	['../../desk', 'desk'],
	['a'.repeat(80), 'a'.repeat(60)]
])('“%s” stands in an address as “%s”', (words, name) => expect(nameInAddress(words)).toBe(name));

describe('websites that may show a page in a frame', () => {
	test.each([
		['https://www.firm.example', 'https://www.firm.example'],
		['www.Firm.example/about-us', 'https://www.firm.example'],
		['https://*.firm.example', 'https://*.firm.example'],
		['https://firm.example:8443/x', 'https://firm.example:8443']
	])('%s', (written, site) => expect(siteOf(written)).toBe(site));
	// what would open the frame to everybody, or add a rule of its own to the policy
	test.each([
		'*',
		'https://*',
		'http://firm.example',
		'https://firm.example; script-src *',
		"'self'",
		'data:',
		'javascript:alert(1)',
		'https://',
		'localhost'
	])('not %s', (written) => expect(siteOf(written)).toBeNull());
	test('one in a line, each once; a wrong one is named', () => {
		const page = { name: 'enquiry', who: 'asked', thanks: '' };
		expect(publicPageSchema.parse({ ...page, sites: 'a.example\nhttps://a.example/x, b.example' }).sites).toEqual([
			'https://a.example',
			'https://b.example'
		]);
		expect(publicPageSchema.safeParse({ ...page, sites: 'a.example\nnonsense' }).error?.issues[0].message).toContain('“nonsense”');
	});
});

test('a person takes three seconds at least, and sends a page within a month, whatever the clocks do in between', () => {
	const opened = '2026-03-08T05:59:58Z';
	expect(pace(opened, '2026-03-08T06:00:00.999Z')).toBe('too_fast');
	expect(pace(opened, '2026-03-08T06:00:01Z')).toBe('person');
	// over the change to summer time of Halifax, thirty days are thirty times 24 hours
	expect(pace(opened, '2026-04-07T05:59:58Z')).toBe('person');
	expect(pace(opened, '2026-04-07T05:59:59Z')).toBe('too_old');
	// a page from the future was not opened by the clock of this firm
	expect(pace('2026-03-09T00:00:00Z', opened)).toBe('too_fast');
});

test('who answers: asked for, or left to them; what reorders text is taken out', () => {
	const given = (who: 'asked' | 'optional', fields: object) => visitorSchema(who, 'CA').safeParse(fields);
	expect(given('asked', {}).error?.issues.map(({ path, message }) => [path[0], message])).toEqual([
		['name', 'wrong.public.name'],
		['email', 'wrong.email.empty']
	]);
	expect(given('optional', {}).data).toEqual({ name: '', business: '', email: null, phone: null });
	expect(given('asked', { name: ' Wren \u202eCastellan ', email: ' wren@saltglass.example ', phone: '613 555 0182' }).data).toEqual({
		name: 'Wren Castellan',
		business: '',
		email: 'wren@saltglass.example',
		phone: '+16135550182'
	});
	expect(
		given('optional', { email: 'no address', phone: '12', name: 'x'.repeat(121) })
			.error?.issues.map(({ message }) => message)
			.sort()
	).toEqual(['wrong.email.form', 'wrong.phone', 'wrong.public.long']);
});
