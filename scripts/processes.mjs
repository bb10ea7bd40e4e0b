// Starts the product's processes with given settings and stops them again.
import { spawn, spawnSync } from 'node:child_process';
import { createECDH, randomBytes, randomInt } from 'node:crypto';
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { HOME } from './database.mjs';

const given = new Set();

/**
 * A port nobody uses just now. Each is given out once, and lies below those that outgoing connections take:
 * one that the system chooses may be chosen again before it is used.
 * @returns {Promise<number>}
 */
export async function freePort() {
	for (;;) {
		const port = randomInt(12_000, 32_000);
		if (given.has(port)) continue;
		given.add(port);
		if (await isFree(port)) return port;
	}
}

/** Whether nobody listens on a port of this machine. @returns {Promise<boolean>} */
export function isFree(port) {
	return new Promise((resolve, reject) => {
		const probe = createServer();
		probe.once('error', (error) => (error.code === 'EADDRINUSE' || error.code === 'EACCES' ? resolve(false) : reject(error)));
		probe.listen(port, '127.0.0.1', () => probe.close(() => resolve(true)));
	});
}

/** The key that encrypts secrets in the database, made once per folder. */
export function secretKey(folder) {
	const file = join(folder, 'secret-key');
	mkdirSync(folder, { recursive: true });
	if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 });
	return readFileSync(file, 'utf8').trim();
}

/** The key with which what devices are told is signed (VAPID, RFC 8292), made once per folder. */
function pushKey(folder) {
	const file = join(folder, 'push-key');
	if (!existsSync(file)) {
		const key = createECDH('prime256v1');
		key.generateKeys();
		const bytes = key.getPrivateKey();
		// one that begins with zeros comes without them
		writeFileSync(file, Buffer.concat([Buffer.alloc(32 - bytes.length), bytes]).toString('base64url'), { mode: 0o600 });
	}
	return readFileSync(file, 'utf8').trim();
}

/** Starts one Node.js process, its output in a log file. */
export function startProcess(script, env, logFile) {
	const out = logFile ? openSync(logFile, 'a') : 'ignore';
	const child = spawn(process.execPath, ['--enable-source-maps', join(HOME, script)], {
		cwd: HOME,
		env: { ...process.env, ...env },
		stdio: ['ignore', out, out]
	});
	if (logFile) closeSync(out);
	return child;
}

/** Runs one Node.js script to its end. */
export function runScript(script, env, args = []) {
	const done = spawnSync(process.execPath, ['--enable-source-maps', join(HOME, script), ...args], {
		cwd: HOME,
		env: { ...process.env, ...env },
		stdio: 'inherit'
	});
	if (done.status !== 0) throw new Error(`${script} failed`);
}

/** Waits until an address answers with success. */
export async function untilReady(url, child, seconds = 60) {
	const end = Date.now() + seconds * 1000;
	while (Date.now() < end) {
		if (child?.exitCode !== null && child?.exitCode !== undefined) throw new Error(`the process behind ${url} ended with ${child.exitCode}`);
		const ok = await fetch(url).then(
			(r) => r.ok,
			() => false
		);
		if (ok) return;
		await new Promise((r) => setTimeout(r, 100));
	}
	throw new Error(`${url} did not answer in ${seconds} s`);
}

/** Ends processes, politely first. */
export async function stopProcesses(children) {
	await Promise.all(
		children.map((child) => {
			if (child.exitCode !== null || child.signalCode !== null) return undefined;
			return new Promise((resolve) => {
				const force = setTimeout(() => child.kill('SIGKILL'), 15_000);
				child.once('exit', () => {
					clearTimeout(force);
					resolve();
				});
				child.kill('SIGTERM');
			});
		})
	);
}

/**
 * The environment of app and worker against one database.
 * @param {{ database: string, folder: string, port: number, smtpPort: number, bouncePort: number, papersPort: number, textPort: number, identityPort: number, ownerUrl: string, appUrl?: string, origin?: string }} of
 */
export function productEnv({ database, folder, port, smtpPort, bouncePort, papersPort, textPort, identityPort, ownerUrl, appUrl, origin }) {
	return {
		DATABASE_URL: ownerUrl,
		...(appUrl ? { APP_DATABASE_URL: appUrl } : {}),
		ORIGIN: origin ?? `http://localhost:${port}`,
		PORT: String(port),
		HOST: '127.0.0.1',
		SMTP_URL: process.env.SMTP_URL || `smtp://127.0.0.1:${smtpPort}?ignoreTLS=true`,
		...(process.env.SMTP_URL ? {} : { MAIL_STANDIN_FOLDER: join(folder, 'mail'), MAIL_STANDIN_PORT: String(smtpPort) }),
		...(process.env.TEXT_GATEWAY_URL
			? {}
			: {
					TEXT_GATEWAY_URL: `http://127.0.0.1:${textPort}`,
					TEXT_GATEWAY_KEY: 'key of the simulated gateway',
					TEXT_FROM: '+19025550100',
					TEXT_STANDIN_FOLDER: join(folder, 'texts'),
					TEXT_STANDIN_PORT: String(textPort)
				}),
		...(process.env.IDENTITY_CHECK_URL
			? {}
			: {
					IDENTITY_CHECK_URL: `http://127.0.0.1:${identityPort}`,
					IDENTITY_CHECK_KEY: 'key of the simulated identity checks',
					IDENTITY_STANDIN_PORT: String(identityPort)
				}),
		MAIL_DOMAINS: process.env.MAIL_DOMAINS || 'standin',
		BOUNCE_SMTP_PORT: String(bouncePort),
		PAPERS_MAIL_DOMAIN: process.env.PAPERS_MAIL_DOMAIN || 'papers.pennywhistle.example',
		PAPERS_SMTP_PORT: String(papersPort),
		PAPERS_FOLDER: join(folder, 'papers'),
		SECRET_KEY: process.env.SECRET_KEY || secretKey(folder),
		PUSH_KEY: process.env.PUSH_KEY || pushKey(folder),
		DEMO: '1',
		LANTERN_DATABASE: database
	};
}
