import { createDecipheriv, createECDH, createPublicKey, hkdfSync, randomBytes, randomUUID, verify, type ECDH } from 'node:crypto';
import { mkdir, readFile, readdir, rename, writeFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { noticeSchema, type Notice, type Subscription } from '$lib/core/telling/push';
import { bodyOf, listenOnLoopback } from '../listen-on-loopback';

export interface PushStandin {
	port: number;
	close(): Promise<void>;
}

/** What a push service hands to a browser at most (RFC 8030, 7.2). */
const MOST_BYTES = 4096;

/** The keys of a browser that subscribed. */
interface Keys {
	own: ECDH;
	auth: Buffer;
}

/**
 * Opens what was encrypted for a browser: Web Push (RFC 8291) in the coding aes128gcm (RFC 8188), one record.
 * @throws Error if it was not meant for these keys, or is damaged
 */
export function openPushed(body: Buffer, { own, auth }: Keys): Buffer {
	const salt = body.subarray(0, 16);
	const idLength = body[20];
	const sender = body.subarray(21, 21 + idLength);
	const record = body.subarray(21 + idLength);
	const derive = (key: Buffer, salted: Buffer, info: Buffer, length: number) => Buffer.from(hkdfSync('sha256', key, salted, info, length));
	const shared = derive(own.computeSecret(sender), auth, Buffer.concat([Buffer.from('WebPush: info\0'), own.getPublicKey(), sender]), 32);
	const key = derive(shared, salt, Buffer.from('Content-Encoding: aes128gcm\0'), 16);
	const nonce = derive(shared, salt, Buffer.from('Content-Encoding: nonce\0'), 12);
	const opened = createDecipheriv('aes-128-gcm', key, nonce, { authTagLength: 16 });
	opened.setAuthTag(record.subarray(-16));
	const padded = Buffer.concat([opened.update(record.subarray(0, -16)), opened.final()]);
	// the last record ends with the octet 2 and any number of zeros
	return padded.subarray(0, padded.lastIndexOf(2));
}

/**
 * Who says what is pushed (VAPID, RFC 8292): the key with which it is signed, as base64url.
 * @param authorization the header
 * @param audience origin of the push service, for which it has to be signed
 * @throws Error if it is not signed, signed for another service, or too old
 */
export function signedBy(authorization: string | undefined, audience: string): string {
	const [, token, key] = /^vapid t=([\w.-]+), ?k=([\w-]+)$/.exec(authorization ?? '') ?? [];
	if (!token) throw new Error('it is not signed');
	const [head, claims, signature] = token.split('.');
	const point = Buffer.from(key, 'base64url');
	const jwk = { kty: 'EC', crv: 'P-256', x: point.subarray(1, 33).toString('base64url'), y: point.subarray(33).toString('base64url') };
	const signed = verify(
		'sha256',
		Buffer.from(`${head}.${claims}`),
		{ key: createPublicKey({ key: jwk, format: 'jwk' }), dsaEncoding: 'ieee-p1363' },
		Buffer.from(signature, 'base64url')
	);
	const { aud, exp, sub } = JSON.parse(Buffer.from(claims, 'base64url').toString()) as { aud: string; exp: number; sub: string };
	const seconds = exp - Date.now() / 1000;
	if (!signed || aud !== audience || seconds <= 0 || seconds > 24 * 3600 || !/^(mailto:|https:)/.test(sub))
		throw new Error('it is not signed for here');
	return key;
}

/**
 * A small push service (RFC 8030) for tests. What is pushed to the endpoint of a browser that subscribed is checked and opened with the
 * browser's keys, which the stand-in holds as well, and kept as a file. `POST /gone/{id}` ends a subscription.
 * @param options.folder where subscriptions and what came are kept
 */
export async function startPushStandin(options: { port: number; folder: string }): Promise<PushStandin> {
	await mkdir(options.folder, { recursive: true });
	const server = createServer(async (request, response) => {
		const say = (status: number, what = {}) => void response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(what));
		try {
			const [, what, id] = /^\/(gone|push)\/([\w-]+)$/.exec(request.url ?? '') ?? [];
			const body = await bodyOf(request);
			if (request.method !== 'POST' || !what) return say(404);
			const kept = await readKept(options.folder, id);
			if (!kept || kept.gone) return say(410);
			if (what === 'gone') await keep(options.folder, { ...kept, gone: true });
			else {
				if (body.length > MOST_BYTES) return say(413);
				const own = createECDH('prime256v1');
				own.setPrivateKey(Buffer.from(kept.privateKey, 'base64url'));
				if (signedBy(request.headers.authorization, `http://127.0.0.1:${port}`) !== kept.publicKey || !request.headers.ttl) return say(403);
				const notice = noticeSchema.parse(JSON.parse(openPushed(body, { own, auth: Buffer.from(kept.auth, 'base64url') }).toString()));
				await keep(options.folder, { ...kept, came: [...kept.came, notice] });
			}
			say(201);
		} catch (error) {
			say(400, { error: (error as Error).message });
		}
	});
	const port = await listenOnLoopback(server, options.port);
	return { port, close: () => new Promise((resolve) => server.close(() => resolve())) };
}

/** A subscription as the stand-in keeps it. */
interface Kept {
	id: string;
	publicKey: string;
	privateKey: string;
	auth: string;
	came: Notice[];
	gone?: boolean;
}
const fileOf = (folder: string, id: string): string => join(folder, `${id}.json`);

async function keep(folder: string, kept: Kept): Promise<void> {
	const file = fileOf(folder, kept.id);
	await writeFile(`${file}.partial`, JSON.stringify(kept));
	await rename(`${file}.partial`, file);
}

async function readKept(folder: string, id: string): Promise<Kept | null> {
	const raw = await readFile(fileOf(folder, id), 'utf8').catch(() => null);
	return raw === null ? null : (JSON.parse(raw) as Kept);
}

/** Subscribes a browser that there is not. @param port of the stand-in @param publicKey with which pushes to it are signed */
export async function subscribe(folder: string, port: number, publicKey: string): Promise<Subscription> {
	if (!/^B[\w-]{86}$/.test(publicKey)) throw new Error('that is no public key');
	const own = createECDH('prime256v1');
	own.generateKeys();
	const kept: Kept = {
		id: randomUUID(),
		publicKey,
		privateKey: own.getPrivateKey('base64url'),
		auth: randomBytes(16).toString('base64url'),
		came: []
	};
	await mkdir(folder, { recursive: true });
	await keep(folder, kept);
	return { endpoint: `http://127.0.0.1:${port}/push/${kept.id}`, p256dh: own.getPublicKey('base64url'), auth: kept.auth };
}

/** All that came to browsers that subscribed here, by the id at the end of their endpoint. */
export async function receivedPushes(folder: string): Promise<Map<string, Notice[]>> {
	const files = (await readdir(folder).catch(() => [])).filter((name) => name.endsWith('.json'));
	const all = await Promise.all(files.map((name) => readKept(folder, name.slice(0, -5))));
	return new Map(all.flatMap((kept) => (kept ? [[kept.id, kept.came]] : [])));
}
