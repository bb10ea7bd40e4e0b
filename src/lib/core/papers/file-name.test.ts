import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { contentDisposition, isAcceptedType, isViewable, safeFileName } from './file-name';

describe('file names', () => {
	test.each([
		['statement.pdf', 'statement.pdf'],
		['../../etc/passwd', 'passwd'],
		['C:\\Users\\x\\a.pdf', 'a.pdf'],
		['..', 'paper'],
		['', 'paper'],
		['a\u202efdp.exe', 'afdp.exe'],
		['what?*<>.pdf', 'what____.pdf'],
		['  .hidden ', 'hidden'],
		['caf\u0065\u0301.pdf', 'café.pdf']
	])('%j becomes %j', (name, safe) => {
		expect(safeFileName(name)).toBe(safe);
	});
	test('a long name keeps its ending', () => {
		const name = safeFileName(`${'é'.repeat(300)}.pdf`);
		expect([...name].length).toBeLessThanOrEqual(180);
		expect(name.endsWith('.pdf')).toBe(true);
	});
	test('whatever comes in, no path, no control character, never empty', () => {
		fc.assert(
			fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (name) => {
				const safe = safeFileName(name);
				expect(safe.length).toBeGreaterThan(0);
				expect(safe).not.toMatch(/[/\\\u0000-\u001f<>:"|?*\u202a-\u202e]/);
			})
		);
	});
});

describe('Content-Disposition', () => {
	test('cannot be broken out of', () => {
		expect(contentDisposition('attachment', 'a"; x=1\r\nSet-Cookie: y.pdf')).not.toMatch(/[\r\n]/);
		expect(contentDisposition('attachment', 'Mārā’s (1).pdf')).toBe(
			`attachment; filename="M_r__s (1).pdf"; filename*=UTF-8''M%C4%81r%C4%81%E2%80%99s%20%281%29.pdf`
		);
	});
});

test('nothing that a browser could run is taken or shown', () => {
	for (const type of [
		'text/html',
		'image/svg+xml',
		'application/xml',
		'application/x-msdownload',
		'application/octet-stream',
		'application/javascript'
	]) {
		expect(isAcceptedType(type)).toBe(false);
		expect(isViewable(type)).toBe(false);
	}
	expect(isViewable('application/pdf')).toBe(true);
	expect(isViewable('application/zip')).toBe(false);
});
