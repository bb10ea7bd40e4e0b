import { z } from 'zod';
import { plainNumber } from '../items/answers';
import { fromMinor, minorDecimals, toMinor } from '../items/minor-units';
import { oneLine } from '../people/plain-fields';
import type { LetterBlock, LetterDocument, LetterTable } from './letter-document';

/** How often a fee falls due. */
export const FEE_RHYTHMS = ['month', 'quarter', 'year', 'once', 'hour'] as const;
export type FeeRhythm = (typeof FEE_RHYTHMS)[number];
/** The same in the words of the firm's people. */
export const FEE_RHYTHM_WORDS: Record<FeeRhythm, string> = {
	month: 'each month',
	quarter: 'each quarter',
	year: 'each year',
	once: 'once',
	hour: 'an hour'
};

/** Most rows of a table of fees. */
export const FEES_MOST = 60;

/** What one service costs; without an amount nothing is agreed yet. */
export interface Fee {
	service: string;
	/** in the firm's currency, with a point and the decimals of the currency */
	amount: string | null;
	every: FeeRhythm;
}

/**
 * An amount as somebody types it, in the one spelling in which it is kept; empty for none.
 * @returns undefined if it is none
 */
export function feeAmount(typed: string, currency: string): string | null | undefined {
	const text = typed.trim();
	if (text === '') return null;
	const number = plainNumber(text);
	if (number === null || !/^\d{1,12}(\.\d+)?$/.test(number)) return undefined;
	const minor = toMinor(Number(number), currency);
	return fromMinor(minor, currency) === Number(number) ? fromMinor(minor, currency).toFixed(minorDecimals(currency)) : undefined;
}

/** A fee as it is kept beside a service or in a letter. */
export const feeSchema = z.object({
	service: oneLine('the service', 80),
	amount: z
		.string()
		.regex(/^\d{1,12}(\.\d{1,4})?$/, 'Write the fee as a number, such as 280 or 280.50.')
		.nullable(),
	every: z.enum(FEE_RHYTHMS, 'Choose how often the fee falls due.')
});

/** How a table of fees says things, in the language of whoever signs. */
export interface FeeWords {
	service: string;
	fee: string;
	together: string;
	/** an amount with how often it falls due */
	amount: (amount: string, every: FeeRhythm) => string;
}

/** What stands in the way of a table of fees, as the end of a sentence; null where nothing does. */
export function feesMissing(fees: readonly Fee[], currency: string): string | null {
	if (fees.length === 0) return 'no services are on the record of this client. Add an engagement there, or write the fees here';
	const without = fees.filter(({ amount }) => amount === null).map(({ service }) => service);
	if (without.length > 0) return `still to say is the fee for ${without.join(', ')}`;
	const wrong = fees.find(({ amount }) => feeAmount(amount ?? '', currency) === undefined);
	return wrong ? `the fee for ${wrong.service} is no amount in ${currency}: ${wrong.amount}` : null;
}

/** What fees that fall due together come to, by how often; of an hour nothing is added up, and of a single fee neither. */
export function feeTotals(fees: readonly Fee[], currency: string): { every: FeeRhythm; amount: string }[] {
	return FEE_RHYTHMS.flatMap((every) => {
		const of = fees.filter((fee) => fee.every === every && fee.amount !== null);
		if (every === 'hour' || of.length < 2) return [];
		const minor = of.reduce((sum, { amount }) => sum + toMinor(Number(amount), currency), 0);
		return [{ every, amount: fromMinor(minor, currency).toFixed(minorDecimals(currency)) }];
	});
}

/** The fees as a table of a letter; one that is not known yet is left open. */
export function feesTable(fees: readonly Fee[], currency: string, words: FeeWords): LetterTable {
	type Row = LetterTable['content'][number];
	const row = (cells: readonly string[], bold: boolean): Row => ({
		type: 'tableRow',
		content: cells.map((text) => ({
			type: bold ? 'tableHeader' : 'tableCell',
			content: [{ type: 'paragraph', content: [{ type: 'text', text }] }]
		}))
	});
	return {
		type: 'table',
		content: [
			row([words.service, words.fee], true),
			...fees.map(({ service, amount, every }) => row([service, amount === null ? '…' : words.amount(amount, every)], false)),
			...feeTotals(fees, currency).map(({ amount, every }) => row([words.together, words.amount(amount, every)], true))
		]
	};
}

/** Whether a letter has a table of fees, in a part that comes for somebody or outside of them. */
export const hasFees = (document: LetterDocument): boolean => has(document.content, 'fees');
/** Whether a letter asks for a payment authorisation. */
export const hasPayment = (document: LetterDocument): boolean => has(document.content, 'payment');

const has = (blocks: readonly LetterBlock[], type: 'fees' | 'payment'): boolean =>
	blocks.some((block) => block.type === type || (block.type === 'part' && has(block.content, type)));

/** A letter with its fees as a table, wherever they belong. */
export function withFees(document: LetterDocument, table: LetterTable): LetterDocument {
	const filled = <Block extends LetterBlock>(block: Block): Block | LetterTable => (block.type === 'fees' ? table : block);
	return {
		...document,
		content: document.content.map((block): LetterBlock => (block.type === 'part' ? { ...block, content: block.content.map(filled) } : filled(block)))
	};
}
