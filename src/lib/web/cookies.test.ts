import { describe, expect, test } from 'vitest';
import { cookieRules } from './cookies';

describe('cookies', () => {
	test('over a safe line have the prefix, and all it asks for: otherwise a browser drops them (RFC 6265bis 4.1.3.2)', () => {
		const { nameOf, options } = cookieRules('https://lantern.firm.example');
		expect(nameOf('lantern_desk')).toBe('__Host-lantern_desk');
		for (const side of ['staff', 'contact'] as const) expect(options(side)).toEqual({ path: '/', secure: true, httpOnly: true, sameSite: 'lax' });
	});
	test('on this machine alone, without a safe line, go without it, each side under its own path', () => {
		const { nameOf, options } = cookieRules('http://localhost:3000');
		expect(nameOf('lantern_desk')).toBe('lantern_desk');
		expect(options('staff')).toEqual({ path: '/desk', secure: false, httpOnly: true, sameSite: 'lax' });
		expect(options('contact')).toMatchObject({ path: '/portal' });
	});
});
