import { describe, expect, test } from 'vitest';
import { newClientSchema } from '../clients/client-form';
import { contrast, passingShade } from '../firms/brand-color';
import { passwordProblem } from './passwords';
import { cleanText, emailField, longText, oneLine, optionalText } from './plain-fields';
import { ACTS, may, ROLES } from './roles';

const common = (text: string) => ['password', 'correct horse battery', 'qwertyuiop', 'iloveyou1234'].includes(text);

describe('a new password', () => {
	test.each([
		['eleven char', 'too_short'],
		['twelve chars', null],
		['🔑'.repeat(11), 'too_short'],
		['x'.repeat(201), 'too_long'],
		['iloveyou1234', 'common'],
		['ILoveYou1234', 'common'],
		['password12345', 'common'],
		['!!qwertyuiop!!', 'common'],
		['passwordpassword', 'common'],
		['abcabcabcabc', 'common'],
		['mara@gull.example', 'own_words'],
		['Mara Whitlock99', 'own_words'],
		['kites above the harbour', null],
		['     12 spaces', null]
	] as const)('%s: %s', (password, problem) => {
		expect(passwordProblem(password, common, ['Mara Whitlock', 'mara@gull.example'])).toBe(problem);
	});
});

describe('typed text', () => {
	test('characters that reorder or hide text are taken out', () => {
		expect(cleanText('Gull\u202e\u200b & Co\u0000 ')).toBe('Gull & Co');
		expect(oneLine('it', 20).parse('  two \n lines ')).toBe('two lines');
	});
	test('hostile text is text', () => {
		expect(longText('it', 100).parse('<script>alert(1)</script>')).toBe('<script>alert(1)</script>');
	});
	test('empty, too long and 10,000 pictures are told apart', () => {
		expect(oneLine('a name', 5).safeParse(' \u200b ').error?.issues[0].message).toBe('Please write a name.');
		expect(oneLine('a name', 5).safeParse('123456').error?.issues[0].message).toBe('Please keep a name to 5 characters.');
		expect(longText('it', 4000).safeParse('😀'.repeat(10_000)).success).toBe(false);
		expect(optionalText('it', 5).parse('  ')).toBeNull();
	});
	test.each([
		['mara@gull.example', true],
		[' mara@gull.example ', true],
		['mara@', false],
		['', false],
		['a@b@c.example', false],
		[`${'a'.repeat(250)}@b.example`, false]
	])('the address %j is accepted: %s', (email, accepted) => {
		expect(emailField.safeParse(email).success).toBe(accepted);
	});
});

test('two contacts of a new client need addresses of their own, whatever the case', () => {
	const contact = (email: string) => ({ id: null, name: 'Mara', email });
	const parsed = newClientSchema.safeParse({
		name: 'Gull',
		kind: 'business',
		responsibleId: '5e2d9a8c-8f0c-4a94-9d0e-0d9a3a8b7c11',
		contacts: [contact('a@b.example'), contact('A@B.example')]
	});
	expect(parsed.error?.issues[0].path).toEqual(['contacts', 1, 'email']);
});

describe('roles', () => {
	test('only an administrator may do everything, filing may only look, and give papers their place', () => {
		expect(ROLES.filter((role) => ACTS.every((act) => may(role, act)))).toEqual(['administrator']);
		expect(ACTS.filter((act) => may('filing', act))).toEqual(['look', 'file_papers']);
	});
});

describe('the colour of a brand', () => {
	test('known contrasts', () => {
		expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5);
		expect(contrast('#777777', '#ffffff')).toBeCloseTo(4.48, 2);
	});
	test.each(['#ffee00', '#ff7788', '#ffffff', '#2f5d50'])('%s ends in a shade that can be read', (hex) => {
		expect(contrast(passingShade(hex), '#ffffff')).toBeGreaterThanOrEqual(4.5);
		expect(contrast(passingShade(hex), '#f7f4ec')).toBeGreaterThanOrEqual(4.5);
	});
	test('a colour that passes stays as it is', () => expect(passingShade('#2f5d50')).toBe('#2f5d50'));
});
