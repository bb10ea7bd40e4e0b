import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { once } from 'node:events';
import { Readable } from 'node:stream';
import { expect, test } from 'vitest';
import { clamdScanner } from './clamd';
import { startClamdStandin, TEST_VIRUS } from './clamd-standin';

const of = (...pieces: (string | Buffer)[]) => Readable.from(pieces.map((piece) => Buffer.from(piece as string)));

test('what is harmless, what is not, wherever it stands, and what is too large', async () => {
	const standin = await startClamdStandin(1024 * 1024);
	try {
		const { scan } = clamdScanner(standin.address);
		expect(await scan(of('%PDF-1.7 a lease'))).toEqual({ is: 'clean' });
		expect(await scan(of(''))).toEqual({ is: 'clean' });
		expect(await scan(of('x'.repeat(150_000), TEST_VIRUS.slice(0, 30), TEST_VIRUS.slice(30), 'y'))).toEqual({
			is: 'found',
			what: 'Eicar-Test-Signature'
		});
		expect(await scan(Readable.from(Array.from({ length: 40 }, () => Buffer.alloc(64 * 1024, 'z'))))).toEqual({ is: 'too_large' });
	} finally {
		await standin.close();
	}
});

test('a file that comes slowly, so that each piece is sent by itself', async () => {
	const standin = await startClamdStandin();
	try {
		const slowly = Readable.from(
			(async function* () {
				for (const piece of ['a', TEST_VIRUS, 'b']) {
					await new Promise((resolve) => setTimeout(resolve, 5));
					yield Buffer.from(piece);
				}
			})()
		);
		expect(await clamdScanner(standin.address).scan(slowly)).toMatchObject({ is: 'found' });
	} finally {
		await standin.close();
	}
});

test('one that closes in the middle has had enough if it is there, and is no verdict if it is not', async () => {
	for (const [there, is] of [
		[true, 'too_large'],
		[false, null]
	] as const) {
		let asked = 0;
		const server = createServer((socket) => {
			socket.on('error', () => undefined);
			if (asked++ === 0) socket.once('data', () => socket.resetAndDestroy());
			else socket.once('data', () => socket.end(there ? 'PONG\0' : ''));
		});
		server.listen(0, '127.0.0.1');
		await once(server, 'listening');
		const { port } = server.address() as { port: number };
		const large = Readable.from(Array.from({ length: 100 }, () => Buffer.alloc(64 * 1024)));
		const verdict = clamdScanner(`127.0.0.1:${port}`).scan(large);
		if (is) expect(await verdict).toEqual({ is });
		else await expect(verdict).rejects.toThrow(/ECONNRESET|EPIPE/);
		server.close();
	}
});

test('a scanner that is down, breaks off or talks nonsense is no verdict, and the file is let go', async () => {
	const standin = await startClamdStandin();
	await standin.close();
	const file = of('a');
	await expect(clamdScanner(standin.address).scan(file)).rejects.toThrow('ECONNREFUSED');
	expect(file.destroyed).toBe(true);
	for (const [says, wrong] of [
		['', 'broke off'],
		['stream: maybe\0', 'the scanner said: stream: maybe'],
		['x'.repeat(9000), 'too much'],
		['UNKNOWN COMMAND\0', 'UNKNOWN COMMAND']
	] as const) {
		const server = createServer((socket) => {
			socket.on('error', () => undefined);
			socket.once('data', () => socket.end(says));
		});
		server.listen(0, '127.0.0.1');
		await once(server, 'listening');
		const { port } = server.address() as { port: number };
		await expect(clamdScanner(`127.0.0.1:${port}`).scan(of('a', 'b')), says.slice(0, 20)).rejects.toThrow(wrong);
		server.close();
	}
});

test('a file that breaks while it is read is no verdict', async () => {
	const standin = await startClamdStandin();
	try {
		const broken = new Readable({
			read() {
				this.destroy(new Error('the disk is gone'));
			}
		});
		await expect(clamdScanner(standin.address).scan(broken)).rejects.toThrow('the disk is gone');
	} finally {
		await standin.close();
	}
});

test('ClamAV itself, with one signature of our own: harmless, found, too large, and gone', async () => {
	const folder = await mkdtemp(join(tmpdir(), 'lantern-clamd-'));
	const socket = join(folder, 'clamd.sock');
	await writeFile(join(folder, 'local.ndb'), `Local.Test:0:*:${Buffer.from(TEST_VIRUS).toString('hex')}\n`);
	await writeFile(
		join(folder, 'clamd.conf'),
		`LocalSocket ${socket}\nDatabaseDirectory ${folder}\nForeground yes\nStreamMaxLength 1M\n${process.getuid?.() === 0 ? 'User root\n' : ''}`
	);
	const daemon = spawn('/usr/sbin/clamd', ['-c', join(folder, 'clamd.conf')], { stdio: 'ignore' });
	const ended = once(daemon, 'exit');
	try {
		await expect.poll(() => existsSync(socket), { timeout: 60_000 }).toBe(true);
		const { scan } = clamdScanner(socket);
		expect(await scan(of('%PDF-1.7 a lease'))).toEqual({ is: 'clean' });
		expect(await scan(of('hello ', TEST_VIRUS))).toEqual({ is: 'found', what: 'Local.Test.UNOFFICIAL' });
		expect(await scan(Readable.from(Array.from({ length: 100 }, () => Buffer.alloc(64 * 1024, 'z'))))).toEqual({ is: 'too_large' });
		daemon.kill();
		await ended;
		await expect(scan(of('a'))).rejects.toThrow();
	} finally {
		daemon.kill('SIGKILL');
		await ended;
		await rm(folder, { recursive: true, force: true });
	}
}, 120_000);
