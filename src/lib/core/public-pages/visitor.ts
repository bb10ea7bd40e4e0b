import { z } from 'zod';
import { phoneField } from '../people/phone';
import { cleanText, optionalEmailField } from '../people/plain-fields';
import type { PublicPageSettings } from './public-page';

/** What whoever answers says of themselves. */
export interface Visitor {
	name: string;
	business: string;
	email: string | null;
	/** E.164 */ phone: string | null;
}

const line = (max: number) =>
	z
		.string()
		.optional()
		.transform((text) => cleanText(text ?? '').replace(/\s+/g, ' '))
		.pipe(z.string().max(max, 'wrong.public.long'));

/**
 * The fields about whoever answers; messages are keys of the catalogue.
 * @param who whether name and address must be there
 * @param country ISO 3166-1, for phone numbers without a country
 */
export const visitorSchema = (who: PublicPageSettings['who'], country: string) =>
	z
		.object({ name: line(120), business: line(160), email: optionalEmailField, phone: phoneField(country, 'wrong.phone') })
		.superRefine(({ name, email }, context) => {
			if (who !== 'asked') return;
			if (name === '') context.addIssue({ code: 'custom', path: ['name'], message: 'wrong.public.name' });
			if (email === null) context.addIssue({ code: 'custom', path: ['email'], message: 'wrong.email.empty' });
		});
