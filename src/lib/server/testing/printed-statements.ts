import { createCanvas } from '@napi-rs/canvas';
import type { Content, TableCell, TDocumentDefinitions } from 'pdfmake/interfaces';
import { inUnits } from '$lib/core/statements/printed/sums';
import { pdfMake } from '../platform/pdf/compose-letter';

/** What a made-up statement says of itself, value by value; null for what its layout does not say. */
export interface StatementTruth {
	account: string | null;
	from: string | null;
	to: string | null;
	opening: string | null;
	closing: string | null;
	currency: string | null;
}
export interface InventedStatement {
	/** of the file */
	name: string;
	institution: string;
	/** one for each account in it; none where nothing can be read */
	says: StatementTruth[];
	pdf(): Promise<Uint8Array>;
}

/** What a made-up statement is about. */
export interface StatementData {
	account: string;
	from: string;
	to: string;
	/** hundredths */
	opening: bigint;
	payments: { day: string; words: string; cents: bigint }[];
}

const WHO = [
	'Rope Walk Chandlery',
	'Gullhaven Post',
	'Ripstop & Reed Ltd',
	'Harbour Fuel',
	'Tideline Insurance',
	'Market stall, Saturday',
	'Lamp oil & wicks',
	'Order 2041',
	'Quayside Rent',
	'Thimble & Co, invoice 88'
];

/** Days of a statement and payments on them: the same for the same seed. */
export function statementData(seed: number, account: string, from: string, to: string, opening: bigint, count: number): StatementData {
	let state = seed * 7919 + 17;
	const next = (below: number) => (state = (state * 48271) % 2147483647) % below;
	const days = (Date.parse(to) - Date.parse(from)) / 86_400_000 + 1;
	const payments = Array.from({ length: count }, () => ({ after: next(days), words: WHO[next(WHO.length)], cents: BigInt(next(90_000) - 42_000) }))
		.sort((a, b) => a.after - b.after)
		.map(({ after, ...one }) => ({ day: new Date(Date.parse(from) + after * 86_400_000).toISOString().slice(0, 10), ...one }));
	return { account, from, to, opening, payments };
}
export const closingOf = ({ opening, payments }: StatementData): bigint => payments.reduce((sum, { cents }) => sum + cents, opening);

const day = (iso: string, locale: string, how: Intl.DateTimeFormatOptions) =>
	new Intl.DateTimeFormat(locale, { ...how, timeZone: 'UTC' }).format(new Date(iso));
const LONG = { day: 'numeric', month: 'long', year: 'numeric' } as const;
const SHORT = { day: 'numeric', month: 'short' } as const;
const NUMERIC = { day: '2-digit', month: '2-digit', year: 'numeric' } as const;
const sum = (cents: bigint, locale: string) =>
	new Intl.NumberFormat(locale, { minimumFractionDigits: 2, maximumFractionDigits: 2, useGrouping: 'always' } as never).format(Number(cents) / 100);
const size = (cents: bigint) => (cents < 0n ? -cents : cents);

const right = (text: string, more: object = {}): TableCell => ({ text, alignment: 'right', ...more });
/** A table whose first row is its headings, repeated on each page. */
const table = (widths: (string | number)[], rows: TableCell[][], more: object = {}): Content => ({
	layout: 'lightHorizontalLines',
	margin: [0, 12, 0, 0],
	table: { headerRows: 1, widths, body: rows },
	...more
});
const bare = (widths: (string | number)[], rows: TableCell[][], more: object = {}): Content => ({
	layout: 'noBorders',
	margin: [0, 8, 0, 0],
	table: { widths, body: rows },
	...more
});
const sheet = (content: Content[], more: Partial<TDocumentDefinitions> = {}): TDocumentDefinitions => ({
	pageSize: 'LETTER',
	pageMargins: [50, 50, 50, 60],
	defaultStyle: { font: 'Sans', fontSize: 9 },
	content,
	...more
});
const title = (text: string, color = '#12485a'): Content => ({ text, font: 'Serif', bold: true, fontSize: 18, color });

type Layout = (data: StatementData, owner: string) => TDocumentDefinitions;

/** A summary at the side, payments with what comes in and goes out apart and the balance behind. */
function harbourUnionPart(data: StatementData): Content[] {
	let balance = data.opening;
	const rows = data.payments.map(({ day: on, words, cents }): TableCell[] => {
		balance += cents;
		return [
			day(on, 'en-GB', SHORT),
			words,
			right(cents < 0n ? sum(-cents, 'en-CA') : ''),
			right(cents < 0n ? '' : sum(cents, 'en-CA')),
			right(sum(balance, 'en-CA'))
		];
	});
	return [
		{ text: `Account ${data.account}`, bold: true, margin: [0, 14, 0, 0] },
		bare(
			['*', 110],
			[
				['Opening balance', right(sum(data.opening, 'en-CA'))],
				['Closing balance', right(sum(closingOf(data), 'en-CA'), { bold: true })]
			]
		),
		...(rows.length > 0
			? [table([45, '*', 70, 70, 75], [['Date', 'Details', right('Withdrawals'), right('Deposits'), right('Balance')], ...rows])]
			: [{ text: 'There were no payments in this time.', margin: [0, 12, 0, 0] } as Content])
	];
}
const harbourUnion: Layout = (data, owner) =>
	sheet(
		[
			title('Harbour Union'),
			{ text: `${owner}\n7 Net Loft Lane, Gullhaven` },
			{ text: `Statement period ${day(data.from, 'en-GB', LONG)} – ${day(data.to, 'en-GB', LONG)}`, margin: [0, 8, 0, 0] },
			...harbourUnionPart(data)
		],
		{ footer: (page, pages) => ({ text: `page ${page} of ${pages}`, alignment: 'right', margin: [0, 10, 50, 0], fontSize: 8 }) }
	);

/** A card: what is owed counts up, payments stand with a minus, months are in short and go before the day. */
const gullhavenCard: Layout = (data, owner) =>
	sheet([
		{ columns: [title('Gullhaven Card', '#8a3b12'), { text: `Card number **** **** **** ${data.account}`, alignment: 'right' }] },
		{ text: owner },
		table(
			['*', '*', '*', '*'],
			[
				['Previous balance', 'Statement period', 'Payment due', 'New balance'],
				[
					`$${sum(data.opening, 'en-CA')}`,
					`${day(data.from, 'en-US', { ...LONG, month: 'short' })} to ${day(data.to, 'en-US', { ...LONG, month: 'short' })}`,
					day(new Date(Date.parse(data.to) + 21 * 86_400_000).toISOString(), 'en-US', { ...LONG, month: 'short' }),
					`$${sum(closingOf(data), 'en-CA')}`
				]
			]
		),
		table(
			[60, '*', 90],
			[
				['Date', 'What', right('Amount ($)')],
				...data.payments.map(({ day: on, words, cents }): TableCell[] => [day(on, 'en-US', SHORT), words, right(sum(cents, 'en-CA'))])
			]
		)
	]);

/** A loan: only what is owed on two days, in words. */
const tidelineLoans: Layout = (data, owner) =>
	sheet([
		title('Tideline Loans'),
		{ text: `Loan account ${data.account}, ${owner}`, margin: [0, 4, 0, 14] },
		{ text: `Balance on ${day(data.from, 'en-GB', LONG)}: CAD ${sum(data.opening, 'en-CA')}` },
		{ text: 'Interest is counted by the day. Extra payments lower what is owed at once.', margin: [0, 6, 0, 6] },
		{ text: `Balance on ${day(data.to, 'en-GB', LONG)}: CAD ${sum(closingOf(data), 'en-CA')}`, bold: true }
	]);

/** French of Canada: spaces group, the comma is the mark, the sign of the dollar stands behind. */
const caisseDesEmbruns: Layout = (data, owner) => {
	let balance = data.opening;
	return sheet([
		title('Caisse des Embruns', '#1f5f3a'),
		{ text: `Relevé de compte du ${day(data.from, 'fr-CA', LONG)} au ${day(data.to, 'fr-CA', LONG)}`, margin: [0, 6, 0, 0] },
		{ text: `${owner} · N° de compte : ${data.account}` },
		table(
			[60, '*', 70, 70, 80],
			[
				['Date', 'Opération', right('Retraits'), right('Dépôts'), right('Solde')],
				['', 'Solde précédent', '', '', right(`${sum(data.opening, 'fr-CA')} $`)],
				...data.payments.map(({ day: on, words, cents }): TableCell[] => {
					balance += cents;
					return [
						day(on, 'fr-CA', SHORT),
						words,
						right(cents < 0n ? sum(-cents, 'fr-CA') : ''),
						right(cents < 0n ? '' : sum(cents, 'fr-CA')),
						right(`${sum(balance, 'fr-CA')} $`)
					];
				}),
				['', { text: 'Nouveau solde', bold: true }, '', '', right(`${sum(closingOf(data), 'fr-CA')} $`)]
			]
		)
	]);
};

/** German: days in points, sums with their side behind; the old balance is of the day before. */
const hafenbank: Layout = (data, owner) => {
	const sided = (cents: bigint) => `${sum(size(cents), 'de-DE')} ${cents < 0n ? 'S' : 'H'}`;
	const before = new Date(Date.parse(data.from) - 86_400_000).toISOString().slice(0, 10);
	return sheet(
		[
			{ columns: [title('Hafenbank Gullhaven', '#7a1f2b'), { text: `Kontoauszug Nr. ${Number(data.to.slice(5, 7))}`, alignment: 'right' }] },
			{ text: `${owner}\nIBAN DE44 5001 0517 0000 ${data.account}`, margin: [0, 6, 0, 10] },
			bare(['*', 120], [[`Alter Kontostand vom ${day(before, 'de-DE', NUMERIC)}`, right(`EUR ${sided(data.opening)}`)]]),
			table(
				[60, '*', 90],
				[
					['Buchung', 'Vorgang', right('Betrag')],
					...data.payments.map(({ day: on, words, cents }): TableCell[] => [day(on, 'de-DE', NUMERIC), words, right(sided(cents))])
				]
			),
			bare(['*', 120], [[`Neuer Kontostand vom ${day(data.to, 'de-DE', NUMERIC)}`, right(`EUR ${sided(closingOf(data))}`)]])
		],
		{ pageSize: 'A4' }
	);
};

/** Spanish: a row of headings with the sums below. */
const bancoDelFaro: Layout = (data, owner) =>
	sheet(
		[
			title('Banco del Faro', '#9a6a00'),
			{ text: `Extracto del ${day(data.from, 'es-ES', NUMERIC)} al ${day(data.to, 'es-ES', NUMERIC)}`, margin: [0, 4, 0, 0] },
			{ text: `Cuenta ${data.account} · ${owner} · EUR` },
			table(
				['*', '*', '*', '*'],
				[
					[right('Saldo inicial'), right('Abonos'), right('Cargos'), right('Saldo final')],
					[
						right(sum(data.opening, 'es-ES')),
						right(
							sum(
								data.payments.reduce((all, { cents }) => (cents > 0n ? all + cents : all), 0n),
								'es-ES'
							)
						),
						right(
							sum(
								data.payments.reduce((all, { cents }) => (cents < 0n ? all - cents : all), 0n),
								'es-ES'
							)
						),
						right(sum(closingOf(data), 'es-ES'))
					]
				]
			),
			table(
				[60, '*', 90],
				[
					['Fecha', 'Concepto', right('Importe')],
					...data.payments.map(({ day: on, words, cents }): TableCell[] => [day(on, 'es-ES', NUMERIC), words, right(sum(cents, 'es-ES'))])
				]
			)
		],
		{ pageSize: 'A4' }
	);

/** A payment service: a month in the title, days as ISO 8601 writes them, a label above each sum. */
const pierheadPayments: Layout = (data, owner) =>
	sheet([
		title('Pierhead Payments', '#3b3b7a'),
		{ text: `Monthly statement for ${day(data.from, 'en-GB', { month: 'long', year: 'numeric' })}`, fontSize: 13 },
		{ text: `${owner}, merchant no. ${data.account}, all sums in CAD`, margin: [0, 0, 0, 12] },
		{
			columns: [
				[
					{ text: 'Balance at start', color: '#555' },
					{ text: sum(data.opening, 'en-CA'), fontSize: 14 }
				],
				[
					{ text: 'Balance at end', color: '#555' },
					{ text: sum(closingOf(data), 'en-CA'), fontSize: 14 }
				]
			]
		},
		table(
			[70, '*', 80],
			[
				['Date', 'Details', right('Amount')],
				...data.payments.map(({ day: on, words, cents }): TableCell[] => [on, words, right(sum(cents, 'en-CA'))])
			]
		)
	]);

/** Days as month, day and year, what goes out in brackets, the balance carried from page to page. */
const skerryCreditUnion: Layout = (data, owner) => {
	const bracketed = (cents: bigint) => (cents < 0n ? `(${sum(-cents, 'en-US')})` : sum(cents, 'en-US'));
	const PER_PAGE = 28;
	let balance = data.opening;
	const pages = Array.from({ length: Math.max(1, Math.ceil(data.payments.length / PER_PAGE)) }, (_, n) =>
		data.payments.slice(n * PER_PAGE, (n + 1) * PER_PAGE)
	);
	return sheet([
		title('Skerry Credit Union', '#2c5d63'),
		{ text: `${owner}\nAccount no. ${data.account}     From ${day(data.from, 'en-US', NUMERIC)} through ${day(data.to, 'en-US', NUMERIC)}` },
		...pages.flatMap((payments, n): Content[] => {
			const brought = balance;
			const rows = payments.map(({ day: on, words, cents }): TableCell[] => {
				balance += cents;
				return [day(on, 'en-US', NUMERIC), words, right(bracketed(cents)), right(bracketed(balance))];
			});
			const last = n === pages.length - 1;
			return [
				table(
					[70, '*', 80, 90],
					[
						['Date', 'Description', right('Amount'), right('Balance')],
						['', n === 0 ? 'Beginning balance' : 'Brought forward', '', right(bracketed(brought))],
						...rows,
						['', last ? 'Ending balance' : 'Carried forward', '', right(bracketed(balance))]
					],
					last ? {} : { pageBreak: 'after' }
				)
			];
		})
	]);
};

const LAYOUTS = {
	'Harbour Union': harbourUnion,
	'Gullhaven Card': gullhavenCard,
	'Tideline Loans': tidelineLoans,
	'Caisse des Embruns': caisseDesEmbruns,
	'Hafenbank Gullhaven': hafenbank,
	'Banco del Faro': bancoDelFaro,
	'Pierhead Payments': pierheadPayments,
	'Skerry Credit Union': skerryCreditUnion
};
export type Institution = keyof typeof LAYOUTS;
const CURRENCY: Record<Institution, string | null> = {
	'Harbour Union': null,
	'Gullhaven Card': null,
	'Tideline Loans': 'CAD',
	'Caisse des Embruns': null,
	'Hafenbank Gullhaven': 'EUR',
	'Banco del Faro': 'EUR',
	'Pierhead Payments': 'CAD',
	'Skerry Credit Union': null
};

const rendered = async (definition: TDocumentDefinitions): Promise<Uint8Array> => new Uint8Array(await pdfMake().createPdf(definition).getBuffer());

/** A statement as PDF, in the layout of an institution. */
export const printedStatement = (institution: Institution, data: StatementData, owner: string): Promise<Uint8Array> =>
	rendered(LAYOUTS[institution](data, owner));

const truth = (institution: Institution, data: StatementData): StatementTruth => ({
	account: data.account.replace(/\D/g, '').slice(-4),
	from: data.from,
	to: data.to,
	opening: inUnits(data.opening),
	closing: inUnits(closingOf(data)),
	currency: CURRENCY[institution]
});

/** A page of a statement as a scanner leaves it: a picture. */
async function scanned(data: StatementData, owner: string): Promise<Uint8Array> {
	const canvas = createCanvas(850, 1100);
	const draw = canvas.getContext('2d');
	draw.fillStyle = '#fbfaf5';
	draw.fillRect(0, 0, 850, 1100);
	draw.fillStyle = '#222';
	draw.font = '22px sans-serif';
	[`Skerry Credit Union`, owner, `${data.from} ${data.to}`, inUnits(data.opening), inUnits(closingOf(data))].forEach((line, i) =>
		draw.fillText(line, 70, 90 + i * 40)
	);
	return rendered({ content: [{ image: `data:image/png;base64,${canvas.toBuffer('image/png').toString('base64')}`, width: 500 }] });
}

const OWNER = 'Heron & Pike Anglers';
function plain(name: string, institution: Institution, ...data: Parameters<typeof statementData>): InventedStatement {
	const made = statementData(...data);
	return { name, institution, says: [truth(institution, made)], pdf: () => printedStatement(institution, made, OWNER) };
}

/**
 * Twenty-four made-up statements of eight made-up institutions: short and long, over New Year, overdrawn, without payments; one with two
 * accounts, one scanned, one that is locked.
 */
export function inventedStatements(): InventedStatement[] {
	const two = [
		statementData(41, '0020 447710', '2026-04-01', '2026-04-30', 1_220_411n, 9),
		statementData(42, '0020 447728', '2026-04-01', '2026-04-30', 894_055n, 6)
	];
	const scan = statementData(43, '61-20877', '2026-02-01', '2026-02-28', 310_000n, 4);
	const locked = statementData(44, '55-0091', '2026-04-01', '2026-04-30', 2_400_000n, 0);
	return [
		plain('harbour-april.pdf', 'Harbour Union', 1, '0020 447710', '2026-04-01', '2026-04-30', 1_220_411n, 14),
		plain('harbour-long.pdf', 'Harbour Union', 2, '0020 447710', '2026-03-01', '2026-03-31', 812_077n, 110),
		plain('harbour-overdrawn.pdf', 'Harbour Union', 3, '0020 447728', '2026-02-01', '2026-02-28', -52_810n, 11),
		{
			name: 'harbour-two-accounts.pdf',
			institution: 'Harbour Union',
			says: two.map((data) => truth('Harbour Union', data)),
			pdf: () =>
				rendered(
					sheet([
						title('Harbour Union'),
						{ text: `${OWNER}\nStatement period 1 April 2026 – 30 April 2026` },
						...two.flatMap((data) => harbourUnionPart(data))
					])
				)
		},
		plain('harbour-quiet.pdf', 'Harbour Union', 4, '0020 447728', '2026-01-01', '2026-01-31', 852_855n, 0),
		plain('card-april.pdf', 'Gullhaven Card', 5, '3304', '2026-03-21', '2026-04-20', 184_012n, 18),
		plain('card-new-year.pdf', 'Gullhaven Card', 6, '3304', '2025-12-21', '2026-01-20', 99_950n, 12),
		plain('card-long.pdf', 'Gullhaven Card', 7, '3304', '2026-01-21', '2026-02-20', 250_000n, 75),
		plain('loan-april.pdf', 'Tideline Loans', 8, '55-0091', '2026-04-01', '2026-04-30', 2_450_000n, 1),
		plain('loan-quarter.pdf', 'Tideline Loans', 9, '55-0091', '2026-01-01', '2026-03-31', 2_600_000n, 3),
		{
			name: 'loan-locked.pdf',
			institution: 'Tideline Loans',
			says: [],
			pdf: () => rendered({ ...tidelineLoans(locked, OWNER), userPassword: 'lamplight', ownerPassword: 'harbour' })
		},
		plain('caisse-avril.pdf', 'Caisse des Embruns', 10, '815-30-44712', '2026-04-01', '2026-04-30', 430_912n, 16),
		plain('caisse-long.pdf', 'Caisse des Embruns', 11, '815-30-44712', '2026-03-01', '2026-03-31', 1_377_005n, 90),
		plain('caisse-decouvert.pdf', 'Caisse des Embruns', 12, '815-30-44712', '2026-02-01', '2026-02-28', 4_100n, 8),
		plain('hafenbank-april.pdf', 'Hafenbank Gullhaven', 13, '2233 81', '2026-04-01', '2026-04-30', 1_500_000n, 12),
		plain('hafenbank-soll.pdf', 'Hafenbank Gullhaven', 14, '2233 81', '2026-03-01', '2026-03-31', -230_055n, 20),
		plain('hafenbank-lang.pdf', 'Hafenbank Gullhaven', 15, '2233 81', '2026-01-01', '2026-01-31', 777_777n, 80),
		plain('faro-abril.pdf', 'Banco del Faro', 16, '2100-0418-45', '2026-04-01', '2026-04-30', 640_021n, 15),
		plain('faro-doce-dias.pdf', 'Banco del Faro', 17, '2100-0418-45', '2026-04-01', '2026-04-12', 1_000_000n, 5),
		plain('pierhead-april.pdf', 'Pierhead Payments', 18, '770 1245', '2026-04-01', '2026-04-30', 22_519n, 20),
		plain('pierhead-february.pdf', 'Pierhead Payments', 19, '770 1245', '2026-02-01', '2026-02-28', 0n, 60),
		plain('skerry-april.pdf', 'Skerry Credit Union', 20, '61-20877', '2026-04-01', '2026-04-30', 310_000n, 10),
		plain('skerry-pages.pdf', 'Skerry Credit Union', 21, '61-20877', '2026-03-01', '2026-03-31', -81_200n, 100),
		{ name: 'skerry-scan.pdf', institution: 'Skerry Credit Union', says: [], pdf: () => scanned(scan, OWNER) }
	];
}
