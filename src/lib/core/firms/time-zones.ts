/** Where most people of a country with several time zones live. */
const MOST_LIVE_IN: Record<string, string> = {
	AR: 'America/Argentina/Buenos_Aires',
	AU: 'Australia/Sydney',
	BR: 'America/Sao_Paulo',
	CA: 'America/Toronto',
	CD: 'Africa/Kinshasa',
	CL: 'America/Santiago',
	CN: 'Asia/Shanghai',
	CY: 'Asia/Nicosia',
	DE: 'Europe/Berlin',
	EC: 'America/Guayaquil',
	ES: 'Europe/Madrid',
	FR: 'Europe/Paris',
	ID: 'Asia/Jakarta',
	KZ: 'Asia/Almaty',
	MN: 'Asia/Ulaanbaatar',
	MX: 'America/Mexico_City',
	MY: 'Asia/Kuala_Lumpur',
	NZ: 'Pacific/Auckland',
	PT: 'Europe/Lisbon',
	RU: 'Europe/Moscow',
	UA: 'Europe/Kyiv',
	US: 'America/New_York',
	UZ: 'Asia/Tashkent'
};

/** The time zones of a country (IANA names, as the CLDR has them); none for a country it does not know. */
export function zonesOf(country: string): string[] {
	if (!/^[A-Z]{2}$/.test(country)) return [];
	const locale = new Intl.Locale('und', { region: country }) as Intl.Locale & { timeZones?: string[]; getTimeZones?: () => string[] };
	return locale.getTimeZones?.() ?? locale.timeZones ?? [];
}

/**
 * The time zone to propose for a country: the one that holds already if it is one of the country's, else where most people live.
 * @param now the one that is chosen, or that of the device
 */
export function proposedZone(country: string, now: string): string {
	const zones = zonesOf(country);
	if (zones.length === 0 || zones.includes(now)) return now;
	return MOST_LIVE_IN[country] ?? zones[0];
}
