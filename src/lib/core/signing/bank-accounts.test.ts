import { expect, test } from 'vitest';
import { bankFormOf, bankKindsOf, bankNumber, lastOf } from './bank-accounts';

test.each([
	['US', 'routing'],
	['CA', 'routing'],
	['GB', 'routing'],
	['AU', 'routing'],
	['FR', 'iban'],
	['DE', 'iban'],
	['CH', 'iban']
] as const)('an account in %s is named by its %s', (country, form) => {
	expect(bankFormOf(country)).toBe(form);
	expect(bankKindsOf(country)).toEqual(form === 'iban' ? ['holder', 'account'] : ['holder', 'routing', 'account']);
});

test.each([
	// made up, with the check digits that belong to them
	['routing', '021 000 021', 'US', '021000021'],
	['routing', '021000022', 'US', null],
	['routing', '02100002', 'US', null],
	['routing', '12345-003', 'CA', '12345003'],
	['routing', '20-00-00', 'GB', '200000'],
	['routing', '2000', 'GB', null],
	['account', '0123 4567 89', 'US', '0123456789'],
	['account', '123', 'US', null],
	['account', '12345678', 'GB', '12345678'],
	['account', 'FR14 2004 1010 0505 0001 3M02 606', 'FR', 'FR1420041010050500013M02606'],
	['account', 'fr1420041010050500013m02606', 'FR', 'FR1420041010050500013M02606'],
	// a digit was changed; one is missing; the number of the account alone
	['account', 'FR15 2004 1010 0505 0001 3M02 606', 'FR', null],
	['account', 'FR14 2004 1010 0505 0001 3M02 60', 'FR', null],
	['account', '0500013', 'FR', null],
	// an account abroad
	['account', 'FR1420041010050500013M02606', 'US', 'FR1420041010050500013M02606'],
	['account', 'ABC', undefined, null],
	['account', '١٢٣٤٥٦٧٨', 'US', null]
] as const)('%s %j in %s is handed on as %j', (kind, typed, country, number) => expect(bankNumber(kind, typed, country)).toBe(number));

test('its owner knows a number again by its end, and nobody else learns it', () => {
	expect(lastOf('0123456789')).toBe('6789');
	expect(lastOf('12345678')).toBe('78');
});
