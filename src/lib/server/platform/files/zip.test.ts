import { execFileSync } from 'node:child_process';
import { createWriteStream } from 'node:fs';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { expect, test } from 'vitest';
import { zipOf } from './zip';

const at = '2026-05-04T11:30:00Z';
const of = (path: string, content: string) => ({ path, at, open: () => Readable.from([Buffer.from(content)]) });

test('another program reads it whole, with names of every alphabet', async () => {
	const folder = await mkdtemp(join(tmpdir(), 'lantern-zip-'));
	try {
		const file = join(folder, 'a.zip');
		const inPieces = { path: 'large.bin', at, open: () => Readable.from([1, 2, 3].map((n) => Buffer.alloc(70_000, n))) };
		await pipeline(zipOf([of('relevé été.pdf', 'one'), of('Tax/Лодка 船.txt', 'two'), of('empty.txt', ''), inPieces]), createWriteStream(file));
		expect(execFileSync('unzip', ['-t', file], { encoding: 'utf8' })).toContain('No errors detected');
		execFileSync('unzip', ['-q', file, '-d', join(folder, 'out')], { env: { ...process.env, LC_ALL: 'C.UTF-8' } });
		expect(await readFile(join(folder, 'out/Tax/Лодка 船.txt'), 'utf8')).toBe('two');
		expect(await readFile(join(folder, 'out/relevé été.pdf'), 'utf8')).toBe('one');
	} finally {
		await rm(folder, { recursive: true });
	}
});

test('a file that breaks in the middle breaks the archive; it is not handed out as if it were whole', async () => {
	const broken = {
		path: 'broken.pdf',
		at,
		open: () =>
			Readable.from(
				(async function* () {
					yield Buffer.from('half');
					throw new Error('the disk is gone');
				})()
			)
	};
	await expect(
		pipeline(zipOf([of('a.txt', 'a'), broken, of('b.txt', 'b')]), async (pieces) => {
			for await (const piece of pieces) void piece;
		})
	).rejects.toThrow('the disk is gone');
});

test('whoever stops reading closes the file that is open, and no other is opened', async () => {
	const opened: Readable[] = [];
	const endless = () => {
		const file = new Readable({
			read() {
				setImmediate(() => this.push(Buffer.alloc(64 * 1024)));
			}
		});
		opened.push(file);
		return file;
	};
	const zip = zipOf([1, 2, 3].map((n) => ({ path: `${n}.bin`, at, open: endless })));
	await new Promise<void>((resolve) => zip.once('data', () => resolve()));
	zip.destroy();
	await expect.poll(() => opened[0].destroyed).toBe(true);
	expect(opened).toHaveLength(1);
});
