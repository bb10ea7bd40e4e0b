import type { FeeRhythm, FeeWords } from '../core/letters/fees';
import { minorDecimals } from '../core/items/minor-units';
import { say } from './words';

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
