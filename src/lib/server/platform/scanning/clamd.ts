import { connect, type Socket } from 'node:net';
import type { Readable } from 'node:stream';

export type Verdict = { is: 'clean' } | { is: 'found'; what: string } | { is: 'too_large' };

export interface VirusScanner {
	/** Looks a file through. @throws Error if the scanner cannot be reached, breaks off or says something else */
	scan(content: Readable): Promise<Verdict>;
}

/** Longest wait for the scanner to take or say something, in milliseconds: a large archive takes it a while. */
const SILENT_MOST = 120_000;
/** Longest answer, in characters. */
const ANSWER_MOST = 4096;

/** How much of a piece is sent at once: the scanner counts it in four bytes, and takes it into memory. */
const PIECE = 64 * 1024;

/**
 * A scanner that speaks ClamAV's protocol (clamd(8), INSTREAM): the file in pieces, each after its length in four bytes, and an empty one
 * at the end; the answer is one line that ends with a zero byte.
 * @param address `host:port`, or the path of a Unix socket
 */
export function clamdScanner(address: string): VirusScanner {
	const [, host, port] = /^(.+):(\d+)$/.exec(address) ?? [];
	const open = (): Socket => (address.startsWith('/') ? connect({ path: address }) : connect({ host, port: Number(port) }));
	return {
		async scan(content) {
			const socket = open();
			try {
				const answer = answerOf(socket);
				// told below, where it is waited for
				answer.catch(() => undefined);
				await send(socket, content);
				return asVerdict(await answer);
			} catch (error) {
				// it says that a file is too large and closes; written on meanwhile, its words are lost with the connection
				if (BROKEN_OFF.includes((error as NodeJS.ErrnoException).code ?? '') && (await isThere(open()))) return { is: 'too_large' };
				throw error;
			} finally {
				content.destroy();
				socket.destroy();
			}
		}
	};
}

const BROKEN_OFF = ['EPIPE', 'ECONNRESET'];

/** Whether the scanner answers a question that asks for nothing else. */
async function isThere(socket: Socket): Promise<boolean> {
	const answer = answerOf(socket).catch(() => '');
	socket.write('zPING\0');
	try {
		return (await answer) === 'PONG';
	} finally {
		socket.destroy();
	}
}

function answerOf(socket: Socket): Promise<string> {
	return new Promise((resolve, reject) => {
		let said = '';
		socket.setTimeout(SILENT_MOST, () => reject(new Error('the scanner says nothing')));
		socket.on('error', (error) => (said ? resolve(said) : reject(error)));
		socket.on('data', (piece) => {
			said += piece.toString('latin1');
			if (said.length > ANSWER_MOST) reject(new Error('the scanner says too much'));
			else if (said.includes('\0')) resolve(said.slice(0, said.indexOf('\0')));
		});
		socket.on('close', () => (said ? resolve(said) : reject(new Error('the scanner broke off'))));
	});
}

/** Sends the whole file, as fast as it is taken; it stops where the scanner answers or closes. */
async function send(socket: Socket, content: Readable): Promise<void> {
	let heard = false;
	const over = new Promise<void>((resolve) => {
		for (const sign of ['data', 'close']) socket.once(sign, () => ((heard = true), resolve()));
	});
	const write = (bytes: Buffer) => (socket.write(bytes) ? undefined : Promise.race([over, new Promise((resolve) => socket.once('drain', resolve))]));
	await write(Buffer.from('zINSTREAM\0'));
	for await (const chunk of content as AsyncIterable<Buffer>)
		for (let at = 0; at < chunk.length; at += PIECE) {
			// an answer before the end is heard first: writing on to whoever has closed would lose it
			await new Promise((resolve) => setImmediate(resolve));
			if (heard) return;
			const piece = chunk.subarray(at, at + PIECE);
			const length = Buffer.alloc(4);
			length.writeUInt32BE(piece.length);
			await write(length);
			await write(piece);
		}
	if (!heard) await write(Buffer.alloc(4));
}

function asVerdict(said: string): Verdict {
	const words = said.trim();
	if (words === 'stream: OK') return { is: 'clean' };
	const found = /^stream: (.+) FOUND$/.exec(words);
	if (found) return { is: 'found', what: found[1].slice(0, 200) };
	if (/size limit exceeded/i.test(words)) return { is: 'too_large' };
	throw new Error(`the scanner said: ${words.slice(0, 200)}`);
}
