import { plainNumber, type AnswerReader } from '$lib/core/items/answers';
import { dateWords, dayOfYearWords, numberFormatter } from './dates';
import { say } from './words';

/**
 * Writes answers as a reader of a language is used to: "1,234.50", "1 234,50".
 * @param phone writes a kept phone number; without one it stands as it is kept, so that a client's page needs no library for it
 */
export function answerReader(locale: string, phone: AnswerReader['phone'] = (number) => number): AnswerReader {
	return {
		date: (day) => dateWords(locale, day, 'withYear'),
		number: (value, { least, most }) => numberFormatter(locale, { minimumFractionDigits: least, maximumFractionDigits: most }).format(value),
		yesNo: (yes) => say(locale, yes ? 'item.yes' : 'item.no'),
		day: (day) => dayOfYearWords(locale, day),
		phone
	};
}

/**
 * A number as it stands in a field of a reader: with their decimal sign, unless it would then be read back as another number
 * ("1,234" for one and a bit).
 */
export function typedNumber(locale: string, value: number, decimals: { least: number; most: number }): string {
	const write = (of: string) =>
		numberFormatter(of, { useGrouping: false, minimumFractionDigits: decimals.least, maximumFractionDigits: decimals.most }).format(value);
	const [theirs, plain] = [write(locale), write('en')];
	return plainNumber(theirs) === plain ? theirs : plain;
}
