import { daysBetween } from '../calendar/firm-calendar';
import type { StatementLine } from './statement-line';

/** By what a line is known again, in another file or another form. */
export interface StatementLineIdentity {
	/** the bank's own name for it where there is one, else what it says */
	identity: string;
	/** what it says: day, amount, words, and which of several that say the same */
	content: string;
}

/** Words without case, accents, signs and spacing, so that two forms of a file compare. */
function bareWords(text: string): string {
	const plain = /^[ -~]*$/.test(text) ? text : text.normalize('NFKD').replace(/\p{Mark}/gu, '');
	return plain
		.toLowerCase()
		.split(/[^\p{Letter}\p{Number}]+/u)
		.filter(Boolean)
		.join(' ');
}

/** What a line says, words of payee and description together: banks put them in one field or two. */
function says(line: Pick<StatementLine, 'day' | 'amount' | 'who' | 'words'>): string {
	const words = [...new Set(`${bareWords(line.who)} ${bareWords(line.words)}`.split(' '))].filter(Boolean).sort();
	return `${line.day} ${line.amount.replace(/(\.\d\d\d*?)0+$/, '$1')} ${words.join(' ')}`.slice(0, 300);
}

/**
 * Gives every line of a file its identity. Banks promise a name of their own once per account; where one file uses it for
 * two lines that differ, it is no name, and what the line says is taken.
 * @param scope the account that a person chose for the file, or ''; the same line of two accounts is two lines
 */
export function identityMaker(scope: string): (line: StatementLine) => StatementLineIdentity {
	const counts = new Map<string, number>();
	const named = new Map<string, string>();
	return (line) => {
		const said = says(line);
		const nth = (counts.get(said) ?? 0) + 1;
		counts.set(said, nth);
		const content = `${scope} ${said}${nth > 1 ? ` #${nth}` : ''}`.trim();
		if (!line.reference) return { identity: content, content };
		const name = `${scope || line.account.slice(-4)} ref ${line.reference}`.trim();
		const first = named.get(name);
		if (first === undefined) named.set(name, said);
		return { identity: first === undefined || first === said ? name : content, content };
	};
}

/** Days within which two banks may book the same payment. */
export const ALIKE_DAYS = 3;

/** Whether two lines may be the same payment, booked on another day or worded in another way: somebody should look. */
export function mayBeSame(
	one: Pick<StatementLine, 'day' | 'amount' | 'who' | 'words'>,
	other: Pick<StatementLine, 'day' | 'amount' | 'who' | 'words'>
): boolean {
	if (Number(one.amount) !== Number(other.amount) || Math.abs(daysBetween(one.day, other.day)) > ALIKE_DAYS) return false;
	const words = (line: typeof one) =>
		bareWords(`${line.who} ${line.words}`)
			.split(' ')
			.filter((word) => word.length >= 4 && !/^\d+$/.test(word));
	const [a, b] = [words(one), new Set(words(other))];
	return a.length === 0 || b.size === 0 || a.some((word) => b.has(word));
}

/** Whether a ledger has no real category for a line: none, or one where things wait. */
export function isUncategorised(category: string): boolean {
	return /^$|uncategori[sz]ed|unassigned|unknown|suspense|to be (sorted|coded|classified)|ask (the|my|our) |non class|a classer|en attente/.test(
		bareWords(category)
	);
}
