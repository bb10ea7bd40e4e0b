import { spawnSync } from 'node:child_process';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { describe, expect, test } from 'vitest';
import { usualSigners, type Signer } from '$lib/core/signing/signers';
import type { RequestLine } from '$lib/core/requests/request-list';
import type { Actor } from '../actor';
import { changeClientRights } from '../clients/client-rights';
import { addContact } from '../clients/contacts';
import { mergeClients } from '../clients/merge';
import { changePerson, readPeopleList } from '../clients/people-list';
import { openAttachment, takeInAttachment } from '../attachments/attachments';
import { readOwnItem, readOwnItems } from '../items/read-items';
import { changeSigningWay, replaceSigner } from '../requests/replace-signer';
import { loadFirm } from '../firms/firm';
import { readRounds } from '../rounds/read-rounds';
import { sendRequest } from '../requests/send-request';
import { countersignLetter } from '../signing/countersign-letter';
import { beginLetterVisit, findLetterVisitor, readLetterDoor } from '../signing/letter-links';
import { noteShownWhole, openLetterPdf, signLetter } from '../signing/sign-letter';
import { itemsOf, letterLine, letterOf, makeClient, requestTo, SECRET_KEY, sendPlanned, type TestClient } from '../testing/test-firm';
import { testPdf } from '../testing/test-pdf';
import { context, firm, useFirm } from '../testing/use-firm';
import { readSigningPeople } from './letter-signers';
import { nameOutsideSigner, readOutsideSigners, takeOutsideSignerOff } from './outside-signers';

useFirm({ withClient: false });

const EDDA = { name: 'Edda Lorne', email: 'edda@guarantor.example', phone: null };
const VALUES = { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' };
const makeOysters = () => makeClient(context, firm, { name: 'Ninth Rock Oysters' });
const name = (of: TestClient, who: Partial<typeof EDDA> = {}, knownId: string | null = null, actor = firm.odalys()) =>
	firm.run((tx) => nameOutsideSigner(tx, actor, { clientId: of.id, knownId, ...EDDA, ...who }));
/** Mara signs, then somebody outside, then the firm. */
function letterFor(contactId: string, more: Partial<Signer> = {}, rest: Signer[] = []): RequestLine {
	const [asked, anyone] = usualSigners();
	const line = letterLine('Guarantee', '2026-05-20', VALUES) as Extract<RequestLine, { kind: 'letter' }>;
	const outside: Signer = { key: 'o', who: { as: 'contact', contactId }, does: 'signs', rank: 2, by: 'link', ...more };
	return { ...line, spec: { signing: { documents: [], signers: [asked, outside, { ...anyone, rank: 3 }, ...rest], places: [] } } };
}
async function send(of: TestClient, ...lines: RequestLine[]): Promise<string> {
	const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(of, lines)));
	return item.id;
}
async function goOn(itemId: string): Promise<void> {
	await letterOf(context, firm, itemId);
	await sendPlanned(context, firm);
}
const byName = (tx: Parameters<typeof noteShownWhole>[0], actor: Actor, itemId: string) =>
	noteShownWhole(tx, actor, itemId).then(() =>
		signLetter(tx, actor, { itemId, signature: { method: 'typed', name: actor.name }, consent: true, by: 'link' }, SECRET_KEY)
	);
const mails = (to: string) => context.mailer.sent.filter((mail) => mail.to.address === to);
const linkTo = (to: string) => /\/portal\/[a-z0-9-]+\/sign\/([\w-]{43})/.exec(mails(to).at(-1)!.text)![1];
const nobody = () => ({ kind: 'nobody' as const, id: null, name: 'x', role: null, now: context.clock.now(), ip: '203.0.113.9', userAgent: 'Test' });
/** Opens the letter by the link that went to an address. */
async function open(to: string) {
	const link = linkTo(to);
	return (await findLetterVisitor(context.db, firm.id, nobody(), link, await beginLetterVisit(context, firm.id, nobody(), link)))!;
}
const peopleOf = (of: TestClient) => firm.run((tx) => readSigningPeople(tx, of.id));

describe('somebody outside the client', () => {
	test('signs when it is their turn by a link of their own, for nobody but themselves, and has the sealed letter', async () => {
		const oysters = await makeOysters();
		const { id } = await name(oysters);
		const itemId = await send(oysters, letterFor(id));
		await goOn(itemId);
		expect(mails(EDDA.email)).toEqual([]);
		await oysters.run((tx) => byName(tx, oysters.mara(), itemId));
		await goOn(itemId);
		const [mail] = mails(EDDA.email);
		expect(mail.text).not.toMatch(/\/join\/|\/item\//);
		const edda = await open(EDDA.email);
		expect(edda).toMatchObject({ outside: true, way: 'link', actor: { id, name: 'Edda Lorne' } });
		expect(edda.itemId).not.toBe(itemId);
		// as a contact they see nothing of the client, and what their link opens is the one item
		expect(await context.db.inFirm(firm.id, (tx) => readOwnItems(tx, edda.actor), id)).toEqual([]);
		await expect(context.db.inFirm(firm.id, (tx) => readOwnItem(tx, edda.actor, edda.itemId), id)).rejects.toMatchObject({ code: 'not_found' });
		await firm.run((tx) => readOwnItem(tx, edda.actor, edda.itemId));
		await expect(firm.run((tx) => byName(tx, edda.actor, itemId))).rejects.toMatchObject({ code: 'not_allowed' });
		await firm.run((tx) => byName(tx, edda.actor, edda.itemId));
		await goOn(itemId);
		const letter = (await firm.run((tx) =>
			tx.first<{ sha256: string }>(`select encode(l.sha256, 'hex') sha256 from letter l where item_id = $1`, [itemId])
		))!;
		await firm.run((tx) =>
			countersignLetter(
				tx,
				{ ...firm.partner, now: context.clock.now() },
				{ itemId, signature: { method: 'typed', name: 'Ferrin Ashgrove' }, ...letter }
			)
		);
		await goOn(itemId);
		expect(mails(EDDA.email).at(-1)!.subject).toContain('Signed by all');
		expect(mails(EDDA.email).at(-1)!.text).toContain('/sign/');
		const sealed = await firm.run((tx) => openLetterPdf(tx, edda.actor, edda.itemId));
		const words = spawnSync('pdftotext', ['-layout', '-', '-'], {
			input: await buffer(context.papers.read(sealed.storageKey)),
			encoding: 'utf8'
		}).stdout;
		expect(words).toContain('Edda Lorne, in their own name');
		expect(words).toContain('Mara Whitlock, for Ninth Rock Oysters');
		expect(words).not.toContain('Edda Lorne, for');
	});

	test('who only gets a copy is told of no page that they do not have', async () => {
		const oysters = await makeOysters();
		const { id } = await name(oysters);
		const [asked, anyone] = usualSigners();
		const line = letterFor(id) as Extract<RequestLine, { kind: 'letter' }>;
		line.spec.signing!.signers = [asked, anyone, { key: 'o', who: { as: 'contact', contactId: id }, does: 'copy', rank: 3 }];
		const itemId = await send(oysters, line);
		await oysters.run((tx) => byName(tx, oysters.mara(), itemId));
		await goOn(itemId);
		expect(mails(EDDA.email)).toEqual([]);
		const letter = (await firm.run((tx) =>
			tx.first<{ sha256: string }>(`select encode(l.sha256, 'hex') sha256 from letter l where item_id = $1`, [itemId])
		))!;
		await firm.run((tx) =>
			countersignLetter(
				tx,
				{ ...firm.partner, now: context.clock.now() },
				{ itemId, signature: { method: 'typed', name: 'Ferrin Ashgrove' }, ...letter }
			)
		);
		await goOn(itemId);
		const [mail] = mails(EDDA.email);
		expect(mail.text).toContain('“Guarantee” is now signed by all. The signed copy is attached.');
		expect(mail.text).not.toMatch(/your page|\/portal\/[a-z0-9-]+\s/);
		expect(mail.attachments).toHaveLength(1);
	});

	test('mail to them that comes back stands in Rounds for who looks after the client, and leads there', async () => {
		const oysters = await makeOysters();
		const { id } = await name(oysters);
		const itemId = await send(oysters, letterFor(id));
		await oysters.run((tx) => byName(tx, oysters.mara(), itemId));
		await goOn(itemId);
		await context.owner.query(`update message set state = 'failed', settled_at = planned_at where contact_id = $1`, [id]);
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [id]);
		const rows = (mineOf: string) =>
			firm.run(async (tx) =>
				(await readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (day) => day }, mineOf)).rows.filter(({ key }) => key.startsWith('message-'))
			);
		expect(await rows(firm.partner.id!)).toEqual([]);
		expect(await rows(firm.coordinator.id!)).toMatchObject([
			{ clientId: oysters.id, words: 'mail to edda@guarantor.example did not arrive', aside: 'find a new address' }
		]);
	});

	test('needs a link, and a name before it goes', async () => {
		const oysters = await makeOysters();
		const { id } = await name(oysters);
		await expect(send(oysters, letterFor(id, { by: 'portal' }))).rejects.toThrow('Edda Lorne is not of the client and has no page here.');
		await expect(send(oysters, letterFor(id, { who: { as: 'outside' } }))).rejects.toThrow('Somebody outside the client has no name yet.');
		await expect(send(oysters, letterFor(id, { by: 'link_text' }))).rejects.toThrow('no phone number');
		// whoever signs for another client is not known to this one
		const other = await makeOysters();
		await expect(send(other, letterFor(id))).rejects.toThrow('does not belong to the client');
	});

	test('opens the files beside the letter, and no others of the client', async () => {
		const oysters = await makeOysters();
		const { id } = await name(oysters);
		const pdf = await testPdf([{}]);
		const file = (named: string) => takeInAttachment(context, firm.id, firm.odalys(), { name: named, content: Readable.from([pdf]) });
		const [beside, elsewhere] = [await file('Terms.pdf'), await file('Payroll.pdf')];
		const itemId = await send(oysters, { ...letterFor(id), attachments: [beside.id] });
		await send(oysters, { ...letterLine('Engagement letter', '2026-05-20', VALUES), attachments: [elsewhere.id] });
		await oysters.run((tx) => byName(tx, oysters.mara(), itemId));
		await goOn(itemId);
		const edda = await open(EDDA.email);
		await firm.run((tx) => openAttachment(tx, edda.actor, beside.id, edda.itemId));
		await expect(firm.run((tx) => openAttachment(tx, edda.actor, elsewhere.id, edda.itemId))).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('who is named from outside', () => {
	test('is one person by their address, taken only when they were meant, and named once', async () => {
		const oysters = await makeOysters();
		const other = await makeClient(context, firm, { name: 'Gull & String Kites', email: 'mara@gull.example' });
		await expect(name(oysters, { email: oysters.email })).rejects.toThrow('Mara Whitlock is of this client');
		await expect(name(oysters, { email: other.email })).rejects.toMatchObject({
			fields: { known: expect.stringContaining(other.contactId) }
		});
		expect(await name(oysters, { email: other.email }, other.contactId)).toMatchObject({ id: other.contactId, name: 'Mara Whitlock' });
		const edda = await firm.run((tx) => nameOutsideSigner(tx, firm.odalys(), { clientId: oysters.id, knownId: null, ...EDDA, locale: 'fr' }));
		expect(await firm.run((tx) => tx.first('select locale from contact where id = $1', [edda.id]))).toEqual({ locale: 'fr' });
		expect(await name(oysters)).toEqual(edda);
		expect((await peopleOf(oysters)).outside.map((one) => one.name)).toEqual(['Edda Lorne', 'Mara Whitlock']);
		// nothing of the one client is seen with the other's sign-in
		expect(await other.run((tx) => tx.rows('select id from client'))).toEqual([{ id: other.id }]);
		await expect(name(oysters, {}, null, { ...firm.filing, now: context.clock.now() })).rejects.toMatchObject({ code: 'not_allowed' });
	});

	test('once of the client, they are offered once', async () => {
		const oysters = await makeOysters();
		const { id } = await name(oysters);
		await firm.run((tx) =>
			addContact(tx, firm.odalys(), { clientId: oysters.id, knownId: id, ...EDDA, role: '', channels: 'email', locale: undefined })
		);
		const people = await peopleOf(oysters);
		expect(people.contacts!.map((one) => one.name)).toEqual(['Mara Whitlock', 'Edda Lorne']);
		expect(people.outside).toEqual([]);
	});

	test('is closed to whoever may not see the client, and moves with it when two are merged', async () => {
		const oysters = await makeOysters();
		const { id } = await name(oysters);
		const names = (staffId: string) =>
			context.db.inFirm(
				firm.id,
				async (tx) => (await readPeopleList(tx, firm.odalys(), { nowhere: false, search: 'Edda', after: null })).map((one) => one.signsFor),
				{ staffId }
			);
		expect(await names(firm.partner.id!)).toEqual([[{ id: oysters.id, name: 'Ninth Rock Oysters' }]]);
		const rights = (restricted: boolean) =>
			firm.run((tx) =>
				changeClientRights(tx, firm.odalys(), { clientId: oysters.id, restricted, rights: [{ id: firm.coordinator.id!, level: 'administer' }] })
			);
		await rights(true);
		expect(await names(firm.partner.id!)).toEqual([]);
		await rights(false);
		const kites = await makeClient(context, firm, { name: 'Gull & String Kites' });
		await firm.run((tx) => mergeClients(tx, firm.odalys(), { keepId: kites.id, goneId: oysters.id, take: [] }));
		expect((await peopleOf(kites)).outside.map((one) => one.id)).toEqual([id]);
	});

	test('is taken off once nothing is theirs to sign, and can be put in the place of another one outside', async () => {
		const oysters = await makeOysters();
		const { id } = await name(oysters);
		const odo = await name(oysters, { name: 'Odo Finch', email: 'odo@guarantor.example' });
		const itemId = await send(oysters, letterFor(id));
		await oysters.run((tx) => byName(tx, oysters.mara(), itemId));
		await goOn(itemId);
		const link = linkTo(EDDA.email);
		const off = (contactId: string) => firm.run((tx) => takeOutsideSignerOff(tx, firm.odalys(), { clientId: oysters.id, contactId }));
		await expect(off(id)).rejects.toThrow('still to sign');
		await expect(firm.run((tx) => changeSigningWay(tx, firm.odalys(), { itemId, signer: 'o', by: 'portal' }))).rejects.toThrow('has no page here');
		// nobody outside takes the place of somebody of the client
		const two = await makeOysters();
		const { id: for2 } = await name(two);
		const second = await send(two, letterFor(for2));
		await expect(firm.run((tx) => replaceSigner(tx, firm.odalys(), { itemId: second, signer: 'a', contactId: for2 }))).rejects.toMatchObject({
			code: 'not_found'
		});
		await firm.run((tx) => replaceSigner(tx, firm.odalys(), { itemId, signer: 'o', contactId: odo.id }));
		await goOn(itemId);
		expect((await open(odo.email!)).outside).toBe(true);
		await expect(firm.run((tx) => readLetterDoor(tx, link, undefined, context.clock.now()))).rejects.toMatchObject({ code: 'not_found' });
		await off(id);
		expect((await firm.run((tx) => readOutsideSigners(tx, firm.odalys(), oysters.id))).map((one) => one.name)).toEqual(['Odo Finch']);
	});

	test('an address put right brings another link', async () => {
		const oysters = await makeOysters();
		const { id } = await name(oysters);
		const itemId = await send(oysters, letterFor(id));
		await oysters.run((tx) => byName(tx, oysters.mara(), itemId));
		await goOn(itemId);
		await firm.run((tx) => changePerson(tx, firm.odalys(), id, { ...EDDA, email: 'lorne@guarantor.example' }));
		const { announceRequests } = await import('../announcements/announce-requests');
		await announceRequests(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		expect((await open('lorne@guarantor.example')).actor.id).toBe(id);
	});
});
