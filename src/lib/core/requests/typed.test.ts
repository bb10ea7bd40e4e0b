import { describe, expect, test } from 'vitest';
import { typedNames } from '../items/typed-names';
import { FIELDS_MAX, isPutBack, keepTypedFields, type TypedFields } from './typed';
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

describe('what a device kept is put into the field again', () => {
	const read = '2026-05-04T12:00:05Z';
	const there = (value: string, at: string) => ({ value, at });
	test('if it was not sent, and nothing newer stands there', () => {
		const copy = { value: 'mine', at: '2026-05-04T12:00:00Z' };
		expect(isPutBack(copy, undefined, read)).toBe(true);
		expect(isPutBack(copy, there('older', '2026-05-04T11:00:00Z'), read)).toBe(true);
		expect(isPutBack(copy, there('newer', '2026-05-04T12:00:01Z'), read)).toBe(false);
	});
	test('if it was sent while the page was read, which does not have it: not once it has it, or has something newer', () => {
		const copy = { value: 'mine', at: '2026-12-02T09:00:00.000Z', sent: '2026-05-04T12:00:04Z' };
		expect(isPutBack(copy, there('before', '2026-05-04T12:00:01Z'), read)).toBe(true);
		// two keys within one second
		expect(isPutBack(copy, there('min', '2026-05-04T12:00:04Z'), read)).toBe(true);
		expect(isPutBack(copy, undefined, '2026-05-04T12:00:03Z')).toBe(true);
		expect(isPutBack(copy, there('mine', '2026-05-04T12:00:04Z'), read)).toBe(false);
		expect(isPutBack(copy, there('theirs', '2026-05-04T12:00:05Z'), read)).toBe(false);
	});
	test('not on a page that was read later: what it does not have any more was handed in', () => {
		const copy = { value: 'mine', at: '2026-12-02T09:00:00.000Z', sent: '2026-05-04T11:59:00Z' };
		expect(isPutBack(copy, undefined, read)).toBe(false);
	});
});
