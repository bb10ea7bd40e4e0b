import type { IncomingMessage, Server } from 'node:http';

/**
 * Has a stand-in listen, where nobody beyond this machine reaches it.
 * @param port 0 for any that is free
 * @returns the port
 * @throws Error if the port is taken
 */
export async function listenOnLoopback(server: Server, port: number): Promise<number> {
	await new Promise<void>((resolve, reject) => {
		server.once('error', reject);
		server.listen(port, '127.0.0.1', resolve);
	});
	const address = server.address();
	return typeof address === 'object' && address ? address.port : port;
}

/** All that was sent to a stand-in. */
export async function bodyOf(request: IncomingMessage): Promise<Buffer> {
	const chunks: Buffer[] = [];
	for await (const chunk of request) chunks.push(chunk as Buffer);
	return Buffer.concat(chunks);
}
