import { describe, expect, test } from 'vitest';
import { isOfRule, ruleWords, ruleWordsField, ruleWordsSaid } from './keeping-rules';

describe('what a rule goes by', () => {
	test.each([
		['till april.csv', ['till']],
		['Fiches_de_paie_février_2026.pdf', ['fiches', 'paie']],
		['relevé-caisse 04.2026.pdf', ['releve', 'caisse']],
		['scan0012.pdf', []],
		['IMG_2044.jpg', []],
		['insurance renewal 2026 (2).pdf', ['insurance', 'renewal']]
	])('%s', (name, words) => expect(ruleWords(name)).toEqual(words));
	test('it holds for the next file of the same person with all of its words, wherever these stand', () => {
		const rule = { contactId: 'r', words: ['till', 'report'] };
		const file = { name: 'till may.csv', note: '', words: null, contactId: 'r' as string | null };
		expect(isOfRule(rule, { ...file, note: 'The report of the week' })).toBe(true);
		expect(isOfRule(rule, { ...file, name: 'x.pdf', words: 'TILL REPORT' })).toBe(true);
		expect(isOfRule(rule, file)).toBe(false);
		expect(isOfRule(rule, { ...file, name: 'reporting stills.pdf' })).toBe(false);
		expect(isOfRule(rule, { ...file, note: 'report', contactId: 'other' })).toBe(false);
		expect(isOfRule(rule, { ...file, note: 'report', contactId: null })).toBe(false);
		// a rule without words would be one that matches everything
		expect(isOfRule({ ...rule, words: [] }, file)).toBe(false);
	});
	test('words as they are typed and said', () => {
		expect(ruleWordsField.parse(' Till, REPORTS  till')).toEqual(['till', 'reports']);
		expect(ruleWordsField.safeParse('2026 ,').success).toBe(false);
		expect(ruleWordsField.safeParse('a b c d e f g').success).toBe(false);
		expect([ruleWordsSaid(['till']), ruleWordsSaid(['till', 'week', 'report'])]).toEqual(['“till”', '“till”, “week” and “report”']);
	});
});
