import type { FactReader } from '$lib/core/facts/fact-words';
import { phoneInWords } from '$lib/core/people/phone';
import { dateWords, dayOfYearWords, numberFormatter } from './dates';
import { choiceLabel } from './fact-labels';
import { say } from './words';

/** Writes facts as a reader of a language is used to. @param country where phone numbers are written without the country's code */
export function factReader(locale: string, country: string): FactReader {
	return {
		date: (date) => dateWords(locale, date, 'withYear'),
		day: (day) => dayOfYearWords(locale, day),
		number: (value) => {
			const decimals = value.split('.')[1]?.length ?? 0;
			return numberFormatter(locale, { minimumFractionDigits: decimals, maximumFractionDigits: decimals }).format(Number(value));
		},
		yesNo: (yes) => say(locale, yes ? 'fact.choice.yes' : 'fact.choice.no'),
		// the desk reads what the firm wrote
		choice: (fact, key) => (locale === 'en' ? null : choiceLabel(locale, fact, key)),
		phone: (number) => phoneInWords(number, country)
	};
}
