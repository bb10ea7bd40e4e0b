import { z } from 'zod';
import { oneLine, optionalText } from '../people/plain-fields';
import { CLIENT_MAY, SEEN_BY, type ClientMay, type FactKind, type SeenBy } from './fact-definition';

const CHOICES_MAX = 60;
const COLUMNS_MAX = 12;
/** Most characters of words and of long words. */
export const WORDS_MAX = 200;
export const LINES_MAX = 4000;

const keyField = z.string().regex(/^[a-z][a-z0-9_]{0,40}$/, 'This was not written by the page. Load it again.');
const choicesField = z
	.array(z.object({ key: keyField, words: oneLine('each choice', 120) }))
	.min(2, 'Write at least two choices, each on a line of its own.')
	.max(CHOICES_MAX, `At most ${CHOICES_MAX} choices.`)
	.refine((all) => new Set(all.map((choice) => choice.words.toLowerCase())).size === all.length, 'Two choices read the same.')
	.refine((all) => new Set(all.map((choice) => choice.key)).size === all.length, 'Two choices are the same one. Load the page again.');
const columnKinds = [
	z.object({ kind: z.literal('words'), max: z.number().int().min(1).max(WORDS_MAX).default(WORDS_MAX) }),
	z.object({ kind: z.literal('lines'), max: z.number().int().min(1).max(LINES_MAX).default(LINES_MAX) }),
	z.object({ kind: z.literal('number'), unit: z.string().trim().max(30).default(''), whole: z.boolean().default(false) }),
	z.object({ kind: z.literal('money'), currency: z.string().regex(/^[A-Z]{3}$/, 'Write the currency as three letters, such as CAD.') }),
	z.object({ kind: z.literal('date') }),
	z.object({ kind: z.literal('day_of_year') }),
	z.object({ kind: z.literal('yes_no') }),
	z.object({ kind: z.literal('choice'), choices: choicesField }),
	z.object({ kind: z.literal('email') }),
	z.object({ kind: z.literal('phone') }),
	z.object({ kind: z.literal('web') }),
	z.object({ kind: z.literal('address') }),
	z.object({ kind: z.literal('tax_number'), check: z.string().max(20).default('') })
] as const;
export const columnsField = z
	.array(z.object({ key: keyField, label: oneLine('the name of each column', 60), is: z.discriminatedUnion('kind', columnKinds) }))
	.min(1, 'A table needs at least one column.')
	.max(COLUMNS_MAX, `At most ${COLUMNS_MAX} columns.`)
	.refine((all) => new Set(all.map((column) => column.label.toLowerCase())).size === all.length, 'Two columns are called the same.')
	.refine((all) => new Set(all.map((column) => column.key)).size === all.length, 'Two columns are the same one. Load the page again.');

export const factKindSchema: z.ZodType<FactKind, unknown> = z.discriminatedUnion('kind', [
	...columnKinds,
	z.object({ kind: z.literal('several'), choices: choicesField }),
	z.object({ kind: z.literal('table'), columns: columnsField })
]);

/** A fact as it is defined in a form. */
export const factFormSchema = z.object({
	label: oneLine('what it is called', 60),
	hint: optionalText('the explanation', 300).transform((text) => text ?? ''),
	heading: oneLine('the heading it stands under', 60),
	is: factKindSchema,
	clientMay: z.enum(Object.keys(CLIENT_MAY) as [ClientMay, ...ClientMay[]]),
	seenBy: z.enum(Object.keys(SEEN_BY) as [SeenBy, ...SeenBy[]]),
	secret: z.boolean(),
	confirmAfter: z.number().int().min(1, 'At least one month.').max(120, 'At most 120 months.').nullable()
});
export type FactForm = z.output<typeof factFormSchema>;
