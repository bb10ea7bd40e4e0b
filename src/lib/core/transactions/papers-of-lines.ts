import { plain } from '../arrivals/likely-places';
import { daysBetween, type IsoDate } from '../calendar/firm-calendar';
import { sumWords } from '../statements/grid-words';
import { daysIn, orderOfDays, settledDay } from '../statements/printed/days';
import { settledSum, sumsIn } from '../statements/printed/sums';
import { bestPairs } from './best-pairs';
import { negated } from './amounts';

/** A line of a bank or a ledger without a document. */
export interface LineWithoutPaper {
	id: string;
	day: IsoDate;
	/** exact, with two decimals at least; money out is negative */
	amount: string;
	who: string;
	words: string;
}

/** A paper that is here and may be the document of a line. */
export interface PaperHere {
	id: string;
	name: string;
	note: string;
	/** the words of its first pages; null where there are none */
	words: string | null;
}

/** A reason to think that a paper is the document of a line, in words, and how much it says. */
export interface PairSign {
	is: 'sum' | 'day' | 'payee' | 'number';
	says: string;
	weight: number;
}

export interface PairOfLine {
	lineId: string;
	paperId: string;
	score: number;
	signs: PairSign[];
	/** so clear that nobody needs to look */
	sure: boolean;
}

/** Days that a paper may be older than its payment, and younger. */
const [OLDER_MOST, YOUNGER_MOST] = [62, 7];
/** How far a sure pair must be ahead of any other of its line or its paper. */
const SURE_LEAD = 1;

/** Words that stand in the names of many who are paid. */
const USUAL = new Set(
	'card payment purchase transfer invoice online services service company limited corp gmbh sarl store shop direct debit group supplies canada paiement achat virement facture carte'.split(
		' '
	)
);
const namesIn = (text: string): string[] => [...new Set(plain(text).match(/\p{L}{4,}/gu) ?? [])].filter((word) => !USUAL.has(word));
/** Numbers of an invoice or an order, as a line names them: four digits at least, with the letters before them. Years and sums are none. */
const numbersIn = (text: string): string[] =>
	[...new Set(plain(text).match(/(?<![\p{L}\d.,])[\p{L}]{0,4}-?\d{4,12}(?![\d]|[.,]\d)/gu) ?? [])].filter((word) => !/^(?:19|20)\d\d$/.test(word));

const bare = (amount: string): string => (amount.startsWith('-') ? negated(amount) : amount);

/** A paper as text, its days, and what stands beside them: “2026-04-07 84.20” is a day and a sum, not 784.20. */
function asText({ name, note, words }: Omit<PaperHere, 'id'>) {
	const text = `${name}\n${note}\n${words ?? ''}`.replaceAll('_', ' ');
	const days = daysIn(text);
	return { text, days, rest: days.reduceRight((rest, { start, end }) => `${rest.slice(0, start)}|${rest.slice(end)}`, text) };
}

/** The sums in a text, exact and without their signs. A text of two languages may hold both marks: each is taken as what it can be. */
function sumsOf(text: string): Set<string> {
	return new Set(
		sumsIn(text).flatMap((sum) => {
			const settled = settledSum(sum, '.') ?? settledSum(sum, ',');
			return settled === null ? [] : [bare(settled)];
		})
	);
}

/** The sums that stand in a paper or in what is said of it, exact and without their signs. */
export const sumsOfPaper = (paper: Omit<PaperHere, 'id'>): string[] => [...sumsOf(asText(paper).rest)];

/** What is read of a paper once, for however many lines. */
function readHere(paper: PaperHere) {
	const { text, days, rest } = asText(paper);
	const order = orderOfDays(days.map(({ start, end }) => ({ words: text.slice(start, end) })));
	const bareWords = plain(text);
	return {
		id: paper.id,
		sums: sumsOf(rest),
		// where nothing tells day from month, either may be meant
		days: [
			...new Set(days.flatMap((day) => (order ? [settledDay(day, order, null)] : [settledDay(day, 'dmy', null), settledDay(day, 'mdy', null)])))
		].filter((day) => day !== null),
		names: new Set(bareWords.match(/\p{L}{4,}/gu) ?? []),
		plain: bareWords
	};
}

/** The sign that the days in a paper give: the nearest to the day of the payment. */
function daySign(day: IsoDate, days: readonly IsoDate[]): PairSign | null {
	const before = days
		.map((one) => daysBetween(one, day))
		.filter((n) => n <= OLDER_MOST && n >= -YOUNGER_MOST)
		.sort((a, b) => Math.abs(a) - Math.abs(b))[0];
	if (before === undefined) return null;
	const off = Math.abs(before);
	const says = off === 0 ? 'it is of the same day' : `it is of ${off === 1 ? 'the day' : `${off} days`} ${before > 0 ? 'before' : 'after'}`;
	return { is: 'day', says, weight: off === 0 ? 3 : off <= 5 ? 2.5 : off <= 14 ? 2 : off <= 31 ? 1 : 0.5 };
}

function signsOf(line: LineWithoutPaper, paper: ReturnType<typeof readHere>): PairSign[] {
	const amount = bare(line.amount);
	if (!paper.sums.has(amount)) return [];
	const signs: PairSign[] = [{ is: 'sum', says: `${sumWords(amount)} stands in it`, weight: 4 }];
	const day = daySign(line.day, paper.days);
	if (day) signs.push(day);
	const name = namesIn(line.who || line.words).find((word) => paper.names.has(word));
	if (name !== undefined) signs.push({ is: 'payee', says: `it names ${asWritten(line.who || line.words, name)}`, weight: 3 });
	const number = numbersIn(`${line.who} ${line.words}`).find((one) => new RegExp(`(?<!\\d)${one}(?!\\d)`).test(paper.plain));
	if (number !== undefined) signs.push({ is: 'number', says: `${number.toUpperCase()} stands in both`, weight: 4 });
	// a sum alone may stand anywhere
	return signs.length > 1 ? signs : [];
}

/** A word as the line writes it. */
const asWritten = (text: string, word: string): string => text.split(/[^\p{L}\p{M}]+/u).find((one) => plain(one) === word) ?? word;

/**
 * Which paper is the document of which line: by the sum, which must stand in it, with the day, who was paid and the number of an invoice.
 * Each paper goes to one line and each line to one paper, so that all together fit best; a pair is sure where the sum, who was paid or the
 * number, and the day agree, and nothing else comes near for either of the two.
 * @param refused pairs that a person has said are none
 */
export function papersOfLines(
	lines: readonly LineWithoutPaper[],
	papers: readonly PaperHere[],
	refused: readonly { lineId: string; paperId: string }[] = []
): PairOfLine[] {
	const here = papers.map(readHere);
	const bySum = new Map<string, typeof here>();
	for (const paper of here) for (const sum of paper.sums) bySum.set(sum, [...(bySum.get(sum) ?? []), paper]);
	const no = new Set(refused.map(({ lineId, paperId }) => `${lineId} ${paperId}`));
	const edges = lines.flatMap((line) =>
		(bySum.get(bare(line.amount)) ?? []).flatMap((paper) => {
			const signs = no.has(`${line.id} ${paper.id}`) ? [] : signsOf(line, paper);
			return signs.length === 0 ? [] : [{ left: line.id, right: paper.id, weight: signs.reduce((sum, { weight }) => sum + weight, 0), signs }];
		})
	);
	const [ofLine, ofPaper] = [new Map<string, number[]>(), new Map<string, number[]>()];
	for (const { left, right, weight } of edges) {
		ofLine.set(left, [...(ofLine.get(left) ?? []), weight]);
		ofPaper.set(right, [...(ofPaper.get(right) ?? []), weight]);
	}
	/** whether no other of the same line or paper comes near */
	const leads = (weights: readonly number[], own: number) => weights.filter((weight) => weight > own - SURE_LEAD).length <= 1;
	return bestPairs(edges).map(({ left, right, weight, signs }) => {
		const is = new Set(signs.map((sign) => sign.is));
		const clear = is.has('day') && (is.has('payee') || is.has('number'));
		return {
			lineId: left,
			paperId: right,
			score: weight,
			signs,
			sure: clear && leads(ofLine.get(left)!, weight) && leads(ofPaper.get(right)!, weight)
		};
	});
}

/**
 * The words by which papers are searched in which one of these sums may stand, as the column of the search has them: “1234c56”. Where
 * thousands are written with a space, “1 234,56”, the search has “234c56”.
 * @param amounts exact, with two decimals at least
 */
export const searchedSums = (amounts: Iterable<string>): string[] => [
	...new Set(
		[...amounts].map(bare).flatMap((amount) => {
			const sum = /^\d+\.\d{2}$/.test(amount) ? amount.replace('.', 'c') : null;
			return sum === null ? [] : sum.length > 6 ? [sum, sum.slice(-6)] : [sum];
		})
	)
];
