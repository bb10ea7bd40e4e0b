import { createServer } from 'node:net';
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
