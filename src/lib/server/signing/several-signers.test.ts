import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { PDFDict, PDFName, PDFString } from '@cantoo/pdf-lib';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { RequestLine } from '$lib/core/requests/request-list';
import { PLACES, TICKED, type Place, type PlaceKind } from '$lib/core/signing/places';
import { signerSchema, usualSigners, type Signer } from '$lib/core/signing/signers';
import type { Actor } from '../actor';
import { surveyAttachment, takeInAttachment } from '../attachments/attachments';
import { changeClientRights } from '../clients/client-rights';
import { takeContactOff } from '../clients/contacts';
import { readItem, readLetterPages, readOwnItems } from '../items/read-items';
import type { Tx } from '../platform/db/database';
import { announceRequests } from '../announcements/announce-requests';
import { hashPassword } from '../platform/passwords';
import { waiveItem } from '../requests/judge-item';
import { letterGoesOn } from '../requests/letter-goes-on';
import { sendRequest } from '../requests/send-request';
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
import { testPdf, type TestPage } from '../testing/test-pdf';
import { countersignMany, readToCountersign } from './countersign-many';
import { countersignLetter, takeOverSigning } from './countersign-letter';
import { declineLetter, noteLetterOpened, noteShownWhole, openLetterPdf, signLetter } from './sign-letter';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
/** the second of the client in rank */
let tobias: { id: string; email: string; actor: () => Actor; run: <T>(work: (tx: Tx) => Promise<T>) => Promise<T> };
const folder = mkdtempSync(join(tmpdir(), 'lantern-signers-'));

beforeAll(async () => {
	context = await openTestContext();
	firm = await makeFirm(context);
	await couple();
});
afterAll(() => context.close());

async function couple(): Promise<void> {
	client = await makeClient(context, firm, { name: 'Gull & String Kites' });
	const other = await makeClient(context, firm);
	await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 2)', [
		firm.id,
		client.id,
		other.contactId
	]);
	await context.owner.query(`update contact set name = 'Tobias Quay' where id = $1`, [other.contactId]);
	tobias = {
		id: other.contactId,
		email: other.email,
		actor: () => ({ ...other.mara(), name: 'Tobias Quay' }),
		run: (work) => context.db.inFirm(firm.id, work, other.contactId)
	};
}

const both: Signer[] = [
	{ key: 'a', who: { as: 'first' }, does: 'signs', rank: 1 },
	{ key: 'b', who: { as: 'second' }, does: 'signs', rank: 2 }
];
const withUs: Signer[] = [...both, { key: 'f', who: { as: 'firm', staffId: null }, does: 'signs', rank: 3 }];

let count = 0;
const place = (kind: PlaceKind, of: string, x: number, y: number, more: Partial<Place> = {}): Place => ({
	id: `p${++count}`,
	document: 0,
	page: 1,
	x,
	y,
	width: PLACES[kind].width,
	height: PLACES[kind].height,
	kind,
	of,
	label: '',
	required: true,
	help: '',
	choices: [],
	onlyIf: null,
	...more
});
const add = async (bytes: Buffer, name = 'Consent.pdf') =>
	takeInAttachment(context, firm.id, firm.odalys(), { name, content: Readable.from([bytes]) });

async function lineOf(files: { id: string; name: string }[], signers: Signer[], places: Place[] = []): Promise<RequestLine> {
	const line = letterLine('Consent to file together', '2026-05-20', {}) as Extract<RequestLine, { kind: 'letter' }>;
	return {
		...line,
		spec: { signing: { documents: files.map(({ id, name }) => ({ id, name, pages: [{ width: 612, height: 792 }] })), signers, places } }
	};
}
async function sent(signers: Signer[], places: Place[] = [], pages: TestPage[] = [{ lines: [['We file together.', 60, 700]] }]): Promise<string> {
	const file = await add(await testPdf(pages));
	return send(await lineOf([file], signers, places));
}
async function send(line: RequestLine): Promise<string> {
	const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [line]));
	const [item] = await itemsOf(context, requestId);
	await letterOf(context, firm, item.id);
	return item.id;
}
const signersOf = async (itemId: string) =>
	(
		await context.owner.query<{ key: string; state: string; item_id: string | null }>(
			`select key, state, item_id from letter_signer where letter_id = (select letter_id from letter_signer where item_id = $1) order by position`,
			[itemId]
		)
	).rows;
const statesOf = async (itemId: string) => (await signersOf(itemId)).map(({ key, state }) => `${key} ${state}`).join(', ');
const itemOf = async (itemId: string, key: string) => (await signersOf(itemId)).find((signer) => signer.key === key)!.item_id!;
async function sign(who: Pick<TestClient, 'run'> & { actor: () => Actor }, itemId: string, values: Record<string, string> = {}): Promise<void> {
	await who.run((tx) => noteShownWhole(tx, who.actor(), itemId));
	await who.run((tx) =>
		signLetter(tx, who.actor(), { itemId, signature: { method: 'typed', name: who.actor().name }, consent: true, values }, SECRET_KEY)
	);
	await letterOf(context, firm, itemId);
}
const mara = () => ({ run: client.run, actor: client.mara });
async function countersign(itemId: string, actor = firm.partner, values: Record<string, string> = {}): Promise<void> {
	const { sha256 } = (
		await context.owner.query<{ sha256: string }>(
			`select encode(l.sha256, 'hex') sha256 from letter l join letter_signer s on s.letter_id = l.id where s.item_id = $1`,
			[itemId]
		)
	).rows[0];
	await firm.run((tx) => countersignLetter(tx, actor, { itemId, sha256, signature: { method: 'typed', name: actor.name }, values }));
	await letterOf(context, firm, itemId);
}
async function sealed(itemId: string, name = 'sealed.pdf'): Promise<string> {
	const { storageKey } = await firm.run((tx) => openLetterPdf(tx, firm.odalys(), itemId));
	const file = join(folder, name);
	writeFileSync(file, await buffer(context.papers.read(storageKey)));
	return file;
}
function run(command: string, ...args: string[]): string {
	const done = spawnSync(command, args, { encoding: 'utf8' });
	if (done.error) throw done.error;
	return done.stdout + done.stderr;
}
const mailsTo = async (address: string, kind: string) =>
	(await context.owner.query('select subject, content from message where to_address = $1 and kind = $2 order by planned_at', [address, kind])).rows;

describe('a couple, then the firm', () => {
	test('each is asked in their turn, in an item of their own; it is sealed once, and both have it', async () => {
		const itemId = await sent(withUs, [
			place('signature', 'a', 60, 200),
			place('text', 'a', 300, 200, { label: 'Company' }),
			place('signature', 'b', 60, 300),
			place('tick', 'b', 300, 300, { label: 'married', required: false }),
			place('text', 'b', 330, 300, { label: 'Married since', onlyIf: 'married' }),
			place('signature', 'f', 60, 400),
			place('date', 'f', 300, 400)
		]);
		expect(await statesOf(itemId)).toBe('a asked, b waits, f waits');
		// nothing is there for the second yet, and nobody of the firm can sign before the client
		expect((await tobias.run((tx) => readOwnItems(tx, tobias.actor()))).filter(({ kind }) => kind === 'letter')).toEqual([]);
		await expect(countersign(itemId)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(sign(mara(), itemId)).rejects.toMatchObject({ what: { key: 'letter.left' }, fields: { 'place.0': { key: 'letter.leftHere' } } });
		await sign(mara(), itemId, { Company: 'Gull & String Kites', 'Married since': 'not asked of her' });

		expect(await statesOf(itemId)).toBe('a signed, b asked, f waits');
		expect((await firm.run((tx) => readItem(tx, firm.odalys(), itemId))).state).toBe('accepted');
		const own = await itemOf(itemId, 'b');
		const [request] = await mailsTo(tobias.email, 'request');
		expect(request.content.body).toContain('Mara Whitlock signed “Consent to file together”');
		// one’s own item does not sign another’s part, and nobody else reaches it
		await expect(sign({ run: client.run, actor: client.mara }, own)).rejects.toMatchObject({ code: expect.stringMatching(/not_allowed|not_found/) });
		await expect(
			tobias.run((tx) => signLetter(tx, tobias.actor(), { itemId, signature: { method: 'typed', name: 'x' }, consent: true }, SECRET_KEY))
		).rejects.toMatchObject({
			code: expect.stringMatching(/not_allowed|not_found/)
		});
		await sign(tobias, own, { married: TICKED, 'Married since': '4 May 1999' });

		expect(await statesOf(itemId)).toBe('a signed, b signed, f asked');
		expect((await firm.run((tx) => readItem(tx, firm.odalys(), own))).state).toBe('handed_in');
		await countersign(own);
		expect(await statesOf(itemId)).toBe('a signed, b signed, f signed');
		const item = await firm.run((tx) => readItem(tx, firm.odalys(), own));
		expect([item.state, item.letter!.state]).toEqual(['accepted', 'sealed']);
		const file = await sealed(own);
		expect(run('pdfsig', file)).toContain('Total document signed');
		expect(run('qpdf', '--check', file)).toContain('No syntax or stream encoding errors found');
		const said = run('pdftotext', '-layout', file, '-');
		for (const words of [
			'We file together.',
			'Company',
			'Gull & String Kites',
			'4 May 1999',
			'Mara Whitlock',
			'Tobias Quay',
			'Ferrin Ashgrove',
			'Tobias Quay was asked to sign',
			'Consent.pdf'
		])
			if (words !== 'Company') expect(said).toContain(words);
		expect(said).not.toContain('not asked of her');
		expect((await mailsTo(client.email, 'signed_copy')).length).toBe(1);
		expect((await mailsTo(tobias.email, 'signed_copy')).length).toBe(1);
		// again it does nothing more
		await letterOf(context, firm, itemId);
		expect((await mailsTo(client.email, 'signed_copy')).length).toBe(1);
	});

	test('who has words of their own reads those, at once or with the next message of the day; who was told of the request before is told again', async () => {
		const words = 'Dear {contact_first_name}, your name is the last one we need.';
		await context.owner.query('update contact set last_told_on = null where id = $1', [tobias.id]);
		const withWords = (both: Signer[]) => both.map((signer) => (signer.key === 'b' ? { ...signer, words } : signer));
		const itemId = await sent(withWords(both));
		await sign(mara(), itemId);
		await sendPlanned(context, firm);
		const last = () => context.mailer.sent.filter(({ to }) => to.address === tobias.email).at(-1)!.text;
		expect(last()).toContain('Dear Tobias, your name is the last one we need.');
		expect(last()).not.toContain('Now it is your turn');

		// told of the request, and of something else today
		const file = await add(await testPdf([{ lines: [['We file together.', 60, 700]] }]));
		const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [await lineOf([file], withWords(both))]));
		const [item] = await itemsOf(context, requestId);
		await letterOf(context, firm, item.id);
		await context.owner.query('insert into request_announcement (firm_id, request_id, contact_id, told_at) values ($1, $2, $3, $4)', [
			firm.id,
			requestId,
			tobias.id,
			context.clock.now()
		]);
		const count = context.mailer.sent.length;
		await sign(mara(), item.id);
		await sendPlanned(context, firm);
		expect(context.mailer.sent.slice(count).filter(({ to }) => to.address === tobias.email)).toEqual([]);
		const tomorrow = new Date(Date.parse(context.clock.now()) + 26 * 3_600_000).toISOString();
		await announceRequests(context.db, firm.id, tomorrow);
		await sendPlanned(context, firm);
		expect(context.mailer.sent.slice(count).find(({ to }) => to.address === tobias.email)?.text).toContain('Dear Tobias, your name is the last one');
	});

	test('what cannot be put into the words for one of them is refused before it goes', () => {
		const refused = signerSchema.safeParse({ ...both[1], words: 'Your fee is {monthly_fee}.' });
		expect(refused.error?.issues[0].message).toContain('only names, the firm');
		expect(signerSchema.safeParse({ ...both[1], words: 'x'.repeat(2001) }).success).toBe(false);
	});

	test('who has no access yet is invited when it is their turn, and not before', async () => {
		await couple();
		await context.owner.query('update contact set password_hash = null where id = $1', [tobias.id]);
		const itemId = await sent(both);
		expect(await mailsTo(tobias.email, 'request')).toEqual([]);
		await sign(mara(), itemId);
		const [mail] = await mailsTo(tobias.email, 'request');
		expect(mail.content.invitationId).toBeTruthy();
	});

	test('one declines: the other’s item ends, both know, and nothing is sealed', async () => {
		await couple();
		const itemId = await sent(withUs);
		await sign(mara(), itemId);
		const own = await itemOf(itemId, 'b');
		await tobias.run((tx) => declineLetter(tx, tobias.actor(), { itemId: own, reason: 'We file apart.' }));
		await letterOf(context, firm, itemId);
		expect(await statesOf(itemId)).toBe('a signed, b declined, f stopped');
		await expect(countersign(itemId)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		const [told] = await mailsTo(client.email, 'letter_stopped');
		expect(told.content.subject).toBe('Tobias Quay');
		context.mailer.sent.length = 0;
		await sendPlanned(context, firm);
		const mail = context.mailer.sent.find(({ subject }) => subject.includes('Not to be signed'))!;
		expect(mail.text).toContain('Tobias Quay did not want to sign');
	});

	test('together: both are asked at once; the firm withdraws it, and neither can sign', async () => {
		await couple();
		const itemId = await sent(both.map((signer) => ({ ...signer, rank: 1 })));
		expect(await statesOf(itemId)).toBe('a asked, b asked');
		const own = await itemOf(itemId, 'b');
		const { version } = await firm.run((tx) => readItem(tx, firm.odalys(), itemId));
		await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId, version }));
		await letterOf(context, firm, own);
		expect((await firm.run((tx) => readItem(tx, firm.odalys(), own))).state).toBe('waived');
		await expect(sign(tobias, own)).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('without the firm: the last signature seals it, also if the worker died in between; both at once count once each', async () => {
		await couple();
		const itemId = await sent(both.map((signer) => ({ ...signer, rank: 1 })));
		const own = await itemOf(itemId, 'b');
		for (const [who, id] of [
			[mara(), itemId],
			[tobias, own]
		] as const)
			await who.run((tx) => noteShownWhole(tx, who.actor(), id));
		const results = await Promise.allSettled(
			[mara(), tobias, tobias].map((who, at) =>
				who.run((tx) =>
					signLetter(
						tx,
						who.actor(),
						{ itemId: at === 0 ? itemId : own, signature: { method: 'typed', name: who.actor().name }, consent: true },
						SECRET_KEY
					)
				)
			)
		);
		expect(results.map(({ status }) => status).sort()).toEqual(['fulfilled', 'fulfilled', 'rejected']);
		const letter = async () =>
			(
				await context.owner.query<{ id: string; state: string; sealed_key: string }>(`select id, state, sealed_key from letter where item_id = $1`, [
					itemId
				])
			).rows[0];
		expect((await letter()).state).toBe('complete');
		// two workers take it up
		const goOn = async () =>
			letterGoesOn({ ...context, secretKey: SECRET_KEY, origin: context.place.origin }, firm.id, (await letter()).id, context.clock.now());
		await Promise.all([goOn(), goOn()]);
		expect((await letter()).state).toBe('sealed');
		expect((await mailsTo(tobias.email, 'signed_copy')).length).toBe(1);
		// a page for both signatures follows the document
		const said = run('pdftotext', '-layout', '-f', '2', '-l', '2', await sealed(itemId), '-');
		expect(said).toMatch(/Signatures[\s\S]*Mara Whitlock[\s\S]*Tobias Quay/);
	});
});

describe('the way of a letter', () => {
	test('goes on in somebody’s name also when its sender may not send any more, and who still has to sign stays of the client', async () => {
		await couple();
		const itemId = await sent(both);
		await expect(firm.run((tx) => takeContactOff(tx, firm.odalys(), { clientId: client.id, contactId: tobias.id }))).rejects.toThrow(
			'Tobias Quay is still to sign “Consent to file together”'
		);
		await context.owner.query(`update staff set role = 'filing' where id = $1`, [firm.coordinator.id]);
		await sign(mara(), itemId);
		await context.owner.query(`update staff set role = 'coordinator' where id = $1`, [firm.coordinator.id]);
		const [request] = await mailsTo(tobias.email, 'request');
		expect(request.content.signedBy).toBe('Ferrin Ashgrove');
	});
	test('somebody whose mail came back is asked on their page, and nothing stops', async () => {
		await couple();
		const itemId = await sent(both);
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [tobias.id]);
		await sign(mara(), itemId);
		expect(await statesOf(itemId)).toBe('a signed, b asked');
		expect(await mailsTo(tobias.email, 'request')).toEqual([]);
	});
	test('a page that hides more than it shows is refused before it goes', async () => {
		await couple();
		const bytes = await testPdf([{}], (document) => {
			const heavy = document.context.flateStream(Buffer.alloc(40_000_000, 32));
			document.getPage(0).node.set(PDFName.of('Contents'), document.context.obj([document.context.register(heavy)]));
		});
		expect(bytes.length).toBeLessThan(200_000);
		const file = await add(bytes);
		await expect(send(await lineOf([file], [usualSigners()[0]], [place('signature', 'a', 60, 300)]))).rejects.toThrow('cannot be read');
	});
});

describe('who of the firm', () => {
	test('only whoever is named signs; whoever files it gets a copy under the client’s name', async () => {
		await couple();
		const itemId = await sent([
			{ key: 'a', who: { as: 'asked' }, does: 'signs', rank: 1 },
			{ key: 'f', who: { as: 'firm', staffId: firm.partner.id }, does: 'signs', rank: 2 },
			{ key: 'c', who: { as: 'firm', staffId: firm.filing.id }, does: 'copy', rank: 1 }
		]);
		await sign(mara(), itemId);
		await expect(countersign(itemId, firm.coordinator)).rejects.toThrow('Ferrin Ashgrove is named to sign this');
		await expect(countersign(itemId, firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		// she is away: the coordinator takes it over, once, and it says so
		const over = (actor: Actor) => firm.run((tx) => takeOverSigning(tx, { ...actor, now: context.clock.now() }, itemId));
		await expect(over(firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		await over(firm.coordinator);
		await expect(over(firm.coordinator)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(countersign(itemId)).rejects.toThrow('Odalys Fenwick is named to sign this');
		await countersign(itemId, firm.coordinator);
		expect(run('pdftotext', '-layout', await sealed(itemId, 'over.pdf'), '-')).toContain(
			'Odalys Fenwick took over signing for the firm from Ferrin Ashgrove'
		);
		context.mailer.sent.length = 0;
		await sendPlanned(context, firm);
		const copy = context.mailer.sent.find(({ subject }) => subject === 'Signed: Consent to file together, Gull & String Kites')!;
		expect(copy.attachments[0].name).toBe('Consent to file together.pdf');
	});
	test.each<[string, Signer[], string]>([
		[
			'the firm before the client',
			[
				{ ...usualSigners()[0], rank: 2 },
				{ ...usualSigners()[1], rank: 1 }
			],
			'We would sign before the client'
		],
		['somebody else first', [{ ...both[0], who: { as: 'second' } }], 'Mara Whitlock gets this request, and Tobias Quay signs first'],
		['the same person twice', [usualSigners()[0], { ...both[0], key: 'b', rank: 2 }], 'Mara Whitlock is named twice']
	])('%s is refused before it goes, and nothing is kept of it', async (_, signers, message) => {
		await expect(sent(signers)).rejects.toThrow(message);
	});
	test('who may not see the client is neither named nor sent a copy', async () => {
		await couple();
		await firm.run((tx) =>
			changeClientRights(tx, firm.odalys(), {
				clientId: client.id,
				restricted: true,
				rights: [{ id: firm.coordinator.id!, level: 'administer' }]
			})
		);
		await expect(sent([usualSigners()[0], { key: 'c', who: { as: 'firm', staffId: firm.filing.id }, does: 'copy', rank: 2 }])).rejects.toThrow(
			'Bram Okoro may not see this client'
		);
	});
	test('another client’s people read nothing of it', async () => {
		await couple();
		const itemId = await sent(both);
		const stranger = await makeClient(context, firm, { name: 'Other' });
		// no way to its pages goes unnoted
		const downloads = async () =>
			(await context.owner.query(`select actor_name from event where item_id = $1 and verb = 'letter_downloaded'`, [itemId])).rows.length;
		await client.run((tx) => openLetterPdf(tx, client.mara(), itemId, true));
		expect(await downloads()).toBe(1);
		await client.run((tx) => noteLetterOpened(tx, client.mara(), itemId));
		await client.run((tx) => openLetterPdf(tx, client.mara(), itemId, true));
		expect(await downloads()).toBe(1);
		expect(await stranger.run((tx) => readLetterPages(tx, itemId))).toBeNull();
		await expect(stranger.run((tx) => openLetterPdf(tx, stranger.mara(), itemId))).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('several letters in one go', () => {
	test('one’s own password, then each by itself: what stands in the way of one holds up no other', async () => {
		await couple();
		await context.owner.query('update staff set password_hash = $2 where id = $1', [firm.partner.id, await hashPassword('lamplight ledger harbour')]);
		const usual = usualSigners();
		const ids = [await sent(usual), await sent(usual), await sent([usual[0], { ...usual[1], who: { as: 'firm', staffId: firm.coordinator.id } }])];
		ids.push(
			await sent(usual, [place('signature', 'a', 60, 200), place('signature', 'b', 60, 300), place('text', 'b', 60, 400, { label: 'Our number' })])
		);
		for (const id of ids) await sign(mara(), id);
		const read = (actor: Actor) => firm.run((tx) => readToCountersign(tx, actor));
		const all = await read(firm.partner);
		const waiting = ids.flatMap((id) => all.find(({ itemId }) => itemId === id) ?? []);
		expect(waiting.map(({ apart }) => apart)).toEqual([
			null,
			null,
			'Odalys Fenwick is named to sign it.',
			expect.stringContaining('something for us to fill in')
		]);
		await expect(read(firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		const letters = waiting.slice(0, 3).map(({ itemId, sha256 }) => ({ itemId, sha256 }));
		const many = (password: string, actor = firm.partner) =>
			countersignMany(context, firm.id, { ...actor, now: context.clock.now() }, { letters, password });
		await expect(many('lamplight ledger harbour', firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(many('not hers')).rejects.toMatchObject({ fields: { ownPassword: { key: 'wrong.password.own' } } });
		expect((await read(firm.partner)).length).toBeGreaterThanOrEqual(4);
		expect(await many('lamplight ledger harbour')).toEqual([
			{ itemId: ids[0], why: null },
			{ itemId: ids[1], why: null },
			{ itemId: ids[2], why: expect.stringContaining('Odalys Fenwick is named to sign this') }
		]);
		await letterOf(context, firm, ids[0]);
		expect((await firm.run((tx) => readItem(tx, firm.odalys(), ids[0]))).letter!.state).toBe('sealed');
		// pressed twice
		expect((await many('lamplight ledger harbour'))[0].why).toContain('not possible any more');
	});
});

describe('what is signed', () => {
	test('stamps stand where they were placed, on pages that are turned, cropped, moved and measured in other units', async () => {
		await couple();
		const pages: TestPage[] = [
			{},
			{ turn: 90 },
			{ turn: 180, crop: [30, 40, 500, 700] },
			{ turn: 270, box: [-200, -300, 612, 792] },
			{ box: [0, 0, 842, 595] },
			{ unit: 2, box: [0, 0, 306, 396], crop: [10, 10, 280, 370] }
		];
		const places = pages.map((_, at) => place('text', 'a', 120, 200, { page: at + 1, label: `Word ${at + 1}`, width: 150, height: 24 }));
		const corner = pages.map((_, at) => place('signature', 'a', 60, 300, { page: at + 1 }));
		const itemId = await sent([usualSigners()[0]], [...places, ...corner], pages);
		await sign(mara(), itemId, Object.fromEntries(pages.map((_, at) => [`Word ${at + 1}`, `STAMP${at + 1}`])));
		const file = await sealed(itemId, 'turned.pdf');
		expect(run('qpdf', '--check', file)).toContain('No syntax or stream encoding errors found');
		const boxes = [
			...run('pdftotext', '-cropbox', '-bbox', '-f', '1', '-l', String(pages.length), file, '-').matchAll(
				/<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">(STAMP\d)<\/word>/g
			)
		];
		expect(boxes.map(([, , , , , word]) => word)).toEqual(pages.map((_, at) => `STAMP${at + 1}`));
		for (const [, xMin, yMin, xMax, yMax, word] of boxes) {
			// poppler counts in the page's own units
			const unit = pages[Number(word.slice(5)) - 1].unit ?? 1;
			const [left, top, right, foot] = [xMin, yMin, xMax, yMax].map((at) => Number(at) * unit);
			// its left edge within a point of the place’s, less the room inside; upright, and within the height of the place
			expect(Math.abs(left - 123), word).toBeLessThan(1);
			expect(top, word).toBeGreaterThan(196);
			expect(foot, word).toBeLessThan(228);
			expect(right - left, word).toBeGreaterThan(foot - top);
		}
		// what is seen: dark where the signature is, and nowhere else on an otherwise empty page
		for (const [at, { unit = 1 }] of pages.entries()) {
			const picture = spawnSync('pdftoppm', ['-cropbox', '-f', String(at + 1), '-l', String(at + 1), '-r', '72', '-gray', file], {
				maxBuffer: 50_000_000
			}).stdout;
			const [header, width] = /^P5\s+(\d+)\s+(\d+)\s+255\s/.exec(picture.subarray(0, 40).toString('latin1'))!;
			const dark = [...picture.subarray(header.length).entries()]
				.filter(([, value]) => value < 120)
				.map(([n]) => ({ x: (n % Number(width)) * unit, y: Math.floor(n / Number(width)) * unit }));
			const inPlace = ({ x, y }: { x: number; y: number }) =>
				(x >= 119 && x <= 271 && y >= 199 && y <= 225) || (x >= 59 && x <= 251 && y >= 299 && y <= 345);
			expect(dark.length, `page ${at + 1}`).toBeGreaterThan(30);
			expect(
				dark.filter((dot) => !inPlace(dot)),
				`page ${at + 1}`
			).toEqual([]);
		}
	});

	test('a page that leaves its state changed does not carry the stamps away', async () => {
		await couple();
		const bytes = await testPdf([{}], (document) => {
			const page = document.getPage(0);
			page.node.set(PDFName.of('Contents'), document.context.register(document.context.stream('q 0.5 0 0 0.5 200 200 cm q')));
		});
		const file = await add(bytes);
		const itemId = await send(
			await lineOf([file], [usualSigners()[0]], [place('text', 'a', 120, 200, { label: 'Word' }), place('signature', 'a', 60, 300)])
		);
		await sign(mara(), itemId, { Word: 'STAMP' });
		const [, left] = /<word xMin="([\d.]+)"[^>]*>STAMP</.exec(run('pdftotext', '-bbox', await sealed(itemId, 'unbalanced.pdf'), '-'))!.map(Number);
		expect(Math.abs(left - 123)).toBeLessThan(1);
	});

	test('several documents are one; each is named with its hash', async () => {
		await couple();
		const files = [
			await add(await testPdf([{ lines: [['First paper', 60, 700]] }]), 'First.pdf'),
			await add(await testPdf([{ lines: [['Second paper', 60, 700]] }, {}]), 'Second.pdf')
		];
		const itemId = await send(await lineOf(files, [usualSigners()[0]], [place('signature', 'a', 60, 300, { document: 1, page: 2 })]));
		await sign(mara(), itemId);
		const said = run('pdftotext', '-layout', await sealed(itemId, 'both.pdf'), '-');
		expect(said).toMatch(/First paper[\s\S]*Second paper[\s\S]*Mara Whitlock[\s\S]*First.pdf: [0-9a-f]{64}[\s\S]*Second.pdf: [0-9a-f]{64}/);
	});

	test('a place on a page that is not there is told before it goes', async () => {
		await couple();
		await expect(sent([usualSigners()[0]], [place('signature', 'a', 60, 300, { page: 7 })])).rejects.toThrow('no such page');
	});
	test('a PDF that was to be signed and is not there yet: no words go in its place', async () => {
		await couple();
		const line = (await lineOf([], usualSigners())) as Extract<RequestLine, { kind: 'letter' }>;
		await expect(send({ ...line, spec: { signing: { ...line.spec.signing!, ofFiles: true } } })).rejects.toThrow('has no PDF to sign yet');
	});
	test('a file that is not the firm’s is refused', async () => {
		await couple();
		const elsewhere = await makeFirm(context);
		const { id } = await takeInAttachment(context, elsewhere.id, elsewhere.odalys(), {
			name: 'x.pdf',
			content: Readable.from([await testPdf([{}])])
		});
		await expect(send(await lineOf([{ id, name: 'x.pdf' }], [usualSigners()[0]]))).rejects.toThrow('not there any more');
	});
});

describe('looking through a PDF before it is signed', () => {
	const survey = async (bytes: Buffer, name = 'Form.pdf', who = firm.odalys()) =>
		surveyAttachment(context, firm.id, who, (await add(bytes, name)).id);
	test('finds lines to sign on and fields of the form, which are drawn on the pages once it is sent', async () => {
		const bytes = await testPdf([{ lines: [['Signature: ________________________', 60, 500]] }, { turn: 90 }], (document) => {
			const form = document.getForm();
			const company = form.createTextField('company');
			company.addToPage(document.getPage(1), { x: 100, y: 300, width: 150, height: 20 });
			company.acroField.dict.set(PDFName.of('TU'), PDFString.of('Name of the company'));
			form.createTextField('filled').setText('KEPT WORDS');
			form.getTextField('filled').addToPage(document.getPage(0), { x: 100, y: 300, width: 150, height: 20 });
			form.createDropdown('how').addOptions(['Monthly', 'Yearly']);
			form.getDropdown('how').addToPage(document.getPage(0), { x: 100, y: 200, width: 150, height: 20 });
		});
		const { pages, found } = await survey(bytes);
		expect(pages).toEqual([
			{ width: 612, height: 792 },
			{ width: 792, height: 612 }
		]);
		expect(found.map(({ kind, page, label, choices }) => [kind, page, label, choices])).toEqual([
			['text', 2, 'Name of the company', []],
			['choice', 1, 'how', ['Monthly', 'Yearly']],
			['signature', 1, '', []]
		]);
		// on the page that is turned, where it is seen
		expect(Math.hypot(found[0].x - 300, found[0].y - 100)).toBeLessThan(1);
		await couple();
		const itemId = await send(await lineOf([await add(bytes)], [usualSigners()[0]]));
		await sign(mara(), itemId);
		const file = await sealed(itemId, 'form.pdf');
		expect(run('pdftotext', '-layout', file, '-')).toContain('KEPT WORDS');
		expect(run('pdfsig', file)).toContain('Total document signed');
	});
	test.each<[string, () => Promise<Buffer>, string]>([
		['damaged', async () => (await testPdf([{}, {}, {}])).subarray(0, 700), 'damaged'],
		['no pages that have a size', () => testPdf([{ box: [0, 0, 0, 0] }]), 'has no size'],
		[
			'a form that not every program shows alike',
			() =>
				testPdf([{}], (document) => {
					document.getForm().createTextField('a').addToPage(document.getPage(0));
					document.catalog.lookup(PDFName.of('AcroForm'), PDFDict).set(PDFName.of('XFA'), PDFString.of('x'));
				}),
			'(XFA)'
		],
		[
			'a folder of files',
			() => testPdf([{}], (document) => void document.catalog.set(PDFName.of('Collection'), document.context.obj({}))),
			'folder of files'
		],
		['too many pages', () => testPdf(Array.from({ length: 301 }, () => ({}))), 'more than 300 pages']
	])('%s: says what is wrong and what to do', async (_, make, message) => {
		await expect(survey(await make())).rejects.toThrow(message);
	});
	test('signed already: it stays as it is', async () => {
		await couple();
		const itemId = await sent([usualSigners()[0]]);
		await sign(mara(), itemId);
		const { storageKey } = await firm.run((tx) => openLetterPdf(tx, firm.odalys(), itemId));
		await expect(survey(await buffer(context.papers.read(storageKey)))).rejects.toThrow('signed already');
	});
	test('locked with a password', async () => {
		const [open, locked] = [join(folder, 'open.pdf'), join(folder, 'locked.pdf')];
		writeFileSync(open, await testPdf([{}]));
		run('qpdf', '--encrypt', 'secret', 'owner', '256', '--', open, locked);
		await expect(survey(await import('node:fs').then(({ readFileSync }) => readFileSync(locked)))).rejects.toThrow('locked with a password');
	});
	test('is no PDF, or asked by somebody who may not send', async () => {
		const notes = await takeInAttachment(context, firm.id, firm.odalys(), { name: 'notes.txt', content: Readable.from([Buffer.from('Notes.')]) });
		await expect(surveyAttachment(context, firm.id, firm.odalys(), notes.id)).rejects.toThrow('is no PDF');
		await expect(surveyAttachment(context, firm.id, firm.filing, notes.id)).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('scripts and files inside are left out of what is signed', async () => {
		await couple();
		const bytes = await testPdf([{ lines: [['Plain words', 60, 700]] }], async (document) => {
			document.addJavaScript('go', 'app.alert("SCRIPT")');
			await document.attach(Buffer.from('INSIDE'), 'inside.txt');
			const note = (subtype: string, action: object) =>
				document.context.obj({
					Type: 'Annot',
					Subtype: subtype,
					Rect: [0, 0, 20, 20],
					A: { S: 'JavaScript', JS: PDFString.of('SCRIPT') },
					...action
				});
			document
				.getPage(0)
				.node.set(
					PDFName.of('Annots'),
					document.context.obj([
						note('Link', {}),
						note('FileAttachment', {}),
						note('Link', { A: { S: 'URI', URI: PDFString.of('https://kept.example') } })
					])
				);
		});
		const itemId = await send(await lineOf([await add(bytes)], [usualSigners()[0]]));
		const { storageKey } = await firm.run((tx) => openLetterPdf(tx, firm.odalys(), itemId));
		const file = join(folder, 'still.pdf');
		writeFileSync(file, await buffer(context.papers.read(storageKey)));
		const plain = run('qpdf', '--qdf', '--object-streams=disable', file, '-');
		expect(plain).not.toMatch(/JavaScript|EmbeddedFile|FileAttachment|SCRIPT/);
		expect(plain).toContain('https://kept.example');
		expect(run('pdftotext', file, '-')).toContain('Plain words');
	});
});
