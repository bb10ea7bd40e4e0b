import { code } from 'currency-codes';

const EURO = 'AT BE CY DE EE ES FI FR GR HR IE IT LT LU LV MT NL PT SI SK'.split(' ');
const OTHERS: Record<string, string> = {
	CA: 'CAD',
	US: 'USD',
	GB: 'GBP',
	AU: 'AUD',
	NZ: 'NZD',
	CH: 'CHF',
	LI: 'CHF',
	ZA: 'ZAR',
	DK: 'DKK',
	NO: 'NOK',
	SE: 'SEK',
	JP: 'JPY',
	IN: 'INR',
	MX: 'MXN'
};

/** The money of a country (ISO 4217) that a question about an amount begins with; a person may write another one. */
export const currencyOf = (country: string): string => (EURO.includes(country) ? 'EUR' : (OTHERS[country] ?? 'USD'));

/** How many decimals an amount in a currency has (the minor unit of ISO 4217): none, two, three or four; two for what is no currency. */
export const decimalsOf = (currency: string): number => code(currency)?.digits ?? 2;
