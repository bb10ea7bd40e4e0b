import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import {
	accountName,
	isWholeMonth,
	wantedStatements,
	type Account,
	type AccountForm,
	type Cycle,
	type StatementsOf
} from '$lib/core/statements/accounts';
import { dateWords, periodWords } from '$lib/words/dates';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { requireActiveClient } from '../clients/client-record';
import type { Tx } from '../platform/db/database';

/** Open accounts first, then by kind and name. */
const ACCOUNTS = `json_agg(json_build_object('id', id, 'kind', kind, 'institution', institution, 'lastFour', last_four, 'currency', currency,
	'closingDay', closing_day, 'openedOn', opened_on, 'closedOn', closed_on)
	order by closed_on is not null, array_position(array['bank', 'card', 'loan', 'payment'], kind), lower(institution), id)`;

/** The accounts of a client, open ones first. */
export async function readAccounts(tx: Tx, actor: Actor, clientId: string): Promise<Account[]> {
	if (actor.kind !== 'machine') requireStaff(actor, 'look');
	const row = await tx.first<{ accounts: Account[] | null }>(`select ${ACCOUNTS} accounts from account where client_id = $1`, [clientId]);
	return row?.accounts ?? [];
}

/** Writes down an account, or what has changed about it: once it is closed, its statements are asked for no more. @returns its id */
export async function writeAccount(tx: Tx, actor: Actor, clientId: string, input: AccountForm, accountId: string | null): Promise<string> {
	requireStaff(actor, 'keep_record');
	await requireActiveClient(tx, clientId);
	const id = accountId ?? randomUUID();
	const written = await tx.first<{ client_id: string }>(
		`insert into account (id, firm_id, client_id, kind, institution, last_four, currency, closing_day, opened_on, closed_on, noted_by_id, noted_at)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)
		on conflict (id) do update set kind = excluded.kind, institution = excluded.institution, last_four = excluded.last_four, currency = excluded.currency,
			closing_day = excluded.closing_day, opened_on = excluded.opened_on, closed_on = excluded.closed_on where account.client_id = $3 returning client_id`,
		[
			id,
			tx.firmId,
			clientId,
			input.kind,
			input.institution,
			input.lastFour,
			input.currency,
			input.closingDay,
			input.openedOn,
			input.closedOn,
			actor.id,
			actor.now
		]
	);
	if (!written) throw new DomainError('not_found', 'There is no such account of this client.');
	await recordEvent(tx, actor, { verb: accountId ? 'account_changed' : 'account_noted', clientId, details: { account: accountName(input) } });
	return id;
}

/** What statements of a client could be asked for: the accounts, and "accountId closingDate" of every one that was asked for and not given up. */
export interface KnownStatements {
	accounts: readonly Account[];
	asked: ReadonlySet<string>;
}
const NOTHING_KNOWN: KnownStatements = { accounts: [], asked: new Set() };

/** The same for many clients, by their ids; who has no account is left out. */
export async function readKnownStatements(tx: Tx, actor: Actor, clientIds: readonly string[]): Promise<(clientId: string) => KnownStatements> {
	if (actor.kind !== 'machine') requireStaff(actor, 'look');
	const rows = await tx.rows<{ clientId: string; accounts: Account[]; asked: string[] }>(
		`select client_id as "clientId", ${ACCOUNTS} accounts,
			array(select i.account_id || ' ' || i.period_to from item i where i.account_id = any (array_agg(a.id)) and i.state <> 'waived') asked
		from account a where client_id = any ($1) group by client_id`,
		[clientIds]
	);
	const known = new Map(rows.map(({ clientId, accounts, asked }) => [clientId, { accounts, asked: new Set(asked) }]));
	return (clientId) => known.get(clientId) ?? NOTHING_KNOWN;
}

/** What a statement is called: by its month, or by the days it covers. */
export function cycleWords(locale: string, cycle: Cycle): string {
	return isWholeMonth(cycle)
		? periodWords(locale, { kind: 'month', from: cycle.from })
		: `${dateWords(locale, cycle.from, 'short')} – ${dateWords(locale, cycle.to, 'withYear')}`;
}

/** A line that stands for statements, spread over the accounts and cycles of a time: one line each. */
export interface SpreadStatement {
	title: string;
	heading: string;
	account: { id: string; from: string; to: string };
}

/**
 * The statements a line asks for, each with its title and the account it belongs to, grouped by account.
 * @param locale in which the client reads
 */
export function spreadStatements(
	known: KnownStatements,
	line: { title: string; heading: string; of: StatementsOf },
	span: { from: string; to: string },
	locale: string,
	byAccount = false
): SpreadStatement[] {
	return wantedStatements(known.accounts, line.of, span.from, span.to, known.asked).map(({ account, cycle }) => ({
		title: `${byAccount ? '' : `${line.title}, `}${accountName(account)}, ${cycleWords(locale, cycle)}`.slice(0, 160),
		heading: byAccount ? accountName(account).slice(0, 80) : line.heading,
		account: { id: account.id, ...cycle }
	}));
}
