import { daysBetween, localDate } from '$lib/core/calendar/firm-calendar';
import { periodOf } from '$lib/core/schedules/due-rule';
import type { Account, Cycle } from '$lib/core/statements/accounts';
import { ACCOUNT_KINDS } from '$lib/core/statements/accounts';
import {
	expectedFrom,
	gridRow,
	isMissing,
	joinsOf,
	longestHole,
	type GridCell,
	type Join,
	type StatementAsked,
	type StatementHere
} from '$lib/core/statements/statement-grid';
import { requireStaff, type Actor } from '../actor';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

/** A statement that is here, as the grid shows it. */
export interface GridStatement extends StatementHere {
	/** null for what was handed in for a cycle and not read: it counts as what it was asked for */
	statementId: string | null;
	itemId: string | null;
	paperId: string | null;
}

/** The row of one account. */
export interface GridRow {
	account: Account;
	since: string;
	cells: GridCell[];
	joins: Join[];
	statements: GridStatement[];
}

interface KnownAccount {
	account: Account;
	clientId: string;
	notedOn: string;
	here: GridStatement[];
	asked: (StatementAsked & { from: string })[];
}

type ItemRow = StatementAsked & { accountId: string; from: string; read: boolean };

/** Everything that is known of the statements of some clients, in three statements however many they are. @param clientIds null for all */
async function readKnown(tx: Tx, firm: Firm, clientIds: readonly string[] | null): Promise<KnownAccount[]> {
	const accounts = await tx.rows<Account & { clientId: string; notedAt: string }>(
		`select a.id, a.kind, a.institution, a.last_four "lastFour", a.currency, a.closing_day "closingDay", a.opened_on "openedOn", a.closed_on "closedOn",
			a.client_id "clientId", a.noted_at "notedAt"
		from account a join client c on c.id = a.client_id
		where a.firm_id = $1 and ($2::uuid[] is null or a.client_id = any ($2)) and ($2::uuid[] is not null or c.state = 'active')`,
		[tx.firmId, clientIds]
	);
	const statements = await tx.rows<{
		id: string;
		accountId: string;
		from: string;
		to: string;
		opening: string | null;
		closing: string | null;
		explained: string;
		itemId: string | null;
		settled: boolean;
		paperId: string;
	}>(
		`select id, account_id "accountId", covers_from "from", covers_to "to", opening, closing, explained, item_id "itemId", settled,
			paper_id "paperId"
		from placed_statement where firm_id = $1 and ($2::uuid[] is null or client_id = any ($2)) and account_id is not null and covers_from is not null`,
		[tx.firmId, clientIds]
	);
	const items = await tx.rows<ItemRow>(
		`select i.id "itemId", i.account_id "accountId", i.period_from "from", i.period_to "to", i.due_on "dueOn", i.state,
			exists (select from placed_statement s where s.item_id = i.id and s.covers_from is not null) read
		from item i where i.firm_id = $1 and ($2::uuid[] is null or i.client_id = any ($2)) and i.account_id is not null and i.state <> 'drafted'
		order by i.period_to, i.state_at, i.id`,
		[tx.firmId, clientIds]
	);
	const byAccount = new Map<string, KnownAccount>();
	for (const { clientId, notedAt, ...account } of accounts)
		byAccount.set(account.id, { account, clientId, notedOn: localDate(notedAt, firm.calendar), here: [], asked: [] });
	for (const { accountId, ...one } of statements) byAccount.get(accountId)?.here.push({ ...one, statementId: one.id });
	for (const { accountId, read, ...item } of items) {
		const known = byAccount.get(accountId);
		if (!known) continue;
		known.asked.push(item);
		// what came for a cycle and could not be read counts as what was asked for
		if (!read && (item.state === 'accepted' || item.state === 'handed_in'))
			known.here.push({
				id: item.itemId,
				statementId: null,
				itemId: item.itemId,
				paperId: null,
				from: item.from,
				to: item.to,
				opening: null,
				closing: null,
				settled: item.state === 'accepted',
				explained: ''
			});
	}
	return [...byAccount.values()].sort(
		(a, b) =>
			Number(a.account.closedOn !== null) - Number(b.account.closedOn !== null) ||
			ACCOUNT_KINDS.indexOf(a.account.kind) - ACCOUNT_KINDS.indexOf(b.account.kind) ||
			a.account.institution.localeCompare(b.account.institution) ||
			(a.account.id < b.account.id ? -1 : 1)
	);
}

function rowOf({ account, notedOn, here, asked }: KnownAccount, span: Cycle, today: string): GridRow {
	const since = expectedFrom(account, notedOn, here, asked);
	return { account, since, cells: gridRow(account, since, span, today, here, asked), joins: joinsOf(here), statements: here };
}

/** Months that the grid shows side by side. */
export const GRID_MONTHS = 8;
/** Farthest that a grid looks back, in months. */
const BACK_MOST = 120;

export interface StatementGrid {
	/** first days of the months, the last one the newest */
	months: string[];
	rows: GridRow[];
	/** over the whole life of the accounts */
	missing: number;
	in: number;
	expected: number;
	differing: Join[];
	/** there are statements, or some are expected, before the first month */
	earlier: boolean;
}

/** Months back to the first of which something is known. */
function spanTo(firstDay: string, today: string): Cycle {
	const end = periodOf(today, 'month', 0)!.to;
	const back = periodOf(today, 'month', -BACK_MOST)!.from;
	return { from: firstDay < back ? back : firstDay, to: end };
}

/**
 * The statements of a client: account by account, month by month.
 * @param last the newest month that is shown, as its first day; the present one if it is left out
 */
export async function readStatementGrid(tx: Tx, actor: Actor, firm: Firm, clientId: string, last: string | null = null): Promise<StatementGrid> {
	requireStaff(actor, 'look');
	const today = localDate(actor.now, firm.calendar);
	const known = await readKnown(tx, firm, [clientId]);
	const newest = last && last < today ? last : periodOf(today, 'month', 0)!.from;
	const months = Array.from({ length: GRID_MONTHS }, (_, i) => periodOf(newest, 'month', i - GRID_MONTHS + 1)!.from);
	const shown = { from: months[0], to: periodOf(newest, 'month', 0)!.to };
	const whole = known.map((one) => {
		const { from, to } = spanTo(expectedFrom(one.account, one.notedOn, one.here, one.asked), today);
		return rowOf(one, { from: from < shown.from ? from : shown.from, to }, today);
	});
	const rows = whole.map((row) => ({ ...row, cells: row.cells.filter(({ cycle }) => cycle.to >= shown.from && cycle.to <= shown.to) }));
	const cells = whole
		.flatMap((row) => row.cells)
		.filter(({ state }) => state !== 'before' && state !== 'closed' && state !== 'not_over' && state !== 'not_needed');
	return {
		months,
		rows,
		missing: cells.filter(isMissing).length,
		in: cells.filter(({ state }) => state === 'in' || state === 'to_look_at').length,
		expected: cells.length,
		differing: rows.flatMap((row) => row.joins.filter(({ is }) => is === 'differs')),
		earlier: rows.some(({ since }) => since < months[0])
	};
}

/** How many statements of a client are in, of how many. */
export async function readStatementCount(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	clientId: string
): Promise<Pick<StatementGrid, 'in' | 'expected' | 'missing'> & { differing: number }> {
	const { in: here, expected, missing, differing } = await readStatementGrid(tx, actor, firm, clientId);
	return { in: here, expected, missing, differing: differing.length };
}

/** What is missing of one account. */
export interface MissingStatements {
	clientId: string;
	clientName: string;
	account: Account;
	/** the days of every statement that is missing, the oldest first */
	cycles: Cycle[];
	/** how many of them nobody has asked for */
	notAsked: number;
	hole: Cycle;
	holeDays: number;
	differing: number;
}

/** What is missing where, over all clients that this person sees: the longest hole first. @param mineOf whose clients alone, or null */
export async function readMissingStatements(tx: Tx, actor: Actor, firm: Firm, mineOf: string | null): Promise<MissingStatements[]> {
	requireStaff(actor, 'look');
	const today = localDate(actor.now, firm.calendar);
	const clients = await tx.rows<{ id: string; name: string }>(
		`select distinct c.id, c.name from client c join account a on a.client_id = c.id where c.firm_id = $1 and c.state = 'active' and ($2::uuid is null or c.responsible_id = $2)`,
		[tx.firmId, mineOf]
	);
	const names = new Map(clients.map(({ id, name }) => [id, name]));
	const known = await readKnown(tx, firm, null);
	return known
		.filter(({ clientId }) => names.has(clientId))
		.flatMap((one): MissingStatements[] => {
			const since = expectedFrom(one.account, one.notedOn, one.here, one.asked);
			const row = rowOf(one, spanTo(since, today), today);
			const missing = row.cells.filter(isMissing);
			const hole = longestHole(row.cells, one.here);
			if (missing.length === 0 || !hole) return [];
			return [
				{
					clientId: one.clientId,
					clientName: names.get(one.clientId)!,
					account: one.account,
					cycles: missing.map(({ counts }) => counts),
					notAsked: missing.filter(({ itemId }) => itemId === null).length,
					hole,
					holeDays: daysBetween(hole.from, hole.to) + 1,
					differing: row.joins.filter(({ is }) => is === 'differs').length
				}
			];
		})
		.sort((a, b) => b.holeDays - a.holeDays || a.clientName.localeCompare(b.clientName) || (a.account.id < b.account.id ? -1 : 1));
}
