import { countrySpecs, electronicFormatIBAN, isSEPACountry, isValidIBAN } from 'ibantools';
import type { PlaceKind } from './places';

/** How accounts are named where an account is: by one number everywhere (ISO 13616), or by that of the bank and that of the account. */
export type BankForm = 'iban' | 'routing';

/** Where an IBAN exists and people still name the bank apart. */
const APART = ['GB', 'GG', 'IM', 'JE'];
/** @param country ISO 3166-1 alpha-2 */
export const bankFormOf = (country: string): BankForm => (isSEPACountry(country) && !APART.includes(country) ? 'iban' : 'routing');

/** What is asked of an account in a country, in order. */
export const bankKindsOf = (country: string): Extract<PlaceKind, 'holder' | 'routing' | 'account'>[] =>
	bankFormOf(country) === 'iban' ? ['holder', 'account'] : ['holder', 'routing', 'account'];

/** Digits of the number of a bank, where they are known. */
const ROUTING: Readonly<Record<string, RegExp>> = { US: /^\d{9}$/, CA: /^(0\d{8}|\d{8})$/, GB: /^\d{6}$/, AU: /^\d{6}$/ };
/** Digits of the number of an account, where they are known. */
const ACCOUNT: Readonly<Record<string, RegExp>> = { US: /^\d{4,17}$/, CA: /^\d{5,12}$/, GB: /^\d{6,10}$/, AU: /^\d{4,10}$/ };

const bare = (typed: string): string => typed.replace(/[\s.\-–]/g, '').toUpperCase();

/** The check digit of the American Bankers Association: threes, sevens and ones. */
const isRoutingNumber = (digits: string): boolean => [...digits].reduce((sum, digit, at) => sum + Number(digit) * [3, 7, 1][at % 3], 0) % 10 === 0;

/**
 * The number of a bank or an account in the one spelling in which it is handed on; null if it cannot be one.
 * @param country where the account is; without one, whatever could be a number of an account somewhere
 */
export function bankNumber(kind: 'routing' | 'account', typed: string, country: string | undefined): string | null {
	const number = bare(typed);
	if (kind === 'routing') {
		if (!(ROUTING[country ?? ''] ?? /^\d{3,12}$/).test(number)) return null;
		return country === 'US' && !isRoutingNumber(number) ? null : number;
	}
	// an account may be in another country than the firm
	if (/^[A-Z]{2}\d{2}/.test(number) && countrySpecs[number.slice(0, 2)]?.IBANRegistry) {
		const iban = electronicFormatIBAN(number);
		return iban && isValidIBAN(iban) ? iban : null;
	}
	if (country && bankFormOf(country) === 'iban') return null;
	return (ACCOUNT[country ?? ''] ?? /^[A-Z\d]{4,34}$/).test(number) ? number : null;
}

/** The last characters of a number, by which its owner knows it again. */
export const lastOf = (number: string): string => number.slice(number.length > 8 ? -4 : -2);
