import { Readable } from 'node:stream';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { clamdScanner } from '../platform/scanning/clamd';
import { startClamdStandin, TEST_VIRUS } from '../platform/scanning/clamd-standin';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { readPapers } from './client-papers';
import { readShownPapers } from './papers-for-client';
import { openPaper } from './papers';
import { letOut, readKeptApart, removeKeptApart, scanPaper, scanWaiting } from './scanning';
import { givePaper, takeOutPapers } from './shared-papers';

useFirm();

let standin: Awaited<ReturnType<typeof startClamdStandin>>;
beforeAll(async () => (standin = await startClamdStandin()));
afterAll(() => standin.close());

const place = () => ({ ...context, scanner: clamdScanner(standin.address) });
const give = async (name: string, content: string) =>
	(
		await givePaper(context, firm.id, firm.odalys(), {
			clientId: client.id,
			name,
			content: Readable.from([Buffer.from(`%PDF-1.7 ${content}`)]),
			folder: null,
			showing: 'quietly'
		})
	).id;
const open = (id: string, scanning: boolean) => client.run((tx) => openPaper(tx, client.mara(), id, 'download', { scanning }));
const administrator = () => ({ ...firm.odalys(), role: 'administrator' as const });

test('nothing is handed out before it was looked through; without a scanner it is', async () => {
	const id = await give('lease.pdf', 'lease');
	await expect(open(id, true)).rejects.toMatchObject({ code: 'changed_meanwhile' });
	await expect(firm.run((tx) => takeOutPapers(tx, firm.odalys(), { clientId: client.id, paperIds: 'all' }, true))).rejects.toMatchObject({
		code: 'changed_meanwhile'
	});
	expect((await open(id, false)).name).toBe('lease.pdf');
	expect(await scanPaper(place(), firm.id, id, context.clock.now())).toBe('clean');
	expect((await open(id, true)).name).toBe('lease.pdf');
});

test('what something is found in is hidden, held back from everybody and in the history; an administrator decides', async () => {
	const id = await give('invoice.pdf', TEST_VIRUS);
	expect(await scanPaper(place(), firm.id, id, context.clock.now())).toBe('found');
	// also once the scanner is switched off
	for (const scanning of [true, false])
		await expect(firm.run((tx) => openPaper(tx, firm.odalys(), id, 'look', { scanning }))).rejects.toMatchObject({ code: 'unreadable_file' });
	await expect(firm.run((tx) => takeOutPapers(tx, firm.odalys(), { clientId: client.id, paperIds: [id] }))).rejects.toMatchObject({
		code: 'unreadable_file'
	});
	expect(await client.run((tx) => readShownPapers(tx, client.mara()))).toEqual([]);
	expect((await firm.run((tx) => readPapers(tx, firm.odalys(), { clientId: client.id }))).papers[0].keptApart).toBe('Eicar-Test-Signature');
	await expect(firm.run((tx) => readKeptApart(tx, firm.odalys()))).rejects.toMatchObject({ code: 'not_allowed' });
	await expect(firm.run((tx) => letOut(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'not_allowed' });
	await expect(firm.run((tx) => removeKeptApart(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'not_allowed' });
	expect((await firm.run((tx) => readKeptApart(tx, administrator()))).papers).toMatchObject([{ name: 'invoice.pdf', found: 'Eicar-Test-Signature' }]);
	await firm.run((tx) => letOut(tx, administrator(), id));
	expect((await firm.run((tx) => openPaper(tx, firm.odalys(), id, 'look', { scanning: true }))).name).toBe('invoice.pdf');
	await expect(firm.run((tx) => removeKeptApart(tx, administrator(), id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
});

test('a scanner that is down leaves everything waiting; once it answers all of it is looked through', async () => {
	for (const name of ['a.pdf', 'b.pdf', 'c.pdf']) await give(name, name);
	const down = { ...context, scanner: clamdScanner('127.0.0.1:1') };
	await expect(scanWaiting(down, firm.id, context.clock.now())).rejects.toThrow();
	expect(await firm.run((tx) => readKeptApart(tx, administrator()))).toMatchObject({ papers: [], waiting: 3 });
	expect(await scanWaiting(place(), firm.id, context.clock.now())).toBe(3);
	expect(await scanWaiting(place(), firm.id, context.clock.now())).toBe(0);
	expect(await firm.run((tx) => readKeptApart(tx, administrator()))).toMatchObject({ papers: [], waiting: 0, since: null });
});
