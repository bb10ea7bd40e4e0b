import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { addBusinessDays, localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { afterBusinessDays } from '$lib/core/schedules/due-rule';
import { draftContentSchema, newLine } from '$lib/core/requests/request-list';
import { accountName } from '$lib/core/statements/accounts';
import { ALIKE_DAYS, mayBeSame } from '$lib/core/transactions/statement-line-identity';
import {
	ASKED_LINES_MAX,
	STATEMENT_LINE_QUESTIONS,
	type AskedLine,
	type StatementLineQuestion
} from '$lib/core/transactions/statement-line-questions';
import { requireStaff, type Actor } from '../actor';
import { searchPattern } from '../clients/find-clients';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { saveDraft } from '../drafts/drafts';
import { AMOUNT, ASKED_BEFORE } from './lines-in-sql';
import { readTransactionFile } from './transaction-files';

/** Which lines of a file are looked at. */
export const statementLineFilterSchema = z.object({
	only: z.enum(['all', 'uncategorised', 'no_document', 'out', 'in']).catch('all'),
	/** at least so much, whichever way it went */
	over: z.coerce.number().positive().max(1e12).nullable().catch(null),
	words: z.string().trim().max(100).catch(''),
	/** also those that were asked about before */
	asked: z.boolean().catch(false)
});
export type StatementLineFilter = z.output<typeof statementLineFilterSchema>;

export interface ChoosableStatementLine extends Omit<AskedLine, 'account'> {
	position: number;
	category: string;
	document: string | null;
	/** the question that asked about it, or about the same line of another file */
	askedItem: { id: string; title: string; state: string } | null;
	/** an earlier question about what may be the same payment, booked another day or worded in another way */
	alike: { id: string; title: string; day: string; who: string } | null;
}

/** $1 the file, $2 only, $3 over, $4 words as a pattern */
const CHOSEN = `from transaction_line l where l.file_id = $1
	and case $2 when 'uncategorised' then l.uncategorised when 'no_document' then l.document = '' when 'out' then l.amount < 0 when 'in' then l.amount > 0 else true end
	and ($3::numeric is null or abs(l.amount) >= $3)
	and ($4::text is null or l.who || ' ' || l.words || ' ' || l.category ilike $4)`;

const OPEN_ONLY = (filter: StatementLineFilter) => (filter.asked ? '' : `and not ${ASKED_BEFORE}`);

const values = (fileId: string, filter: StatementLineFilter) => [fileId, filter.only, filter.over, filter.words ? searchPattern(filter.words) : null];

/** Lines of a file by a filter, in their order, and how many there are in all. */
export async function readChoosableStatementLines(
	tx: Tx,
	actor: Actor,
	fileId: string,
	filter: StatementLineFilter,
	page: { after: number; most: number }
): Promise<{ lines: ChoosableStatementLine[]; count: number; askedBefore: number }> {
	requireStaff(actor, 'look');
	const rows = await tx.rows<Omit<ChoosableStatementLine, 'alike'> & { clientId: string }>(
		// the page is chosen first; only its lines are looked up among what was asked
		`with page as (select l.* ${CHOSEN} ${OPEN_ONLY(filter)} and l.position > $5 order by l.position limit $6)
		select l.id, l.position, l.client_id as "clientId", l.day, ${AMOUNT('l.amount')} amount, l.currency, l.who, l.words, l.category, l.document, asked.item "askedItem"
		from page l left join lateral (
			select json_build_object('id', i.id, 'title', i.title, 'state', i.state) item from (
				(select o.asked_item_id from transaction_line o where o.client_id = l.client_id and o.asked_item_id is not null and o.identity = l.identity limit 1)
				union all
				(select o.asked_item_id from transaction_line o where o.client_id = l.client_id and o.asked_item_id is not null and o.content = l.content limit 1)
			) o join item i on i.id = o.asked_item_id limit 1
		) asked on true order by l.position`,
		[...values(fileId, filter), page.after, page.most]
	);
	const counts = await tx.first<{ all: number; asked: number }>(
		`select count(*) "all", count(*) filter (where ${ASKED_BEFORE}) asked ${CHOSEN}`,
		values(fileId, filter)
	);
	const { all, asked } = counts!;
	return { lines: await withAlike(tx, rows), count: filter.asked ? all : all - asked, askedBefore: filter.asked ? 0 : asked };
}

/** Adds the earlier question about what may be the same payment. */
async function withAlike(tx: Tx, rows: (Omit<ChoosableStatementLine, 'alike'> & { clientId: string })[]): Promise<ChoosableStatementLine[]> {
	const open = rows.filter((row) => !row.askedItem);
	const near = open.length
		? await tx.rows<{ id: string; day: string; amount: string; who: string; words: string; itemId: string; title: string }>(
				`select l.id, o.day, ${AMOUNT('l.amount')} amount, o.who, o.words, i.id "itemId", i.title
				from jsonb_to_recordset($1) as l (id uuid, day date, amount numeric, "clientId" uuid)
					cross join lateral (
						select o.day, o.who, o.words, o.asked_item_id from transaction_line o where o.client_id = l."clientId" and o.asked_item_id is not null and o.amount = l.amount
							and o.day between l.day - $2::int and l.day + $2::int limit 10
					) o join item i on i.id = o.asked_item_id`,
				[JSON.stringify(open.map(({ id, day, amount, clientId }) => ({ id, day, amount, clientId }))), ALIKE_DAYS]
			)
		: [];
	return rows.map(({ clientId: _, ...row }) => {
		const other = row.askedItem ? undefined : near.find((one) => one.id === row.id && mayBeSame(one, row));
		return { ...row, alike: other ? { id: other.itemId, title: other.title, day: other.day, who: other.who || other.words } : null };
	});
}

/** The form that begins a question about lines. */
export const askStatementLinesSchema = z.object({
	asks: z.enum(STATEMENT_LINE_QUESTIONS),
	ids: z.array(z.uuid()).max(ASKED_LINES_MAX, `Choose at most ${ASKED_LINES_MAX} lines; ask about the rest in a second question.`),
	/** all that the filter finds, instead of those ticked */
	all: z.boolean()
});

const TITLES: Record<StatementLineQuestion, string> = { what: 'What were these payments for?', paper: 'Receipts we are still missing' };
const WHYS: Record<StatementLineQuestion, string> = {
	what: 'Choose or write what each one was. A few words are enough; “I don’t know” is an answer too.',
	paper: 'Add the receipt or invoice to each line, or say that there is none.'
};
const CHOICES = ['Business expense', 'Paid from private money', 'Transfer between own accounts', 'Loan or repayment'];

/**
 * Begins a request with one thing in it: a question about lines of a file. It is a draft like any other, to be read through,
 * added to and sent.
 * @returns the draft's id
 * @throws DomainError invalid if nothing is chosen, or too much
 */
export async function beginStatementLineQuestion(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	fileId: string,
	filter: StatementLineFilter,
	input: z.output<typeof askStatementLinesSchema>
): Promise<{ draftId: string; clientId: string }> {
	requireStaff(actor, 'send_request');
	const file = await readTransactionFile(tx, actor, fileId);
	const chosen = input.all
		? await tx.rows<{ id: string }>(`select l.id ${CHOSEN} ${OPEN_ONLY(filter)} order by l.position limit $5`, [
				...values(fileId, filter),
				ASKED_LINES_MAX + 1
			])
		: input.ids.map((id) => ({ id }));
	if (chosen.length === 0) throw new DomainError('invalid', 'Tick the lines you want to ask about first.');
	if (chosen.length > ASKED_LINES_MAX)
		throw new DomainError('invalid', `These are more than ${ASKED_LINES_MAX} lines, which nobody answers in one go. Narrow them down.`);
	const lines = await readAskedLines(
		tx,
		file.clientId,
		chosen.map((line) => line.id)
	);
	if (lines.length !== chosen.length) throw new DomainError('not_found', 'Some of these lines are not there any more. Load the page again.');
	const dueOn = addBusinessDays(localDate(actor.now, firm.calendar), 5, firm.calendar);
	const first = await tx.first<{ contact_id: string }>('select contact_id from client_contact where client_id = $1 order by rank limit 1', [
		file.clientId
	]);
	const draftId = randomUUID();
	await saveDraft(tx, actor, {
		id: draftId,
		version: null,
		clientId: file.clientId,
		list: null,
		content: draftContentSchema.parse({
			contactId: first?.contact_id ?? null,
			title: TITLES[input.asks],
			lines: [
				newLine({
					key: randomUUID(),
					kind: 'transactions',
					title: TITLES[input.asks],
					why: WHYS[input.asks],
					spec: { asks: input.asks, choices: input.asks === 'what' ? CHOICES : [], lines },
					due: afterBusinessDays(5),
					dueOn
				})
			]
		})
	});
	return { draftId, clientId: file.clientId };
}

/** Lines of one client as a question shows them, in their order; those of others are left out. */
export async function readAskedLines(tx: Tx, clientId: string, ids: readonly string[]): Promise<AskedLine[]> {
	const rows = await tx.rows<AskedLine & { institution: string | null; lastFour: string | null }>(
		`select l.id, l.day, ${AMOUNT('l.amount')} amount, coalesce(nullif(l.currency, ''), a.currency, '') currency, l.who, l.words, l.account, a.institution, a.last_four as "lastFour"
		from transaction_line l join transaction_file f on f.id = l.file_id left join account a on a.id = f.account_id
		where l.id = any ($1) and l.client_id = $2 order by f.brought_at, l.file_id, l.position`,
		[ids, clientId]
	);
	return rows.map(({ institution, lastFour, account, ...line }) => ({
		...line,
		// never more of an account's number than its last four digits
		account: institution ? accountName({ institution, lastFour: lastFour ?? '' }) : account ? `··${account.slice(-4)}` : ''
	}));
}

/** Notes on lines which item asks about them, in the transaction that sends it. */
export async function noteAsked(tx: Tx, itemId: string, lineIds: readonly string[]): Promise<void> {
	await tx.rows('update transaction_line set asked_item_id = $1 where id = any ($2)', [itemId, lineIds]);
}

/** Forgets on lines that these items ask about them. */
export async function forgetAsked(tx: Tx, itemIds: readonly string[]): Promise<void> {
	await tx.rows('update transaction_line set asked_item_id = null where asked_item_id = any ($1)', [itemIds]);
}
