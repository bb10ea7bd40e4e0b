import { numberFormatter } from './dates';

/** An exact amount as people read it in their language, without a sign: "1,234.50 CAD". */
export function amountWords(locale: string, amount: string, currency: string): string {
	const [whole, fraction] = amount.replace('-', '').split('.');
	const decimals = fraction?.length ?? 0;
	// the digits are grouped as they are, never through a floating-point number
	const parts = numberFormatter(locale, { minimumFractionDigits: decimals }).formatToParts(BigInt(whole));
	const mark = numberFormatter(locale, { minimumFractionDigits: 1 })
		.formatToParts(0.5)
		.find((part) => part.type === 'decimal')!.value;
	const digits = parts
		.filter((part) => part.type === 'integer' || part.type === 'group')
		.map((part) => part.value)
		.join('');
	return `${digits}${decimals > 0 ? mark + fraction : ''}${currency ? `\u00a0${currency}` : ''}`;
}
