import { randomUUID } from 'node:crypto';
import { describe, expect, test } from 'vitest';
import { usualSigners, type Signer } from '$lib/core/signing/signers';
import type { SigningWay } from '$lib/core/signing/ways';
import type { RequestLine } from '$lib/core/requests/request-list';
import { announceRequests } from '../announcements/announce-requests';
import { readAnnouncements } from '../announcements/announce-requests';
import { addContact, changeContact } from '../clients/contacts';
import { doWhatIsDue } from '../due/do-what-is-due';
import { loadFirm } from '../firms/firm';
import { readOwnItem } from '../items/read-items';
import { writeOwnRemark, writeRemark } from '../items/remarks';
import { changeSigningWay, replaceSigner } from '../requests/replace-signer';
import { sendRequest } from '../requests/send-request';
import { itemsOf, letterLine, letterOf, makeClient, paperLine, requestTo, SECRET_KEY, sendPlanned, type TestClient } from '../testing/test-firm';
import { context, firm, useFirm } from '../testing/use-firm';
import { countersignLetter } from './countersign-letter';
import { beginLetterVisit, endLetterVisit, findLetterVisitor, giveLetterCode, isLetIn, readLetterDoor, type LetterVisitor } from './letter-links';
import { readLetterTrail } from './letter-trail';
import { declineLetter, noteShownWhole, openLetterPdf, signLetter } from './sign-letter';

useFirm({ withClient: false });

const VALUES = { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' };
const [asked, anyone] = usualSigners();
function letterBy(by: SigningWay, more: Signer[] = []): RequestLine {
	const line = letterLine('Engagement letter', '2026-05-20', VALUES) as Extract<RequestLine, { kind: 'letter' }>;
	return { ...line, spec: { signing: { documents: [], signers: [{ ...asked, by }, ...more, { ...anyone, rank: 9 }], places: [] } } };
}
/** Somebody of the client without any access, to whom a letter went. @returns its item */
async function sent(by: SigningWay, lines: RequestLine[] = [], of?: TestClient): Promise<{ fresh: TestClient; itemId: string }> {
	const fresh = of ?? (await makeClient(context, firm, { name: 'Ninth Rock Oysters', access: false }));
	const [item] = await itemsOf(
		context,
		await sendRequest(context, firm.id, firm.odalys(), requestTo(fresh, [letterBy(by), ...lines], { withInvitation: lines.length > 0 }))
	);
	await sendPlanned(context, firm);
	return { fresh, itemId: item.id };
}
const mails = (to: string) => context.mailer.sent.filter((mail) => mail.to.address === to);
const linkIn = (text: string) => /\/portal\/[a-z0-9-]+\/sign\/([\w-]{43})/.exec(text)?.[1];
const linkTo = (to: string) => linkIn(mails(to).at(-1)!.text)!;
const visitor = (ip = '203.0.113.9') => ({
	kind: 'nobody' as const,
	id: null,
	name: 'somebody',
	role: null,
	now: context.clock.now(),
	ip,
	userAgent: 'Test browser'
});
const begin = (link: string, from = visitor()) => beginLetterVisit(context, firm.id, from, link);
const give = (link: string, token: string, code: string, from = visitor()) => giveLetterCode(context, firm.id, from, link, token, code);
const who = (link: string, token: string | undefined) => findLetterVisitor(context.db, firm.id, visitor(), link, token);
const door = (link: string, token?: string) => firm.run((tx) => readLetterDoor(tx, link, token, context.clock.now()));
async function codeTo(address: string): Promise<string> {
	await sendPlanned(context, firm);
	return /\b(\d{4} \d{4})\b/.exec(mails(address).at(-1)!.text)![1];
}
const as = <T>({ actor }: LetterVisitor, work: Parameters<typeof context.db.inFirm<T>>[1]) => context.db.inFirm(firm.id, work, actor.id);
const sign = (one: LetterVisitor, itemId = one.itemId) =>
	as(one, async (tx) => {
		await noteShownWhole(tx, one.actor, itemId);
		await signLetter(tx, one.actor, { itemId, signature: { method: 'typed', name: one.actor.name }, consent: true, by: one.way }, SECRET_KEY);
	});
const trail = async (itemId: string) =>
	(await firm.run((tx) => readLetterTrail(tx, firm.odalys(), itemId))).entries.map(({ said }) => JSON.parse(said) as Record<string, string>);

describe('a link of their own', () => {
	test('goes to somebody who has no access, without an invitation; it is the same in every message, and kept nowhere', async () => {
		const { fresh, itemId } = await sent('link_mail');
		const [mail] = mails(fresh.email);
		expect(mail.text).not.toContain('/join/');
		const link = linkTo(fresh.email);
		expect(mail.html).toContain(link);
		const { rows } = await context.owner.query<{ all: string }>(
			`select concat(body_text, body_html, content::text, (select count(*) from invitation where contact_id = $1)) as all from message where contact_id = $1`,
			[fresh.contactId]
		);
		expect(rows.map(({ all }) => all.includes(link))).toEqual([false]);
		expect(rows[0].all).toMatch(/sign\/….*0$/s);
		await firm.run((tx) => writeRemark(tx, firm.odalys(), { itemId, words: 'Any question about it?', pinned: null }));
		await sendPlanned(context, firm);
		expect(mails(fresh.email).length).toBe(2);
		expect(linkTo(fresh.email)).toBe(link);
		// a reminder leads there too, and to no page that asks for a password
		context.clock.set('2026-05-20T13:30:00Z');
		await doWhatIsDue(context, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		expect(mails(fresh.email).at(-1)!.text).toContain('Read and sign');
		expect(linkTo(fresh.email)).toBe(link);
		expect(mails(fresh.email).at(-1)!.text).not.toContain('/item/');
	});

	test('beside other lines an invitation is needed as ever, and both ways stand in one message', async () => {
		const fresh = await makeClient(context, firm, { name: 'Ninth Rock Oysters', access: false });
		const lines = [letterBy('link_mail'), paperLine('Lease', '2026-05-20')];
		await expect(sendRequest(context, firm.id, firm.odalys(), requestTo(fresh, lines, { withInvitation: false }))).rejects.toThrow(
			'has no access yet'
		);
		await sent('link_mail', [paperLine('Lease', '2026-05-20')], fresh);
		const [mail] = mails(fresh.email);
		expect(mail.text).toContain('/join/');
		expect(linkIn(mail.html)).toBeDefined();
	});

	test('somebody told of something today hears of it tomorrow, also without access', async () => {
		const { fresh } = await sent('link_mail');
		await sent('link_mail', [], fresh);
		expect(mails(fresh.email)).toHaveLength(1);
		const coming = () => firm.run(async (tx) => readAnnouncements(tx, firm.odalys(), await loadFirm(tx)));
		expect(await coming()).toMatchObject([{ contactName: 'Mara Whitlock', things: 1 }]);
		context.clock.set('2026-05-05T13:00:00Z');
		await announceRequests(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		expect(mails(fresh.email)).toHaveLength(2);
		expect(linkTo(fresh.email)).not.toBe(linkIn(mails(fresh.email)[0].text));
	});

	test('asks for the code that goes to their address: a wrong one is counted, the fifth ends it, and the right one is used once', async () => {
		const { fresh, itemId } = await sent('link_mail');
		const link = linkTo(fresh.email);
		expect(await door(link)).toMatchObject({
			title: 'Engagement letter',
			codeTo: `${fresh.email[0]}***@${fresh.email.split('@')[1]}`,
			codeWaits: false,
			over: null
		});
		const token = await begin(link);
		expect(await who(link, token)).toBeNull();
		const code = await codeTo(fresh.email);
		expect((await door(link, token)).codeWaits).toBe(true);
		// a code is good for the browser that asked for it alone
		expect(await give(link, 'x'.repeat(43), code)).toBe('over');
		for (const outcome of ['wrong', 'wrong', 'wrong', 'wrong', 'over']) expect(await give(link, token, '0000 0000')).toBe(outcome);
		expect(await give(link, token, code)).toBe('over');
		const second = await begin(link);
		const newer = await codeTo(fresh.email);
		expect(await give(link, second, ` ${newer} `)).toBe('in');
		expect(await who(link, second)).toMatchObject({
			itemId,
			way: 'link_mail',
			actor: { kind: 'contact', id: fresh.contactId, name: 'Mara Whitlock' }
		});
		expect(await give(link, token, newer)).toBe('over');
		// neither is the code kept, nor what it opens
		const { rows } = await context.owner.query<{ all: string }>(`select concat(body_text, body_html) as all from message where kind = 'letter_code'`);
		expect(rows).toHaveLength(2);
		for (const { all } of rows) expect(all).not.toMatch(/\d{4} \d{4}/);
		context.clock.set('2026-05-04T21:31:00Z');
		expect(await who(link, second)).toBeNull();
	});

	test('a code is good for ten minutes, and three are sent in an hour', async () => {
		const { fresh } = await sent('link_mail');
		const link = linkTo(fresh.email);
		const token = await begin(link);
		const code = await codeTo(fresh.email);
		context.clock.set('2026-05-04T13:40:01Z');
		expect(await give(link, token, code)).toBe('over');
		await begin(link);
		await begin(link);
		await expect(begin(link)).rejects.toMatchObject({ code: 'too_many' });
	});

	test('a code by text goes to the phone, and where there is none it is said before the letter goes', async () => {
		const fresh = await makeClient(context, firm, { name: 'Ninth Rock Oysters', access: false });
		await expect(sent('link_text', [], fresh)).rejects.toThrow('no phone number');
		await context.owner.query(`update contact set phone = '+19025550142' where id = $1`, [fresh.contactId]);
		await sent('link_text', [], fresh);
		const link = linkTo(fresh.email);
		expect(await door(link)).toMatchObject({ codeTo: '*** 142' });
		const token = await begin(link);
		await sendPlanned(context, firm);
		const text = context.texts.sent.at(-1)!;
		expect(text.to).toBe('+19025550142');
		expect(await give(link, token, /\d{4} \d{4}/.exec(text.words)![0])).toBe('in');
	});

	test('opens their own part alone', async () => {
		const { fresh } = await sent('link');
		const link = linkTo(fresh.email);
		const token = await begin(link);
		const mine = (await who(link, token))!;
		const { itemId: other } = await sent('link', [], fresh);
		context.clock.set('2026-05-05T13:00:00Z');
		await announceRequests(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		const otherLink = linkTo(fresh.email);
		// the browser that was let in to one letter is at the door of the other
		expect(otherLink).not.toBe(link);
		expect(await who(otherLink, token)).toBeNull();
		expect(await isLetIn(context.db, firm.id, visitor(), otherLink, token)).toBe(false);
		expect(mine.itemId).not.toBe(other);
		await expect(door('x'.repeat(43))).rejects.toMatchObject({ code: 'not_found' });
		// nor does it open anything in another firm
		await expect(context.db.inFirm(randomUUID(), (tx) => readLetterDoor(tx, link, token, context.clock.now()))).rejects.toMatchObject({
			code: 'not_found'
		});
	});

	test.each<[string, (id: string) => Promise<unknown>]>([
		['their address changes', (id) => context.owner.query(`update contact set email = 'elsewhere@client.example' where id = $1`, [id])],
		['they are suspended', (id) => context.owner.query('update contact set suspended_at = now() where id = $1', [id])]
	])('leads nowhere once %s, also for a browser that is in', async (_, change) => {
		const { fresh } = await sent('link');
		const link = linkTo(fresh.email);
		const token = await begin(link);
		expect(await who(link, token)).not.toBeNull();
		await change(fresh.contactId);
		await expect(door(link, token)).rejects.toMatchObject({ code: 'not_found' });
		await expect(begin(link)).rejects.toMatchObject({ code: 'not_found' });
	});

	test('another way of coming to it closes what was opened by the one before, and the message goes anew', async () => {
		const { fresh, itemId } = await sent('link');
		const link = linkTo(fresh.email);
		const token = await begin(link);
		const by = (way: SigningWay, actor = firm.odalys()) => firm.run((tx) => changeSigningWay(tx, actor, { itemId, signer: asked.key, by: way }));
		await expect(by('link_text')).rejects.toThrow('no phone number');
		await expect(by('portal')).rejects.toThrow('has no access yet');
		await expect(by('link_mail', { ...firm.filing, now: context.clock.now() })).rejects.toMatchObject({ code: 'not_allowed' });
		expect(await who(link, token)).not.toBeNull();
		await by('link_mail');
		expect(await who(link, token)).toBeNull();
		expect(await door(link)).toMatchObject({ way: 'link_mail' });
		await announceRequests(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		expect(mails(fresh.email)).toHaveLength(2);
		expect(await door(linkTo(fresh.email))).toMatchObject({ way: 'link_mail' });
		expect((await trail(itemId)).map(({ what }) => what)).toContain('letter_way_changed');
		// done twice it is done once
		await by('link_mail');
		expect((await trail(itemId)).filter(({ what }) => what === 'letter_way_changed')).toHaveLength(1);
		// to their page, once they have one: told a third time on the same day
		context.clock.set('2026-05-04T13:40:00Z');
		await context.owner.query(`update contact set password_hash = 'x' where id = $1`, [fresh.contactId]);
		await by('portal');
		expect(mails(fresh.email)).toHaveLength(2);
		await expect(door(linkTo(fresh.email))).rejects.toMatchObject({ code: 'not_found' });
		await announceRequests(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		expect(mails(fresh.email).at(-1)!.text).not.toContain('/sign/');
		await fresh.run(async (tx) => {
			await noteShownWhole(tx, fresh.mara(), itemId);
			await signLetter(tx, fresh.mara(), { itemId, signature: { method: 'typed', name: 'Mara Whitlock' }, consent: true }, SECRET_KEY);
		});
		await expect(by('link')).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('whoever takes the place of one with a code by text needs a number too', async () => {
		const fresh = await makeClient(context, firm, { name: 'Ninth Rock Oysters', access: false });
		await context.owner.query(`update contact set phone = '+19025550142' where id = $1`, [fresh.contactId]);
		const { itemId } = await sent('link_text', [], fresh);
		const second = await firm.run((tx) =>
			addContact(tx, firm.odalys(), {
				clientId: fresh.id,
				knownId: null,
				name: 'Tobias Quay',
				email: 'tobias@client.example',
				phone: null,
				role: '',
				channels: 'email'
			})
		);
		await expect(firm.run((tx) => replaceSigner(tx, firm.odalys(), { itemId, signer: asked.key, contactId: second }))).rejects.toThrow(
			'Tobias Quay has no phone number'
		);
	});

	test('an address put right brings another link, which works', async () => {
		const { fresh } = await sent('link');
		const link = linkTo(fresh.email);
		await firm.run((tx) =>
			changeContact(tx, firm.odalys(), {
				clientId: fresh.id,
				contactId: fresh.contactId,
				name: 'Mara Whitlock',
				email: 'new@client.example',
				phone: null,
				role: '',
				channels: 'email'
			})
		);
		await announceRequests(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		const newer = linkTo('new@client.example');
		expect(newer).not.toBe(link);
		expect(await who(newer, await begin(newer))).not.toBeNull();
	});

	test('somebody put in the place of another gets a link of their own, and the one before leads nowhere', async () => {
		const { fresh, itemId } = await sent('link_mail');
		const link = linkTo(fresh.email);
		const juno = await makeClient(context, firm, { name: 'Ferry Lane Café', access: false });
		await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 2)', [
			firm.id,
			fresh.id,
			juno.contactId
		]);
		const before = await begin(link);
		await give(link, before, await codeTo(fresh.email));
		await firm.run((tx) => replaceSigner(tx, firm.odalys(), { itemId, signer: asked.key, contactId: juno.contactId }));
		// at once, not only when the other one is told
		await expect(door(link)).rejects.toMatchObject({ code: 'not_found' });
		expect(await isLetIn(context.db, firm.id, visitor(), link, before)).toBe(false);
		await letterOf(context, firm, itemId);
		await sendPlanned(context, firm);
		expect(linkTo(juno.email)).not.toBe(link);
		await expect(door(link)).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('what is done by it', () => {
	test('read, asked about and signed; how they came to it stands in the trail and on the certificate', async () => {
		const { fresh, itemId } = await sent('link_mail');
		const link = linkTo(fresh.email);
		const token = await begin(link);
		const code = await codeTo(fresh.email);
		await give(link, token, '1111 1111');
		await give(link, token, code);
		const one = (await who(link, token))!;
		expect((await as(one, (tx) => readOwnItem(tx, one.actor, itemId))).title).toBe('Engagement letter');
		await as(one, (tx) => writeOwnRemark(tx, one.actor, { itemId, words: 'From when on?', pinned: null }));
		await sign(one);
		await expect(sign(one)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		const by = firm.odalys();
		const { sha256 } = (await context.owner.query<{ sha256: string }>(`select encode(sha256, 'hex') sha256 from letter where item_id = $1`, [itemId]))
			.rows[0];
		await firm.run((tx) => countersignLetter(tx, by, { itemId, sha256, signature: { method: 'typed', name: by.name } }));
		await letterOf(context, firm, itemId);
		await sendPlanned(context, firm);
		const entries = await trail(itemId);
		expect(entries.map(({ what }) => what)).toEqual([
			'request_sent',
			'message_sent',
			'letter_code_asked',
			'letter_code_wrong',
			'letter_code_given',
			'letter_shown_whole',
			'letter_signed',
			'letter_countersigned',
			'letter_sealed'
		]);
		expect(entries[2]).toMatchObject({ by: 'nobody', 'detail.to': fresh.email, ip: '203.0.113.9' });
		expect(entries[4]).toMatchObject({ by: 'contact', who: 'Mara Whitlock', address: fresh.email, 'detail.to': fresh.email });
		const { rows } = await context.owner.query<{ signed_by_way: string }>(
			'select signed_by_way from signature where letter_id = (select id from letter where item_id = $1) order by rank',
			[itemId]
		);
		expect(rows.map((row) => row.signed_by_way)).toEqual(['link_mail', 'portal']);
		const copy = mails(fresh.email).at(-1)!;
		expect(copy.text).toContain('for 30 days you also find it by your link');
		expect(linkIn(copy.text)).toBe(link);
		expect(copy.attachments).toHaveLength(1);
		// the link leads to the sealed letter for thirty days
		expect((await as(one, (tx) => openLetterPdf(tx, one.actor, itemId))).name).toBe('Engagement letter (signed).pdf');
		context.clock.set('2026-06-04T13:00:00Z');
		expect(await door(link)).toMatchObject({ over: 'kept' });
		await expect(begin(link)).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('declined by it, it is over for good; the firm reads why', async () => {
		const { fresh, itemId } = await sent('link');
		const link = linkTo(fresh.email);
		const token = await begin(link);
		const one = (await who(link, token))!;
		await as(one, (tx) => declineLetter(tx, one.actor, { itemId, reason: 'The fee is another one.' }));
		await letterOf(context, firm, itemId);
		expect(await door(link)).toMatchObject({ over: 'declined' });
		await expect(begin(link)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect((await trail(itemId)).map(({ what }) => what)).toEqual(['request_sent', 'message_sent', 'letter_link_opened', 'item_declined']);
	});

	test('closed on this device, a browser is at the door again', async () => {
		const { fresh } = await sent('link');
		const link = linkTo(fresh.email);
		const token = await begin(link);
		await firm.run((tx) => endLetterVisit(tx, token));
		expect(await who(link, token)).toBeNull();
	});

	test('a second signer without access gets a link when it is their turn', async () => {
		const fresh = await makeClient(context, firm, { name: 'Ninth Rock Oysters', access: false });
		const juno = await makeClient(context, firm, { name: 'Ferry Lane Café', access: false });
		await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 2)', [
			firm.id,
			fresh.id,
			juno.contactId
		]);
		const line = letterBy('link', [{ key: 'z', who: { as: 'second' }, does: 'signs', rank: 2, by: 'link_mail' }]);
		const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(fresh, [line], { withInvitation: false })));
		await letterOf(context, firm, item.id);
		await sendPlanned(context, firm);
		expect(mails(juno.email)).toHaveLength(0);
		const link = linkTo(fresh.email);
		await sign((await who(link, await begin(link)))!);
		await letterOf(context, firm, item.id);
		await sendPlanned(context, firm);
		const theirs = linkTo(juno.email);
		expect(await door(theirs)).toMatchObject({ way: 'link_mail', title: 'Engagement letter' });
		expect((await context.owner.query('select 1 from invitation where firm_id = $1', [firm.id])).rows).toEqual([]);
	});
});
