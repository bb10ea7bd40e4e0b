import { COUNTRIES, CURRENCIES } from '$lib/core/firms/firm-forms';

const names = new Intl.DisplayNames('en', { type: 'region' });

export function countryInWords(code: string): string {
	return names.of(code) ?? code;
}

const currencies = new Intl.DisplayNames('en', { type: 'currency' });

/** "Canadian Dollar, CAD". */
export function currencyInWords(code: string): string {
	return `${currencies.of(code) ?? code}, ${code}`;
}

/** What a form offers for choosing a country and a currency, by name, and a time zone. */
export const REGION_CHOICES = {
	countries: COUNTRIES.map((code) => ({ code, name: countryInWords(code) })).sort((a, b) => a.name.localeCompare(b.name)),
	currencies: CURRENCIES.map((code) => ({ code, name: currencyInWords(code) })).sort((a, b) => a.name.localeCompare(b.name)),
	timeZones: Intl.supportedValuesOf('timeZone')
};
