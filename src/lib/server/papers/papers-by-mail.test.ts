import { readdirSync } from 'node:fs';
import { connect } from 'node:net';
import { text } from 'node:stream/consumers';
import { createTransport, type SendMailOptions } from 'nodemailer';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { papersAddress } from '$lib/core/arrivals/incoming-mail';
import type { Tx } from '../platform/db/database';
import { receiveMail } from '../platform/mail/mail-receiver';
import { makeClient, type TestClient } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { keepArrival, readArrival, readArrivals, readOwnArrivals } from './arrivals';
import { clientAtAddress, letMailIn, readPapersAddress, renewPapersAddress, takeInMail, turnMailAway, type MailPlace } from './papers-by-mail';

useFirm();

const DOMAIN = 'papers.firm.example';
const MOST = 4 * 1024 * 1024;
let [begun, ended] = [0, 0];
let server: Awaited<ReturnType<typeof receiveMail>>;
let smtp: ReturnType<typeof createTransport>;
beforeAll(async () => {
	const place: MailPlace = { db: context.db, papers: context.papers, domain: DOMAIN };
	server = await receiveMail(
		{ port: 0, mostBytes: MOST },
		async (address) => void (await clientAtAddress(place, address)),
		async (mail) => {
			begun++;
			await takeInMail(place, context.clock.now(), mail).finally(() => ended++);
		}
	);
	smtp = createTransport({ host: '127.0.0.1', port: server.port, ignoreTLS: true });
});
afterAll(async () => {
	smtp.close();
	await server.close();
});

const desk = <T>(work: (tx: Tx) => Promise<T>) => firm.run(work);
const keyOf = async (of: TestClient = client) =>
	(await context.owner.query<{ mail_key: string }>('select mail_key from client where id = $1', [of.id])).rows[0].mail_key;
const addressOf = async (of: TestClient = client) => papersAddress(await keyOf(of), DOMAIN);
const maras = async () => (await context.owner.query('select email from contact where id = $1', [client.contactId])).rows[0].email as string;
const PDF = { filename: 'letter.pdf', content: '%PDF-1.7 a letter' };
/** Sends a mail as a mail server would. @returns the reply */
const send = async (more: SendMailOptions = {}) =>
	smtp
		.sendMail({
			from: `Mara <${await maras()}>`,
			to: await addressOf(),
			subject: 'From the tax office',
			text: 'Please look.',
			attachments: [PDF],
			...more
		})
		.then(
			({ response }: { response: string }) => response,
			(error: { response?: string; message: string }) => error.response ?? error.message
		);
const here = () => desk((tx) => readArrivals(tx, 50, null));
const onDisk = () => readdirSync(context.papersFolder, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile()).length;
const authenticated = (found: string) => ({ headers: { 'Authentication-Results': `mx.firm.example; ${found}` } });

describe('from somebody of the client', () => {
	test('the files wait for their place with the subject, are listed for them, and can be read', async () => {
		expect(await send({ attachments: [PDF, { filename: 'Beleg für März.csv', content: 'a;b\n1;2\n' }] })).toMatch(/^250/);
		const arrivals = await here();
		expect(arrivals.map(({ name }) => name)).toEqual(['letter.pdf', 'Beleg für März.csv']);
		expect(arrivals[0]).toMatchObject({ sender: client.mara().name, byMail: true, held: false, note: 'From the tax office' });
		expect((await client.run((tx) => readOwnArrivals(tx, client.mara()))).length).toBe(2);
		const { mail } = await desk((tx) => readArrival(tx, firm.odalys(), arrivals[0].id));
		expect(mail).toMatchObject({ words: 'Please look.', held: null, leftOut: [], waiting: 2, fromAddress: await maras() });
		const kept = await context.owner.query(`select storage_key from paper where firm_id = $1 and name = 'letter.pdf'`, [firm.id]);
		expect(await text(context.papers.read(kept.rows[0].storage_key))).toBe(PDF.content);
	});
	test('a mail that is sent once more, for the answer was not heard, comes in once', async () => {
		const before = onDisk();
		for (let n = 0; n < 2; n++) expect(await send({ messageId: '<again@gull.example>' })).toMatch(/^250/);
		expect(await here()).toHaveLength(1);
		expect(onDisk()).toBe(before + 1);
	});
	test('what mail programs add is left out, and what cannot be taken is named', async () => {
		const picture = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');
		expect(
			await send({
				html: '<p>Hello <img src="cid:logo"></p>',
				attachments: [
					PDF,
					{ filename: 'logo.png', content: picture, cid: 'logo' },
					{ filename: 'smime.p7s', content: 'x', contentType: 'application/pkcs7-signature' },
					{ filename: 'setup.exe', content: Buffer.from('MZ\x90\x00\x03') },
					{ filename: 'nothing.pdf', content: '' }
				]
			})
		).toMatch(/^250/);
		const [only, ...more] = await here();
		expect([only.name, more]).toEqual(['letter.pdf', []]);
		expect((await desk((tx) => readArrival(tx, firm.odalys(), only.id))).mail?.leftOut).toEqual([
			{ name: 'setup.exe', why: 'kind' },
			{ name: 'nothing.pdf', why: 'empty' }
		]);
	});
	test('two hundred files: thirty come in, and the others are named', async () => {
		const attachments = Array.from({ length: 200 }, (_, n) => ({ filename: `page ${n}.txt`, content: `page ${n}` }));
		expect(await send({ attachments })).toMatch(/^250/);
		const arrivals = await here();
		expect(arrivals).toHaveLength(30);
		expect((await desk((tx) => readArrival(tx, firm.odalys(), arrivals[0].id))).mail?.leftOut).toHaveLength(170);
	});
	test('a mail inside a mail gives its files, in whatever charset its words are', async () => {
		const inner = [
			'From: bank@tideline.example',
			'Subject: =?iso-8859-1?Q?Relev=E9?=',
			'MIME-Version: 1.0',
			'Content-Type: multipart/mixed; boundary="i"',
			'',
			'--i',
			'Content-Type: text/plain; charset=no-such-charset',
			'',
			'Voil\xe0',
			'--i',
			'Content-Type: application/pdf; name="inner.pdf"',
			'Content-Disposition: attachment',
			'',
			'%PDF-1.7 inner',
			'--i--',
			''
		].join('\r\n');
		expect(await send({ attachments: [{ raw: `Content-Type: message/rfc822\r\n\r\n${inner}` }] })).toMatch(/^250/);
		expect((await here()).map(({ name }) => name)).toEqual(['inner.pdf']);
	});
	test('a mail inside a mail that has no files is a file itself', async () => {
		const raw = 'Content-Type: message/rfc822\r\n\r\nFrom: bank@tideline.example\r\nSubject: A word\r\n\r\nOnly words.';
		expect(await send({ attachments: [{ raw }] })).toMatch(/^250/);
		expect((await here()).map(({ name }) => name)).toEqual(['mail.eml']);
	});
});

describe('what waits to be let in', () => {
	const stranger = { from: 'Nobody <nobody@elsewhere.example>' };
	test('is from somebody who is not known; until then it has no place, and nobody of the client sees it', async () => {
		expect(await send({ ...stranger, attachments: [PDF, { ...PDF, filename: 'second.pdf' }] })).toMatch(/^250/);
		const [first] = await here();
		expect(first).toMatchObject({ held: true, sender: 'nobody@elsewhere.example' });
		expect(await client.run((tx) => readOwnArrivals(tx, client.mara()))).toEqual([]);
		await expect(desk((tx) => keepArrival(tx, firm.odalys(), first.id))).rejects.toThrow('Let it in first');
		await desk((tx) => letMailIn(tx, firm.odalys(), first.id));
		expect((await here()).map(({ held }) => held)).toEqual([false, false]);
		await expect(desk((tx) => letMailIn(tx, firm.odalys(), first.id))).rejects.toThrow('let it in meanwhile');
		await desk((tx) => keepArrival(tx, firm.odalys(), first.id));
	});
	test('is put away as a whole', async () => {
		await send({ ...stranger, attachments: [PDF, { ...PDF, filename: 'second.pdf' }] });
		const [first] = await here();
		await desk((tx) => turnMailAway(tx, firm.odalys(), first.id));
		expect(await here()).toEqual([]);
	});
	test('is what the servers on the way doubt, though it names somebody of the client', async () => {
		await send(authenticated('spf=fail smtp.mailfrom=elsewhere.example; dmarc=fail'));
		const [doubted] = await here();
		expect(doubted.held).toBe(true);
		expect((await desk((tx) => readArrival(tx, firm.odalys(), doubted.id))).mail).toMatchObject({
			held: 'contradicted',
			authentication: { spf: 'fail', dmarc: 'fail' }
		});
		// what it is not is not written down
		const said = await context.owner.query('select verb, actor_kind from event where paper_id = $1', [doubted.id]);
		expect(said.rows).toContainEqual({ verb: 'paper_held', actor_kind: 'machine' });
	});
	test('is not for a contact to let in, and whoever files gives nobody another address', async () => {
		await send(stranger);
		const [first] = await here();
		for (const act of [letMailIn, turnMailAway])
			await expect(desk((tx) => act(tx, client.mara(), first.id))).rejects.toMatchObject({ code: 'not_allowed' });
		const bram = { ...firm.odalys(), role: 'filing' as const };
		await expect(desk((tx) => renewPapersAddress(tx, bram, client.id))).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('somebody who is suspended, or was never of this client, is not known', async () => {
		await context.owner.query('update contact set suspended_at = now() where id = $1', [client.contactId]);
		await send();
		expect((await here()).map(({ held }) => held)).toEqual([true]);
		const other = await makeClient(context, firm);
		await send({ to: await addressOf(other) });
		expect((await here()).map(({ held }) => held)).toEqual([true, true]);
	});
	test('a mail that names two senders is from nobody who is known', async () => {
		await send({ from: [await maras(), 'other@elsewhere.example'] as never });
		expect((await here()).map(({ held }) => held)).toEqual([true]);
	});
});

test('what somebody of the firm passes on comes in, unless the client is closed to them', async () => {
	const { rows } = await context.owner.query('select email from staff where id = $1', [firm.odalys().id]);
	await send({ from: rows[0].email });
	const [one] = await here();
	expect(one.held).toBe(false);
	const said = await context.owner.query(`select actor_id from event where paper_id = $1 and verb = 'paper_mailed'`, [one.id]);
	expect(said.rows).toEqual([{ actor_id: firm.odalys().id }]);
});

describe('refused while it is sent, so that the sender hears why; nothing is kept', () => {
	const refused = async (reply: Promise<string>, why: RegExp) => {
		const before = onDisk();
		expect(await reply).toMatch(why);
		expect(await here()).toEqual([]);
		expect(onDisk()).toBe(before);
	};
	test('no file in it', () => refused(send({ attachments: [] }), /^550 5\.6\.0 There is no file/));
	test('nothing that can be taken', () =>
		refused(
			send({ attachments: [{ filename: 'winmail.dat', content: Buffer.from('789f3e220001', 'hex'), contentType: 'application/ms-tnef' }] }),
			/^550 5\.6\.0 Nothing was kept: winmail\.dat/
		));
	test('an address that nobody has', () => refused(send({ to: papersAddress('0'.repeat(20), DOMAIN) }), /550 5\.1\.1/));
	test('an address that was renewed', async () => {
		const old = await addressOf();
		await desk((tx) => renewPapersAddress(tx, firm.odalys(), client.id));
		await refused(send({ to: old }), /550 5\.1\.1/);
		expect(await desk((tx) => readPapersAddress(tx, firm.odalys(), client.id, DOMAIN))).toBe(await addressOf());
		expect(await addressOf()).not.toBe(old);
		expect(await send()).toMatch(/^250/);
	});
	test('a client who has left', async () => {
		await context.owner.query(`update client set state = 'ended' where id = $1`, [client.id]);
		await refused(send(), /550 5\.7\.1/);
	});
	test('too large, announced or not', async () => {
		const large = { attachments: [{ filename: 'large.pdf', content: Buffer.concat([Buffer.from('%PDF-1.7'), Buffer.alloc(MOST)]) }] };
		await refused(send(large), /552/);
		// a server that does not say how much is coming is cut off all the same
		const to = await addressOf();
		const socket = connect(server.port, '127.0.0.1');
		let said = '';
		socket.on('data', (chunk) => (said += chunk));
		const until = (reply: RegExp) => expect.poll(() => said, { timeout: 30_000 }).toMatch(reply);
		const head = 'Content-Type: application/pdf; name="a.pdf"\r\nContent-Disposition: attachment\r\n\r\n%PDF-1.7\r\n';
		await until(/^220/);
		socket.write(`HELO x\r\nMAIL FROM:<a@b.example>\r\nRCPT TO:<${to}>\r\nDATA\r\n`);
		await until(/\n354/);
		socket.write(head);
		for (let n = 0; n < 80; n++) socket.write(`${'x'.repeat(76)}\r\n`.repeat(1000));
		socket.write('\r\n.\r\n');
		await until(/\n552 5\.3\.4/);
		socket.destroy();
		expect(await here()).toEqual([]);
	});
	test('a mail that goes in circles', () =>
		refused(
			(async () =>
				smtp
					.sendMail({
						envelope: { from: await maras(), to: await addressOf() },
						raw: `${'Received: from a by b; Mon, 4 May 2026 10:00:00 +0000\r\n'.repeat(60)}From: ${await maras()}\r\nContent-Type: application/pdf; name="a.pdf"\r\nContent-Disposition: attachment\r\n\r\n%PDF-1.7`
					})
					.then(
						() => 'taken',
						(error: { response: string }) => error.response
					))(),
			/^554 5\.4\.6/
		));
	test('two clients in one mail: each is sent on its own', async () => {
		const other = await makeClient(context, firm);
		const answer = (await smtp.sendMail({
			from: await maras(),
			to: [await addressOf(), await addressOf(other)],
			attachments: [PDF]
		})) as unknown as { accepted: string[]; rejectedErrors: { response: string }[] };
		expect(answer.accepted).toHaveLength(1);
		expect(answer.rejectedErrors.map(({ response }) => response)).toEqual([expect.stringMatching(/^452 4\.5\.3/)]);
	});
});

describe('taken and let go, for nobody wrote it', () => {
	test.each([
		['out of office', { headers: { 'Auto-Submitted': 'auto-replied' } }],
		['a report', { envelope: { from: '' } }],
		['a reminder of ours that somebody passes on by rule', { attachments: [], headers: { 'Auto-Submitted': 'auto-generated' } }]
	])('%s', async (_, { envelope, ...more }: SendMailOptions) => {
		const before = onDisk();
		expect(await send({ ...more, ...(envelope ? { envelope: { ...envelope, to: await addressOf() } as never } : {}) })).toMatch(/^250/);
		expect(await here()).toEqual([]);
		expect(onDisk()).toBe(before);
	});
});

test('a connection that breaks off in the middle leaves nothing behind', async () => {
	const before = onDisk();
	const socket = connect(server.port, '127.0.0.1');
	let said = '';
	socket.on('data', (chunk) => (said += chunk));
	await expect.poll(() => said).toMatch(/^220/);
	socket.write(`HELO x\r\nMAIL FROM:<a@b.example>\r\nRCPT TO:<${await addressOf()}>\r\nDATA\r\n`);
	await expect.poll(() => said).toMatch(/\n354/);
	socket.write(`Content-Type: application/pdf; name="a.pdf"\r\nContent-Disposition: attachment\r\n\r\n%PDF-1.7\r\n${'x'.repeat(100_000)}`);
	await expect.poll(onDisk).toBe(before + 1);
	socket.destroy();
	await expect.poll(() => begun - ended, { timeout: 10_000 }).toBe(0);
	expect(onDisk()).toBe(before);
	expect(await send()).toMatch(/^250/);
	expect(await here()).toHaveLength(1);
});
