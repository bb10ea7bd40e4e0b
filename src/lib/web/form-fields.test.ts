import { expect, test } from 'vitest';
import { fieldsIn } from './form-fields';

const bytesOf = async (form: FormData | URLSearchParams) => {
	const response = new Response(form);
	return { body: Buffer.from(await response.arrayBuffer()), type: response.headers.get('content-type')! };
};

test.each([0, 1, 2, 250])('counts %i fields as the parser finds them, in both kinds of form', async (n) => {
	for (const form of [new FormData(), new URLSearchParams()]) {
		for (let i = 0; i < n; i++) form.append('a', `words -- & = of ${i}`);
		const { body, type } = await bytesOf(form);
		expect(fieldsIn(body, type, 1000)).toBe(n);
		expect(fieldsIn(body, type, 100)).toBe(Math.min(n, 100));
	}
});
test('what is no form has none; a million fields are counted no further than needed', () => {
	expect(fieldsIn(Buffer.from('{"a":"&&&"}'), 'application/json', 10)).toBe(0);
	const million = Buffer.from('a&'.repeat(1_000_000));
	expect(fieldsIn(million, 'application/x-www-form-urlencoded; charset=utf-8', 500)).toBe(500);
});
