import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { promisify } from 'node:util';
import { listenOnLoopback } from '../listen-on-loopback';

const run = promisify(execFile);

export interface TimeStampStandin {
	url: string;
	/** the certificate by which its tokens are checked, as PEM */
	rootFile: string;
	close(): Promise<void>;
}

/**
 * A small time-stamping authority for the demo and the tests (RFC 3161 over HTTP): what stamps is `openssl ts`, with certificates that
 * are made in its folder at the first start. Nobody else trusts them.
 */
export async function startTimeStampStandin({ port, folder }: { port: number; folder: string }): Promise<TimeStampStandin> {
	await mkdir(folder, { recursive: true });
	const file = (name: string) => join(folder, name);
	const openssl = (...args: string[]) => run('openssl', args, { cwd: folder });
	await writeFile(
		file('ts.cnf'),
		`[tsa]
default_tsa = own
[own]
serial = ${file('serial')}
signer_cert = ${file('tsa.pem')}
signer_key = ${file('tsa.key')}
signer_digest = sha256
default_policy = 1.2.3.4.1
digests = sha256
ess_cert_id_alg = sha256
[ext]
basicConstraints = critical, CA:false
keyUsage = critical, digitalSignature
extendedKeyUsage = critical, timeStamping
`
	);
	const made = await readFile(file('tsa.pem')).catch(() => null);
	if (!made) {
		const key = ['-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes'];
		await openssl('req', '-x509', ...key, '-keyout', 'root.key', '-out', 'root.pem', '-days', '3650', '-subj', '/CN=Simulated time stamps, root');
		await openssl('req', ...key, '-keyout', 'tsa.key', '-out', 'tsa.csr', '-subj', '/CN=Simulated time stamps');
		await openssl(
			...['x509', '-req', '-in', 'tsa.csr', '-CA', 'root.pem', '-CAkey', 'root.key', '-CAcreateserial', '-days', '3650'],
			...['-extfile', 'ts.cnf', '-extensions', 'ext', '-out', 'tsa.pem']
		);
	}
	const server = createServer(async (request, response) => {
		const name = randomUUID();
		try {
			await writeFile(file(`${name}.tsq`), await buffer(request));
			await openssl('ts', '-reply', '-config', 'ts.cnf', '-queryfile', `${name}.tsq`, '-out', `${name}.tsr`);
			response.writeHead(200, { 'content-type': 'application/timestamp-reply' }).end(await readFile(file(`${name}.tsr`)));
		} catch {
			response.writeHead(400).end();
		} finally {
			for (const ending of ['tsq', 'tsr']) await rm(file(`${name}.${ending}`), { force: true });
		}
	});
	const at = await listenOnLoopback(server, port);
	return {
		url: `http://127.0.0.1:${at}`,
		rootFile: file('root.pem'),
		close: () => new Promise((resolve) => server.close(() => resolve()))
	};
}
