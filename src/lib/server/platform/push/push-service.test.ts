import { createECDH, randomBytes } from 'node:crypto';
import { mkdtemp } from 'node:fs/promises';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Notice } from '$lib/core/telling/push';
import { bodyOf, listenOnLoopback } from '../listen-on-loopback';
import { publicKeyOf, webPushService, type PushService } from './push-service';
import { openPushed, receivedPushes, signedBy, startPushStandin, subscribe, type PushStandin } from './standin';

const NOTICE: Notice = {
	title: 'Pennywhistle Row',
	body: 'Pennywhistle Row vous a écrit.',
	path: '/portal/pennywhistle-row',
	tag: 'new',
	lang: 'fr'
};
const newKey = () => {
	const key = createECDH('prime256v1');
	key.generateKeys();
	return Buffer.concat([Buffer.alloc(32), key.getPrivateKey()])
		.subarray(-32)
		.toString('base64url');
};
const serviceWith = (privateKey: string): PushService => webPushService({ privateKey, contact: 'mailto:office@pennywhistle.example', services: [] });

let folder: string;
let standin: PushStandin;
const service = serviceWith(newKey());
beforeAll(async () => {
	folder = await mkdtemp(join(tmpdir(), 'lantern-pushes-'));
	standin = await startPushStandin({ port: 0, folder });
});
afterAll(() => standin.close());
const device = () => subscribe(folder, standin.port, service.publicKey);
const came = async (endpoint: string) => (await receivedPushes(folder)).get(endpoint.split('/').pop()!);

/** Answers every request with one status, and keeps what came. */
async function answering(status: number, headers: Record<string, string> = {}) {
	const bodies: { body: Buffer; headers: NodeJS.Dict<string | string[]> }[] = [];
	const server = createServer(async (request, response) => {
		bodies.push({ body: await bodyOf(request), headers: request.headers });
		response.writeHead(status, headers).end('no');
	});
	const port = await listenOnLoopback(server, 0);
	return { origin: `http://127.0.0.1:${port}`, bodies, close: () => new Promise((resolve) => server.close(resolve)) };
}

describe('what a device is told', () => {
	test('arrives whole, and as often as it is sent', async () => {
		const to = await device();
		expect(await service.send(to, NOTICE)).toEqual({ outcome: 'taken' });
		expect(await service.send(to, { ...NOTICE, tag: 'other' })).toEqual({ outcome: 'taken' });
		expect(await came(to.endpoint)).toEqual([NOTICE, { ...NOTICE, tag: 'other' }]);
	});

	test('is read by nobody on the way, not even the service; it has a life of half a day', async () => {
		const spy = await answering(201);
		await service.send({ ...(await device()), endpoint: `${spy.origin}/push/1` }, NOTICE);
		await spy.close();
		expect(spy.bodies[0].body.toString('latin1')).not.toMatch(/Pennywhistle|portal/);
		expect(spy.bodies[0].headers).toMatchObject({ ttl: '43200', 'content-encoding': 'aes128gcm' });
		expect(signedBy(spy.bodies[0].headers.authorization as string, spy.origin)).toBe(service.publicKey);
		expect(() => signedBy(spy.bodies[0].headers.authorization as string, 'https://elsewhere.example')).toThrow('not signed for here');
	});

	test('is nothing to a browser that subscribed with another key, or not any more', async () => {
		const to = await device();
		expect(await serviceWith(newKey()).send(to, NOTICE)).toMatchObject({ outcome: 'gone' });
		await fetch(to.endpoint.replace('/push/', '/gone/'), { method: 'POST' });
		expect(await service.send(to, NOTICE)).toMatchObject({ outcome: 'gone' });
		expect(await came(to.endpoint)).toEqual([]);
	});

	test('is not sent to a key that is none: nobody can have subscribed with it', async () => {
		const spy = await answering(201);
		const to = { ...(await device()), endpoint: `${spy.origin}/x`, p256dh: `B${'a'.repeat(86)}` };
		expect(await service.send(to, NOTICE)).toMatchObject({ outcome: 'gone' });
		expect(spy.bodies).toEqual([]);
		await spy.close();
	});

	test.each([
		[503, 'try_later'],
		[429, 'try_later'],
		[404, 'gone'],
		[400, 'refused'],
		[413, 'refused']
	])('a service that answers %i: %s', async (status, outcome) => {
		const away = await answering(status);
		expect(await service.send({ ...(await device()), endpoint: `${away.origin}/x` }, NOTICE)).toEqual({
			outcome,
			reason: `the push service answered ${status}`
		});
		await away.close();
	});

	test('does not follow a service that leads elsewhere, and comes later to one that does not answer', async () => {
		const elsewhere = await answering(201);
		const leads = await answering(307, { location: elsewhere.origin });
		expect(await service.send({ ...(await device()), endpoint: `${leads.origin}/x` }, NOTICE)).toMatchObject({ outcome: 'try_later' });
		expect(elsewhere.bodies).toEqual([]);
		await elsewhere.close();
		await leads.close();
		expect(await service.send({ ...(await device()), endpoint: `${leads.origin}/x` }, NOTICE)).toMatchObject({ outcome: 'try_later' });
	});
});

test('a message is opened as the standard’s own example is (RFC 8291, appendix A)', () => {
	const own = createECDH('prime256v1');
	own.setPrivateKey(Buffer.from('q1dXpw3UpT5VOmu_cf_v6ih07Aems3njxI-JWgLcM94', 'base64url'));
	const body =
		'DGv6ra1nlYgDCS1FRnbzlwAAEABBBP4z9KsN6nGRTbVYI_c7VJSPQTBtkgcy27mlmlMoZIIgDll6e3vCYLocInmYWAmS6TlzAC8wEqKK6PBru3jl7A_yl95bQpu6cVPTpK4Mqgkf1CXztLVBSt2Ks3oZwbuwXPXLWyouBWLVWGNWQexSgSxsj_Qulcy4a-fN';
	const keys = { own, auth: Buffer.from('BTBZMqHH6r4Tts7J_aSIgg', 'base64url') };
	expect(openPushed(Buffer.from(body, 'base64url'), keys).toString()).toBe('When I grow up, I want to be a watermelon');
	expect(() => openPushed(Buffer.from(body, 'base64url'), { own, auth: randomBytes(16) })).toThrow();
});

test('the public key belongs to the private one, also to one that begins with zeros', () => {
	const zeros = Buffer.concat([Buffer.alloc(3), Buffer.alloc(29, 7)]).toString('base64url');
	expect(publicKeyOf(zeros)).toMatch(/^B[\w-]{86}$/);
	expect(() => publicKeyOf(Buffer.alloc(32).toString('base64url'))).toThrow();
});
