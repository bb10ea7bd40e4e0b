import { Readable } from 'node:stream';
import { expect, test } from 'vitest';
import { carriedWords } from '$lib/core/signing/carry-places';
import { makeFirm } from '../testing/test-firm';
import { testPdf, type TestPage } from '../testing/test-pdf';
import { context, firm, useFirm } from '../testing/use-firm';
import { compareAttachments, takeInAttachment } from './attachments';

useFirm({ withClient: false });
const add = async (name: string, content: Buffer) =>
	(await takeInAttachment(context, firm.id, firm.odalys(), { name, content: Readable.from([content]) })).id;
const terms = (fee: string): TestPage => ({
	lines: [
		['What it costs', 60, 720],
		[`The fee is ${fee} a month.`, 60, 690]
	]
});
const signing = (down: number): TestPage => ({
	lines: [
		['For the client', 60, 640 - down],
		['Signature: ______________________________', 60, 600 - down],
		['For us', 60, 500 - down],
		['Signature: ______________________________', 60, 460 - down]
	]
});

test('a new edition of a PDF: the places go with their words, and what it says otherwise is named', async () => {
	const before = await add('2026.pdf', await testPdf([terms('$300'), signing(0)]));
	const after = await add('2027.pdf', await testPdf([terms('$340'), { lines: [['A page in between', 60, 700]] }, signing(120)]));
	// points from the upper left corner of a page of 792
	const places = [
		{ page: 2, x: 120, y: 150, width: 190, height: 44 },
		{ page: 2, x: 120, y: 290, width: 190, height: 44 }
	];
	const edition = await compareAttachments(context, firm.id, firm.odalys(), { before, after, places });
	expect(edition.carried.map(({ page, x, y, how }) => [page, Math.round(x), Math.round(y), how])).toEqual([
		[3, 120, 270, 'moved'],
		[3, 120, 410, 'moved']
	]);
	expect(carriedWords(edition.carried)).toBe('2 places went with their words.');
	expect(edition.pages).toHaveLength(3);
	expect(edition.found.map(({ page, kind }) => [page, kind])).toEqual([
		[3, 'signature'],
		[3, 'signature']
	]);
	const parts = edition.changes.passages.flat();
	expect(
		parts
			.filter(({ is }) => is === 'removed')
			.map(({ text }) => text)
			.join()
	).toContain('300');
	expect(
		parts
			.filter(({ is }) => is === 'added')
			.map(({ text }) => text)
			.join()
	).toContain('340');
});

test('only by who may send, only of this firm, and only what can be signed', async () => {
	const before = await add('2026.pdf', await testPdf([terms('$300')]));
	const words = await add('words.txt', Buffer.from('Terms'));
	const compare = (after: string, actor = firm.odalys()) => compareAttachments(context, firm.id, actor, { before, after, places: [] });
	await expect(compare(words)).rejects.toMatchObject({ code: 'unreadable_file' });
	await expect(compare(before, firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
	const other = await makeFirm(context);
	await expect(compareAttachments(context, other.id, other.odalys(), { before, after: before, places: [] })).rejects.toMatchObject({
		code: 'not_found'
	});
});
