import { describe, expect, test } from 'vitest';
import { phoneDigits, phoneField, phoneInWords } from '../people/phone';
import { CLIENT_MOVES, CLIENT_STATES, clientMovesFrom, clientStateAfter } from './client-states';
import { bareName, likenessInWords } from './likeness';

test('a client moves only as the table says: every pair', () => {
	const allowed: Record<string, string> = {
		'active lock': 'locked',
		'active end': 'ended',
		'locked unlock': 'active',
		'locked end': 'ended',
		'ended reopen': 'active'
	};
	for (const state of CLIENT_STATES)
		for (const move of CLIENT_MOVES) {
			expect(clientStateAfter(state, move), `${state} ${move}`).toBe(allowed[`${state} ${move}`] ?? null);
			expect(clientMovesFrom(state).includes(move)).toBe(`${state} ${move}` in allowed);
		}
});

describe('names that may mean the same client', () => {
	test.each([
		['The Gull & String Kites Ltd.', 'gull string kites'],
		['Ødegård’s Café', 'ødegards cafe'],
		['Söhne GmbH', 'sohne'],
		['Ltd', ''],
		['帳簿 2', '帳簿 2']
	])('%j is bare %j', (name, bare) => expect(bareName(name)).toBe(bare));
	test('the reason is said, and nothing where there is none', () => {
		expect(likenessInWords('gull and string kites', 'Gull & String Kites, Inc.', 0.7)).toBe('has the same name');
		expect(likenessInWords('Gull & Strings Kite', 'Gull & String Kites', 0.8)).toBe('has a similar name');
		expect(likenessInWords('Gull', 'Gull & String Kites', 0.3)).toBeNull();
		expect(likenessInWords('Ltd', 'Co', 1)).toBeNull();
	});
});

describe('phone numbers', () => {
	test.each([
		['CA', '(902) 555-0134', '+19025550134'],
		['CA', '+44 20 7946 0018', '+442079460018'],
		['GB', '020 7946 0018', '+442079460018'],
		['CA', '', null],
		['CA', '  ', null]
	])('in %s, %j is kept as %j', (country, typed, kept) => {
		const parsed = phoneField(country).safeParse(typed);
		expect(parsed.success ? parsed.data : null).toBe(kept);
	});
	test.each(['12', 'call me', '+1 902 555 0134 ext. 7', '9'.repeat(30), '<script>'])('%j is refused in words', (typed) => {
		expect(phoneField('CA').safeParse(typed).error?.issues[0].message).toContain('phone number');
	});
	test('are written as people of the country do, and found by any part of their digits', () => {
		expect(phoneInWords('+19025550134', 'CA')).toBe('(902) 555-0134');
		expect(phoneInWords('+19025550134', 'GB')).toBe('+1 902 555 0134');
		expect(phoneDigits('555-01')).toBe('55501');
		expect(phoneDigits('(0902) 555')).toBe('902555');
		expect(phoneDigits('12')).toBe('');
		expect(phoneDigits('3 kites')).toBe('');
	});
});
