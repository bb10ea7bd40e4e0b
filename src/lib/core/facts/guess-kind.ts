import type { FactChoice, FactKind } from './fact-definition';
import { factNameOf } from './fact-definition';

/** What the words of a question or a label tell of how it is answered: the first that fits. */
const SIGNS: readonly [RegExp, FactKind['kind']][] = [
	[/\b(year[- ]end|end of (the|your|their) (fiscal |business |financial )?year)\b/i, 'day_of_year'],
	[/\b(e-?mail|mail address)\b/i, 'email'],
	[/\b(phone|telephone|mobile|cell)\b/i, 'phone'],
	[/\b(web ?site|web address|home ?page|url)\b/i, 'web'],
	[/\b(tax|vat|gst|hst|qst|pst|business|employer|social (insurance|security)|registration) (number|no\.?|id)\b/i, 'tax_number'],
	[/\b(postal |street |mailing |business |home )?address\b/i, 'address'],
	[/^(how many|number of)\b/i, 'number'],
	[/^(how much)\b/i, 'money'],
	[/\b(amount|revenue|sales of|turnover|price|salary|budget|income|balance|fee)\b/i, 'money'],
	[/^(when|since when|from when|on (what|which) (day|date))\b/i, 'date'],
	[/\b(date|birthday|born)\b/i, 'date'],
	[/^(do|does|did|is|are|was|were|has|have|will|would|can|may|should|registered|runs|uses|keeps)\b/i, 'yes_no'],
	[/^(tell|describe|explain|why|what else|anything)\b/i, 'lines']
];

/** The kind that a name or a question most likely means; words where nothing tells. @param currency of amounts */
export function guessKind(text: string, currency: string): Exclude<FactKind, { kind: 'choice' | 'several' | 'table' }> {
	const kind = SIGNS.find(([sign]) => sign.test(text.trim()))?.[1] ?? 'words';
	switch (kind) {
		case 'money':
			return { kind, currency };
		case 'number':
			return { kind, unit: '', whole: true };
		case 'lines':
			return { kind, max: 4000 };
		case 'tax_number':
			return { kind, check: '' };
		case 'words':
		case 'choice':
		case 'several':
		case 'table':
			return { kind: 'words', max: 200 };
		default:
			return { kind };
	}
}

/** A key for new words beside those that are there. */
export const keyOf = (words: string, taken: readonly string[]): string => factNameOf(words, (name) => taken.includes(name));

/**
 * Choices out of text, one a line. What stood there before keeps its key: by its words, and where as many lines were changed as were
 * there, by its place, for then they were only called otherwise.
 */
export function choicesOfText(text: string, before: readonly FactChoice[]): FactChoice[] {
	const lines = text
		.split(/\r\n?|\n/)
		.map((line) => line.replace(/^\s*(?:[-*•–—]|\d{1,3}[.)])\s+/, '').trim())
		.filter(Boolean);
	const same = (words: string) => before.find((choice) => choice.words.toLowerCase() === words.toLowerCase());
	const changed = lines.filter((words) => !same(words));
	const gone = before.filter((choice) => !lines.some((words) => same(words) === choice));
	const renamed = changed.length === gone.length ? new Map(changed.map((words, i) => [words, gone[i].key])) : new Map<string, string>();
	const taken = before.map(({ key }) => key);
	return lines.map((words) => {
		const key = same(words)?.key ?? renamed.get(words) ?? keyOf(words, taken);
		taken.push(key);
		return { key, words };
	});
}
