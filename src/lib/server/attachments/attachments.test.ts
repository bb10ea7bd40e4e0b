import { readdir } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { PDFDocument, rgb } from '@cantoo/pdf-lib';
import { createCanvas, loadImage } from '@napi-rs/canvas';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { makeClient, makeFirm, openTestContext, paperLine, requestTo, type TestClient, type TestFirm, type TestContext } from '../testing/test-firm';
import { firstPageOf, openAttachment, readAttachments, takeInAttachment } from './attachments';
import { sendRequest } from '../requests/send-request';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
beforeAll(async () => {
	context = await openTestContext();
	firm = await makeFirm(context);
	client = await makeClient(context, firm);
});
afterAll(() => context.close());

const take = (name: string, content: string, who = firm.odalys()) =>
	takeInAttachment(context, firm.id, who, { name, content: Readable.from([Buffer.from(content)]) });
const stored = async () => (await readdir(context.papersFolder, { recursive: true, withFileTypes: true })).filter((entry) => entry.isFile()).length;

describe('a file of the firm', () => {
	test('is named by what it is, and is there for a line', async () => {
		const file = await take('../fees\u202e.doc', '%PDF-1.7 fees');
		expect(file).toMatchObject({ name: 'fees.pdf', contentType: 'application/pdf', bytes: 13 });
		expect(await firm.run((tx) => readAttachments(tx, [file.id]))).toEqual({ [file.id]: file });
		expect(await firm.run((tx) => readAttachments(tx, []))).toEqual({});
	});
	test.each([
		['empty.pdf', '', 'empty.pdf is empty'],
		['page.pdf', '<html><body>', 'no file that can be shown safely']
	])('%s is refused, and nothing of it is kept', async (name, content, message) => {
		const before = await stored();
		await expect(take(name, content)).rejects.toThrow(message);
		expect(await stored()).toBe(before);
	});
	test('is not added by somebody who may not ask', async () => {
		const before = await stored();
		await expect(take('fees.pdf', '%PDF-1.7', firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		expect(await stored()).toBe(before);
	});
	test('is opened by the client whom it was sent to, which is noted, and is not there for others', async () => {
		const file = await take('rules.pdf', '%PDF-1.7 rules');
		await expect(client.run((tx) => openAttachment(tx, client.mara(), file.id))).rejects.toMatchObject({ code: 'not_found' });
		const requestId = await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(client, [{ ...paperLine('A', '2026-05-20'), attachments: [file.id] }])
		);
		expect(await client.run((tx) => openAttachment(tx, client.mara(), file.id))).toMatchObject({ name: 'rules.pdf' });
		await firm.run((tx) => openAttachment(tx, firm.odalys(), file.id));
		const { rows } = await context.owner.query(`select actor_name, request_id, details from event where verb = 'attachment_opened'`);
		expect(rows).toEqual([{ actor_name: 'Mara Whitlock', request_id: requestId, details: { name: 'rules.pdf' } }]);
		const stranger = await makeClient(context, firm, { name: 'Other' });
		await expect(stranger.run((tx) => openAttachment(tx, stranger.mara(), file.id))).rejects.toMatchObject({ code: 'not_found' });
		const elsewhere = await makeFirm(context);
		await expect(elsewhere.run((tx) => openAttachment(tx, elsewhere.odalys(), file.id))).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('the picture of a first page', () => {
	const first = (id: string, of = client) => firstPageOf(context, of.run, of.mara(), id);
	const sent = async (name: string, content: string | Uint8Array) => {
		const file = await takeInAttachment(context, firm.id, firm.odalys(), { name, content: Readable.from([Buffer.from(content)]) });
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [{ ...paperLine('A', '2026-05-20'), attachments: [file.id] }]));
		return file.id;
	};
	test('is drawn once, as a picture, for whoever may see the file and nobody else', async () => {
		const pdf = await PDFDocument.create();
		for (const ink of [rgb(1, 0, 0), rgb(0, 0, 1)]) pdf.addPage([300, 400]).drawRectangle({ x: 0, y: 0, width: 300, height: 400, color: ink });
		const id = await sent('plans.pdf', await pdf.save());
		const stranger = await makeClient(context, firm, { name: 'Another' });
		await expect(first(id, stranger)).rejects.toMatchObject({ code: 'not_found' });
		const keys = await Promise.all([first(id), first(id), first(id)]);
		const [key] = keys.filter((key) => key !== null);
		// only one of them drew it; from now on it is there for everybody
		expect(keys.filter((key) => key !== null)).toHaveLength(1);
		expect(await first(id)).toBe(key);
		const picture = await loadImage(await buffer(context.papers.read(key!)));
		expect([picture.width, picture.height]).toEqual([780, 1040]);
		const canvas = createCanvas(780, 1040).getContext('2d');
		canvas.drawImage(picture, 0, 0);
		const [red, green, blue] = canvas.getImageData(390, 520, 1, 1).data;
		expect([red > 230, green < 30, blue < 30]).toEqual([true, true, true]);
	});
	test('there is none of a damaged file, of an odd shape, or of what is no PDF; it is tried once', async () => {
		const strip = await PDFDocument.create();
		strip.addPage([10, 14_000]);
		for (const [name, content] of [
			['rules.pdf', '%PDF-1.7 damaged'],
			['strip.pdf', await strip.save()],
			['notes.txt', 'Notes.']
		] as const) {
			const before = await stored();
			const id = await sent(name, content);
			expect(await first(id)).toBeNull();
			expect(await first(id)).toBeNull();
			expect(await stored()).toBe(before + 1);
		}
	});
});
