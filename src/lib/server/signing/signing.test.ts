import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Signature } from '$lib/core/signing/signature';
import { checkSeal } from '../platform/pdf/seal';
import { sendRequest } from '../requests/send-request';
import { waiveItem } from '../requests/judge-item';
import {
	itemsOf,
	makeClient,
	SECRET_KEY,
	makeFirm,
	openTestContext,
	letterLine,
	letterOf,
	requestTo,
	sendPlanned,
	type TestClient,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import { countersignLetter } from './countersign-letter';
import { declineLetter, noteLetterOpened, noteShownWhole, openLetterPdf, signLetter } from './sign-letter';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
const folder = mkdtempSync(join(tmpdir(), 'lantern-seal-'));
const typed: Signature = { method: 'typed', name: 'Mara Whitlock' };
const drawn: Signature = {
	method: 'drawn',
	name: 'Mara Whitlock',
	width: 340,
	height: 140,
	strokes: [
		[
			[20, 100],
			[60, 30],
			[90, 110],
			[140, 40]
		],
		[
			[160, 90],
			[300, 80]
		]
	]
};

beforeAll(async () => {
	context = await openTestContext();
	firm = await makeFirm(context);
	client = await makeClient(context, firm, { name: 'Gull & String Kites' });
});
afterAll(() => context.close());

async function newLetter(): Promise<string> {
	const requestId = await sendRequest(
		context,
		firm.id,
		firm.odalys(),
		requestTo(client, [
			letterLine('Engagement letter 2026', '2026-05-20', { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' })
		])
	);
	return (await itemsOf(context, requestId))[0].id;
}
async function signed(mark: Signature = typed): Promise<string> {
	const itemId = await newLetter();
	await client.run((tx) => noteLetterOpened(tx, client.mara(), itemId));
	await client.run((tx) => noteShownWhole(tx, client.mara(), itemId));
	await client.run((tx) => signLetter(tx, client.mara(), { itemId, signature: mark, consent: true }, SECRET_KEY));
	return itemId;
}
const digestOf = async (itemId: string) =>
	(await context.owner.query<{ sha256: string }>(`select encode(sha256, 'hex') sha256 from letter where item_id = $1`, [itemId])).rows[0].sha256;
const countersign = async (itemId: string, actor = firm.partner, sha256?: string) => {
	const shown = sha256 ?? (await digestOf(itemId));
	await firm.run((tx) =>
		countersignLetter(tx, { ...actor, now: context.clock.now() }, { itemId, sha256: shown, signature: { method: 'typed', name: actor.name } })
	);
	await letterOf(context, firm, itemId);
};
async function sealedBytes(itemId: string): Promise<Buffer> {
	const { storageKey } = await context.db.inFirm(firm.id, (tx) => openLetterPdf(tx, firm.odalys(), itemId));
	const chunks: Buffer[] = [];
	for await (const chunk of context.papers.read(storageKey)) chunks.push(chunk as Buffer);
	return Buffer.concat(chunks);
}
const certificates = async () =>
	(await context.owner.query('select root_pem, leaf_pem from seal_certificate where firm_id = $1', [firm.id])).rows[0] as {
		root_pem: string;
		leaf_pem: string;
	};
function run(command: string, ...args: string[]): string {
	const done = spawnSync(command, args, { encoding: 'utf8' });
	if (done.error) throw done.error;
	return done.stdout + done.stderr;
}

describe('signing', () => {
	test('needs the whole letter shown, and consent', async () => {
		const itemId = await newLetter();
		await expect(client.run((tx) => signLetter(tx, client.mara(), { itemId, signature: typed, consent: true }, SECRET_KEY))).rejects.toMatchObject({
			what: { key: 'letter.notShown' }
		});
		await client.run((tx) => noteShownWhole(tx, client.mara(), itemId));
		await expect(client.run((tx) => signLetter(tx, client.mara(), { itemId, signature: typed, consent: false }, SECRET_KEY))).rejects.toMatchObject({
			fields: { consent: { key: 'letter.consentMissing' } }
		});
	});

	test('signed twice at the same moment counts once', async () => {
		const itemId = await newLetter();
		await client.run((tx) => noteShownWhole(tx, client.mara(), itemId));
		const results = await Promise.allSettled(
			[1, 2].map(() => client.run((tx) => signLetter(tx, client.mara(), { itemId, signature: typed, consent: true }, SECRET_KEY)))
		);
		expect(results.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected']);
	});

	test('only the person it is for can sign; another contact of the client cannot', async () => {
		const itemId = await newLetter();
		const other = await makeClient(context, firm);
		await context.owner.query('insert into client_contact values ($1, $2, $3, 2)', [firm.id, client.id, other.contactId]);
		await context.db.inFirm(firm.id, (tx) => noteShownWhole(tx, client.mara(), itemId), client.contactId);
		await expect(
			context.db.inFirm(firm.id, (tx) => signLetter(tx, other.mara(), { itemId, signature: typed, consent: true }, SECRET_KEY), other.contactId)
		).rejects.toMatchObject({ code: 'not_allowed' });
	});

	test('somebody else of the client, who may read it, neither declines it nor counts as having been shown it', async () => {
		const itemId = await newLetter();
		const other = await makeClient(context, firm);
		await context.owner.query('insert into client_contact values ($1, $2, $3, 2)', [firm.id, client.id, other.contactId]);
		const asOther = <T>(work: Parameters<TestContext['db']['inFirm']>[1]) => context.db.inFirm(firm.id, work, other.contactId) as Promise<T>;
		await asOther((tx) => noteLetterOpened(tx, other.mara(), itemId));
		await expect(asOther((tx) => noteShownWhole(tx, other.mara(), itemId))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(asOther((tx) => declineLetter(tx, other.mara(), { itemId, reason: 'No.' }))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(client.run((tx) => signLetter(tx, client.mara(), { itemId, signature: typed, consent: true }, SECRET_KEY))).rejects.toMatchObject({
			what: { key: 'letter.notShown' }
		});
		// whoever an item is asked of later signs no letter that was made for somebody else
		await client.run((tx) => noteShownWhole(tx, client.mara(), itemId));
		await context.owner.query('update item set contact_id = $2 where id = $1', [itemId, other.contactId]);
		await expect(asOther((tx) => signLetter(tx, other.mara(), { itemId, signature: typed, consent: true }, SECRET_KEY))).rejects.toMatchObject({
			code: 'not_allowed'
		});
	});

	test('declined with a reason, waived after signing: neither can be countersigned', async () => {
		const declined = await newLetter();
		await client.run((tx) => declineLetter(tx, client.mara(), { itemId: declined, reason: 'The fee' }));
		await expect(countersign(declined)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		const waived = await signed();
		const { rows } = await context.owner.query('select version from item where id = $1', [waived]);
		await context.db.inFirm(firm.id, (tx) => waiveItem(tx, firm.odalys(), { itemId: waived, version: rows[0].version }));
		await expect(countersign(waived)).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('a name that the sealed file cannot show is refused by name; Greek and Cyrillic are shown', async () => {
		const itemId = await newLetter();
		await client.run((tx) => noteShownWhole(tx, client.mara(), itemId));
		const sign = (name: string) =>
			client.run((tx) => signLetter(tx, client.mara(), { itemId, signature: { method: 'typed', name }, consent: true }, SECRET_KEY));
		for (const name of ['張偉', 'مارا', 'מרה', 'Mara 张'])
			await expect(sign(name), name).rejects.toMatchObject({
				what: { key: 'wrong.letter.glyphs', values: { characters: expect.stringMatching(/\S/) } }
			});
		await sign('Μάρα Живкова');
		await countersign(itemId);
		writeFileSync(join(folder, 'greek.pdf'), await sealedBytes(itemId));
		expect(run('pdftotext', '-layout', join(folder, 'greek.pdf'), '-').match(/Μάρα Живкова/g)!.length).toBeGreaterThan(1);
	});

	test('everybody who was told of a letter gets the signed copy, and no more than one', async () => {
		const other = await makeClient(context, firm);
		await context.owner.query('insert into client_contact values ($1, $2, $3, 3) on conflict do nothing', [firm.id, client.id, other.contactId]);
		const requestId = await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(client, [letterLine('For both', '2026-05-20', { start_date: '1 June 2026', services: 'the books', monthly_fee: '$280' })], {
				others: [other.contactId]
			})
		);
		const [{ id }] = await itemsOf(context, requestId);
		await client.run((tx) => noteShownWhole(tx, client.mara(), id));
		await client.run((tx) => signLetter(tx, client.mara(), { itemId: id, signature: typed, consent: true }, SECRET_KEY));
		await countersign(id);
		const { rows } = await context.owner.query(`select to_address from message where kind = 'signed_copy' and content ->> 'itemId' = $1 order by 1`, [
			id
		]);
		expect(rows.map((row) => row.to_address)).toEqual([client.email, other.email].toSorted());
	});

	test('the firm signs only the letter that was shown', async () => {
		const [one, other] = [await signed(), await signed()];
		await expect(countersign(one, firm.partner, '0'.repeat(64))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(countersign(one, firm.partner, await digestOf(other))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('countersigned by two at once: sealed once, the second is told, one signed copy goes out', async () => {
		const itemId = await signed();
		const results = await Promise.allSettled([countersign(itemId), countersign(itemId, firm.coordinator)]);
		expect(results.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected']);
		const { rows } = await context.owner.query(`select count(*)::int n from message where kind = 'signed_copy' and content->>'itemId' = $1`, [
			itemId
		]);
		expect(rows[0].n).toBe(1);
		await expect(countersign(itemId, firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		context.mailer.sent.length = 0;
		await sendPlanned(context, firm);
		const copy = context.mailer.sent.findLast((m) => m.attachments.length > 0)!;
		expect(copy.attachments[0].name).toBe('Engagement letter 2026.pdf');
	});
});

describe('the sealed letter', () => {
	let file: string;
	let bytes: Buffer;
	let leafPem: string;

	beforeAll(async () => {
		const itemId = await signed(drawn);
		await countersign(itemId);
		bytes = await sealedBytes(itemId);
		file = join(folder, 'sealed.pdf');
		writeFileSync(file, bytes);
		leafPem = (await certificates()).leaf_pem;
		const { rows } = await context.owner.query('select sealed_sha256 from letter where item_id = $1', [itemId]);
		expect(createHash('sha256').update(bytes).digest().equals(rows[0].sealed_sha256)).toBe(true);
	});

	test('pdfsig: total document signed, signature valid, certificate trusted with the firm’s root', async () => {
		const database = join(folder, 'nss');
		spawnSync('mkdir', ['-p', database]);
		run('certutil', '-N', '-d', `sql:${database}`, '--empty-password');
		const root = join(folder, 'root.pem');
		writeFileSync(root, (await certificates()).root_pem);
		run('certutil', '-A', '-d', `sql:${database}`, '-n', 'firm root', '-t', 'C,C,C', '-i', root);
		const said = run('pdfsig', '-nssdir', `sql:${database}`, file);
		expect(said).toContain('Total document signed');
		expect(said).toContain('Signature is Valid');
		expect(said).toContain('Certificate is Trusted');
		expect(said).toContain('ETSI.CAdES.detached');
	});

	test('qpdf finds nothing wrong', () => {
		expect(run('qpdf', '--check', file)).toContain('No syntax or stream encoding errors found');
	});

	test('openssl agrees on the CAdES signature', async () => {
		const text = bytes.toString('latin1');
		const [, , at, end, tail] = /\/ByteRange \[ ?(\d+) (\d+) (\d+) (\d+)/.exec(text)!.map(Number);
		const hex = text.slice(at + 1, end - 1);
		const padded = Buffer.from(hex, 'hex');
		const cms = padded.subarray(0, 4 + padded.readUInt16BE(2));
		writeFileSync(join(folder, 'cms.der'), cms);
		writeFileSync(join(folder, 'content'), Buffer.concat([bytes.subarray(0, at), bytes.subarray(end, end + tail)]));
		const said = run(
			'openssl',
			'cms',
			'-verify',
			'-cades',
			'-binary',
			'-inform',
			'DER',
			'-in',
			join(folder, 'cms.der'),
			'-content',
			join(folder, 'content'),
			'-CAfile',
			join(folder, 'root.pem'),
			'-purpose',
			'any',
			'-out',
			'/dev/null'
		);
		expect(said).toMatch(/successful/i);
	});

	test('holds the words, both signatures and the certificate page with the digest of what was shown', async () => {
		const said = run('pdftotext', '-layout', file, '-');
		for (const words of [
			'Gull & String Kites',
			'$280',
			'Certificate of signing',
			'Ferrin Ashgrove',
			'Mara Whitlock',
			'The whole letter was shown to Mara Whitlock (203.0.113.9)',
			'signature drawn'
		])
			expect(said).toContain(words);
		// the signatures stand under the letter, on its last page, not only on the certificate
		const { rows: placed } = await context.owner.query('select pages, signature_page from letter where sealed_key is not null limit 1');
		expect(placed[0].signature_page).toBe(placed[0].pages);
		const last = run('pdftotext', '-layout', '-f', String(placed[0].pages), '-l', String(placed[0].pages), file, '-');
		for (const words of ['With kind regards', 'for Gull & String Kites', 'for Pennywhistle Row Bookkeeping', 'Signed 4 May 2026'])
			expect(last).toContain(words);
		const { rows } = await context.owner.query(`select encode(sha256, 'hex') hex from letter where sealed_sha256 = $1`, [
			createHash('sha256').update(bytes).digest()
		]);
		expect(said.replace(/\s/g, '')).toContain(rows[0].hex);
		expect(said).not.toContain('{');
	});

	test('our own check accepts it and refuses it for another firm', async () => {
		expect(await checkSeal(bytes, [leafPem])).toMatchObject({ ok: true });
		const stranger = await makeFirm(context);
		const { rows } = await context.owner.query('select leaf_pem from seal_certificate where firm_id = $1', [stranger.id]);
		expect(await checkSeal(bytes, [rows[0].leaf_pem])).toEqual({ ok: false, why: 'it was sealed by somebody else' });
		expect(await checkSeal(Buffer.from('hello'), [leafPem])).toMatchObject({ ok: false });
	});

	test('every single changed byte is refused: the whole seal and a spread over the rest', async () => {
		const [at, end] = /\/ByteRange \[ ?0 (\d+) (\d+)/.exec(bytes.toString('latin1'))!.slice(1).map(Number);
		const places = new Set<number>([0, at - 1, at, at + 1, end - 2, end - 1, end, bytes.length - 1]);
		for (let i = at; i < at + 2600; i += 3) places.add(i);
		for (let i = at + 2600; i < end; i += 401) places.add(i);
		// the signature's own value is what the library reads most loosely: each digit of it
		const padding = bytes.toString('latin1', at + 1, end - 1).search(/0*$/);
		for (let i = at + 1 + padding - 160; i < at + 1 + padding + 2; i++) places.add(i);
		for (let i = 0; i < bytes.length; i += 1009) places.add(i);
		const rangeAt = bytes.indexOf('/ByteRange');
		for (let i = 0; i < 60; i++) places.add(rangeAt + i);
		const accepted: string[] = [];
		for (const place of places)
			for (const change of [0x01, 0x20]) {
				const changed = Buffer.from(bytes);
				changed[place] ^= change;
				if ((await checkSeal(changed, [leafPem])).ok)
					accepted.push(`${place} (seal at ${at} to ${end}): ${bytes.toString('latin1', place - 8, place + 8)}`);
			}
		expect(accepted).toEqual([]);
	}, 300_000);

	test('text added behind, capital hex and a second seal are refused, also where pdfsig says valid', async () => {
		expect((await checkSeal(Buffer.concat([bytes, Buffer.from('\n%added')]), [leafPem])).ok).toBe(false);
		const at = Number(/\/ByteRange \[ ?0 (\d+)/.exec(bytes.toString('latin1'))![1]);
		const capital = Buffer.from(bytes);
		capital.write(capital.toString('latin1', at + 1, at + 400).toUpperCase(), at + 1, 'latin1');
		writeFileSync(join(folder, 'capital.pdf'), capital);
		expect(run('pdfsig', join(folder, 'capital.pdf'))).toContain('Signature is Valid');
		expect((await checkSeal(capital, [leafPem])).ok).toBe(false);
		expect((await checkSeal(Buffer.concat([bytes, Buffer.from('/ByteRange [0 1 2 3]')]), [leafPem])).ok).toBe(false);
		expect(readFileSync(file).equals(bytes)).toBe(true);
	});
});
