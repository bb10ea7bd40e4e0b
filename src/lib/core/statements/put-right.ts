import { z } from 'zod';
import { amountOf, decimalMarkOf } from '../transactions/amounts';
import { daysBetween } from '../calendar/firm-calendar';
import { LONGEST } from './printed/read-printed';
import { hasTwoDecimals } from './printed/sums';
import { oneLine } from '../people/plain-fields';

/** A balance as a person types it, in any of the ways that it is printed; empty for one that is not known. */
const balance = (what: string) =>
	z
		.string()
		.max(40, `Write ${what} as a sum, such as 12,204.11.`)
		.transform((text, context) => {
			const typed = text.trim();
			if (!typed) return null;
			const amount = amountOf(typed, decimalMarkOf([typed]));
			if (amount !== null && hasTwoDecimals(amount)) return amount;
			context.addIssue({ code: 'custom', message: `Write ${what} as a sum, such as 12,204.11.` });
			return z.NEVER;
		});
const day = (what: string) => z.union([z.literal('').transform(() => null), z.iso.date(`Choose ${what}, or leave both days empty.`)]);

/** What a statement says of itself, as a person puts it right. */
export const putRightSchema = z
	.object({
		accountId: z.uuid('Choose the account.'),
		from: day('the first day'),
		to: day('the last day'),
		opening: balance('the opening balance'),
		closing: balance('the closing balance')
	})
	.refine(({ from, to }) => (from === null) === (to === null), { path: ['to'], message: 'Write both days, or neither.' })
	.refine(({ from, to }) => from === null || to === null || from <= to, { path: ['to'], message: 'The last day lies before the first one.' })
	.refine(({ from, to }) => from === null || to === null || daysBetween(from, to) <= LONGEST, {
		path: ['to'],
		message: 'A statement covers a year at most.'
	});
export type PutRight = z.output<typeof putRightSchema>;

export const explanationField = oneLine('why it does not join', 300);
