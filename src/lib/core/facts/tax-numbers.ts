import { stdnum } from 'stdnum';

/** The checks of tax numbers that are offered, by country and name as `stdnum` has them. */
export const TAX_NUMBER_CHECKS: Readonly<Record<string, string>> = {
	'CA.bn': 'Canada: business number',
	'CA.gst': 'Canada: GST/HST number',
	'CA.qst': 'Canada: QST number',
	'CA.sin': 'Canada: social insurance number',
	'US.ein': 'United States: employer identification number',
	'US.ssn': 'United States: social security number',
	'GB.utr': 'United Kingdom: unique taxpayer reference',
	'GB.vat': 'United Kingdom: VAT number',
	'GB.nino': 'United Kingdom: national insurance number',
	'IE.vat': 'Ireland: VAT number',
	'IE.pps': 'Ireland: personal public service number',
	'FR.siren': 'France: SIREN',
	'FR.siret': 'France: SIRET',
	'FR.tva': 'France: VAT number',
	'BE.vat': 'Belgium: VAT number',
	'CH.uid': 'Switzerland: UID',
	'DE.vat': 'Germany: VAT number',
	'NL.btw': 'Netherlands: VAT number',
	'AU.abn': 'Australia: business number',
	'AU.tfn': 'Australia: tax file number',
	'NZ.ird': 'New Zealand: IRD number'
};

type Check = { validate(text: string): { isValid: boolean; compact?: string }; format(text: string): string };
const checkOf = (check: string): Check | undefined => {
	const [country, name] = check.split('.');
	return (stdnum as unknown as Record<string, Record<string, Check> | undefined>)[country]?.[name];
};

/**
 * A tax number in the one way in which its country writes it.
 * @param check a key of `TAX_NUMBER_CHECKS`; of another one, or none, every text is taken as it is
 * @returns null if its digits do not fit together
 */
export function taxNumber(check: string, text: string): string | null {
	const rule = check in TAX_NUMBER_CHECKS ? checkOf(check) : undefined;
	if (!rule) return text;
	return rule.validate(text).isValid ? rule.format(text) : null;
}
