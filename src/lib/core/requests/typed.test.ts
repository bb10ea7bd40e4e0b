import { describe, expect, test } from 'vitest';
import { typedNames } from '../items/typed-names';
import { FIELDS_MAX, keepTypedFields, type TypedFields } from './typed';
import { typedSchema } from './typed-schema';

const NAMES = ['answer.a', 'answer.b', 'talk.words'];
const NOW = '2026-05-04T12:00:00Z';
const field = (value: string, device: string, at: string) => ({ value, device, at });

describe('what is typed on several devices', () => {
	const before: TypedFields = { 'answer.a': field('from the desk', 'desk', '2026-05-04T11:00:00Z') };
	test('is kept field by field: what another device wrote in another field stays', () => {
		const kept = keepTypedFields(before, { device: 'phone', since: '2026-05-04T11:30:00Z', fields: { 'answer.b': 'x' } }, NAMES, NOW);
		expect(kept).toEqual({ fields: { ...before, 'answer.b': field('x', 'phone', NOW) }, overwrote: [], elsewhere: [] });
	});
	test('the later one stays, and the page is told that there was another', () => {
		const kept = keepTypedFields(before, { device: 'phone', since: '2026-05-04T10:00:00Z', fields: { 'answer.a': 'mine' } }, NAMES, NOW);
		expect(kept.fields['answer.a']).toEqual(field('mine', 'phone', NOW));
		expect(kept.overwrote).toEqual(['answer.a']);
	});
	test('a page that does not write there is told what came from elsewhere', () => {
		expect(keepTypedFields(before, { device: 'phone', since: '2026-05-04T10:00:00Z', fields: { 'answer.b': '' } }, NAMES, NOW)).toMatchObject({
			overwrote: [],
			elsewhere: ['answer.a']
		});
	});
	test('one’s own earlier words are nobody else’s', () => {
		const own = { 'answer.a': field('m', 'phone', '2026-05-04T11:00:00Z') };
		expect(keepTypedFields(own, { device: 'phone', since: null, fields: { 'answer.a': 'mine' } }, NAMES, NOW)).toMatchObject({
			overwrote: [],
			elsewhere: []
		});
	});
	test('an emptied field stays empty, and what is not asked is not kept', () => {
		const kept = keepTypedFields(before, { device: 'desk', since: null, fields: { 'answer.a': '', 'answer.z': 'x' } }, NAMES, NOW);
		expect(kept.fields).toEqual({ 'answer.a': field('', 'desk', NOW) });
	});
});

test('every question has its field, secrets have none', () => {
	expect(typedNames('question', { answer: { is: 'money', currency: 'CAD' }, fact: null })).toContain('answer.answer');
	expect(typedNames('access', { system: 'Bank', invite: '', secret: true }).filter((name) => name.includes('secret'))).toEqual([]);
});

test('what is sent is bounded before it is kept', () => {
	const typed = (fields: Record<string, unknown>) => typedSchema.safeParse({ device: 'd', since: null, fields }).success;
	expect(typed({ a: 'x'.repeat(10_000) })).toBe(true);
	expect(typed({ a: 'x'.repeat(10_001) })).toBe(false);
	expect(typed(Object.fromEntries(Array.from({ length: FIELDS_MAX + 1 }, (_, i) => [`f${i}`, 'x'])))).toBe(false);
	expect(typed({ a: { b: 'x' } })).toBe(false);
});
