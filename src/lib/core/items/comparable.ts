import type { FactDefinition, FactKind } from '../facts/fact-definition';
import { factKeys, factRows } from '../facts/fact-words';
import { fromMinor, toMinor } from './minor-units';
import { plainNumber, type Answer, type AnswerRow } from './answers';
import type { AnswerSpec } from './questions';

/** The kind of fact by whose rules an answer is read, compared and kept. */
export function factKindOfAnswer(spec: AnswerSpec): FactKind {
	switch (spec.is) {
		case 'line':
			return { kind: 'words', max: 200 };
		case 'words':
			return { kind: 'lines', max: 4000 };
		case 'number':
			return { kind: 'number', unit: spec.unit, whole: false };
		case 'money':
			return { kind: 'money', currency: spec.currency };
		case 'one_of':
			return { kind: 'choice', choices: spec.choices.map((words) => ({ key: words, words })) };
		case 'several_of':
			return { kind: 'several', choices: spec.choices.map((words) => ({ key: words, words })) };
		case 'tax_number':
			return { kind: 'tax_number', check: spec.check };
		case 'table':
			return { kind: 'table', columns: spec.columns };
		case 'file':
			// there or not, and how many: nothing else of a file is compared
			return { kind: 'table', columns: [] };
		default:
			return { kind: spec.is };
	}
}

/** An answer as its kind of fact would keep it, for comparing. */
export function comparable(answer: Answer, spec: AnswerSpec): string {
	if (typeof answer === 'number') return spec.is === 'money' ? String(fromMinor(answer, spec.currency)) : String(answer);
	if (typeof answer === 'boolean') return answer ? 'yes' : 'no';
	return typeof answer === 'string' ? answer : JSON.stringify(answer);
}

/**
 * What stands in the fields of a question while somebody types, as the answer it would be; undefined where it is none yet. Its rules are
 * those of reading, without the words for what is wrong: a page decides by it which follow-ups it shows.
 */
export function typedAnswer(spec: AnswerSpec, typed: string | readonly string[] | undefined): Answer | undefined {
	const texts = (typeof typed === 'string' ? [typed] : (typed ?? [])).filter((text) => text.trim() !== '');
	if (texts.length === 0) return undefined;
	const [text] = texts;
	switch (spec.is) {
		case 'yes_no':
			return text === 'yes';
		case 'one_of':
		case 'several_of':
			return chosen(spec, texts) ?? undefined;
		case 'number':
		case 'money': {
			const number = plainNumber(text);
			return number === null ? undefined : spec.is === 'money' ? toMinor(Number(number), spec.currency) : Number(number);
		}
		case 'table': {
			const rows = factRows(text);
			return rows.length > 0 ? ([...rows] as AnswerRow[]) : undefined;
		}
		case 'file':
			return texts.map((name) => ({ name }));
		default:
			return text.trim();
	}
}

/** Most characters of a choice that somebody writes themselves. */
export const OTHER_MAX = 120;

/**
 * What was chosen, or null for nothing: choices in their order, and where one may write another, the first text that is none of them. Of
 * one choice only, what is ticked goes before what is written.
 */
export function chosen(
	{ is, choices, other }: Extract<AnswerSpec, { is: 'one_of' | 'several_of' }>,
	texts: readonly string[]
): string | string[] | null {
	const ticked = choices.filter((choice) => texts.includes(choice));
	const written = other ? texts.map((text) => text.trim()).find((text) => text !== '' && !choices.includes(text)) : undefined;
	if (is === 'one_of') return ticked[0] ?? written ?? null;
	const all = written === undefined ? ticked : [...ticked, written];
	return all.length > 0 ? all : null;
}

/** What is known, as it answers a question; null where it does not fit how the question is answered. */
export function answerOfKnown(spec: AnswerSpec, fact: FactDefinition, value: string): Answer | null {
	const words = (key: string) => ('choices' in fact.is ? (fact.is.choices.find((choice) => choice.key === key)?.words ?? key) : key);
	switch (spec.is) {
		case 'yes_no':
			return value === 'yes' ? true : value === 'no' ? false : null;
		case 'number':
			return Number.isFinite(Number(value)) ? Number(value) : null;
		case 'money':
			return Number.isFinite(Number(value)) ? toMinor(Number(value), spec.currency) : null;
		case 'one_of':
			return spec.choices.includes(words(value)) ? words(value) : null;
		case 'several_of': {
			const known = factKeys(value).map(words);
			return known.length > 0 && known.every((one) => spec.choices.includes(one)) ? known : null;
		}
		case 'file':
			return null;
		case 'table':
			return fact.is.kind === 'table' ? ([...factRows(value)] as AnswerRow[]) : null;
		default:
			return 'choices' in fact.is || fact.is.kind === 'table' ? null : value;
	}
}
