import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/min';
import { z } from 'zod';
import { cleanText } from './plain-fields';

/**
 * An optional phone number as people write it, kept as ITU-T E.164; empty becomes null.
 * @param country where a number without a country code belongs (ISO 3166-1 alpha-2)
 */
export function phoneField(country: string) {
	return z
		.string()
		.max(40, 'This is too long for a phone number.')
		.optional()
		.transform((text, context) => {
			const typed = cleanText(text ?? '');
			if (!typed) return null;
			const number = parsePhoneNumberFromString(typed, country as CountryCode);
			if (number?.isPossible() && !number.ext) return number.number as string;
			context.addIssue({
				code: 'custom',
				message: 'This does not look like a phone number. Write it with its area code, or with + and the country.'
			});
			return z.NEVER;
		});
}

/** A kept number as people of a country write it: national at home, international elsewhere. */
export function phoneInWords(number: string, country: string): string {
	const parsed = parsePhoneNumberFromString(number);
	if (!parsed) return number;
	return parsed.country === country ? parsed.formatNational() : parsed.formatInternational();
}

/** The digits of what somebody types into a search, as they stand in a kept number; empty if it is no number. */
export function phoneDigits(typed: string): string {
	if (!/^[\d\s()+./-]+$/.test(typed)) return '';
	const digits = typed.replace(/\D/g, '').replace(/^0+/, '');
	return digits.length >= 3 ? digits : '';
}
