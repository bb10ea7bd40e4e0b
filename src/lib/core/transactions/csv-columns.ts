import { bareHeading } from '../tables/bare-heading';
import { amountOf, decimalMarkOf } from './amounts';
import { dateOrderOf, dayOfText } from './days';

/** What a column of a bank's or a ledger's table holds. */
export const CSV_COLUMNS = [
	'day',
	'amount',
	'out',
	'in',
	'side',
	'who',
	'words',
	'category',
	'reference',
	'document',
	'currency',
	'account'
] as const;
export type CsvColumn = (typeof CSV_COLUMNS)[number];
export const CSV_COLUMN_WORDS: Record<CsvColumn, string> = {
	day: 'the day',
	amount: 'the amount',
	out: 'money out',
	in: 'money in',
	side: 'debit or credit',
	who: 'whom it went to',
	words: 'what the bank says',
	category: 'the category',
	reference: 'the bank’s own number',
	document: 'the document',
	currency: 'the currency',
	account: 'the account'
};

/** Headings as banks and ledgers write them, in English and French, without accents and signs. */
const KNOWN: Record<CsvColumn, readonly string[]> = {
	day: [
		'date',
		'transaction date',
		'trans date',
		'posting date',
		'posted date',
		'date posted',
		'booking date',
		'posted',
		'post date',
		'entry date',
		'value date',
		'date de l operation',
		'date operation',
		'date de transaction',
		'date comptable',
		'date d inscription'
	],
	amount: ['amount', 'transaction amount', 'value', 'net amount', 'montant', 'amount cad', 'amount usd', 'cad', 'sum'],
	out: [
		'debit',
		'debits',
		'debit amount',
		'withdrawal',
		'withdrawals',
		'money out',
		'paid out',
		'out',
		'spent',
		'payments',
		'debit montant',
		'retrait',
		'retraits',
		'charge',
		'charges'
	],
	in: ['credit', 'credits', 'credit amount', 'deposit', 'deposits', 'money in', 'paid in', 'in', 'received', 'depot', 'depots'],
	side: ['debit credit', 'dr cr', 'cr dr', 'credit debit', 'sens', 'sign', 'credit debit indicator'],
	who: [
		'payee',
		'name',
		'merchant',
		'merchant name',
		'vendor',
		'supplier',
		'beneficiary',
		'counterparty',
		'paid to',
		'to from',
		'contact',
		'beneficiaire',
		'fournisseur',
		'customer supplier'
	],
	words: [
		'description',
		'details',
		'memo',
		'narrative',
		'particulars',
		'transaction',
		'transaction description',
		'note',
		'notes',
		'libelle',
		'description operation',
		'text',
		'purpose',
		'remittance'
	],
	category: ['category', 'account name', 'ledger account', 'nominal', 'gl account', 'categorie', 'compte', 'split', 'coded to', 'class'],
	reference: [
		'reference',
		'ref',
		'id',
		'transaction id',
		'fitid',
		'reference number',
		'ref no',
		'transaction reference',
		'unique id',
		'numero',
		'no',
		'num',
		'number',
		'entry no',
		'journal no'
	],
	document: [
		'document',
		'attachment',
		'attachments',
		'receipt',
		'receipts',
		'voucher',
		'invoice',
		'document no',
		'piece',
		'piece jointe',
		'justificatif',
		'has receipt',
		'file',
		'bill'
	],
	currency: ['currency', 'ccy', 'devise', 'currency code'],
	account: ['account', 'account number', 'account no', 'iban', 'numero de compte']
};

const BY_HEADING = new Map(CSV_COLUMNS.flatMap((column) => KNOWN[column].map((heading) => [heading, column] as const)));
export const columnOfHeading = (heading: string): CsvColumn | null => BY_HEADING.get(bareHeading(heading)) ?? null;

/** Most of a column's cells that must read alike before they tell what it is. */
const MOSTLY = 0.8;

/**
 * What the columns of a table hold: by heading, else by what stands in them (a day, an amount, words). No column twice.
 * @param sample some rows below the heading
 */
export function recogniseCsvColumns(header: readonly string[], sample: readonly (readonly string[])[]): (CsvColumn | null)[] {
	const columns = header.map(columnOfHeading);
	const taken = new Set<CsvColumn>();
	for (const [i, column] of columns.entries()) {
		if (!column) continue;
		if (taken.has(column)) columns[i] = null;
		taken.add(column);
	}
	const width = Math.max(header.length, ...sample.map((row) => row.length));
	const cellsOf = (i: number) => sample.map((row) => row[i]?.trim() ?? '').filter(Boolean);
	const isDay = (cells: string[]) => {
		const order = dateOrderOf(cells) ?? 'dmy';
		return cells.length > 0 && cells.filter((cell) => dayOfText(cell, order)).length / cells.length >= MOSTLY;
	};
	const isAmount = (cells: string[]) => {
		const mark = decimalMarkOf(cells);
		return cells.length > 0 && cells.filter((cell) => /\d[.,]\d/.test(cell) && amountOf(cell, mark)).length / cells.length >= MOSTLY;
	};
	const unknown = Array.from({ length: width }, (_, i) => i).filter((i) => !columns[i]);
	const give = (column: CsvColumn, i: number | undefined) => {
		if (i === undefined || taken.has(column)) return;
		columns[i] = column;
		taken.add(column);
	};
	if (!taken.has('day'))
		give(
			'day',
			unknown.find((i) => isDay(cellsOf(i)))
		);
	if (!taken.has('amount') && !taken.has('in') && !taken.has('out'))
		give(
			'amount',
			unknown.find((i) => !columns[i] && isAmount(cellsOf(i)))
		);
	if (!taken.has('words') && !taken.has('who')) {
		const long = unknown
			.filter((i) => !columns[i])
			.map((i) => ({ i, letters: cellsOf(i).reduce((sum, cell) => sum + cell.replace(/[^\p{Letter}]/gu, '').length, 0) }))
			.sort((a, b) => b.letters - a.letters)[0];
		if (long?.letters > 0) give('words', long.i);
	}
	return Array.from({ length: width }, (_, i) => columns[i] ?? null);
}

/** What is missing before lines can be read from the columns, or null. */
export function missingColumn(columns: readonly (CsvColumn | null)[]): string | null {
	if (!columns.includes('day')) return 'Say which column holds the day.';
	if (!columns.some((column) => column === 'amount' || column === 'in' || column === 'out')) return 'Say which column holds the amount.';
	return null;
}
