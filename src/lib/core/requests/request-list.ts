import { z } from 'zod';
import { chasePlanKeySchema } from '../chasing/chase-plan';
import { letterDocumentSchema, type LetterDocument } from '../letters/letter-document';
import { longText, oneLine, optionalLine, optionalText } from '../people/plain-fields';
import { dueRuleSchema, type DueRule } from '../schedules/due-rule';
import { conditionSchema } from './condition-schema';
import type { Condition } from './conditions';
import { ITEM_KIND_NAMES, ITEM_KINDS, kindOf, type ItemKind, type ItemSpec, type OfAnyKind, type OfKind } from '../items/item-kinds';
import { itemTextSchema, type ItemText } from './item-text';

/** What every line has, whatever it asks for. */
const lineFields = {
	/** by which a line of a list is known through its versions; made once */
	key: z.string().min(1).max(40),
	heading: optionalLine('the heading', 80).transform((text) => text ?? ''),
	title: oneLine('what you ask for', 160),
	why: z
		.string()
		.nullish()
		.transform((text) => text ?? undefined)
		.pipe(optionalText('the explanation', 2000)),
	/** the same words with emphasis, lists, links and pictures, where there are any */
	text: itemTextSchema.nullish(),
	required: z.boolean(),
	/** accepted as it comes, without anybody looking */
	acceptsItself: z.boolean().default(false),
	/** files of the firm beside it */
	attachments: z.array(z.uuid()).max(10, 'At most 10 files beside one line.').default([]),
	/** where several are asked: each of them answers it, or any one; not said, as the request has it */
	each: z.boolean().nullish(),
	/** by which plan it is chased; not said, as the request, its questionnaire, list, client or the firm has it */
	chasePlan: chasePlanKeySchema.nullish()
};

/** The kinds that a line of a list can be of, besides a letter, which has words of its own. */
type ListedKind = Exclude<{ [Kind in ItemKind]: (typeof ITEM_KINDS)[Kind]['written'] extends true ? Kind : never }[ItemKind], 'letter'>;

/** A line of each kind, with more fields that a list or a request adds. */
function lineOf<More extends z.ZodRawShape>(more: More) {
	const of = <Kind extends ListedKind>(kind: Kind) =>
		z.object({ kind: z.literal(kind), ...lineFields, ...more, spec: ITEM_KINDS[kind].spec as (typeof ITEM_KINDS)[Kind]['spec'] });
	const listed = ITEM_KIND_NAMES.filter((kind): kind is ListedKind => ITEM_KINDS[kind].written && kind !== 'letter');
	type Line = { [Kind in ListedKind]: ReturnType<typeof of<Kind>> }[ListedKind];
	return listed.map((kind) => of(kind)) as unknown as [Line, ...Line[]];
}

const listFields = { due: dueRuleSchema, condition: conditionSchema.nullable().default(null) };

/** One line of a list of the Library: when it is due by a rule, and for whom it is asked. */
export const listLineSchema = z.discriminatedUnion('kind', [
	...lineOf(listFields),
	z.object({ kind: z.literal('letter'), ...lineFields, ...listFields, spec: ITEM_KINDS.letter.spec.default({}), document: letterDocumentSchema })
]);
export type ListLine = z.output<typeof listLineSchema>;

export const LINES_MAX = 100;

/** A list of the Library as it is written. */
export const requestListSchema = z
	.object({
		name: oneLine('a name, by which the list is found again', 80),
		about: optionalLine('what it is for', 200).transform((text) => text ?? ''),
		title: oneLine('a title for the request', 120),
		message: optionalText('the words of the message', 4000).transform((text) => text ?? ''),
		folder: optionalLine('the folder', 60).transform((text) => text ?? ''),
		tags: z.array(oneLine('each tag', 30)).max(12, 'At most 12 tags.').default([]),
		shared: z.enum(['all', 'group', 'person']),
		groupId: z.uuid().nullable().default(null),
		goesByItself: z.boolean().default(false),
		/** its other lines go once its letters are signed by all */
		lettersFirst: z.boolean().default(false),
		/** by which plan what is asked with it is chased; null as the client or the firm has it */
		chasePlan: chasePlanKeySchema.nullish(),
		services: z.array(oneLine('each service', 80)).max(40).default([]),
		lines: z.array(listLineSchema).min(1, 'A list needs at least one line.').max(LINES_MAX, `A list holds at most ${LINES_MAX} lines.`)
	})
	.superRefine((list, context) => {
		if (list.shared === 'group' && !list.groupId) context.addIssue({ code: 'custom', path: ['groupId'], message: 'Choose the group.' });
		if (new Set(list.lines.map((line) => line.key)).size !== list.lines.length)
			context.addIssue({ code: 'custom', path: ['lines'], message: 'Two lines of this list are the same one. Load the page again.' });
	});
export type RequestListForm = z.output<typeof requestListSchema>;

/** A list that ships with the product. Using one makes a copy; the original stays as it was. */
export type ReadyMadeList = Pick<RequestListForm, 'name' | 'about' | 'title' | 'services'> & { id: string; lines: readonly ListLine[] };

const dueDate = z.iso.date('Choose a due date.');
/** the account and the time of the statement that a line asks for */
const statement = z.object({ id: z.uuid(), from: z.iso.date(), to: z.iso.date() }).nullable().default(null);

/** One line of a request as it is written before sending. */
export const requestLineSchema = z.discriminatedUnion('kind', [
	...lineOf({ dueOn: dueDate, account: statement }),
	z.object({ kind: z.literal('transactions'), ...lineFields, dueOn: dueDate, account: statement, spec: ITEM_KINDS.transactions.spec }),
	z.object({
		kind: z.literal('letter'),
		...lineFields,
		dueOn: dueDate,
		account: statement,
		spec: ITEM_KINDS.letter.spec.default({}),
		document: letterDocumentSchema,
		values: z.record(z.string().max(60), z.string().max(400))
	})
]);
export type RequestLine = z.output<typeof requestLineSchema>;
// a kind that no line can be of is left out above
true satisfies [Exclude<ItemKind, RequestLine['kind']>] extends [never] ? true : never;

/** A request as it is written before sending. */
export const newRequestSchema = z.object({
	clientId: z.uuid(),
	contactId: z.uuid('Choose who gets this request.'),
	/** further people who are told, or asked too */
	others: z.array(z.uuid()).max(20, 'At most 20 people at once.').default([]),
	/** each of several people answers for themselves; otherwise any one of them answers for all */
	each: z.boolean().default(false),
	title: oneLine('a title for the request', 120),
	message: longText('the words of the message', 4000),
	/** put up without telling anybody */
	quiet: z.boolean().default(false),
	/** told at once, though something was announced to them today already; else tomorrow, with whatever else there is then */
	tellNow: z.boolean().default(false),
	/** by which plan it is chased; null as its list, the client or the firm has it */
	chasePlan: chasePlanKeySchema.nullish(),
	lines: z
		.array(requestLineSchema)
		.min(1, 'A request needs at least one line. Add one, or leave without sending.')
		.max(LINES_MAX, `A request holds at most ${LINES_MAX} lines.`),
	/** invites the contact in the same message if they have no access yet */
	withInvitation: z.boolean(),
	/** made once in the form, so that a second click sends nothing twice */
	idempotencyKey: z.uuid(),
	list: z.object({ id: z.uuid(), version: z.number().int().positive() }).nullable().default(null)
});
export type NewRequest = z.output<typeof newRequestSchema>;

/** A line of a draft: may still be half written, and may be left out. */
const draftLineSchema = z.looseObject({ key: z.string().min(1).max(40), out: z.boolean().default(false), title: z.string().max(400).default('') });

/** What is kept of a request that is being written: whatever was typed, to be checked when it goes. */
export const draftContentSchema = z.object({
	contactId: z.uuid().nullable().default(null),
	others: z.array(z.uuid()).max(20).default([]),
	each: z.boolean().default(false),
	title: z.string().max(400).default(''),
	message: z.string().max(8000).default(''),
	quiet: z.boolean().default(false),
	tellNow: z.boolean().default(false),
	chasePlan: chasePlanKeySchema.nullish().catch(null),
	withInvitation: z.boolean().default(true),
	/** the letters go alone, and the rest once they are signed by all */
	lettersFirst: z.boolean().default(false),
	values: z.record(z.string().max(60), z.string().max(400)).default({}),
	lines: z
		.array(draftLineSchema)
		.max(LINES_MAX * 2, 'This draft has too many lines.')
		.default([])
});
export type DraftContent = z.output<typeof draftContentSchema>;

/** A bullet or a number, and a box to tick; "3.5 %" and "e.g." are none. */
const LIST_MARKS = /^\s*(?:[-*•–—▪◦·]|\d{1,3}(?:\)|\.(?!\d))|[a-z](?:\)|\.(?=\s)))?\s*(?:\[[ xX]?\]|[☐☑☒✓✔])?\s*/u;

/**
 * Lines out of pasted text: one each, without the marks that lists are written with. A line that ends in a colon, or begins
 * with #, is a heading for those after it.
 */
export function linesOfText(text: string): { heading: string; title: string }[] {
	const lines: { heading: string; title: string }[] = [];
	let heading = '';
	for (const raw of text.split(/\r\n?|\n/)) {
		const line = raw.replace(LIST_MARKS, '').trim();
		if (line === '') continue;
		const named = /^#{1,4}\s*(.+)$/.exec(line) ?? /^(.+):$/.exec(line);
		if (named) heading = named[1].replace(/:$/, '').slice(0, 80);
		else lines.push({ heading, title: line.slice(0, 160) });
	}
	return lines.slice(0, LINES_MAX);
}

interface LineBase {
	key: string;
	heading: string;
	title: string;
	why: string;
	text: ItemText | null;
	required: boolean;
	acceptsItself: boolean;
	attachments: string[];
	/** see the schema; null is as the request has it */
	each?: boolean | null;
	/** by which plan it is chased; see the schema */
	chasePlan?: string | null;
	/** the words of a letter */
	document: LetterDocument | null;
	/** in a list: when it is due by a rule, and for whom it is asked */
	due: DueRule;
	condition: Condition | null;
	/** in a request: the day, and whether it follows the rule from the day of sending on */
	dueOn: string;
	dueBy?: 'date' | 'rule';
	/** whether it is left out, and why */
	out: boolean;
	because: string | null;
	missing: string[];
	overridden: boolean;
	/** the statement it asks for */
	account: { id: string; from: string; to: string } | null;
}
/** A line while it is being written, in a list or in a request: everything a person may change about it. */
export type LineInHand = OfAnyKind<LineBase>;
export type LineOf<Kind extends ItemKind> = OfKind<Kind, LineBase>;

/** A line that is begun by hand: needed, looked at, asked of everybody, due as its rule or date says. */
export function newLine<Kind extends ItemKind>(
	line: { kind: Kind; spec?: ItemSpec<Kind> } & Pick<LineBase, 'key' | 'title' | 'due' | 'dueOn'> & Partial<LineBase>
): Extract<LineInHand, { kind: Kind }> {
	const { acceptsItself, empty } = kindOf(line.kind);
	return {
		heading: '',
		why: '',
		text: null,
		required: true,
		acceptsItself,
		attachments: [],
		document: null,
		condition: null,
		out: false,
		because: null,
		missing: [],
		overridden: false,
		account: null,
		spec: empty(line.key.slice(0, 8)),
		...line
	} as unknown as Extract<LineInHand, { kind: Kind }>;
}

/** The line that asks for one statement. @param dueOn ten business days from today */
export const statementLine = (
	one: { title: string; heading: string; account: NonNullable<LineBase['account']> },
	dueOn: string
): Extract<LineInHand, { kind: 'paper' }> =>
	newLine({
		key: `${one.account.id.slice(0, 8)} ${one.account.to}`,
		kind: 'paper',
		heading: one.heading,
		title: one.title,
		why: 'All pages, as the bank gives it out.',
		spec: { slots: [], statementsOf: 'none' },
		due: { from: 'asked', offset: 10, unit: 'business_days', roll: 'none' },
		dueOn,
		account: one.account
	});

/**
 * The line that a refusal is about, or null.
 * @param fields what is wrong by field path, such as `lines.2.title`
 * @param lines as they were sent
 */
export function keyOfWrongLine(fields: Readonly<Record<string, string>>, lines: readonly LineInHand[]): string | null {
	const path = Object.keys(fields).find((field) => field.startsWith('lines.'));
	return path ? (lines[Number(path.split('.')[1])]?.key ?? null) : null;
}

/** A line of a list, in hand for a client or for changing the list. */
export function inHand(line: ListLine, more: Partial<LineBase> = {}): LineInHand {
	return {
		...line,
		why: line.why ?? '',
		text: line.text ?? null,
		document: line.kind === 'letter' ? line.document : null,
		dueOn: '',
		dueBy: 'rule',
		out: false,
		because: null,
		missing: [],
		overridden: false,
		account: null,
		...more
	};
}

/** What of a line in hand is kept in a list and sent in a request alike. */
function keptOfLine({ key, kind, heading, title, why, text, required, acceptsItself, attachments, each, chasePlan, spec }: LineInHand) {
	return { key, kind, heading, title, why, text, required, acceptsItself, attachments, each, chasePlan, spec };
}

function withoutFees({ fees: _, ...spec }: ItemSpec<'letter'>): ItemSpec<'letter'> {
	return spec;
}

/** What of a line in hand is kept in a list. */
export function asListLine(line: LineInHand): unknown {
	const { kind, due, condition, document } = line;
	// fees are written for the copy of one client
	return { ...keptOfLine(line), due, condition, ...(kind === 'letter' ? { document, spec: withoutFees(line.spec) } : {}) };
}

/** What of a line in hand is sent. */
export function asRequestLine(line: LineInHand, values: Readonly<Record<string, string>>): unknown {
	const { kind, dueOn, account, document } = line;
	return { ...keptOfLine(line), dueOn, account, ...(kind === 'letter' ? { document, values } : {}) };
}
