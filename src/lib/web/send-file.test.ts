import { describe, expect, test } from 'vitest';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { folderStore } from '$lib/server/platform/files/paper-store';
import { goesOn, sendFile } from './send-file';

describe('a file that is sent', () => {
	test.each([
		[undefined, 200, '0123456789', null],
		['bytes=0-', 206, '0123456789', 'bytes 0-9/10'],
		['bytes=2-4', 206, '234', 'bytes 2-4/10'],
		['bytes=7-99', 206, '789', 'bytes 7-9/10'],
		['bytes=-3', 206, '789', 'bytes 7-9/10'],
		['bytes=10-12', 416, '', 'bytes */10'],
		['bytes=5-2', 416, '', 'bytes */10'],
		['bytes=0-1,4-5', 200, '0123456789', null],
		['lines=0-1', 200, '0123456789', null],
		['nonsense', 200, '0123456789', null]
	])('%s: %i %s', async (range, status, content, told) => {
		const folder = await mkdtemp(join(tmpdir(), 'lantern-send-'));
		const store = folderStore(folder);
		const { key } = await store.putBuffer(Buffer.from('0123456789'));
		const request = new Request('http://localhost/', { headers: range ? { range } : {} });
		const answer = await sendFile(store, { storageKey: key, name: 'a.txt', contentType: 'text/plain' }, 'inline', request);
		expect([answer.status, await answer.text(), answer.headers.get('content-range')]).toEqual([status, content, told]);
		if (status !== 416) expect(answer.headers.get('content-length')).toBe(String(content.length));
		expect(answer.headers.get('accept-ranges')).toBe('bytes');
		await rm(folder, { recursive: true });
	});
	test('under a condition is sent as a whole, since it has no version to compare', async () => {
		const headers = new Headers({ range: 'bytes=5-', 'if-range': '"x"' });
		expect(goesOn(headers)).toBe(false);
	});
	test.each([
		['bytes=0-', false],
		['bytes=0-99', false],
		['bytes=5-', true],
		['bytes=-5', true],
		['bytes=05-9', true],
		['', false]
	])('goes on: %s', (range, is) => expect(goesOn(new Headers({ range }))).toBe(is));
});
