/** Currencies whose minor unit is not a hundredth, by its decimals (ISO 4217); small, for pages of clients bring it along. */
const DECIMALS: Readonly<Record<number, string>> = {
	0: 'BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF',
	3: 'BHD IQD JOD KWD LYD OMR TND',
	4: 'CLF UYW'
};
const BY_CODE = new Map(Object.entries(DECIMALS).flatMap(([decimals, codes]) => codes.split(' ').map((code) => [code, Number(decimals)] as const)));

/** How many decimals an amount in a currency has: those of its minor unit; two for what is no currency. */
export const minorDecimals = (currency: string): number => BY_CODE.get(currency) ?? 2;

/** An amount in the minor units in which answers keep it, so that it stays exact: cents, yen, or thousandths of a dinar. */
export const toMinor = (amount: number, currency: string): number => Math.round(amount * 10 ** minorDecimals(currency));

/** The same the other way round. */
export const fromMinor = (minor: number, currency: string): number => minor / 10 ** minorDecimals(currency);
