import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { createCanvas } from '@napi-rs/canvas';
import { PDFDocument, PDFName, PDFString } from '@cantoo/pdf-lib';
import { describe, expect, test } from 'vitest';
import type { PagePlan } from '$lib/core/papers/page-plan';
import { sendRequest } from '../requests/send-request';
import { checkedPdf, numberedPdf } from '../testing/numbered-pdf';
import { itemsOf, makeClient, paperLine, requestTo } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { arrangePages, readPagedPapers } from './arrange-pages';
import { fileArrival, keepArrival, putAwayArrival, readDealtArrivals, readOwnArrivals, takeInArrival, unfileArrival } from './arrivals';

useFirm();

/** What a camera notes about how it was held (EXIF), to stand after the first two bytes of a JPEG. */
const exifOf = (orientation: number) =>
	Buffer.from([0xff, 0xe1, 0, 0x22, ...Buffer.from('Exif\0\0MM\0*'), 0, 0, 0, 8, 0, 1, 1, 0x12, 0, 3, 0, 0, 0, 1, 0, orientation, 0, 0, 0, 0, 0, 0]);
const send = async (name: string, content: Uint8Array, of = client) =>
	(await takeInArrival(context, firm.id, of.mara(), { clientId: of.id, name, content: Readable.from([content]) })).id;
const page = (paperId: string, number: number, turn: 0 | 90 | 180 | 270 = 0) => ({ paperId, page: number, turn });
const arrange = (plan: PagePlan, by = firm.odalys()) => arrangePages(context, firm.id, by, plan);
const rowsOf = async (ids: readonly string[]) =>
	(
		await context.owner.query<{ id: string; name: string; place: string; waits: boolean; pages: number | null; gone: boolean; key: string }>(
			`select id, name, place, waits, pages, removed_at is not null gone, storage_key "key" from paper where id = any ($1) order by array_position($1, id)`,
			[ids]
		)
	).rows;
/** The words of each page, as a program that is not ours reads them. */
async function read(paperId: string): Promise<{ words: string[]; file: string }> {
	const [{ key }] = await rowsOf([paperId]);
	const file = checkedPdf(await buffer(context.papers.read(key)));
	const words = execFileSync('pdftotext', [file, '-'], { encoding: 'utf8' })
		.split('\f')
		.slice(0, -1)
		.map((text) => text.trim());
	return { words, file };
}

describe('splitting, joining, turning and leaving out', () => {
	test('one file becomes two, without a page, and each waits for its place as from who sent it', async () => {
		const scan = await send('scan.pdf', await numberedPdf(4));
		const made = await arrange([
			{ name: 'Lease/1', pages: [page(scan, 1), page(scan, 2, 90)] },
			{ name: 'Bill.pdf', pages: [page(scan, 4)] }
		]);
		expect(await rowsOf([...made, scan])).toMatchObject([
			{ name: 'Lease-1.pdf', place: 'waits', pages: 2 },
			{ name: 'Bill.pdf', place: 'waits', pages: 1 },
			{ name: 'scan.pdf', place: 'away', waits: false }
		]);
		const { words, file } = await read(made[0]);
		expect(words).toEqual(['Sheet 1', 'Sheet 2']);
		expect(execFileSync('pdfinfo', ['-l', '2', file], { encoding: 'utf8' })).toMatch(/Page +1 rot: +0[\s\S]*Page +2 rot: +90/);
		expect((await read(made[1])).words).toEqual(['Sheet 4']);
		const { rows } = await context.owner.query('select name, uploaded_by_contact_id is not null sent from paper where id = any ($1)', [made]);
		expect(rows.every(({ sent }) => sent)).toBe(true);
	});
	test('two files and a photo become one, each page where it was put; the photo stands upright', async () => {
		const [first, second] = [await send('a.pdf', await numberedPdf(2)), await send('b.pdf', await numberedPdf(1))];
		const canvas = createCanvas(60, 30);
		canvas.getContext('2d').fillRect(0, 0, 60, 30);
		const jpeg = await canvas.encode('jpeg', 90);
		// the camera says that it was held upright (EXIF orientation 6)
		const photo = await send('photo.jpg', Buffer.concat([jpeg.subarray(0, 2), exifOf(6), jpeg.subarray(2)]));
		const [made] = await arrange([{ name: 'All', pages: [page(second, 1), page(first, 2), page(photo, 1), page(first, 1)] }]);
		const { words, file } = await read(made);
		expect(words).toEqual(['Sheet 1', 'Sheet 2', '', 'Sheet 1']);
		const [, wide, high] = /Page +3 size: +([\d.]+) x ([\d.]+)/.exec(execFileSync('pdfinfo', ['-f', '3', '-l', '3', file], { encoding: 'utf8' }))!;
		expect(Number(high)).toBeGreaterThan(Number(wide));
		expect(await rowsOf([first, second, photo])).toMatchObject([{ place: 'away' }, { place: 'away' }, { place: 'away' }]);
	});
	test('what a page does when it is opened is left behind, what only is protected against changes is taken', async () => {
		const pdf = await PDFDocument.load(await numberedPdf(1));
		pdf.getPage(0).node.set(PDFName.of('AA'), pdf.context.obj({ O: { S: 'JavaScript', JS: PDFString.of('app.alert(1)') } }));
		const folder = mkdtempSync(join(tmpdir(), 'lantern-locked-'));
		const [plain, locked] = [join(folder, 'plain.pdf'), join(folder, 'locked.pdf')];
		writeFileSync(plain, await pdf.save());
		execFileSync('qpdf', ['--encrypt', '', 'owner', '256', '--modify=none', '--', plain, locked]);
		const scan = await send('locked.pdf', readFileSync(locked));
		const [made] = await arrange([{ name: 'Open', pages: [page(scan, 1, 180)] }]);
		const { words, file } = await read(made);
		expect(words).toEqual(['Sheet 1']);
		expect(execFileSync('qpdf', ['--qdf', file, '-'], { encoding: 'latin1' })).not.toContain('JavaScript');
	});
});

describe('what stands against it', () => {
	const plan = (paperId: string, number = 1): PagePlan => [{ name: 'x', pages: [page(paperId, number)] }];
	test('a password, a damaged file, a page that is not there: nothing is changed', async () => {
		const folder = mkdtempSync(join(tmpdir(), 'lantern-locked-'));
		writeFileSync(join(folder, 'plain.pdf'), await numberedPdf(1));
		execFileSync('qpdf', ['--encrypt', 'secret', 'owner', '256', '--', join(folder, 'plain.pdf'), join(folder, 'locked.pdf')]);
		const locked = await send('locked.pdf', readFileSync(join(folder, 'locked.pdf')));
		await expect(arrange(plan(locked))).rejects.toMatchObject({
			code: 'unreadable_file',
			message: expect.stringContaining('locked with a password')
		});
		const broken = await send('broken.pdf', Buffer.from('%PDF-1.7 nothing that follows makes sense'));
		await expect(arrange(plan(broken))).rejects.toMatchObject({ code: 'unreadable_file' });
		const short = await send('short.pdf', await numberedPdf(1));
		await expect(arrange(plan(short, 2))).rejects.toMatchObject({ code: 'changed_meanwhile', message: 'short.pdf has only 1 pages.' });
		expect(await rowsOf([locked, broken, short])).toMatchObject([{ waits: true }, { waits: true }, { waits: true }]);
	});
	test('what has its place, is of two clients, another firm’s or not theirs to file', async () => {
		const [mine, gone] = [await send('mine.pdf', await numberedPdf(1)), await send('gone.pdf', await numberedPdf(1))];
		await firm.run((tx) => keepArrival(tx, firm.odalys(), gone));
		await expect(arrange(plan(gone))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		const other = await makeClient(context, firm);
		const theirs = await send('theirs.pdf', await numberedPdf(1), other);
		await expect(arrange([{ name: 'x', pages: [page(mine, 1), page(theirs, 1)] }])).rejects.toMatchObject({ code: 'not_found' });
		await expect(arrange(plan(mine), client.mara())).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(firm.run((tx) => readPagedPapers(tx, client.mara(), mine))).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('of two people who arrange the same file at once one is told', async () => {
		const scan = await send('scan.pdf', await numberedPdf(2));
		const done = await Promise.allSettled([arrange(plan(scan)), arrange(plan(scan, 2))]);
		expect(done.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
		expect(done.find((one) => one.status === 'rejected')!.reason).toMatchObject({ code: 'changed_meanwhile' });
	});
});

describe('taking it back', () => {
	const take = (paperId: string) => firm.run((tx) => unfileArrival(tx, firm.odalys(), paperId));
	test('what came waits again and what was made is gone, until a part has its place', async () => {
		const scan = await send('scan.pdf', await numberedPdf(3));
		const made = await arrange([
			{ name: 'one', pages: [page(scan, 1)] },
			{ name: 'two', pages: [page(scan, 2)] }
		]);
		expect((await firm.run((tx) => readDealtArrivals(tx, firm.odalys()))).find(({ id }) => id === scan)).toMatchObject({ madeInto: 2, kept: false });
		const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')])));
		await firm.run((tx) => fileArrival(tx, firm.odalys(), { paperId: made[0], itemId: item.id, slot: null }));
		// the client reads what became of what they sent, and nothing of how it was divided
		const own = await client.run((tx) => readOwnArrivals(tx, client.mara()));
		expect(own.filter(({ id }) => [scan, ...made].includes(id))).toMatchObject([{ name: 'scan.pdf', filedUnder: 'Lease', waits: false }]);
		await expect(take(scan)).rejects.toThrow('one.pdf was made of its pages and has its place. Take that back first.');
		await take(made[0]);
		await firm.run((tx) => putAwayArrival(tx, firm.odalys(), made[1]));
		await take(scan);
		expect(await rowsOf([scan, ...made])).toMatchObject([{ waits: true }, { gone: true }, { gone: true }]);
	});
	test('what was taken apart twice comes back in the order in which it went', async () => {
		const scan = await send('scan.pdf', await numberedPdf(2));
		const [half] = await arrange([{ name: 'both', pages: [page(scan, 1), page(scan, 2)] }]);
		await arrange([{ name: 'one', pages: [page(half, 1)] }]);
		await expect(take(scan)).rejects.toThrow('was taken apart again');
		await take(half);
		await take(scan);
		expect(await rowsOf([scan, half])).toMatchObject([{ waits: true }, { gone: true }]);
	});
});
