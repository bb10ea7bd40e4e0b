import { phoneField } from '../people/phone';
import { getCountries } from 'libphonenumber-js/min';
import { z } from 'zod';
import { firmCalendarSchema } from '../calendar/firm-calendar';
import { videoField } from './video-field';
import { languageField } from '../people/language-field';
import { emailField, oneLine, optionalText } from '../people/plain-fields';

/** The countries a firm can be in, ISO 3166-1 alpha-2. */
export const COUNTRIES: readonly string[] = getCountries();

/** Currencies in use, ISO 4217. */
export const CURRENCIES: readonly string[] = Intl.supportedValuesOf('currency');

const country = z.string().refine((code) => COUNTRIES.includes(code), 'Choose a country.');
const { timeZone, sendFrom, sendTo } = firmCalendarSchema.shape;

/** The least a firm must say to begin; everything else is asked where it is first needed. */
export const setUpSchema = z.object({
	code: z.string().max(200),
	firmName: oneLine('the firm’s name', 120),
	country,
	timeZone,
	name: oneLine('your name', 120),
	email: emailField,
	password: z.string().max(300)
});
export type SetUp = z.output<typeof setUpSchema>;

/** Who the firm is, as letters and messages name it; its number is read as one of its country. */
export const firmDetailsSchema = z
	.object({
		name: oneLine('the firm’s name', 120),
		address: optionalText('the address', 300).transform((text) => text ?? ''),
		country,
		mailFrom: emailField,
		phone: z.string().max(40).default(''),
		/** empty for that of the country */
		currency: z
			.string()
			.trim()
			.toUpperCase()
			.refine((code) => code === '' || CURRENCIES.includes(code), 'Choose a currency.')
			.transform((code) => code || null)
			.default(null),
		clientLanguage: languageField
	})
	.transform(({ phone, ...details }, context) => {
		const parsed = phoneField(details.country).safeParse(phone);
		if (parsed.success) return { ...details, phone: parsed.data };
		context.addIssue({ code: 'custom', path: ['phone'], message: parsed.error.issues[0].message });
		return z.NEVER;
	});

/** When the firm works and messages may go out. */
export const firmHoursSchema = z
	.object({
		timeZone,
		businessDays: z.array(z.coerce.number().int().min(1).max(7)).min(1, 'Choose at least one business day.'),
		sendFrom,
		sendTo
	})
	.refine(({ sendFrom, sendTo }) => sendFrom < sendTo, { path: ['sendTo'], message: 'Sending must end after it begins.' });

/** Words that stand in addresses of the product itself, and would be mistaken for a firm. */
const TAKEN = ['desk', 'portal', 'mail', 'health', 'sign', 'admin', 'www'];

/** The firm's short name in the portal's address. */
export const shortNameField = z
	.string()
	.trim()
	.toLowerCase()
	.regex(/^[a-z0-9](?:[a-z0-9]|-(?!-)){0,59}[a-z0-9]$/, 'Use small letters, digits and single hyphens, at least two characters.')
	.refine((name) => !TAKEN.includes(name), 'This word has a meaning of its own here. Choose another one.');

const look = {
	color: z
		.string()
		.trim()
		.toLowerCase()
		.regex(/^#[0-9a-f]{6}$/, 'Write the colour as # and six digits or letters from a to f.'),
	welcome: optionalText('the welcome', 400).transform((text) => text ?? ''),
	welcomeVideo: videoField
};

/** How the firm appears to its clients. */
export const brandSchema = z.object({ ...look, shortName: shortNameField });

/** How it appears to some of them. */
export const furtherBrandSchema = z.object({ name: oneLine('the name clients read', 120), ...look });

/** Which brand one client sees, and a welcome of their own. */
export const clientBrandSchema = z.object({
	brandId: z.union([z.literal('').transform(() => null), z.uuid()]).nullable(),
	welcome: optionalText('the welcome', 400),
	welcomeVideo: videoField
});

/** A short name made from a firm's name: "Pennywhistle Row, Bookkeeping" becomes "pennywhistle-row-bookkeeping". */
export function shortNameOf(firmName: string): string {
	const plain = firmName
		.normalize('NFKD')
		.replace(/\p{Mark}/gu, '')
		.toLowerCase()
		.replace(/&/g, ' and ')
		.replace(/[^a-z0-9]+/g, '-')
		.slice(0, 50)
		.replace(/^-+|-+$/g, '');
	return shortNameField.safeParse(plain).success ? plain : `firm-${plain || 'one'}`;
}
