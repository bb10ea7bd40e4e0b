import { FEE_RHYTHM_WORDS, type FeeRhythm, type FeeWords } from '../core/letters/fees';
import { minorDecimals } from '../core/items/minor-units';
import { amountWords } from './amounts';
import { say } from './words';

/** A fee as the desk says it. */
export const feeAtDesk = (fee: string, every: FeeRhythm, currency: string): string =>
	`${amountWords('en', fee, currency)} ${FEE_RHYTHM_WORDS[every]}`;

/** A service with the fee that was agreed for it, if one was. */
export const serviceWithFee = (service: { name: string; fee: string | null; every: FeeRhythm | null }, currency: string): string =>
	service.fee !== null && service.every !== null ? `${service.name} (${feeAtDesk(service.fee, service.every, currency)})` : service.name;

/** How a table of fees says things to somebody. */
export function feeWords(locale: string, currency: string): FeeWords {
	const money = new Intl.NumberFormat(locale, {
		style: 'currency',
		currency,
		currencyDisplay: 'narrowSymbol',
		minimumFractionDigits: minorDecimals(currency)
	});
	return {
		service: say(locale, 'letter.fees.service'),
		fee: say(locale, 'letter.fees.fee'),
		together: say(locale, 'letter.fees.together'),
		amount: (amount: string, every: FeeRhythm) => say(locale, 'letter.fees.amount', { amount: money.format(Number(amount)), every })
	};
}
