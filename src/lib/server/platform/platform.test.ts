import { execFileSync } from 'node:child_process';
import { generateKeyPairSync } from 'node:crypto';
import { mkdtemp, readdir, readFile, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { createTransport } from 'nodemailer';
import { simpleParser } from 'mailparser';
import pg from 'pg';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { freeLeftJobs, holdLifeSign, onlyOnce, RunsAlready, WorkerWatch } from '../../../worker/watch-workers';
import { makeWorkerUtils } from 'graphile-worker';
import { beginInvitation } from '../invitations/invite';
import { invitationLink, readStopLink, stopUrl } from '../messages/links';
import { makeClient, makeFirm, openTestContext, SECRET_KEY, type TestContext } from '../testing/test-firm';
import { roleOptions } from './db/database';
import { migrate } from './db/migrations';
import { listenForEvents } from './live/live-updates';
import { removePartialFiles, sniff } from './files/paper-store';
import { bounceAddress, readComplaint, readReport, receiveReports, type MailReport } from './mail/bounce-receiver';
import { requireMailDomain } from '../clients/mail-domain';
import { dnsMailDomains, standinMailDomains, type Lookups } from './mail/mail-domains';
import { statusIn } from './mail/status-code';
import { smtpMailer, type OutgoingMail } from './mail/mailer';
import { receivedMail, reportAsUnwanted, startMailStandin, type MailStandin } from './mail/standin';
import { encryptAnew } from './encrypt-anew';
import { parseSettings } from './settings';
import { decrypt, encrypt } from './tokens';

describe('settings', () => {
	const good = { DATABASE_URL: 'postgres://u:p@127.0.0.1/x', SMTP_URL: 'smtp://127.0.0.1:25', SECRET_KEY: 'ab'.repeat(32) };
	test('name every wrong one and show no value', () => {
		const said = (() => {
			try {
				parseSettings({ ...good, DATABASE_URL: 'mysql://secret', SECRET_KEY: 'hunter2', PORT: '99999', DEMO: 'yes' });
				return '';
			} catch (error) {
				return (error as Error).message;
			}
		})();
		for (const name of ['DATABASE_URL', 'SECRET_KEY', 'PORT', 'DEMO']) expect(said).toContain(name);
		expect(said).not.toContain('hunter2');
		expect(said).not.toContain('secret');
	});
	test('a key for mail is given whole or not at all', () => {
		expect(() => parseSettings({ ...good, DKIM_DOMAIN: 'x.example' })).toThrow('belong together');
		expect(parseSettings({ ...good, DKIM_DOMAIN: 'x.example', DKIM_SELECTOR: 's', DKIM_KEY_FILE: '/k' }).DKIM_SELECTOR).toBe('s');
	});
	test('the database is spoken to over a checked connection, unless it is on this machine or the address says otherwise', () => {
		const mode = (address: string) => new URL(parseSettings({ ...good, DATABASE_URL: address }).DATABASE_URL).searchParams.get('sslmode');
		expect(mode('postgres://u:p@db.firm.example/x')).toBe('verify-full');
		expect(mode('postgres://u:p@10.0.0.7/x?sslmode=disable')).toBe('disable');
		for (const here of ['127.0.0.1', 'localhost', '[::1]']) expect(mode(`postgres://u:p@${here}/x`)).toBe(null);
	});
	test('empty counts as not given', () => expect(parseSettings({ ...good, PORT: '' }).PORT).toBe(3000));
});

describe('mail over real SMTP', () => {
	let standin: MailStandin;
	let folder: string;
	const bounced: MailReport[] = [];
	let receiver: { close(): Promise<void> };
	const BOUNCES = 26_525;
	const mail = (to: string, more: Partial<OutgoingMail> = {}): OutgoingMail => ({
		from: { name: 'Pennywhistle “Row”', address: 'office@pennywhistle.example' },
		returnPath: bounceAddress('7a0c9b1e-4a55-4c2b-9f2f-0d6f1f0a5c11', 'bounces.localhost'),
		replyTo: null,
		to: { name: 'Mara\r\nBcc: x@y.example', address: to },
		subject: 'Größe\r\nX-Evil: 1',
		text: 'Hello https://localhost/a\n',
		html: '<p>Hello</p>',
		messageId: `${to}-id@test`,
		inReplyTo: null,
		unsubscribeUrl: null,
		date: new Date('2026-05-04T12:00:00Z'),
		attachments: [],
		reportDelivery: false,
		...more
	});
	beforeAll(async () => {
		folder = await mkdtemp(join(tmpdir(), 'lantern-mail-'));
		receiver = await receiveReports(BOUNCES, async (report) => void bounced.push(report));
		standin = await startMailStandin({ port: 0, folder, bouncePort: BOUNCES });
	});
	afterAll(async () => {
		await standin.close();
		await receiver.close();
	});
	const send = async (m: OutgoingMail) => {
		const mailer = smtpMailer(`smtp://127.0.0.1:${standin.port}?ignoreTLS=true`);
		try {
			return await mailer.send(m);
		} finally {
			mailer.close();
		}
	};

	test('arrives with both parts, thread, one-click unsubscribe and no smuggled header', async () => {
		expect(
			await send(
				mail('mara@gull.example', {
					inReplyTo: 'first@test',
					unsubscribeUrl: 'http://localhost/mail/stop/x',
					attachments: [{ name: 'a.pdf', content: () => Readable.from([Buffer.from('%PDF')]) }]
				})
			)
		).toEqual({ outcome: 'sent' });
		const received = (await receivedMail(folder, 'mara@gull.example-id@test'))!;
		expect(received.text).toContain('https://localhost/a');
		expect(received.html).toContain('<p>Hello</p>');
		expect(received.inReplyTo).toBe('<first@test>');
		expect(received.headers.get('x-evil')).toBeUndefined();
		expect(received.headers.get('bcc')).toBeUndefined();
		expect(
			received.headers.get('list-unsubscribe-post') ??
				(received.headers.get('list') as { 'unsubscribe-post'?: { name: string } })?.['unsubscribe-post']?.name
		).toBe('List-Unsubscribe=One-Click');
		expect(received.headerLines.find((h) => h.key === 'list-unsubscribe')!.line).toContain('<http://localhost/mail/stop/x>');
		expect(received.attachments[0].filename).toBe('a.pdf');
	});
	test('a 550 is a refusal, a dead server is for later', async () => {
		expect(await send(mail('nobody@gull.example'))).toEqual({ outcome: 'refused', reason: 'the mail server answered 550' });
		expect(await send(mail('full-mailbox@gull.example'))).toEqual({ outcome: 'refused', reason: 'the mail server answered 552', trouble: 'full' });
		const dead = smtpMailer('smtp://127.0.0.1:9');
		expect(await dead.send(mail('mara@gull.example'))).toMatchObject({ outcome: 'try_later' });
		expect(await dead.reachable()).toBe(false);
		dead.close();
	});
	test('a mailbox that is gone comes back as a report about our message', async () => {
		await send(mail('moved-away@gull.example'));
		await standin.reportsDelivered();
		expect(bounced).toEqual([
			{
				action: 'failed',
				messageId: '7a0c9b1e-4a55-4c2b-9f2f-0d6f1f0a5c11',
				reason: 'it came back, for the mailbox has moved (5.1.6)',
				trouble: 'moved'
			}
		]);
	});
	test('a server elsewhere that offers no encryption gets no mail, unless the settings say so', async () => {
		// this machine, under a name that does not tell so
		const url = `smtp://0.0.0.0:${standin.port}`;
		const strict = smtpMailer(url);
		expect(await strict.send(mail('plain@gull.example'))).toMatchObject({ outcome: 'try_later' });
		expect(await strict.reachable()).toBe(false);
		strict.close();
		expect(await receivedMail(folder, 'plain@gull.example-id@test')).toBe(null);
		const lenient = smtpMailer(url, { requireTls: false });
		expect(await lenient.send(mail('plain@gull.example'))).toEqual({ outcome: 'sent' });
		lenient.close();
	});
	test('that a message arrived is reported to whoever asked for it, and only then', async () => {
		bounced.length = 0;
		await send(mail('mara@gull.example'));
		await send(mail('mara@gull.example', { reportDelivery: true }));
		await standin.reportsDelivered();
		expect(bounced).toEqual([{ action: 'delivered', messageId: '7a0c9b1e-4a55-4c2b-9f2f-0d6f1f0a5c11', reason: 'delivered (2.0.0)' }]);
	});
	test('with a key mail is signed, and a program that is not ours finds the signature right', async () => {
		const { publicKey, privateKey } = generateKeyPairSync('rsa', { modulusLength: 2048 });
		const mailer = smtpMailer(`smtp://127.0.0.1:${standin.port}?ignoreTLS=true`, {
			dkim: {
				domain: 'pennywhistle.example',
				selector: 'lantern',
				privateKey: privateKey.export({ type: 'pkcs8', format: 'pem' }).toString()
			}
		});
		expect(await mailer.send(mail('signed@gull.example'))).toEqual({ outcome: 'sent' });
		mailer.close();
		const files = (await readdir(folder)).filter((name) => name.endsWith('.eml'));
		const raws = await Promise.all(files.map((name) => readFile(join(folder, name))));
		const raw = raws.find((bytes) => bytes.includes('signed@gull.example-id@test'))!;
		expect(raw.toString()).toMatch(/^DKIM-Signature: .*d=pennywhistle\.example/ms);
		const record = `v=DKIM1; k=rsa; p=${publicKey.export({ type: 'spki', format: 'der' }).toString('base64')}`;
		const verify = (bytes: Buffer) =>
			execFileSync(
				'/usr/bin/python3',
				['-c', `import dkim, sys; print(dkim.verify(sys.stdin.buffer.read(), dnsfunc=lambda name, timeout=5: ${JSON.stringify(record)}.encode()))`],
				{
					input: bytes
				}
			)
				.toString()
				.trim();
		expect(verify(raw)).toBe('True');
		expect(verify(Buffer.from(raw.toString().replace('Hello', 'Hallo')))).toBe('False');
	});
	test('the receiver takes nothing but reports about mail', async () => {
		const transport = createTransport({ host: '127.0.0.1', port: BOUNCES, ignoreTLS: true });
		await expect(transport.sendMail({ from: 'a@b.example', to: 'office@bounces.localhost', text: 'hello' })).rejects.toMatchObject({
			responseCode: 550
		});
		transport.close();
	});
	test('delayed and garbled reports are no failures', () => {
		const to = bounceAddress('7a0c9b1e-4a55-4c2b-9f2f-0d6f1f0a5c11', 'x');
		expect(readReport(to, 'Action: delayed\r\nStatus: 4.4.1\r\n')).toBeNull();
		expect(readReport(to, 'Action: failed\r\nStatus: 4.4.1\r\n')).toBeNull();
		expect(readReport('office@x', 'Action: failed\r\nStatus: 5.1.1\r\n')).toBeNull();
		expect(readReport(to, 'garbage')).toBeNull();
	});
	test('a mail service that reports a message as unwanted is understood, over SMTP and as several of them write (RFC 5965)', async () => {
		bounced.length = 0;
		const id = '7a0c9b1e-4a55-4c2b-9f2f-0d6f1f0a5c11';
		await send(mail('unwanted@gull.example', { messageId: `${id}@humble-lantern.f00` }));
		const received = (await receivedMail(folder, `${id}@humble-lantern.f00`))!;
		await reportAsUnwanted(received, { port: BOUNCES, address: 'complaints@bounces.localhost' });
		expect(bounced).toEqual([{ action: 'unwanted', messageId: id }]);
		const report = (type: string, feedback: string, original: string, coding = '') =>
			[
				'From: abusedesk@mailbox.example',
				`Content-Type: multipart/report; report-type=feedback-report; boundary="b"`,
				'MIME-Version: 1.0',
				'',
				'--b',
				'Content-Type: text/plain',
				'',
				'This is an e-mail abuse report.',
				'--b',
				'Content-Type: message/feedback-report',
				'',
				`Feedback-Type: ${type}`,
				'User-Agent: some/1.0',
				'Version: 1',
				...feedback.split('|'),
				'',
				'--b',
				'Content-Type: message/rfc822',
				...(coding ? [`Content-Transfer-Encoding: ${coding}`] : []),
				'',
				original,
				'--b--'
			].join('\r\n');
		const whole = `Return-Path: <bounce+${id}@bounces.localhost>\r\nSubject: Still open\r\n\r\nHello`;
		expect(await readComplaint(report('abuse', `Original-Mail-From: <bounce+${id}@bounces.localhost>`, 'Subject: x\r\n\r\nHello'))).toEqual({
			action: 'unwanted',
			messageId: id
		});
		expect(await readComplaint(report('abuse', 'Reported-Domain: pennywhistle.example', whole))).toMatchObject({ messageId: id });
		expect(
			await readComplaint(report('opt-out', `Original-Envelope-Id: ${id}`, `Message-ID: <${id}@humble-lantern.f00>\r\n\r\nHello`))
		).toMatchObject({
			messageId: id
		});
		// a correction, a failed check, words about a report, and a report about somebody else's mail stop nobody's reminders
		expect(await readComplaint(report('not-spam', '', whole))).toBeNull();
		expect(await readComplaint(report('auth-failure', '', whole))).toBeNull();
		expect(await readComplaint(`Subject: Feedback-Type: abuse\r\n\r\nFeedback-Type: abuse\r\nbounce+${id}@x`)).toBeNull();
		expect(await readComplaint(report('abuse', '', 'Message-ID: <1@elsewhere.example>\r\n\r\nHello'))).toBeNull();
		expect(await readComplaint('garbage')).toBeNull();
	});
	test('a full mailbox is told apart from a wrong address, in a report and in the answer of a server', () => {
		const to = bounceAddress('7a0c9b1e-4a55-4c2b-9f2f-0d6f1f0a5c11', 'x');
		expect(readReport(to, 'Action: failed\r\nStatus: 5.2.2\r\n')).toMatchObject({
			action: 'failed',
			trouble: 'full',
			reason: expect.stringContaining('full')
		});
		expect(readReport(to, 'Action: failed\r\nStatus: 5.1.1\r\n')).not.toHaveProperty('trouble');
		expect(statusIn('552 5.2.2 mailbox full')).toBe('5.2.2');
		expect(statusIn('552-5.2.2 mailbox\r\n552 5.2.2 full')).toBe('5.2.2');
		expect(statusIn('550 no such person 5.2.2')).toBeUndefined();
	});
	test('the parser of the tests is not fooled by the subject', async () => {
		expect((await simpleParser(Buffer.from('Subject: =?utf-8?q?Gr=C3=B6=C3=9Fe?=\r\n\r\n'))).subject).toBe('Größe');
	});
});

describe('what a file is', () => {
	test.each([
		['%PDF-1.7', 'application/pdf'],
		['a,b\n1,2\n', 'text/plain'],
		['Grüße\n', 'text/plain'],
		['<!DOCTYPE html><p>', 'application/octet-stream'],
		['  <svg onload=alert(1)>', 'application/octet-stream'],
		['a\u0000b', 'application/octet-stream'],
		['', 'application/octet-stream'],
		['<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg"/>', 'application/octet-stream'],
		['<?xml version="1.0"?><note/>', 'application/octet-stream'],
		['<?xml version="1.0"?><?xml-stylesheet href="x.xsl"?><OFX></OFX>', 'application/octet-stream'],
		['<?xml version="1.0"?>\n<?OFX OFXHEADER="200"?><OFX><SIGNONMSGSRSV1>', 'text/plain'],
		['<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08">', 'text/plain'],
		['OFXHEADER:100\nDATA:OFXSGML\n\n<OFX>', 'text/plain'],
		['\u001b[31mred', 'application/octet-stream']
	])('%j is %s', async (text, type) => {
		expect(await sniff(Buffer.from(text))).toBe(type);
	});
	test.each([
		['as banks wrote it before UTF-8', Buffer.from('Empf\u00e4nger;Betrag\nM\u00fcller;-12,50\n', 'latin1'), 'text/plain'],
		['in UTF-16 with its mark', Buffer.from('\ufeffDate\tAmount\n', 'utf16le'), 'text/plain'],
		['in UTF-16, the other way round', Buffer.from('\ufeffDate\n', 'utf16le').swap16(), 'text/plain'],
		['in UTF-16, and a page', Buffer.from('\ufeff<html><script>', 'utf16le'), 'application/octet-stream'],
		['in UTF-16 without a mark', Buffer.from('Date\tAmount\n', 'utf16le'), 'application/octet-stream'],
		['cut in the middle of a character', Buffer.from('Gr\u00fc\u00df').subarray(0, 5), 'text/plain'],
		['that is none', Buffer.from([0x41, 0x81, 0x42, 0xff]), 'application/octet-stream']
	])('text %s', async (_, bytes, type) => {
		expect(await sniff(bytes)).toBe(type);
	});
	test('leftovers of cut-off uploads are removed, but only old ones', async () => {
		const folder = await mkdtemp(join(tmpdir(), 'lantern-partial-'));
		await writeFile(join(folder, 'old.partial'), 'x');
		await writeFile(join(folder, 'new.partial'), 'x');
		await writeFile(join(folder, 'whole'), 'x');
		await utimes(join(folder, 'old.partial'), new Date(0), new Date(0));
		expect(await removePartialFiles(folder, 3600_000)).toBe(1);
		expect((await readdir(folder)).sort()).toEqual(['new.partial', 'whole']);
	});
});

test('secrets at rest open only with their key and unchanged', () => {
	const sealed = encrypt(Buffer.from('key'), 'ab'.repeat(32));
	expect(decrypt(sealed, 'ab'.repeat(32)).toString()).toBe('key');
	expect(() => decrypt(sealed, 'cd'.repeat(32))).toThrow();
	sealed[sealed.length - 1] ^= 1;
	expect(() => decrypt(sealed, 'ab'.repeat(32))).toThrow();
});

describe('the key is changed', () => {
	let context: TestContext;
	beforeAll(async () => (context = await openTestContext()));
	afterAll(() => context.close());
	const NEW = 'c4'.repeat(32);
	const both = `${NEW},${SECRET_KEY}`;

	test('what was encrypted before opens, is encrypted anew once, and then opens with the new key alone', async () => {
		const firms = [await makeFirm(context), await makeFirm(context)];
		const client = await makeClient(context, firms[0]);
		await context.owner.query(`insert into authenticator (id, firm_id, contact_id, secret, begun_at) values (gen_random_uuid(), $1, $2, $3, now())`, [
			firms[0].id,
			client.contactId,
			encrypt(Buffer.from('JBSWY3DPEHPK3PXP'), SECRET_KEY)
		]);
		const sealed = async () => (await context.owner.query<{ key: Buffer }>('select encrypted_key key from seal_certificate order by firm_id')).rows;
		const keys = (await sealed()).map((row) => decrypt(row.key, both).toString());
		expect(await encryptAnew(context.db, SECRET_KEY)).toBe(null);
		expect(await encryptAnew(context.db, both)).toBe(keys.length + 1);
		expect(await encryptAnew(context.db, both)).toBe(0);
		expect((await sealed()).map((row) => decrypt(row.key, NEW).toString())).toEqual(keys);
		const { rows } = await context.owner.query<{ secret: Buffer }>('select secret from authenticator');
		expect(decrypt(rows[0].secret, NEW).toString()).toBe('JBSWY3DPEHPK3PXP');
		await expect(async () => decrypt(rows[0].secret, SECRET_KEY)).rejects.toThrow();
	});
	test('links that are out already go on leading where they led', async () => {
		const firm = await makeFirm(context);
		const client = await makeClient(context, firm);
		const begun = await firm.run((tx) => beginInvitation(tx, firm.odalys() as never, { id: client.contactId }, client.id, null));
		const invitation = begun!.id;
		const link = (key: string) => firm.run((tx) => invitationLink(tx, invitation, 'https://x.example', key));
		const before = await link(SECRET_KEY);
		expect(await link(both)).toBe(before);
		expect(await link(NEW)).not.toBe(before);
		const stop = stopUrl('https://x.example', invitation, SECRET_KEY).split('/').at(-1)!;
		expect(readStopLink(stop, both)).toBe(invitation);
		expect(readStopLink(stop, NEW)).toBe(null);
	});
});

describe('the database', () => {
	let context: TestContext;
	beforeAll(async () => {
		context = await openTestContext();
	});
	afterAll(() => context.close());

	test('migrating again changes nothing, from several processes at once', async () => {
		const ran = async () => (await context.owner.query<{ name: string; ran_at: string }>('select name, ran_at from migration order by name')).rows;
		const before = await ran();
		await Promise.all([1, 2, 3].map(() => migrate(context.ownerUrl)));
		expect(await ran()).toEqual(before);
		expect(before.map(({ name }) => name)).toEqual((await readdir('db/migrations')).sort());
	});
	test('a migration that was changed after it ran is refused', async () => {
		await context.owner.query(`update migration set sha256 = 'x' where name like '0001%'`);
		await expect(migrate(context.ownerUrl)).rejects.toThrow('was changed after it had run');
	});
	test('two transactions that stand in each other’s way both go through', async () => {
		const firm = await makeFirm(context);
		let meet = () => {};
		const met = new Promise<void>((resolve) => (meet = resolve));
		let here = 0;
		const inOrder = (first: number, second: number) =>
			context.db.inFirm(firm.id, async (tx) => {
				await tx.rows('select pg_advisory_xact_lock($1)', [first]);
				if (++here === 2) meet();
				await met;
				await tx.rows('select pg_advisory_xact_lock($1)', [second]);
				return first;
			});
		expect(await Promise.all([inOrder(71, 72), inOrder(72, 71)])).toEqual([71, 72]);
		expect(here).toBe(3);
	});
	test('a connection that breaks in the middle fails its transaction, and nothing else', async () => {
		const firm = await makeFirm(context);
		const cut = context.db.inFirm(firm.id, async (tx) => {
			const pid = (await tx.first<{ pid: number }>('select pg_backend_pid() pid'))!.pid;
			await context.owner.query('select pg_terminate_backend($1)', [pid]);
			await expect.poll(async () => (await context.owner.query('select 1 from pg_stat_activity where pid = $1', [pid])).rowCount).toBe(0);
			return tx.rows('select 1');
		});
		await expect(cut).rejects.toThrow(/terminat|connection error/);
		expect(await context.db.inFirm(firm.id, (tx) => tx.rows('select 1 one'))).toEqual([{ one: 1 }]);
	});
	test('a failed transaction leaves nothing', async () => {
		const firm = await makeFirm(context);
		await expect(
			context.db.inFirm(firm.id, async (tx) => {
				await tx.rows(`insert into holiday values ($1, '2026-01-01', 'x')`, [firm.id]);
				throw new Error('no');
			})
		).rejects.toThrow('no');
		expect(await context.db.inFirm(firm.id, (tx) => tx.rows('select 1 from holiday'))).toEqual([]);
	});
	test('live updates survive a cut connection', async () => {
		const live = listenForEvents({ connectionString: context.ownerUrl, application_name: 'live-test' });
		const heard: number[] = [];
		live.subscribeToFirm('f', (eventId) => heard.push(eventId));
		const until = async (n: number) => {
			for (let i = 0; heard.length < n && i < 1000; i++) {
				await context.owner.query(`select pg_notify('lantern_events', 'f 7 ')`);
				await new Promise((resolve) => setTimeout(resolve, 50));
			}
		};
		await until(1);
		const before = heard.length;
		expect(before).toBeGreaterThan(0);
		await context.owner.query(`select pg_terminate_backend(pid) from pg_stat_activity where application_name = 'live-test'`);
		await until(before + 2);
		expect(heard.length).toBeGreaterThanOrEqual(before + 2);
		await live.close();
	});
	test('much that happens at once is told at once, and then together, by its last event; another firm hears nothing of it', async () => {
		const live = listenForEvents({ connectionString: context.ownerUrl, application_name: 'live-burst' });
		const [heard, elsewhere, left]: number[][] = [[], [], []];
		live.subscribeToFirm('f', (eventId) => heard.push(eventId));
		live.subscribeToFirm('g', (eventId) => elsewhere.push(eventId));
		live.subscribeToFirm('f', (eventId) => left.push(eventId))();
		const notify = (firm: string, id: number) => context.owner.query(`select pg_notify('lantern_events', $1)`, [`${firm} ${id} `]);
		for (let i = 0; elsewhere.length === 0 && i < 1000; i++) {
			await notify('g', 1);
			await new Promise((resolve) => setTimeout(resolve, 20));
		}
		await context.owner.query(`select pg_notify('lantern_events', 'f ' || n || ' ') from generate_series(1, 50) n`);
		await vi.waitFor(() => expect(heard).toEqual([1, 50]), { timeout: 20_000 });
		await notify('f', 51);
		await vi.waitFor(() => expect(heard).toEqual([1, 50, 51]), { timeout: 20_000 });
		expect(left).toEqual([]);
		await live.close();
	});
	describe('workers that are gone', () => {
		let pool: pg.Pool;
		let utils: Awaited<ReturnType<typeof makeWorkerUtils>>;
		const config = () => ({
			...roleOptions({ DATABASE_URL: context.ownerUrl, APP_DATABASE_URL: undefined }, 'lantern_queue'),
			application_name: 'life-test'
		});
		const locked = async () =>
			(await context.owner.query<{ key: string; locked_by: string | null }>('select key, locked_by from graphile_worker._private_jobs order by key'))
				.rows;
		beforeEach(async () => {
			pool = new pg.Pool({ ...config(), max: 4 });
			utils = await makeWorkerUtils({ pgPool: pool });
			await context.owner.query('delete from graphile_worker._private_jobs');
			for (const key of ['dead', 'alive']) await context.owner.query(`select enqueue_job('send_message', '{}', $1)`, [key]);
			await context.owner.query(`update graphile_worker._private_jobs set locked_at = now() - interval '1 minute', locked_by = 'worker-' || key`);
		});
		afterEach(async () => {
			await utils.release();
			await pool.end();
		});

		test('their jobs are freed, on the second look; those of a living one are not', async () => {
			const life = holdLifeSign(config(), 'worker-alive');
			await life.held();
			const watch = new WorkerWatch(pool, utils, 0);
			expect(await new WorkerWatch(pool, utils).freeJobsOfTheDead()).toEqual([]);
			expect(await watch.freeJobsOfTheDead()).toEqual(['worker-dead']);
			expect(await locked()).toEqual([
				{ key: 'alive', locked_by: 'worker-alive' },
				{ key: 'dead', locked_by: null }
			]);
			await life.close();
		});
		test('a cut connection is no death: the sign of life is taken again', async () => {
			const life = holdLifeSign({ ...config(), application_name: 'life-sign' }, 'worker-alive');
			await life.held();
			const signs = async () =>
				(
					await context.owner.query<{ pid: number }>(`select pid from pg_stat_activity where application_name = 'life-sign' and state = 'idle'`)
				).rows.map((row) => row.pid);
			for (let i = 0; i < 3; i++) {
				const [before] = await signs();
				await context.owner.query('select pg_terminate_backend($1)', [before]);
				await expect.poll(async () => (await signs()).filter((pid) => pid !== before).length).toBe(1);
				await life.held();
				expect(await new WorkerWatch(pool, utils, 0).freeJobsOfTheDead()).not.toContain('worker-alive');
			}
			await life.close();
		});
		test('a worker frees its own jobs that nobody runs, and leaves those that are run', async () => {
			const { rows } = await context.owner.query<{ id: string }>(`select id from graphile_worker._private_jobs where key = 'alive'`);
			await context.owner.query(`update graphile_worker._private_jobs set locked_by = 'worker-alive'`);
			expect(await freeLeftJobs(pool, 'worker-alive', new Set([String(rows[0].id)]))).toBe(1);
			expect(await locked()).toEqual([
				{ key: 'alive', locked_by: 'worker-alive' },
				{ key: 'dead', locked_by: null }
			]);
		});
		test('a long job is done by one at a time, however often it is begun', async () => {
			let finish = () => {};
			let begun = () => {};
			const isBegun = new Promise<void>((resolve) => (begun = resolve));
			const first = onlyOnce(config(), 'practice 1', () => {
				begun();
				return new Promise<void>((resolve) => (finish = resolve));
			});
			await isBegun;
			await expect(onlyOnce(config(), 'practice 1', async () => 'twice')).rejects.toBeInstanceOf(RunsAlready);
			expect(await onlyOnce(config(), 'practice 2', async () => 'another')).toBe('another');
			finish();
			await first;
			expect(await onlyOnce(config(), 'practice 1', async () => 'again')).toBe('again');
		});
	});
});

describe('whether a domain takes mail', () => {
	const fail = (code: string) => Promise.reject(Object.assign(new Error(code), { code }));
	const lookups = (mx: () => Promise<{ exchange: string; priority: number }[]>, a: () => Promise<string[]>, aaaa = () => fail('ENODATA')): Lookups =>
		({ resolveMx: mx, resolve4: a, resolve6: aaaa }) as unknown as Lookups;
	const never = () => Promise.reject(new Error('must not be asked'));
	test.each<[string, Lookups, string]>([
		['an exchanger', lookups(async () => [{ exchange: 'mx.x', priority: 1 }], never), 'yes'],
		['a null exchanger', lookups(async () => [{ exchange: '', priority: 0 }], never), 'no'],
		['no such domain', lookups(() => fail('ENOTFOUND'), never), 'no'],
		[
			'an address and no exchanger',
			lookups(
				() => fail('ENODATA'),
				async () => ['192.0.2.1']
			),
			'yes'
		],
		[
			'an address of version 6 only',
			lookups(
				() => fail('ENODATA'),
				() => fail('ENODATA'),
				(async () => ['2001:db8::1']) as never
			),
			'yes'
		],
		[
			'neither',
			lookups(
				() => fail('ENODATA'),
				() => fail('ENODATA')
			),
			'no'
		],
		['nobody answers', lookups(() => fail('ETIMEOUT'), never), 'unknown'],
		[
			'nobody answers later',
			lookups(
				() => fail('ENODATA'),
				() => fail('ECONNREFUSED')
			),
			'unknown'
		]
	])('%s', async (_, resolver, answer) => expect(await dnsMailDomains(resolver).takesMail('gull.example')).toBe(answer));
	test('is asked once an hour; not knowing is not kept', async () => {
		let asked = 0;
		let now = 0;
		const domains = dnsMailDomains(
			lookups(() => (asked++ === 0 ? fail('ETIMEOUT') : Promise.resolve([{ exchange: 'mx', priority: 1 }])), never),
			() => now
		);
		expect(await domains.takesMail('a.example')).toBe('unknown');
		for (const name of ['a.example', 'A.example', 'a.example']) expect(await domains.takesMail(name)).toBe('yes');
		expect(asked).toBe(2);
		now += 3600_001;
		await domains.takesMail('a.example');
		expect(asked).toBe(3);
	});
	test('an address is refused with a way on, and kept when it was meant', async () => {
		await expect(requireMailDomain(standinMailDomains, 'a@no-mail.example', false)).rejects.toMatchObject({
			code: 'invalid',
			fields: { anyway: 'yes', email: expect.any(String) }
		});
		await requireMailDomain(standinMailDomains, 'a@no-mail.example', true);
		await requireMailDomain(standinMailDomains, 'a@gull.example', false);
	});
});
