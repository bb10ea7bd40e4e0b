import { amountOf, decimalMarkOf, type DecimalMark } from '../../transactions/amounts';

/** A sum as it stands in a text. */
export interface WrittenSum {
	/** with its signs, as it stands there */
	text: string;
	start: number;
	end: number;
}

/** Two decimals, groups of three or as in India; a sign, a bracket, a currency before it, a side or a minus behind it. */
const SUM =
	/(?<![\d.,])(?:\((?:[A-Z]{3} ?|\p{Sc} ?)?|[-−–+] ?)?(?:(?:(?<!\p{L})[A-Z]{3}|\p{Sc})[ \u00a0]?[-−–+]?)?(?:\d{1,3}(?:([ .,'’\u00a0\u202f])\d{2,3}(?:\1\d{3})*)?|\d{4,12})[.,]\d{2}(?!\d|[.,]\d)(?:\)|[ \u00a0]?(?:CR|DR)(?!\p{L})|[ \u00a0]?[HSCD](?!\p{L})|[-−](?! ?\d))?/gu;

/** The sums that stand in a text: with two decimals, as every statement prints them. */
export const sumsIn = (text: string): WrittenSum[] =>
	[...text.matchAll(SUM)].map((match) => {
		const lead = match[0].length - match[0].trimStart().length;
		return { text: match[0].trim(), start: match.index + lead, end: match.index + match[0].trimEnd().length };
	});

/** The decimal mark of a whole sheet. */
export const markOf = (sums: Iterable<WrittenSum>): DecimalMark => decimalMarkOf([...sums].map(({ text }) => text));

/** What a written sum comes to, exact; what is owed, or on the debit side, is negative. Null where it is none with this mark. */
export function settledSum(sum: WrittenSum, mark: DecimalMark): string | null {
	// Soll and Haben, as German banks write debit and credit
	const text = sum.text.replace(/[ \u00a0]?([HS])$/, (_, side) => (side === 'S' ? ' DR' : ' CR'));
	// an amount of exactly two decimals: with the other mark it is a sum of thousands
	return /([.,])\d{2}\D*$/.exec(text)?.[1] === mark ? amountOf(text, mark) : null;
}

/** Whether an exact amount has the two decimals that every statement prints, and is no larger than one may be. */
export const hasTwoDecimals = (amount: string): boolean => /^-?\d{1,13}\.\d{2}$/.test(amount);

/** A sum in hundredths. */
export const hundredths = (amount: string): bigint => BigInt(amount.replace('.', ''));
/** Hundredths as an exact amount. */
export function inUnits(value: bigint): string {
	const digits = (value < 0n ? -value : value).toString().padStart(3, '0');
	return `${value < 0n ? '-' : ''}${digits.slice(0, -2)}.${digits.slice(-2)}`;
}
