import { describe, expect, test } from 'vitest';
import {
	goesInCircles,
	heldBecause,
	isClutter,
	isConfirmed,
	isContradicted,
	keyOfAddress,
	papersAddress,
	readAuthentication,
	writtenByNobody,
	type MailHead
} from './incoming-mail';

const HEAD: MailHead = {
	returnPath: 'mara@gullstring.example',
	autoSubmitted: '',
	precedence: '',
	outOfOffice: false,
	hops: 3,
	authentication: ''
};
const KEY = '0123456789abcdef0123';

describe('the address of a client', () => {
	test('says its key, however it is written', () => {
		expect(keyOfAddress(papersAddress(KEY, 'papers.example'), 'papers.example')).toBe(KEY);
		expect(keyOfAddress(`PAPERS-${KEY.toUpperCase()}@Papers.Example`, 'papers.example')).toBe(KEY);
	});
	test.each([
		`papers-${KEY}@other.example`,
		`papers-${KEY}@papers.example.other`,
		`papers-${KEY}x@papers.example`,
		`papers-${KEY.slice(1)}@papers.example`,
		`bounce+${KEY}@papers.example`,
		''
	])('%s is none', (address) => expect(keyOfAddress(address, 'papers.example')).toBeNull());
});

describe('what nobody wrote', () => {
	test.each([
		['a person’s mail', {}, 0, false],
		['a report has no return path', { returnPath: '' }, 1, true],
		['out of office', { outOfOffice: true }, 1, true],
		['an answer of a program', { autoSubmitted: 'auto-replied (vacation)' }, 1, true],
		['a program’s mail without a file', { autoSubmitted: 'auto-generated' }, 0, true],
		['a bank’s program that sends a statement', { autoSubmitted: 'auto-generated' }, 1, false],
		['said to be from a person', { autoSubmitted: 'no' }, 0, false],
		['a list’s mail without a file', { precedence: 'list' }, 0, true],
		['a list’s mail with one', { precedence: 'bulk' }, 1, false]
	])('%s', (_, more, files, nobody) => expect(writtenByNobody({ ...HEAD, ...more }, files)).toBe(nobody));
	test('a mail in circles is known by its way', () => {
		expect(goesInCircles({ ...HEAD, hops: 50 })).toBe(false);
		expect(goesInCircles({ ...HEAD, hops: 51 })).toBe(true);
	});
});

describe('what the servers on the way say', () => {
	test.each([
		['', {}],
		['mx.firm.example; none', {}],
		[
			'mx.firm.example; spf=pass smtp.mailfrom=gull.example; dkim=pass header.d=gull.example; dmarc=pass',
			{ spf: 'pass', dkim: 'pass', dmarc: 'pass' }
		],
		['mx; dkim=fail (bad; dmarc=pass) header.d=a; DKIM = Pass header.d=b', { dkim: 'pass' }],
		['mx; x-spf=pass; spf=softfail', { spf: 'softfail' }]
	])('%s', (header, found) => expect(readAuthentication(header)).toEqual(found));
	test.each([
		[{}, false],
		[{ spf: 'pass' }, false],
		[{ spf: 'fail' }, true],
		[{ spf: 'softfail', dkim: 'pass' }, false],
		[{ dkim: 'fail' }, true],
		[{ spf: 'pass', dkim: 'pass', dmarc: 'fail' }, true],
		// passed on by another server
		[{ spf: 'fail', dmarc: 'pass' }, false],
		[{ spf: 'none', dkim: 'none' }, false]
	])('%j', (found, contradicted) => expect(isContradicted(found)).toBe(contradicted));
	test('only what was looked at and not doubted is confirmed', () => {
		expect([{}, { spf: 'none' }, { spf: 'pass' }, { spf: 'pass', dmarc: 'fail' }].map(isConfirmed)).toEqual([false, false, true, false]);
	});
	test('who is not known waits, and who is not who they say', () => {
		expect(heldBecause(false, { dmarc: 'pass' })).toBe('unknown');
		expect(heldBecause(true, { dmarc: 'fail' })).toBe('contradicted');
		expect(heldBecause(false, { dmarc: 'fail' })).toBe('contradicted');
		expect(heldBecause(true, {})).toBeNull();
	});
});

test.each([
	['a statement', 'application/pdf', 90_000, false, false],
	['a small statement', 'application/pdf', 900, true, false],
	['a logo', 'image/png', 4_000, true, true],
	['a photo in the words', 'image/jpeg', 900_000, true, false],
	['a small picture beside the words', 'image/png', 4_000, false, false],
	['a signature', 'application/pkcs7-signature', 4_000, false, true],
	['a visiting card', 'text/vcard', 400, false, true],
	['winmail.dat is somebody’s files', 'application/ms-tnef', 400, false, false]
])('%s', (_, contentType, bytes, inWords, clutter) => expect(isClutter({ name: 'x', contentType, bytes, inWords })).toBe(clutter));
