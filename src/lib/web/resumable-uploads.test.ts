import { randomUUID } from 'node:crypto';
import { readdir, rm, symlink, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { beforeEach, describe, expect, test } from 'vitest';
import { waiveItem } from '$lib/server/requests/judge-item';
import { readItem } from '$lib/server/items/read-items';
import { sendRequest } from '$lib/server/requests/send-request';
import { itemsOf, makeClient, paperLine, requestTo } from '$lib/server/testing/test-firm';
import { client, context, firm, useFirm } from '$lib/server/testing/use-firm';
import { removeOldUploads } from '$lib/server/platform/files/paper-store';
import { forgetOldUploads, uploadsFolder } from '$lib/server/papers/unfinished-uploads';
import { resumableUploads, type ResumableUploads, type UploadBy } from './resumable-uploads';
import { byWhom, forItem, givenTo, unasked } from './uploads-into';

useFirm();
let itemId: string;
let uploads: ResumableUploads;
let folder: string;
beforeEach(async () => {
	const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')]));
	itemId = (await itemsOf(context, requestId))[0].id as string;
	folder = join(uploadsFolder(context.papersFolder), firm.slug);
	uploads = resumableUploads(folder);
});

const FILE = Buffer.concat([Buffer.from('%PDF-1.7\n%âãÏÓ\n1 0 obj\n'), Buffer.alloc(300_000, 32)]);
const metadata = (name: string) => `filename ${Buffer.from(name).toString('base64')}`;

/** One request of the protocol, as a contact. */
async function ask(method: string, uploadId: string | null, headers: Record<string, string> = {}, body?: Uint8Array, who = client, item = itemId) {
	const request = new Request(`http://portal.test/portal/x/item/${item}/uploads${uploadId ? `/${uploadId}` : ''}`, {
		method,
		headers: { 'tus-resumable': '1.0.0', ...headers },
		...(body ? { body: body as Uint8Array<ArrayBuffer>, duplex: 'half' } : {})
	} as RequestInit);
	const portal = { context, firmId: firm.id, actor: who.mara() };
	return uploads.answer(request, byWhom(portal, forItem(portal, item)), uploadId);
}
const begin = (bytes = FILE.length, name = 'lease.pdf', who = client) =>
	ask('POST', null, { 'upload-length': String(bytes), 'upload-metadata': metadata(name) }, undefined, who);
const idOf = (answer: Response) => /[0-9a-f-]{36}$/.exec(answer.headers.get('location')!)![0];
const send = (id: string, from: number, to = FILE.length) =>
	ask('PATCH', id, { 'content-type': 'application/offset+octet-stream', 'upload-offset': String(from) }, FILE.subarray(from, to));
const offset = async (id: string, who = client) => (await ask('HEAD', id, {}, undefined, who)).headers.get('upload-offset');
const papers = async () => (await firm.run((tx) => readItem(tx, firm.odalys(), itemId))).papers.map(({ name, bytes }) => [name, bytes]);
const left = async () => (await readdir(folder).catch(() => [])).length;

describe('an upload that is broken off', () => {
	test('goes on where it stopped, also in another process, and is one paper at the end', async () => {
		const begun = await begin();
		expect(begun.status).toBe(201);
		expect(begun.headers.get('access-control-allow-origin')).not.toBe('*');
		const id = idOf(begun);
		expect((await send(id, 0, 100_000)).status).toBe(204);
		expect(await papers()).toEqual([]);
		uploads = resumableUploads(folder);
		expect(await offset(id)).toBe('100000');
		// a part that does not fit on to what is there is refused, and changes nothing
		expect((await send(id, 50_000)).status).toBe(409);
		expect((await send(id, 100_000)).status).toBe(204);
		expect(await papers()).toEqual([['lease.pdf', FILE.length]]);
		expect(await left()).toBe(0);
		expect((await firm.run((tx) => readItem(tx, firm.odalys(), itemId))).state).toBe('started');
	});
	test('whose last answer was lost is told to be here; its end reported twice makes no second paper', async () => {
		const id = idOf(await begin());
		await send(id, 0);
		expect(await offset(id)).toBe(String(FILE.length));
		expect((await send(id, 0)).status).toBe(404);
		expect(await papers()).toHaveLength(1);
	});
	test('that was whole when the process ended is taken in by the next question', async () => {
		const id = idOf(await begin());
		await send(id, 0, FILE.length - 10);
		// the last bytes reach the disk, and nothing after that happens
		const { appendFile } = await import('node:fs/promises');
		await appendFile(join(folder, id), FILE.subarray(FILE.length - 10));
		expect(await offset(id)).toBe(String(FILE.length));
		expect(await papers()).toEqual([['lease.pdf', FILE.length]]);
	});
	test('given up leaves nothing; one that nobody went on with is removed after a day', async () => {
		const id = idOf(await begin());
		await send(id, 0, 1000);
		expect((await ask('DELETE', id)).status).toBe(204);
		expect(await left()).toBe(0);
		const old = idOf(await begin());
		const young = idOf(await begin());
		await utimes(join(folder, old), new Date(0), new Date(0));
		await utimes(join(folder, `${old}.json`), new Date(0), new Date(0));
		expect(await removeOldUploads(folder, 24 * 3600 * 1000)).toBe(2);
		expect((await readdir(folder)).every((name) => name.startsWith(young))).toBe(true);
	});
});

describe('what an upload is refused for', () => {
	test('its kind, once it is whole; then nothing of it is kept', async () => {
		const id = idOf(await begin(40, 'page.pdf'));
		const answer = await ask(
			'PATCH',
			id,
			{ 'content-type': 'application/offset+octet-stream', 'upload-offset': '0' },
			Buffer.from('<html><script>alert(1)</script></html>  ')
		);
		expect(answer.status).toBe(415);
		expect(await answer.text()).toContain('page.pdf');
		expect(await papers()).toEqual([]);
		expect(await left()).toBe(0);
	});
	test('its size, before a byte of it has come', async () => {
		for (const [bytes, status] of [
			[201 * 1024 * 1024, 413],
			[10 * 1024 ** 3, 413],
			[0, 415]
		] as const)
			expect((await begin(bytes)).status, String(bytes)).toBe(status);
		expect(await left()).toBe(0);
		expect((await ask('POST', null, { 'upload-defer-length': '1' })).status).toBeGreaterThanOrEqual(400);
	});
	test('no room on the disk: told as such, and gone on with once there is', async () => {
		const id = idOf(await begin());
		await rm(join(folder, id));
		await symlink('/dev/full', join(folder, id));
		const answer = await send(id, 0);
		expect([answer.status, await answer.text()]).toEqual([507, expect.stringContaining('We have no room for this file')]);
		await rm(join(folder, id));
		await writeFile(join(folder, id), '');
		expect((await send(id, 0)).status).toBe(204);
		expect(await papers()).toEqual([['lease.pdf', FILE.length]]);
	});
	test('too much that was begun and did not come; what is given up or comes makes room again', async () => {
		const large = 200 * 1024 * 1024;
		const ids = await Promise.all(Array.from({ length: 10 }, async () => idOf(await begin(large))));
		const refused = await begin();
		expect([refused.status, await refused.text()]).toEqual([413, expect.stringContaining('begun and not finished')]);
		// somebody else is not kept from sending
		const other = await makeClient(context, firm);
		const [theirs] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(other, [paperLine('Lease', '2026-05-20')])));
		expect((await ask('POST', null, { 'upload-length': '40', 'upload-metadata': metadata('a.pdf') }, undefined, other, theirs.id)).status).toBe(201);
		await ask('DELETE', ids[0]);
		const next = idOf(await begin());
		expect((await send(next, 0)).status).toBe(204);
		expect((await context.owner.query('select 1 from unfinished_upload where contact_id = $1', [client.contactId])).rowCount).toBe(9);
		await context.owner.query(`update unfinished_upload set begun_at = begun_at - interval '3 days'`);
		await firm.run(forgetOldUploads);
		expect((await context.owner.query('select 1 from unfinished_upload where firm_id = $1', [firm.id])).rowCount).toBe(0);
	});
	test('that the thing was withdrawn meanwhile', async () => {
		const id = idOf(await begin());
		await send(id, 0, 1000);
		await firm.run(async (tx) => waiveItem(tx, firm.odalys(), { itemId, version: (await readItem(tx, firm.odalys(), itemId)).version }));
		const answer = await send(id, 1000);
		expect(answer.status).toBe(410);
		expect(await answer.text()).not.toBe('');
		expect(await left()).toBe(0);
		expect((await begin()).status).toBe(410);
	});
	test('somebody else’s is not there, neither to look at nor to go on with', async () => {
		const id = idOf(await begin());
		await send(id, 0, 1000);
		const stranger = await makeClient(context, firm);
		for (const method of ['HEAD', 'PATCH', 'DELETE'])
			expect(
				(await ask(method, id, { 'upload-offset': '1000', 'content-type': 'application/offset+octet-stream' }, undefined, stranger)).status
			).toBe(404);
		expect((await begin(100, 'x.pdf', stranger)).status).toBe(404);
		expect((await ask('HEAD', randomUUID())).status).toBe(404);
		expect(await offset(id)).toBe('1000');
	});
});

describe('an upload that nobody asked for, or of the firm', () => {
	/** One request of the protocol, by anybody for anything. */
	const asked = (by: UploadBy, method: string, uploadId: string | null, headers: Record<string, string> = {}, body?: Uint8Array) =>
		uploads.answer(
			new Request(`http://portal.test/uploads${uploadId ? `/${uploadId}` : ''}`, {
				method,
				headers: { 'tus-resumable': '1.0.0', ...headers },
				...(body ? { body: body as Uint8Array<ArrayBuffer>, duplex: 'half' } : {})
			} as RequestInit),
			by,
			uploadId
		);
	const beginning = (by: UploadBy, slot: string) =>
		asked(by, 'POST', null, {
			'upload-length': String(FILE.length),
			'upload-metadata': `${metadata('lease.pdf')},slot ${Buffer.from(slot).toString('base64')}`
		});
	const part = (by: UploadBy, id: string, from: number, to = FILE.length) =>
		asked(by, 'PATCH', id, { 'content-type': 'application/offset+octet-stream', 'upload-offset': String(from) }, FILE.subarray(from, to));
	const ofMara = () => ({ context, firmId: firm.id, actor: client.mara() });
	const sent = () => byWhom(ofMara(), unasked(ofMara()));
	const ofOdalys = (actor = firm.odalys()) => ({ context, firmId: firm.id, actor });
	const given = (actor = firm.odalys()) => byWhom(ofOdalys(actor), givenTo(ofOdalys(actor), client.id));
	const rows = async () =>
		(await context.owner.query('select name, bytes, unasked, shown_at is not null shown from paper where client_id = $1', [client.id])).rows;

	test.each([
		['sent without being asked', sent, () => client.id, { unasked: true, shown: false }],
		['added by the firm', given, () => 'folder=&showing=quietly', { unasked: false, shown: true }]
	])('%s goes on where it stopped, and is one paper at the end', async (_, by, slot, state) => {
		const begun = await beginning(by(), slot());
		expect(begun.status).toBe(201);
		const id = idOf(begun);
		expect((await part(by(), id, 0, 120_000)).status).toBe(204);
		expect(await rows()).toEqual([]);
		expect((await asked(by(), 'HEAD', id)).headers.get('upload-offset')).toBe('120000');
		expect((await part(by(), id, 120_000)).status).toBe(204);
		expect(await rows()).toEqual([{ name: 'lease.pdf', bytes: FILE.length, ...state }]);
		// its last answer was lost
		expect((await asked(by(), 'HEAD', id)).headers.get('upload-offset')).toBe(String(FILE.length));
		expect((await context.owner.query('select 1 from unfinished_upload where $1 in (contact_id, staff_id)', [by().actor.id])).rowCount).toBe(0);
		expect(await left()).toBe(0);
	});
	test('is gone on with by nobody else, and for nothing else', async () => {
		const id = idOf(await beginning(given(), 'folder='));
		const second = await makeClient(context, firm);
		const other = ofOdalys();
		for (const by of [sent(), given(firm.filing), byWhom(other, givenTo(other, second.id))]) {
			expect((await part(by, id, 0)).status).toBe(404);
			expect((await asked(by, 'DELETE', id)).status).toBe(404);
		}
		expect((await asked(given(), 'DELETE', id)).status).toBe(204);
		expect((await context.owner.query('select 1 from unfinished_upload where $1 in (contact_id, staff_id)', [firm.odalys().id])).rowCount).toBe(0);
	});
	test('is refused before anything of it comes: a client of others, a folder that is closed, nonsense, somebody who may not show', async () => {
		const stranger = await makeClient(context, firm);
		expect((await beginning(sent(), stranger.id)).status).toBe(404);
		expect((await beginning(sent(), `${client.id}.${randomUUID()}`)).status).toBe(404);
		expect((await beginning(sent(), '../../etc')).status).toBe(404);
		expect((await beginning(given(firm.filing), 'showing=told')).status).toBe(403);
		expect((await beginning(given(firm.filing), 'showing=no')).status).toBe(201);
	});
});
