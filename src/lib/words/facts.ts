import type { FactDefinition } from '$lib/core/facts/fact-definition';
import type { FactReader } from '$lib/core/facts/fact-words';
import { READY_MADE_FACTS } from '$lib/core/facts/fact-definition';
import { phoneInWords } from '$lib/core/people/phone';
import { dateWords, dayOfYearWords, numberFormatter } from './dates';
import { say, type WordKey } from './words';

const shipped = new Map(READY_MADE_FACTS.map((fact) => [fact.name, fact]));

/** What a fact is called for a reader: one that ships with the product in their language, unless the firm calls it otherwise. */
export function factLabel(locale: string, { name, label }: Pick<FactDefinition, 'name' | 'label'>): string {
	return shipped.get(name)?.label === label ? say(locale, `fact.${name}` as WordKey) : label;
}

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
		choice({ name, is }, key) {
			if (locale === 'en' || (is.kind !== 'choice' && is.kind !== 'several')) return null;
			const ours = shipped.get(name)?.is;
			const [own, words] = [ours, is].map((kind) =>
				kind && 'choices' in kind ? kind.choices.find((choice) => choice.key === key)?.words : undefined
			);
			return own !== undefined && own === words ? say(locale, `fact.choice.${key}` as WordKey) : null;
		},
		phone: (number) => phoneInWords(number, country)
	};
}
