import type { FactDefinition } from '../facts/fact-definition';

/** The merge fields a firm may use in letters and messages, with the words a person reads. */
export const MERGE_FIELDS = {
	client_name: 'Client name',
	contact_name: 'Contact name',
	contact_first_name: 'Contact first name',
	firm_name: 'Firm name',
	responsible_name: 'Responsible person',
	today: 'Date of sending',
	start_date: 'Start date',
	monthly_fee: 'Monthly fee',
	services: 'Services',
	year_end: 'Year end'
} as const;
export type MergeFieldName = keyof typeof MERGE_FIELDS;

/** The words for a field; a fact of the firm's own is named by the words that its name was made from. */
export function mergeFieldWords(name: string): string {
	return MERGE_FIELDS[name as MergeFieldName] ?? `${name[0]?.toUpperCase() ?? ''}${name.slice(1).replaceAll('_', ' ')}`;
}

/** Whether what is known may stand in a letter: no secret, and nothing that clients may not see. */
export const mayStandInLetter = (fact: FactDefinition): boolean => !fact.secret && fact.clientMay !== 'nothing';

/** What the firm knows about its clients and may tell them, as far as it still asks for it. */
export const factsForLetters = (facts: readonly FactDefinition[]): FactDefinition[] =>
	facts.filter((fact) => mayStandInLetter(fact) && !fact.retired && !fact.mergedInto);

/** The fields of a letter: those of ours, then what the firm knows about its clients and may tell them. */
export function letterFields(facts: readonly FactDefinition[]): Record<string, string> {
	return { ...MERGE_FIELDS, ...Object.fromEntries(factsForLetters(facts).map(({ name, label }) => [name, label])) };
}

/** Fields that the product fills by itself; the others are asked of the person who sends. */
export const AUTOMATIC_FIELDS: readonly MergeFieldName[] = [
	'client_name',
	'contact_name',
	'contact_first_name',
	'firm_name',
	'responsible_name',
	'today'
];

/** The names among the used fields that have no value yet, in order. */
export function unfilledFields(used: readonly string[], values: Readonly<Record<string, string>>): string[] {
	return used.filter((name) => !values[name]?.trim());
}

const FIELD_IN_TEXT = /\{([a-z][a-z0-9_]{0,59})\}/g;

/** The field names written as {name} in a plain text, each once. */
export function mergeFieldsInText(text: string): string[] {
	return [...new Set([...text.matchAll(FIELD_IN_TEXT)].map((match) => match[1]))];
}

/** A plain text with its {name} fields filled; what has no value stays as written. */
export function fillText(text: string, values: Readonly<Record<string, string>>): string {
	return text.replace(FIELD_IN_TEXT, (written, name: string) => values[name]?.trim() || written);
}

/** What is put in for the fields that are known of everybody who is written to about a client. */
export function personValues(of: { clientName: string; contactName: string; firmName: string; responsible: string }) {
	return {
		client_name: of.clientName,
		contact_name: of.contactName,
		contact_first_name: firstName(of.contactName),
		firm_name: of.firmName,
		responsible_name: of.responsible
	};
}

/**
 * How somebody is greeted: by their first name, or by none where only an address stands for it.
 * @returns the values of a greeting in the catalogue
 */
export function greeted(name: string): { name: string; named: 'yes' | 'no' } {
	return /@/.test(name) || name.trim() === '' ? { name: '', named: 'no' } : { name: firstName(name), named: 'yes' };
}

/** The first word of a person's name, for greetings. */
export function firstName(name: string): string {
	return name.trim().split(/\s+/)[0] ?? name;
}
