import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { crc32, deflateSync } from 'node:zlib';
import { createCanvas } from '@napi-rs/canvas';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { signatureSchema, type Signature } from '$lib/core/signing/signature';
import { readEntry } from '$lib/core/signing/trail';
import { waiveItem } from '../requests/judge-item';
import { sendRequest } from '../requests/send-request';
import { threadedPdfWork, type PdfWork } from '../platform/pdf/pdf-work';
import { checkSeal } from '../platform/pdf/seal';
import { trailEndOf } from '../platform/pdf/seal-letter';
import { startTimeStampStandin, type TimeStampStandin } from '../platform/time-stamps/standin';
import { fetchTimeStamp, readTimeStamp } from '../platform/time-stamps/time-stamp';
import {
	itemsOf,
	letterLine,
	letterOf,
	makeClient,
	makeFirm,
	openTestContext,
	requestTo,
	SECRET_KEY,
	sendPlanned,
	type TestClient,
	type TestContext,
	type TestFirm
} from '../testing/test-firm';
import { countersignLetter } from './countersign-letter';
import { exportLetterTrail, readLetterTrail } from './letter-trail';
import { declineLetter, noteLetterOpened, noteShownWhole, openLetterPdf, readLastMark, signLetter } from './sign-letter';
import { requirePicture } from './signature-picture';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
let standin: TimeStampStandin;
let stamping: PdfWork;
const folder = mkdtempSync(join(tmpdir(), 'lantern-proof-'));

beforeAll(async () => {
	context = await openTestContext();
	firm = await makeFirm(context);
	client = await makeClient(context, firm, { name: 'Gull & String Kites' });
	standin = await startTimeStampStandin({ port: 0, folder: join(folder, 'tsa') });
	stamping = threadedPdfWork({ timeStamps: standin.url });
});
afterAll(async () => {
	await stamping.close();
	await standin.close();
	await context.close();
});

function run(command: string, ...args: string[]): { said: string; code: number | null } {
	const done = spawnSync(command, args, { encoding: 'utf8' });
	if (done.error) throw done.error;
	return { said: done.stdout + done.stderr, code: done.status };
}
async function newLetter(title = 'Engagement letter 2026'): Promise<string> {
	const values = { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' };
	const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [letterLine(title, '2026-05-20', values)]));
	return (await itemsOf(context, requestId))[0].id;
}
async function signedByMara(itemId: string): Promise<void> {
	const mara = { ...client.mara(), userAgent: 'Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0' };
	await client.run((tx) => noteLetterOpened(tx, mara, itemId));
	await client.run((tx) => noteShownWhole(tx, mara, itemId));
	await client.run((tx) =>
		signLetter(tx, mara, { itemId, signature: { method: 'typed', name: 'Mara “M.” Whitlock\\é' }, consent: true }, SECRET_KEY)
	);
}
async function countersigned(itemId: string): Promise<void> {
	const { rows } = await context.owner.query<{ sha256: string }>(`select encode(sha256, 'hex') sha256 from letter where item_id = $1`, [itemId]);
	const by = { ...firm.partner, now: context.clock.now() };
	await firm.run((tx) => countersignLetter(tx, by, { itemId, sha256: rows[0].sha256, signature: { method: 'typed', name: by.name } }));
}
const trailOf = (itemId: string) => firm.run((tx) => readLetterTrail(tx, firm.odalys(), itemId));
const whatOf = async (itemId: string) => (await trailOf(itemId)).entries.map(({ said }) => readEntry(said).what);
async function sealedBytes(itemId: string): Promise<Buffer> {
	const { storageKey } = await firm.run((tx) => openLetterPdf(tx, firm.odalys(), itemId, true));
	return buffer(context.papers.read(storageKey));
}
const leaf = async () => (await context.owner.query('select leaf_pem, root_pem from seal_certificate where firm_id = $1', [firm.id])).rows[0];

describe('the trail of a letter', () => {
	let itemId: string;
	beforeAll(async () => {
		itemId = await newLetter();
		await sendPlanned(context, firm);
		await signedByMara(itemId);
		await countersigned(itemId);
		await letterOf(context, firm, itemId);
	});

	test('holds what both sides did, each with person, address, place and device', async () => {
		const { entries, brokenAt } = await trailOf(itemId);
		expect(brokenAt).toBeNull();
		const read = entries.map(({ said }) => readEntry(said));
		expect(read.map(({ what }) => what)).toEqual([
			'request_sent',
			'message_sent',
			'letter_opened',
			'letter_shown_whole',
			'letter_signed',
			'letter_countersigned',
			'letter_sealed'
		]);
		expect(read[4]).toMatchObject({
			by: 'contact',
			who: 'Mara Whitlock',
			address: client.email,
			ip: '203.0.113.9',
			device: expect.stringContaining('Firefox'),
			details: { method: 'typed', as: 'Mara “M.” Whitlock\\é' }
		});
		expect(read[5]).toMatchObject({ by: 'staff', who: 'Ferrin Ashgrove', address: expect.stringContaining('@') });
		expect(read[1].to).toBe(client.email);
	});

	test('its end as it was sealed stands in the sealed file, as words and in the document’s information', async () => {
		const trail = await trailOf(itemId);
		const bytes = await sealedBytes(itemId);
		const end = trail.entries.at(-2)!.hash;
		expect(trail.sealed?.end).toBe(end);
		expect(await trailEndOf(bytes)).toBe(end);
		const file = join(folder, 'trail.pdf');
		writeFileSync(file, bytes);
		expect(run('pdfinfo', '-custom', file).said).toMatch(new RegExp(`LetterTrailEnd: +${end}`));
		expect(run('pdftotext', file, '-').said.replace(/\s/g, '')).toContain(end);
		// the entry of the sealing names the file in turn
		expect(readEntry(trail.entries.at(-1)!.said).details.sha256).toBe(trail.sealed!.sha256);
	});

	test('another program works out the same hashes from what is handed out, and finds the texts canonical (RFC 8785)', async () => {
		const { trail } = await firm.run((tx) => exportLetterTrail(tx, firm.odalys(), itemId));
		const file = join(folder, 'trail.json');
		writeFileSync(file, JSON.stringify(trail));
		const check = `
import hashlib, json, sys
t = json.load(open(sys.argv[1])); h = t['document']
for e in t['entries']:
    h = hashlib.sha256((h + '\\n' + e['said']).encode()).hexdigest()
    assert h == e['hash']
    assert json.dumps(json.loads(e['said']), ensure_ascii=False, sort_keys=True, separators=(',', ':')) == e['said']
print(len(t['entries']))`;
		expect(run('python3', '-c', check, file)).toEqual({ said: '7\n', code: 0 });
	});

	test('npm run verify: file and trail together; a changed, shortened or foreign trail is refused', async () => {
		const pdf = join(folder, 'verify.pdf');
		writeFileSync(pdf, await sealedBytes(itemId));
		const { trail } = await firm.run((tx) => exportLetterTrail(tx, firm.odalys(), itemId));
		const other = await newLetter('Another letter');
		const foreign = await firm.run((tx) => exportLetterTrail(tx, firm.odalys(), other));
		const verify = (given?: unknown) => {
			const path = join(folder, 'given.json');
			if (given !== undefined) writeFileSync(path, typeof given === 'string' ? given : JSON.stringify(given));
			const done = spawnSync(process.execPath, ['build/node/verify.js', pdf, ...(given === undefined ? [] : [path])], {
				encoding: 'utf8',
				env: { ...process.env, DATABASE_URL: context.ownerUrl, SMTP_URL: 'smtp://127.0.0.1:25', SECRET_KEY }
			});
			return { said: done.stdout.replaceAll(folder, ''), code: done.status };
		};
		expect(verify()).toMatchObject({ code: 0, said: expect.stringContaining('7 entries, unbroken; sealed after entry 6') });
		expect(verify(trail)).toMatchObject({ code: 0, said: expect.stringContaining('/given.json: 7 entries, unbroken; sealed after entry 6') });
		const entries = trail.entries;
		const changed = entries.with(3, { ...entries[3], said: entries[3].said.replace('Mara', 'Nora') });
		expect(verify({ ...trail, entries: changed })).toMatchObject({ code: 1, said: expect.stringContaining('is broken at entry 4') });
		expect(verify({ ...trail, entries: entries.slice(0, 4) })).toMatchObject({ code: 1, said: expect.stringContaining('does not hold the entry') });
		expect(verify(foreign.trail)).toMatchObject({ code: 1, said: expect.stringContaining('is that of another letter') });
		expect(verify('{"a":')).toMatchObject({ code: 1, said: expect.stringContaining('is no trail of a letter') });
	});

	test('nobody changes or removes an entry, and a chain that was changed behind our back says where', async () => {
		await expect(context.owner.query('update letter_trail set said = said')).rejects.toThrow('only ever added');
		await expect(context.owner.query('delete from letter_trail')).rejects.toThrow('only ever added');
		await expect(firm.run((tx) => tx.rows(`insert into letter_trail select * from letter_trail`, []))).rejects.toThrow('permission denied');
		await context.owner.query('begin');
		await context.owner.query('alter table letter_trail disable trigger letter_trail_append_only');
		const { rows } = await context.owner.query(
			`select t.said from letter_trail t join letter l on l.id = t.letter_id where l.item_id = $1 and number = 5`,
			[itemId]
		);
		const change = `update letter_trail t set said = $2 from letter l where l.id = t.letter_id and l.item_id = $1 and number = 5`;
		await context.owner.query(change, [itemId, rows[0].said.replace('203.0.113.9', '203.0.113.8')]);
		await context.owner.query('alter table letter_trail enable trigger letter_trail_append_only');
		await context.owner.query('commit');
		expect((await trailOf(itemId)).brokenAt).toBe(5);
	});

	test('a decline is in it, and so is what the firm takes back', async () => {
		const declined = await newLetter();
		await client.run((tx) => declineLetter(tx, client.mara(), { itemId: declined, reason: 'Too dear.' }));
		expect(await whatOf(declined)).toEqual(['request_sent', 'item_declined']);
		const waived = await newLetter();
		const [{ version }] = (await context.owner.query('select version from item where id = $1', [waived])).rows;
		await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId: waived, version }));
		expect(await whatOf(waived)).toEqual(['request_sent', 'item_waived']);
	});

	test('two who do something at once make one chain', async () => {
		const both = await newLetter();
		await Promise.all(Array.from({ length: 6 }, () => firm.run((tx) => openLetterPdf(tx, firm.odalys(), both))));
		const trail = await trailOf(both);
		expect([trail.entries.length, trail.brokenAt]).toEqual([7, null]);
	});

	test('neither another firm nor whoever may not see the client reads it', async () => {
		const stranger = await makeFirm(context);
		await expect(stranger.run((tx) => readLetterTrail(tx, stranger.odalys(), itemId))).rejects.toMatchObject({ code: 'not_found' });
		await expect(client.run((tx) => readLetterTrail(tx, client.mara() as never, itemId))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(client.run((tx) => tx.rows('select said from letter_trail', []))).rejects.toThrow('permission denied');
	});
});

describe('a time stamp', () => {
	test('in the seal: pdfsig, openssl cms and openssl ts all accept it, and the trail names the instant', async () => {
		const itemId = await newLetter();
		await signedByMara(itemId);
		await countersigned(itemId);
		await letterOf({ ...context, pdf: stamping }, firm, itemId);
		const bytes = await sealedBytes(itemId);
		const { leaf_pem, root_pem } = await leaf();
		const finding = await checkSeal(bytes, [leaf_pem]);
		expect(finding).toMatchObject({ ok: true, stampedAt: (await trailOf(itemId)).sealed!.stampedAt });
		const file = join(folder, 'stamped.pdf');
		writeFileSync(file, bytes);
		expect(run('qpdf', '--check', file).said).toContain('No syntax or stream encoding errors found');
		const pdfsig = run('pdfsig', '-nocert', file).said;
		for (const words of ['Total document signed', 'Signature is Valid', 'ETSI.CAdES.detached']) expect(pdfsig).toContain(words);

		const text = bytes.toString('latin1');
		const [, , at, end] = /\/ByteRange \[ ?(\d+) (\d+) (\d+) (\d+)/.exec(text)!.map(Number);
		const padded = Buffer.from(text.slice(at + 1, end - 1), 'hex');
		const path = (name: string, content: Uint8Array | string) => {
			writeFileSync(join(folder, name), content);
			return join(folder, name);
		};
		const cms = path('stamped.cms', padded.subarray(0, 4 + padded.readUInt16BE(2)));
		const content = path('stamped.content', Buffer.concat([bytes.subarray(0, at), bytes.subarray(end)]));
		const root = path('stamped.root.pem', root_pem);
		const verify = ['cms', '-verify', '-cades', '-binary', '-inform', 'DER', '-in', cms, '-content', content, '-CAfile', root, '-purpose', 'any'];
		expect(run('openssl', ...verify, '-out', '/dev/null').said).toMatch(/successful/i);
		// the token and the signature that it stamps, cut out by openssl
		const parsed = run('openssl', 'asn1parse', '-inform', 'DER', '-in', cms).said.split('\n');
		const offsetOf = (line: string) => Number(/^\s*(\d+):/.exec(line)![1]);
		const attribute = parsed.findIndex((line) => line.includes('id-smime-aa-timeStampToken') || line.includes('timeStampToken'));
		const token = offsetOf(parsed[attribute + 2]);
		const signature = offsetOf(parsed.slice(0, attribute).findLast((line) => line.includes('OCTET STRING'))!);
		const cut = (offset: number, name: string) => {
			run('openssl', 'asn1parse', '-inform', 'DER', '-in', cms, '-strparse', String(offset), '-noout', '-out', join(folder, name));
			return join(folder, name);
		};
		const der = path('token.der', padded.subarray(token, token + 4 + padded.readUInt16BE(token + 2)));
		const data = cut(signature, 'signature.der');
		const said = run('openssl', 'ts', '-verify', '-token_in', '-in', der, '-data', data, '-CAfile', standin.rootFile);
		expect(said).toMatchObject({ code: 0, said: expect.stringContaining('Verification: OK') });
	});

	test('no changed byte of it is taken', async () => {
		const itemId = await newLetter();
		await signedByMara(itemId);
		await countersigned(itemId);
		await letterOf({ ...context, pdf: stamping }, firm, itemId);
		const bytes = await sealedBytes(itemId);
		const { leaf_pem } = await leaf();
		const [at, end] = /\/ByteRange \[ ?0 (\d+) (\d+)/.exec(bytes.toString('latin1'))!.slice(1).map(Number);
		const padding = bytes.toString('latin1', at + 1, end - 1).search(/0*$/);
		// what is before the token is that of every seal
		const token = bytes.indexOf('060b2a864886f70d010910020e', at, 'latin1');
		expect(token).toBeGreaterThan(at);
		const accepted: string[] = [];
		// of the token the last digit of every byte, and the first of every ninth
		const isTried = (place: number) => (place < token ? (place - at) % 7 === 1 : (place - at) % 2 === 0 || (place - at) % 18 === 1);
		for (let place = at + 1; place < at + 1 + padding; place++) {
			if (!isTried(place)) continue;
			const changed = Buffer.from(bytes);
			changed[place] ^= 0x01;
			if ((await checkSeal(changed, [leaf_pem])).ok) accepted.push(`${place - at} of ${padding}`);
		}
		expect(accepted).toEqual([]);
	}, 240_000);

	test('a service that is away is waited for, for an hour; then the letter is sealed without', async () => {
		const away = threadedPdfWork({ timeStamps: 'http://127.0.0.1:9' });
		const itemId = await newLetter();
		await signedByMara(itemId);
		await countersigned(itemId);
		await expect(letterOf({ ...context, pdf: away }, firm, itemId)).rejects.toThrow();
		expect((await trailOf(itemId)).sealed).toBeNull();
		context.clock.set(new Date(Date.parse(context.clock.now()) + 3600_000).toISOString());
		await letterOf({ ...context, pdf: away }, firm, itemId);
		expect((await trailOf(itemId)).sealed).toMatchObject({ stampedAt: null });
		await away.close();
	});

	test('what answers something else, too much, or not at all is refused', async () => {
		const answers = async (status: number, body: Uint8Array) => {
			const server = createServer((_, response) => void response.writeHead(status).end(body)).listen(0, '127.0.0.1');
			await new Promise((resolve) => server.once('listening', resolve));
			const { port } = server.address() as { port: number };
			const asked = fetchTimeStamp(`http://127.0.0.1:${port}`, Buffer.from('x'));
			await asked.catch(() => undefined);
			server.close();
			return asked;
		};
		await expect(answers(500, Buffer.from(''))).rejects.toThrow('answered with 500');
		await expect(answers(200, Buffer.alloc(100_000, 0x30))).rejects.toThrow('longer than');
		await expect(answers(200, Buffer.from('hello'))).rejects.toThrow();
		// a true token of another query
		const { token } = await fetchTimeStamp(standin.url, Buffer.from('something else'));
		expect(await readTimeStamp(token, Buffer.from('something else'))).toMatchObject({ at: expect.any(String) });
		expect(await readTimeStamp(token, Buffer.from('this'))).toBeNull();
	});
});

describe('the picture of a signature', () => {
	const ink = async (type: 'png' | 'jpeg' = 'png') => {
		const canvas = createCanvas(240, 80);
		const drawing = canvas.getContext('2d');
		drawing.strokeStyle = '#1d2530';
		drawing.lineWidth = 4;
		drawing.moveTo(10, 60);
		drawing.bezierCurveTo(60, 0, 120, 90, 230, 20);
		drawing.stroke();
		return type === 'png' ? canvas.encode('png') : canvas.encode('jpeg', 80);
	};
	const markOf = (png: Buffer, more: Partial<Signature> = {}) =>
		signatureSchema.parse({ method: 'picture', name: 'Mara Whitlock', width: 240, height: 80, png: png.toString('base64'), ...more });

	test('stands in the sealed letter, is named on its certificate, and is offered again to whoever made it alone', async () => {
		const itemId = await newLetter();
		const mara = client.mara();
		await client.run((tx) => noteShownWhole(tx, mara, itemId));
		const mark = markOf(await ink());
		await client.run((tx) => signLetter(tx, mara, { itemId, signature: mark, consent: true }, SECRET_KEY));
		await countersigned(itemId);
		await letterOf(context, firm, itemId);
		const file = join(folder, 'picture.pdf');
		writeFileSync(file, await sealedBytes(itemId));
		expect(run('pdfimages', '-list', file).said).toMatch(/image +240 +80/);
		expect(run('pdftotext', file, '-').said.replace(/\s+/g, ' ')).toContain('signature from a picture');
		expect(run('pdfsig', '-nocert', file).said).toContain('Total document signed');
		expect(await client.run((tx) => readLastMark(tx, client.mara()))).toEqual(mark);
		const other = await makeClient(context, firm);
		expect(await other.run((tx) => readLastMark(tx, other.mara()))).toBeNull();
	});

	test('that could not be put on a page is refused before anybody has signed', async () => {
		const whole = await ink();
		requirePicture(markOf(whole));
		const changed = (change: (png: Buffer) => Buffer) => () => requirePicture(markOf(change(Buffer.from(whole))));
		const jpeg = await ink('jpeg');
		for (const broken of [
			changed((png) => png.subarray(0, png.length - 5)),
			changed((png) => Buffer.concat([png, Buffer.from('more')])),
			changed((png) => (png.writeUInt8(png[60] ^ 1, 60), png)),
			changed(() => jpeg),
			changed(() => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>')),
			() => requirePicture(markOf(whole, { width: 239 }))
		])
			expect(broken).toThrow('wrong.signature.picture');
		// far more lines than it says, packed into little
		const header = Buffer.from(whole.subarray(16, 29));
		const bomb = deflateSync(Buffer.alloc(20_000_000));
		const chunk = (type: string, body: Buffer) => {
			const named = Buffer.concat([Buffer.from(type), body]);
			const ends = Buffer.alloc(8);
			ends.writeUInt32BE(body.length, 0);
			ends.writeUInt32BE(crc32(named), 4);
			return Buffer.concat([ends.subarray(0, 4), named, ends.subarray(4)]);
		};
		const packed = Buffer.concat([whole.subarray(0, 8), chunk('IHDR', header), chunk('IDAT', bomb), chunk('IEND', Buffer.alloc(0))]);
		expect(() => requirePicture(markOf(packed))).toThrow('wrong.signature.picture');
		for (const wrong of [{ png: 'not base64!' }, { width: 6000 }, { png: 'A'.repeat(300_001) }])
			expect(signatureSchema.safeParse({ method: 'picture', name: 'M', width: 240, height: 80, png: 'AAAA', ...wrong }).success).toBe(false);
	});
});
