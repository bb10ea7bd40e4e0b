import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { createCanvas } from '@napi-rs/canvas';
import { beforeEach, expect, test } from 'vitest';
import type { LetterDocument } from '$lib/core/letters/letter-document';
import { readEntry } from '$lib/core/signing/trail';
import type { Actor } from '../actor';
import { loadFirm } from '../firms/firm';
import { readItem } from '../items/read-items';
import { readPossibleScans } from '../papers/possible-scans';
import { openPaper, takeInPaper } from '../papers/papers';
import { readRounds } from '../rounds/read-rounds';
import { findSealedFile } from '../signing/check-file';
import { countersignLetter } from '../signing/countersign-letter';
import { readLetterTrail } from '../signing/letter-trail';
import { noteShownWhole, openLetterPdf, readLastMark, signLetter } from '../signing/sign-letter';
import { itemsOf, letterLine, letterOf, makeClient, paperLine, requestTo, SECRET_KEY, sendPlanned } from '../testing/test-firm';
import { testPdf } from '../testing/test-pdf';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { lapseLetters, tellOfLapses } from './lapse-letters';
import { sendRequest } from './send-request';
import { returnSignedPaper, sendSignedPaper, takeSignedPaper, takeSignedPaperSchema } from './signed-on-paper';

useFirm();
const VALUES = { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' };
let itemId: string;
beforeEach(async () => {
	const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [letterLine('Engagement letter', '2026-05-20', VALUES)]));
	itemId = (await itemsOf(context, requestId))[0].id;
	await sendPlanned(context, firm);
});
const add = async (name: string, bytes: Buffer, to = itemId, by: Actor = client.mara()) =>
	(await takeInPaper(context, firm.id, by, { itemId: to, name, content: Readable.from([bytes]) })).id;
const page = (words: string) => testPdf([{ lines: [[words, 60, 700]] }]);
const photo = () => {
	const canvas = createCanvas(300, 400);
	const drawing = canvas.getContext('2d');
	drawing.fillStyle = '#fff';
	drawing.fillRect(0, 0, 300, 400);
	return canvas.toBuffer('image/jpeg');
};
const send = () => client.run((tx) => sendSignedPaper(tx, client.mara(), itemId));
const take = (paperIds: string[], more: object = {}, actor: Actor = firm.odalys()) =>
	takeSignedPaper(context, firm.id, actor, { itemId, signer: 'a', paperIds, signedOn: '2026-05-04', looked: 'yes', scanning: false, ...more });
const letterState = async () => (await context.owner.query<{ state: string }>('select state from letter where item_id = $1', [itemId])).rows[0].state;
const held = async () => (await context.owner.query<{ h: boolean }>('select asks_us h from item where id = $1', [itemId])).rows[0].h;
const rounds = async () =>
	(await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (date) => date }))).rows.filter(
		({ section }) => section === 'on_paper'
	);
function run(command: string, ...args: string[]): string {
	const done = spawnSync(command, args, { encoding: 'utf8' });
	if (done.error) throw done.error;
	return done.stdout + done.stderr;
}
async function sealedText(): Promise<{ text: string; file: string }> {
	const { rows } = await context.owner.query<{ sha256: string }>(`select encode(sha256, 'hex') sha256 from letter where item_id = $1`, [itemId]);
	await firm.run((tx) =>
		countersignLetter(tx, firm.partner, { itemId, sha256: rows[0].sha256, signature: { method: 'typed', name: firm.partner.name } })
	);
	await letterOf(context, firm, itemId);
	const { storageKey } = await firm.run((tx) => openLetterPdf(tx, firm.odalys(), itemId, true));
	const file = join(mkdtempSync(join(tmpdir(), 'lantern-paper-')), 'letter.pdf');
	writeFileSync(file, await buffer(context.papers.read(storageKey)));
	return { text: run('pdftotext', '-layout', file, '-').replace(/\s+/g, ' '), file };
}

test('pages signed by hand are looked at, sent back with why, sent again and taken; the sealed file holds them and says what it is', async () => {
	await expect(send()).rejects.toMatchObject({ code: 'invalid' });
	const blank = await add('blank.pdf', await page('nothing here'));
	// what is not sent yet is theirs
	const scans = () =>
		firm.run((tx) => readPossibleScans(tx, firm.odalys(), { clientId: client.id, letterId: '00000000-0000-4000-8000-000000000000' }));
	expect(await scans()).toEqual([]);
	await Promise.all([send(), send()]);
	expect(await held()).toBe(true);
	expect((await rounds()).map(({ words }) => words)).toEqual(['Engagement letter: Mara Whitlock sent it signed by hand']);
	expect((await scans()).map(({ name }) => name)).toEqual(['blank.pdf']);

	context.mailer.sent.length = 0;
	await firm.run((tx) => returnSignedPaper(tx, firm.odalys(), { itemId, signer: 'a', reason: 'The last page is missing.' }));
	await sendPlanned(context, firm);
	expect(context.mailer.sent.map(({ text }) => text).join()).toContain('The last page is missing.');
	expect([await held(), (await rounds()).length]).toEqual([false, 0]);
	await expect(firm.run((tx) => returnSignedPaper(tx, firm.odalys(), { itemId, signer: 'a', reason: 'Again.' }))).rejects.toMatchObject({
		code: 'changed_meanwhile'
	});

	const [whole, last] = [
		await add('whole.pdf', await testPdf([{ lines: [['Signed in ink', 60, 700]] }, { turn: 90 }])),
		await add('last.jpg', photo())
	];
	await send();
	await take([whole, last]);
	expect(await letterState()).toBe('signed');
	expect([await held(), (await rounds()).length]).toEqual([false, 0]);
	const read = await firm.run((tx) => readItem(tx, firm.odalys(), itemId));
	expect(read.state).toBe('handed_in');
	expect(read.letter!.signers[0]).toMatchObject({ name: 'Mara Whitlock', state: 'signed', onPaper: true, onPaperAt: null });
	// it is nobody's to use again on a screen
	expect(await client.run((tx) => readLastMark(tx, client.mara()))).toBeNull();

	const { text, file } = await sealedText();
	const { rows } = await context.owner.query<{ pages: number }>('select pages from letter where item_id = $1', [itemId]);
	expect(text).toContain(`signed by hand: page ${rows[0].pages + 1}`);
	expect(text).toContain('Signed in ink');
	expect(text).toContain('signed by hand on 4 May 2026');
	expect(text).toContain('Odalys Fenwick looked at them and took them as signed');
	expect(text).toMatch(/whole\.pdf \(SHA-256 [0-9a-f ]{64,}\); last\.jpg/);
	expect(text).toContain('Odalys Fenwick took the letter as signed by Mara Whitlock by hand');
	// nobody's address on the network stands for a signature that was made in ink
	expect(text).not.toMatch(/signed by hand on 4 May 2026 · \d+\.\d+/);
	expect(run('pdfinfo', file)).toMatch(new RegExp(`Pages:\\s+${rows[0].pages + 3 + 1}\\b`));
	expect(run('pdfsig', '-nocert', file)).toContain('Signature is Valid');
	expect(run('qpdf', '--check', file)).toContain('No syntax or stream encoding errors');
	const digest = createHash('sha256').update(readFileSync(file)).digest('hex');
	const checked = await findSealedFile(context, firm.id, client.mara(), digest);
	expect(checked!.signers.map(({ name, onPaper }) => [name, onPaper])).toEqual([
		['Mara Whitlock', true],
		['Ferrin Ashgrove', false]
	]);
	const { entries, brokenAt } = await firm.run((tx) => readLetterTrail(tx, firm.odalys(), itemId));
	expect(brokenAt).toBeNull();
	expect(entries.map(({ said }) => readEntry(said).what).filter((what) => what.startsWith('letter_paper'))).toEqual([
		'letter_paper_sent',
		'letter_paper_returned',
		'letter_paper_sent',
		'letter_paper_taken'
	]);
	expect(blank).not.toBe(whole);
});

test('what came another way is taken too, at once and once; what cannot be one is refused, and nothing is left behind', async () => {
	const other = await makeClient(context, firm, { name: 'Ferry', email: 'ferry@client.example' });
	const paperOf = async (of: typeof client, name: string, bytes: Buffer) => {
		const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(of, [paperLine('Scan', '2026-05-20')]));
		const id = await add(name, bytes, (await itemsOf(context, requestId))[0].id, of.mara());
		await context.owner.query(`update item set state = 'handed_in' where request_id = $1`, [requestId]);
		return id;
	};
	const scan = await paperOf(client, 'scan.pdf', await page('Signed in ink'));
	const theirs = await paperOf(other, 'theirs.pdf', await page('Signed in ink'));
	const words = await paperOf(client, 'words.txt', Buffer.from('I have signed.'));
	await expect(take([theirs])).rejects.toMatchObject({ code: 'not_found' });
	await expect(take([scan, words])).rejects.toMatchObject({ code: 'unreadable_file' });
	await expect(take([scan], { signer: 'b' })).rejects.toMatchObject({ code: 'not_found' });
	for (const signedOn of ['2026-05-05', '2026-05-03']) await expect(take([scan], { signedOn })).rejects.toMatchObject({ code: 'invalid' });
	await expect(take([scan], {}, { ...firm.filing })).rejects.toMatchObject({ code: 'not_allowed' });
	expect(takeSignedPaperSchema.safeParse({ signer: 'a', paperIds: [scan], signedOn: '2026-05-04' }).success).toBe(false);
	expect(takeSignedPaperSchema.safeParse({ signer: 'a', paperIds: [], signedOn: '2026-05-04', looked: 'yes' }).success).toBe(false);
	expect(await letterState()).toBe('sent');
	const outcome = await Promise.allSettled([take([scan]), take([scan])]);
	expect(outcome.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected']);
	const { rows } = await context.owner.query<{ key: string; by: string | null; whose: string }>(
		'select scan_key key, staff_id by, contact_id whose from signature where firm_id = $1',
		[firm.id]
	);
	expect(rows).toEqual([{ key: expect.any(String), by: null, whose: client.contactId }]);
	expect((await sealedText()).text).toContain('Signed in ink');
});

test('only who signs adds pages and says that they are there; another way stays open until they are taken', async () => {
	const second = await makeClient(context, firm, { name: 'Gull Two', email: 'second@client.example' });
	await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank, role) values ($1, $2, $3, 2, $4)', [
		firm.id,
		client.id,
		second.contactId,
		''
	]);
	const spouse = second.mara();
	await expect(add('mine.pdf', await page('x'), itemId, spouse)).rejects.toMatchObject({ code: 'not_allowed' });
	const mine = await add('signed.pdf', await page('Signed in ink'));
	await expect(context.db.inFirm(firm.id, (tx) => sendSignedPaper(tx, spouse, itemId), spouse.id!)).rejects.toMatchObject({ code: 'not_allowed' });
	await expect(context.db.inFirm(firm.id, (tx) => openPaper(tx, spouse, mine, 'look'), spouse.id!)).rejects.toMatchObject({ code: 'not_found' });
	await send();
	// they sign on their page after all: what came on paper is taken no more
	await client.run((tx) => noteShownWhole(tx, client.mara(), itemId));
	await client.run((tx) =>
		signLetter(tx, client.mara(), { itemId, signature: { method: 'typed', name: 'Mara Whitlock' }, consent: true }, SECRET_KEY)
	);
	expect(await rounds()).toEqual([]);
	await expect(take([mine])).rejects.toMatchObject({ code: 'changed_meanwhile' });
	await expect(send()).rejects.toMatchObject({ code: 'changed_meanwhile' });
	expect((await sealedText()).text).not.toContain('Signed in ink');
});

test('a letter that asks for an account is not signed on paper', async () => {
	const document: LetterDocument = { type: 'doc', content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Pay' }] }, { type: 'payment' }] };
	const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [letterLine('Payment', '2026-05-20', {}, document)]));
	itemId = (await itemsOf(context, requestId))[0].id;
	const paper = await add('signed.pdf', await page('12345'));
	await expect(send()).rejects.toMatchObject({ code: 'invalid' });
	await expect(take([paper])).rejects.toThrow('kept encrypted');
});

test('a letter does not lapse while pages wait to be looked at, and nobody is told that it will', async () => {
	await context.owner.query(`update letter set lapses_on = '2026-05-06' where item_id = $1`, [itemId]);
	const at = async (now: string) => {
		context.clock.set(now);
		context.mailer.sent.length = 0;
		await lapseLetters(context.db, firm.id, now);
		await tellOfLapses(context.db, firm.id, now);
		await sendPlanned(context, firm);
		return [await letterState(), context.mailer.sent.length];
	};
	await add('signed.pdf', await page('Signed in ink'));
	await send();
	expect(await at('2026-05-05T14:00:00Z')).toEqual(['sent', 0]);
	expect(await at('2026-05-08T14:00:00Z')).toEqual(['sent', 0]);
	// sent back after its last day it lapses, as it would have
	await firm.run((tx) => returnSignedPaper(tx, firm.odalys(), { itemId, signer: 'a', reason: 'Too late, and not whole.' }));
	expect((await at('2026-05-08T14:05:00Z'))[0]).toBe('lapsed');
});
