import { mkdtemp, rm } from 'node:fs/promises';
import { createServer, connect, type Socket } from 'node:net';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import S3rver from 's3rver';
import type { S3Place } from '../platform/files/s3-store';

/** An S3-compatible store on this machine, which forgets everything in the end. */
export async function openS3Standin(): Promise<S3Place & { folder: string; close(): Promise<void> }> {
	const folder = await mkdtemp(join(tmpdir(), 'lantern-s3-'));
	const server = new S3rver({ address: '127.0.0.1', port: 0, silent: true, directory: folder, configureBuckets: [{ name: 'papers' }] });
	const { port } = await server.run();
	return {
		endpoint: `http://127.0.0.1:${port}`,
		region: 'us-east-1',
		bucket: 'papers',
		accessKey: 'S3RVER',
		secretKey: 'S3RVER',
		folder,
		async close() {
			await server.close();
			await rm(folder, { recursive: true, force: true });
		}
	};
}

/**
 * A line to a server that is cut once so many bytes went through it, and stays dead.
 * @returns its address, and the first lines of the requests that went through
 */
export async function cutLine(endpoint: string, afterBytes: number): Promise<{ endpoint: string; requests: string[]; close(): void }> {
	const { hostname, port } = new URL(endpoint);
	let left = afterBytes;
	const open = new Set<Socket>();
	const requests: string[] = [];
	const line = createServer((from) => {
		if (left <= 0) return from.destroy();
		const to = connect(Number(port), hostname);
		for (const [one, other] of [
			[from, to],
			[to, from]
		]) {
			open.add(one);
			one.on('error', () => undefined).on('close', () => other.destroy());
			one.on('data', (chunk: Buffer) => {
				left -= chunk.length;
				const line = one === from ? /^[A-Z]+ \S+/.exec(chunk.toString('latin1', 0, 300)) : null;
				if (line) requests.push(line[0]);
				if (left > 0) other.write(chunk);
				else for (const socket of open) socket.destroy();
			});
		}
	});
	await new Promise<void>((resolve) => line.listen(0, '127.0.0.1', resolve));
	return {
		endpoint: `http://127.0.0.1:${(line.address() as AddressInfo).port}`,
		requests,
		close: () => {
			for (const socket of open) socket.destroy();
			line.close();
		}
	};
}
