import { readdir } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { makeClient, makeFirm, openTestHouse, paperLine, requestTo, type TestClient, type TestFirm, type TestHouse } from '../testing/test-firm';
import { openAttachment, readAttachments, takeInAttachment } from './attachments';
import { sendRequest } from './send-request';

let house: TestHouse;
let firm: TestFirm;
let client: TestClient;
beforeAll(async () => {
	house = await openTestHouse();
	firm = await makeFirm(house);
	client = await makeClient(house, firm);
});
afterAll(() => house.close());

const take = (name: string, content: string, who = firm.odalys()) =>
	takeInAttachment(house, firm.id, who, { name, content: Readable.from([Buffer.from(content)]) });
const stored = async () => (await readdir(house.papersFolder, { recursive: true, withFileTypes: true })).filter((entry) => entry.isFile()).length;

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
			house,
			firm.id,
			firm.odalys(),
			requestTo(client, [{ ...paperLine('A', '2026-05-20'), attachments: [file.id] }])
		);
		expect(await client.run((tx) => openAttachment(tx, client.mara(), file.id))).toMatchObject({ name: 'rules.pdf' });
		await firm.run((tx) => openAttachment(tx, firm.odalys(), file.id));
		const { rows } = await house.owner.query(`select actor_name, request_id, details from event where verb = 'attachment_opened'`);
		expect(rows).toEqual([{ actor_name: 'Mara Whitlock', request_id: requestId, details: { name: 'rules.pdf' } }]);
		const stranger = await makeClient(house, firm, { name: 'Other' });
		await expect(stranger.run((tx) => openAttachment(tx, stranger.mara(), file.id))).rejects.toMatchObject({ code: 'not_found' });
		const elsewhere = await makeFirm(house);
		await expect(elsewhere.run((tx) => openAttachment(tx, elsewhere.odalys(), file.id))).rejects.toMatchObject({ code: 'not_found' });
	});
});
