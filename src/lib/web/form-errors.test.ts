import { expect, test } from 'vitest';
import { DomainError } from '$lib/core/errors/domain-error';
import { inForm, jsonField, typedValues } from './form-errors';

const formOf = (fields: Record<string, string>) => {
	const form = new FormData();
	for (const [name, value] of Object.entries(fields)) form.set(name, value);
	return form;
};
const read = (text: string, most = 1_000_000) => jsonField(formOf({ field: text }), 'field', most, 'It did not arrive whole.');

test('JSON of a field is read as it is, also with brackets and quotation marks in its words', () => {
	const words = { a: `[[[{{{ "said" \\ and \\" [ ${'['.repeat(500)}`, b: [[['x']]], c: '\\' };
	expect(read(JSON.stringify(words))).toEqual(words);
});
test.each([
	['cut off', '{"a": ["b'],
	['longer than it may be', JSON.stringify('a'.repeat(2_000_000))],
	['nested beyond all sense', `${'['.repeat(400_000)}${']'.repeat(400_000)}`],
	['nested by turns', `${'{"a":['.repeat(80_000)}${']}'.repeat(80_000)}`],
	['nothing', '']
])('JSON of a field that is %s is refused in words', (_, text) => {
	expect(() => read(text)).toThrow('It did not arrive whole.');
});
test('what comes back to a refused form is bounded: what is overlong stays away, the rest comes', () => {
	const values = typedValues(formOf({ name: 'Gull & String', story: 'a'.repeat(2_000_000), role: 'owner', password: 'kites above' }));
	expect(values).toEqual({ name: 'Gull & String', role: 'owner' });
	const many = new FormData();
	for (let i = 0; i < 5000; i++) many.append(`f${i}`, 'x');
	expect(Object.keys(typedValues(many))).toHaveLength(200);
});

test('of what was ticked, and written beside it, all comes back to a refused form', async () => {
	const form = new FormData();
	for (const one of ['bookkeeping', 'payroll', '']) form.append('need', one);
	form.set('name', 'Otis');
	const answer = await inForm(form, async () => {
		throw new DomainError('invalid', 'Not so.');
	});
	expect((answer as { data: { problem: object } }).data.problem).toMatchObject({
		values: { name: 'Otis' },
		several: { need: ['bookkeeping', 'payroll'] }
	});
});
