import { createServer, type Socket } from 'node:net';
import { once } from 'node:events';

/** The harmless file that scanners agreed to find (EICAR), in two parts, so that this source is not found itself. */
export const TEST_VIRUS = ['X5O!P%@AP[4\\PZX54(P^)7CC)7}', '$EICAR-STANDARD-ANTIVIRUS-TEST-FILE!$H+H*'].join('');

const COMMAND = 'zINSTREAM\0';

/**
 * Stands in for ClamAV's daemon where there is none: it speaks INSTREAM, finds the file that scanners agreed to find and nothing else.
 * @param mostBytes what is longer is refused as the daemon refuses it
 */
export async function startClamdStandin(mostBytes = 25 * 1024 * 1024): Promise<{ address: string; close(): Promise<void> }> {
	const open = new Set<Socket>();
	const server = createServer((socket) => {
		open.add(socket);
		socket.on('close', () => open.delete(socket)).on('error', () => undefined);
		let had = Buffer.alloc(0);
		let content = '';
		let begun = false;
		const answer = (words: string) => socket.end(`${words}\0`);
		socket.on('data', (piece: Buffer) => {
			had = Buffer.concat([had, piece]);
			if (!begun && had.equals(Buffer.from('zPING\0'))) return answer('PONG');
			if (!begun && had.length < COMMAND.length) return;
			if (!begun) {
				if (had.subarray(0, COMMAND.length).toString('latin1') !== COMMAND) return answer('UNKNOWN COMMAND');
				begun = true;
				had = had.subarray(COMMAND.length);
			}
			while (had.length >= 4) {
				const length = had.readUInt32BE();
				if (length === 0) return answer(content.includes(TEST_VIRUS) ? 'stream: Eicar-Test-Signature FOUND' : 'stream: OK');
				if (had.length < 4 + length) return;
				content += had.subarray(4, 4 + length).toString('latin1');
				had = had.subarray(4 + length);
				if (content.length > mostBytes) return answer('INSTREAM size limit exceeded. ERROR');
			}
		});
	});
	server.listen(0, '127.0.0.1');
	await once(server, 'listening');
	const at = server.address();
	if (at === null || typeof at === 'string') throw new Error('the stand-in has no port');
	return {
		address: `127.0.0.1:${at.port}`,
		async close() {
			for (const socket of open) socket.destroy();
			server.close();
			await once(server, 'close');
		}
	};
}
