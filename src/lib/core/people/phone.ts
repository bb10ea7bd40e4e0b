import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/min';
import { z } from 'zod';
import { cleanText } from './plain-fields';

/**
 * An optional phone number as people write it, kept as ITU-T E.164; empty becomes null.
 * @param country where a number without a country code belongs (ISO 3166-1 alpha-2)
 * @param wrong what is said of something else
 */
export function phoneField(
	country: string,
	wrong = 'This does not look like a phone number. Write it with its area code, or with + and the country.'
) {
	return z
		.string()
		.max(40, wrong)
		.optional()
		.transform((text, context) => {
			const typed = cleanText(text ?? '');
			if (!typed) return null;
			const number = parsePhoneNumberFromString(typed, country as CountryCode);
			if (number?.isPossible() && !number.ext) return number.number as string;
			context.addIssue({ code: 'custom', message: wrong });
			return z.NEVER;
		});
}

/** A phone number that has to be given; problems are keys of the message catalogue. */
export function requiredPhone(country: string) {
	return phoneField(country, 'wrong.phone').pipe(z.string('wrong.phone'));
}

/** A kept number as people of a country write it: national at home, international elsewhere. */
export function phoneInWords(number: string, country: string): string {
	const parsed = parsePhoneNumberFromString(number);
	if (!parsed) return number;
	return parsed.country === country ? parsed.formatNational() : parsed.formatInternational();
}

/** What is told of a number to somebody who has only taken the first step: its last two digits. */
export function phoneHint(number: string): string {
	return `…${number.slice(-2)}`;
}

/** The digits of what somebody types into a search, as they stand in a kept number; empty if it is no number. */
export function phoneDigits(typed: string): string {
	if (!/^[\d\s()+./-]+$/.test(typed)) return '';
	const digits = typed.replace(/\D/g, '').replace(/^0+/, '');
	return digits.length >= 3 ? digits : '';
}
