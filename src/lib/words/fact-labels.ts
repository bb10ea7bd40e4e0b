import { READY_MADE_FACTS, type FactDefinition } from '$lib/core/facts/fact-definition';
import { say, type WordKey } from './words';

const shipped = new Map(READY_MADE_FACTS.map((fact) => [fact.name, fact]));

/** What a fact is called for a reader: one that ships with the product in their language, unless the firm calls it otherwise. */
export function factLabel(locale: string, { name, label }: Pick<FactDefinition, 'name' | 'label'>): string {
	return shipped.get(name)?.label === label ? say(locale, `fact.${name}` as WordKey) : label;
}

/** A choice of a fact that ships with the product, in the reader's language; null where the firm wrote words of its own. */
export function choiceLabel(locale: string, { name, is }: Pick<FactDefinition, 'name' | 'is'>, key: string): string | null {
	const [ours, theirs] = [shipped.get(name)?.is, is].map((kind) =>
		kind && 'choices' in kind ? kind.choices.find((choice) => choice.key === key)?.words : undefined
	);
	return ours !== undefined && ours === theirs ? say(locale, `fact.choice.${key}` as WordKey) : null;
}

/** The words of the fields of facts and tables beside the firm's own. */
export function fieldWords(locale: string) {
	return {
		yes: say(locale, 'item.yes'),
		no: say(locale, 'item.no'),
		day: say(locale, 'facts.day'),
		month: say(locale, 'facts.month'),
		row: say(locale, 'facts.row'),
		addRow: say(locale, 'facts.addRow'),
		removeRow: say(locale, 'facts.removeRow')
	};
}
