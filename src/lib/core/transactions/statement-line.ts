import { DomainError } from '../errors/domain-error';

/** The forms in which banks and ledgers give their lines. */
export const STATEMENT_FORMATS = ['csv', 'ofx', 'qif', 'camt', 'mt940'] as const;
export type StatementFormat = (typeof STATEMENT_FORMATS)[number];
export const STATEMENT_FORMAT_WORDS: Record<StatementFormat, string> = { csv: 'CSV', ofx: 'OFX', qif: 'QIF', camt: 'camt.053', mt940: 'MT940' };

/** One line of a bank statement or a ledger, whatever file it came in. */
export interface StatementLine {
	/** its place in the file, from 1 */
	position: number;
	/** YYYY-MM-DD, as the bank wrote it: never moved between time zones */
	day: string;
	/** exact, with a point and at least two decimals; money out is negative */
	amount: string;
	/** ISO 4217, or '' where the file does not say */
	currency: string;
	/** whom it went to or came from */
	who: string;
	/** what the bank or the ledger says about it */
	words: string;
	category: string;
	/** the bank's own name for the line, or '' */
	reference: string;
	/** what a ledger names as its document; null where the file has no place for one */
	document: string | null;
	/** the account within the file, as the file names it, or '' */
	account: string;
	/** the line as it stands in the file, under the file's headings */
	original: string[];
}

/** A piece of a file that could not be read as a line, so that nothing is lost in silence. */
export interface UnreadStatementLine {
	position: number;
	what: string;
	/** the beginning of what stands there */
	text: string;
}

/** What a file says of an account as a whole, beside its lines. */
export interface StatementTold {
	/** as the file names it */
	account: string;
	/** a balance, or the first or the last day that the statement is about */
	what: 'opening' | 'closing' | 'from' | 'to';
	/** an exact amount, or YYYY-MM-DD */
	value: string;
	/** the day of a balance, if it is said */
	day: string | null;
	/** ISO 4217, or '' where the file does not say */
	currency: string;
}

/** What readers tell as they go. */
export interface StatementLineSink {
	line(line: StatementLine): void;
	unread(line: UnreadStatementLine): void;
	told?(it: StatementTold): void;
}

/** A reader that is fed a file piece by piece; it holds no more than the line it is in. */
export interface StatementReader {
	/** what the cells of `original` are, known at the latest when the first line is told */
	readonly header: readonly string[];
	write(text: string): void;
	/** @throws DomainError unreadable_file if this was no such file */
	end(): void;
}

/** Most lines of one file. */
export const FILE_LINES_MAX = 200_000;
/** Most characters of one field that are kept; banks write a few hundred. */
export const FIELD_MAX = 1000;

export const unreadable = (words: string) => new DomainError('unreadable_file', words);

/** Counts the lines of a file and refuses to go on beyond the most. */
export function countedSink(sink: StatementLineSink): StatementLineSink {
	let count = 0;
	const counted = () => {
		if (++count > FILE_LINES_MAX)
			throw new DomainError(
				'too_many',
				`This file has more than ${FILE_LINES_MAX.toLocaleString('en')} lines. Split it by time and import the parts.`
			);
	};
	return {
		line: (line) => (counted(), sink.line(line)),
		unread: (line) => (counted(), sink.unread(line)),
		told: (it) => sink.told?.(it)
	};
}

/** Most fields: letters and signs of ASCII, single spaces, none at the ends. */
const PLAIN = /^(?:[!-~]+(?: [!-~]+)*)?$/;

/** One line of text out of what a field holds: no control characters, no runs of spaces, cut where nobody would read on. */
export function fieldText(text: string): string {
	if (PLAIN.test(text) && text.length <= FIELD_MAX) return text;
	return (
		text
			.slice(0, FIELD_MAX * 2)
			.replace(/[\p{Cc}\p{Zl}\p{Zp}\s]+/gu, ' ')
			// marks that turn the order of letters around
			.replace(/[\u200e\u200f\u202a-\u202e\u2066-\u2069]/gu, '')
			.trim()
			.slice(0, FIELD_MAX)
	);
}
