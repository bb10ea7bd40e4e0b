import { describe, expect, it } from 'vitest';
import { COUNTRIES } from './firm-forms';
import { shortFirmName } from './short-name';
import { proposedZone, zonesOf } from './time-zones';

describe('the name in the head of a page', () => {
	it.each([
		['Pennywhistle Row Bookkeeping', 'Pennywhistle Row'],
		['Gull & Ledger Söhne', 'Gull & Ledger Söhne'],
		['Fenwick & Ashgrove Chartered Accountants', 'Fenwick & Ashgrove'],
		['Fenwick-Ashgrove Marlowe & Sons', 'Fenwick-Ashgrove Marlowe'],
		['The Bookkeepers of Gullhaven', 'The Bookkeepers'],
		['Unausweichlichkeitsbuchhaltung', 'Unausweichlichkeitsbuchhaltung'],
		['  Ledger  ', 'Ledger']
	])('%s is %s', (name, short) => expect(shortFirmName(name)).toBe(short));
});

describe('the time zone of a country', () => {
	it('stays where it is one of the country’s, else is where most people live', () => {
		expect(proposedZone('CA', 'America/Halifax')).toBe('America/Halifax');
		expect(proposedZone('CA', 'Europe/Berlin')).toBe('America/Toronto');
		expect(proposedZone('NL', 'America/Halifax')).toBe('Europe/Amsterdam');
		expect(proposedZone('', 'America/Halifax')).toBe('America/Halifax');
	});
	it('is one that dates can be counted in, for every country', () => {
		for (const country of COUNTRIES.filter((code) => zonesOf(code).length > 0)) {
			const zone = proposedZone(country, '');
			expect(() => new Intl.DateTimeFormat('en', { timeZone: zone }), country).not.toThrow();
		}
	});
});
