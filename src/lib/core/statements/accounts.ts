import { z } from 'zod';
import { addDays, type IsoDate } from '../calendar/firm-calendar';
import { oneLine } from '../people/plain-fields';

export const ACCOUNT_KINDS = ['bank', 'card', 'loan', 'payment'] as const;
export type AccountKind = (typeof ACCOUNT_KINDS)[number];
export const ACCOUNT_KIND_WORDS: Record<AccountKind, string> = { bank: 'bank account', card: 'card', loan: 'loan', payment: 'payment service' };

const day = z
	.union([z.literal('').transform(() => null), z.iso.date('Choose a day, or leave it empty.')])
	.nullable()
	.default(null);

/** An account as it is written down. */
export const accountSchema = z
	.object({
		kind: z.enum(ACCOUNT_KINDS, 'Choose what kind of account it is.'),
		institution: oneLine('the bank or service', 80),
		lastFour: z
			.string()
			.trim()
			.regex(/^\d{0,4}$/, 'Only the last four digits, never the whole number.')
			.default(''),
		currency: z
			.string()
			.trim()
			.toUpperCase()
			.regex(/^[A-Z]{3}$/, 'Write the currency as three letters, such as CAD.'),
		closingDay: z.coerce
			.number('Write a day of the month.')
			.int('Write a day of the month.')
			.min(1, 'Days go from 1 to 31.')
			.max(31, 'Days go from 1 to 31.'),
		openedOn: day,
		closedOn: day
	})
	.refine((account) => !account.openedOn || !account.closedOn || account.openedOn <= account.closedOn, {
		path: ['closedOn'],
		message: 'It would close before it was opened.'
	});
export type AccountForm = z.output<typeof accountSchema>;
export interface Account extends AccountForm {
	id: string;
}

/** "Tideline Savings ··4471". */
export const accountName = (account: Pick<Account, 'institution' | 'lastFour'>): string =>
	`${account.institution}${account.lastFour ? ` ··${account.lastFour}` : ''}`;

/** The time a statement covers: from the day after one closing to the next, both included. */
export interface Cycle {
	from: IsoDate;
	to: IsoDate;
}

/** Months since the year 0, in which a span of months is counted. */
const monthOf = (date: IsoDate): number => Number(date.slice(0, 4)) * 12 + Number(date.slice(5, 7)) - 1;

function closingIn(month: number, closingDay: number): IsoDate {
	const [year, of] = [Math.floor(month / 12), month % 12];
	// day 0 of the next month is the last one of this
	const last = new Date(Date.UTC(year, of + 1, 0)).getUTCDate();
	return `${String(year).padStart(4, '0')}-${String(of + 1).padStart(2, '0')}-${String(Math.min(closingDay, last)).padStart(2, '0')}`;
}

/**
 * The cycles of an account that close in a span of days, in order. A cycle that ended before the account was opened, or began
 * after it was closed, has no statement.
 */
export function cyclesClosingIn(account: Pick<Account, 'closingDay' | 'openedOn' | 'closedOn'>, from: IsoDate, to: IsoDate): Cycle[] {
	const cycles: Cycle[] = [];
	const last = monthOf(to);
	for (let month = monthOf(from); month <= last; month++) {
		const closing = closingIn(month, account.closingDay);
		const begins = addDays(closingIn(month - 1, account.closingDay), 1);
		if (closing < from || closing > to) continue;
		if (account.openedOn && closing < account.openedOn) continue;
		if (account.closedOn && begins > account.closedOn) continue;
		cycles.push({ from: begins, to: closing });
	}
	return cycles;
}

/** Which accounts a line asks the statements of. */
export const STATEMENTS_OF = ['none', 'all', ...ACCOUNT_KINDS] as const;
export type StatementsOf = (typeof STATEMENTS_OF)[number];

/** One statement that is to be asked for. */
export interface WantedStatement {
	account: Account;
	cycle: Cycle;
}

/**
 * The statements that a line asks for in a span of days: one for each account and cycle, without those that were asked for
 * before.
 * @param asked "accountId closingDate" of what was asked for before
 */
export function wantedStatements(
	accounts: readonly Account[],
	of: StatementsOf,
	from: IsoDate,
	to: IsoDate,
	asked: ReadonlySet<string>
): WantedStatement[] {
	return accounts
		.filter((account) => of === 'all' || account.kind === of)
		.flatMap((account) => cyclesClosingIn(account, from, to).map((cycle) => ({ account, cycle })))
		.filter(({ account, cycle }) => !asked.has(`${account.id} ${cycle.to}`));
}

/** Whether a cycle is a calendar month: then it is called by its month, else by its days. */
export function isWholeMonth(cycle: Cycle): boolean {
	return cycle.from.endsWith('-01') && cycle.from.slice(0, 7) === cycle.to.slice(0, 7) && addDays(cycle.to, 1).endsWith('-01');
}
