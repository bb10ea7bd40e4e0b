import { createHash, randomBytes } from 'node:crypto';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { createServer, type AddressInfo, type Socket } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { cutLine, openS3Standin } from '../../testing/s3-standin';
import { folderStore, type PaperStore } from './paper-store';
import { s3Store } from './s3-store';

let folder: string;
let standin: Awaited<ReturnType<typeof openS3Standin>>;
beforeAll(async () => {
	folder = await mkdtemp(join(tmpdir(), 'lantern-store-'));
	standin = await openS3Standin();
});
afterAll(async () => {
	await standin.close();
	await rm(folder, { recursive: true, force: true });
});

const MB = 1024 * 1024;
/** Files that can be read again; parts of which the stand-in forgets to forget are none. */
const files = async (where: string) =>
	(await readdir(where, { recursive: true, withFileTypes: true }))
		.filter((entry) => entry.isFile() && /^[0-9a-f-]{36}(\._S3rver_object)?(\.partial)?$/.test(entry.name))
		.map(({ name }) => name);
/** A file of many pieces, as they come over the network. */
function* pieces(content: Buffer): Generator<Buffer> {
	for (let at = 0; at < content.length; at += 60_000) yield content.subarray(at, at + 60_000);
}
const stream = (content: Buffer) => Readable.from(pieces(content));

describe.each<[string, () => { store: PaperStore; where: string }]>([
	['a folder', () => ({ store: folderStore(folder), where: folder })],
	['an S3-compatible store', () => ({ store: s3Store(standin), where: standin.folder })]
])('papers in %s', (_, open) => {
	test.each([
		['nothing', 0],
		['a little', 90],
		['more than goes in one part', 18 * MB + 7]
	])('%s is hashed on the way, comes back as it was, whole and in part, and goes', async (_, bytes) => {
		const { store, where } = open();
		const content = randomBytes(bytes);
		const before = (await files(where)).length;
		const stored = await store.put(stream(content), bytes);
		expect(stored).toMatchObject({ bytes, sha256: createHash('sha256').update(content).digest() });
		expect(await store.size(stored.key)).toBe(bytes);
		expect((await buffer(store.read(stored.key))).equals(content)).toBe(true);
		if (bytes > 0) expect((await buffer(store.read(stored.key, { start: 10, end: 29 }))).equals(content.subarray(10, 30))).toBe(true);
		await store.remove(stored.key);
		await store.remove(stored.key);
		expect((await files(where)).length).toBe(before);
		await expect(store.size(stored.key)).rejects.toThrow();
		await expect(buffer(store.read(stored.key))).rejects.toThrow();
	});
	test('what it is is said by its first bytes', async () => {
		const { store } = open();
		expect((await store.putBuffer(Buffer.from('%PDF-1.7\n'))).contentType).toBe('application/pdf');
		expect((await store.putBuffer(Buffer.from('<html>'))).contentType).toBe('application/octet-stream');
	});
	test.each([1000, 20 * MB])('what is too large, breaks off or is given up after %i bytes leaves nothing behind', async (bytes) => {
		const { store, where } = open();
		const before = await files(where);
		await expect(store.put(stream(randomBytes(bytes + 1)), bytes)).rejects.toMatchObject({ code: 'too_many' });
		const broken = Readable.from(
			(function* () {
				yield* pieces(randomBytes(bytes));
				throw new Error('the phone went into a tunnel');
			})()
		);
		await expect(store.put(broken, 100 * MB)).rejects.toThrow('tunnel');
		const giving = new AbortController();
		const given = Readable.from(
			(function* () {
				yield* pieces(randomBytes(bytes));
				giving.abort();
				yield Buffer.alloc(10);
			})()
		);
		await expect(store.put(given, 100 * MB, giving.signal)).rejects.toMatchObject({ name: 'AbortError' });
		expect(await files(where)).toEqual(before);
	});
	test('names that are no keys lead nowhere', () => {
		const { store } = open();
		expect(() => store.read('../../secret-key')).toThrow('not a storage key');
	});
});

describe('an S3-compatible store', () => {
	test('that fails in the middle says so, and nothing half is kept', async () => {
		const before = await files(standin.folder);
		const line = await cutLine(standin.endpoint, 12 * MB);
		const store = s3Store({ ...standin, endpoint: line.endpoint });
		await expect(store.put(stream(randomBytes(30 * MB)), 100 * MB)).rejects.toMatchObject({
			code: 'storage_full',
			what: { key: 'wrong.paper.storeAway' }
		});
		expect(await files(standin.folder)).toEqual(before);
		// a file that is read through such a line ends as an error, not as a shorter file
		const whole = await s3Store(standin).putBuffer(randomBytes(3 * MB));
		const short = await cutLine(standin.endpoint, MB);
		await expect(buffer(s3Store({ ...standin, endpoint: short.endpoint }).read(whole.key))).rejects.toThrow();
		line.close();
		short.close();
	}, 60_000);
	test('that takes a connection and never answers is given up', async () => {
		const mute = createServer();
		await new Promise<void>((resolve) => mute.listen(0, '127.0.0.1', resolve));
		const sockets = new Set<Socket>();
		mute.on('connection', (socket) => sockets.add(socket.on('error', () => undefined)));
		const store = s3Store({ ...standin, endpoint: `http://127.0.0.1:${(mute.address() as AddressInfo).port}` }, 100);
		await expect(store.size('0f0e0d0c-0000-4000-8000-000000000000')).rejects.toMatchObject({ code: 'storage_full' });
		await expect(store.putBuffer(Buffer.from('a file'))).rejects.toMatchObject({ code: 'storage_full' });
		for (const socket of sockets) socket.destroy();
		mute.close();
	}, 60_000);
	test('is told to forget the parts of what breaks off', async () => {
		const line = await cutLine(standin.endpoint, Infinity);
		const store = s3Store({ ...standin, endpoint: line.endpoint });
		await expect(store.put(stream(randomBytes(20 * MB)), 18 * MB)).rejects.toMatchObject({ code: 'too_many' });
		await expect.poll(() => line.requests.filter((request) => /^DELETE .*uploadId=/.test(request)).length).toBe(1);
		line.close();
	});
	test('is looked at before the start', async () => {
		const problem = (more: object) => s3Store({ ...standin, ...more }).problem();
		expect(await problem({})).toBeNull();
		expect(await problem({ bucket: 'elsewhere' })).toBe('S3_BUCKET: there is no such bucket');
		expect(await problem({ accessKey: 'nobody' })).toBe('S3_ACCESS_KEY: the store refuses this sign-in for the bucket');
		expect(await problem({ endpoint: 'http://127.0.0.1:9' })).toMatch(/^S3_ENDPOINT: no store answers there/);
	}, 60_000);
});
