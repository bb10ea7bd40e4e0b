import { daysBetween, type IsoDate } from '../calendar/firm-calendar';
import { readStatement } from '../transactions/read-statement';
import type { PlaceOnPage } from './printed/page-lines';
import { LONGEST, openedOn, type StatementReading, type StatementValue } from './printed/read-printed';
import { hasTwoDecimals, hundredths, inUnits } from './printed/sums';

/** What a statement says of itself, whatever it came in. */
export interface StatementSaid {
	lastFour: string | null;
	from: IsoDate | null;
	to: IsoDate | null;
	opening: string | null;
	closing: string | null;
	currency: string | null;
	/** payments that could be read, and what they come to together */
	payments: { count: number; sum: string } | null;
	/** where each value stands, on pages */
	spots: Partial<Record<StatementValue, PlaceOnPage>>;
}

/** What was read from pages, with the places apart. */
export function saidOnPages(reading: StatementReading): StatementSaid {
	const { account, from, to, opening, closing, currency, lines } = reading;
	const spots = Object.entries({ account, from, to, opening, closing, currency }).flatMap(([name, read]) => (read ? [[name, read.at]] : []));
	return {
		lastFour: account?.value ?? null,
		from: from?.value ?? null,
		to: to?.value ?? null,
		opening: opening?.value ?? null,
		closing: closing?.value ?? null,
		currency: currency?.value ?? null,
		payments: lines,
		spots: Object.fromEntries(spots) as StatementSaid['spots']
	};
}

/** Most accounts in one file. */
const ACCOUNTS_MOST = 100;

interface Heard {
	opening: { value: string; day: string | null } | null;
	closing: { value: string; day: string | null } | null;
	from: string | null;
	to: string | null;
	currency: string;
	count: number;
	sum: bigint;
	/** a sum in it has more than two decimals */
	fine: boolean;
}

/**
 * Reads the statements of a bank's file, one for each account in it: OFX and QFX, camt.053, MT940. A table of lines (CSV, QIF) says nothing
 * of the days it covers and of its balances, and is none.
 * @returns none for what is no such file
 */
export async function readFileStatements(pieces: AsyncIterable<Uint8Array> | Iterable<Uint8Array>): Promise<StatementSaid[]> {
	const accounts = new Map<string, Heard>();
	const of = (account: string): Heard | null => {
		let heard = accounts.get(account) ?? null;
		if (!heard && accounts.size < ACCOUNTS_MOST)
			accounts.set(account, (heard = { opening: null, closing: null, from: null, to: null, currency: '', count: 0, sum: 0n, fine: true }));
		return heard;
	};
	try {
		const { format } = await readStatement(
			pieces,
			{ columns: null, order: null, flip: false },
			{
				line({ account, amount, currency }) {
					const heard = of(account);
					if (!heard) return;
					heard.count++;
					heard.currency ||= currency;
					if (hasTwoDecimals(amount)) heard.sum += hundredths(amount);
					else heard.fine = false;
				},
				unread({ what }) {
					// what is not booked yet is no part of it
					if (!what.includes('booked')) for (const heard of accounts.values()) heard.fine = false;
				},
				told({ account, what, value, day, currency }) {
					const heard = of(account);
					if (!heard) return;
					heard.currency ||= currency;
					// of several pages the first one opens and the last one closes
					if (what === 'opening') heard.opening ??= { value, day };
					else if (what === 'closing') heard.closing = { value, day };
					else if (what === 'from') heard.from = heard.from && heard.from < value ? heard.from : value;
					else heard.to = heard.to && heard.to > value ? heard.to : value;
				}
			}
		);
		if (format === 'csv' || format === 'qif') return [];
	} catch {
		return [];
	}
	return [...accounts].flatMap(([account, heard]): StatementSaid[] => {
		const digits = account.replace(/\D/g, '');
		const { opening, closing } = heard;
		const to = heard.to ?? closing?.day ?? null;
		const from = heard.from ?? (opening?.day && to && opening.day < to ? openedOn(opening.day, to) : null);
		const balance = (one: Heard['opening']) => (one && hasTwoDecimals(one.value) ? one.value : null);
		const days = from !== null && to !== null && from <= to && daysBetween(from, to) <= LONGEST;
		if (!days && !opening && !closing) return [];
		return [
			{
				lastFour: digits.length >= 4 ? digits.slice(-4) : null,
				from: days ? from : null,
				to: days ? to : null,
				opening: balance(opening),
				closing: balance(closing),
				currency: /^[A-Z]{3}$/.test(heard.currency) ? heard.currency : null,
				payments: heard.fine && heard.count > 0 ? { count: heard.count, sum: inUnits(heard.sum) } : null,
				spots: {}
			}
		];
	});
}
