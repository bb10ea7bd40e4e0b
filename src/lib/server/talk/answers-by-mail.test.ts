import { randomUUID } from 'node:crypto';
import { createTransport, type SendMailOptions } from 'nodemailer';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { addDays } from '$lib/core/calendar/firm-calendar';
import { machine, type Actor } from '../actor';
import { chasePeople } from '../chasing/chase-people';
import { pauseReminders, readHolds, sayAway } from '../chasing/holds';
import { readForecast } from '../chasing/read-forecast';
import { changeClientRights } from '../clients/client-rights';
import { loadFirm } from '../firms/firm';
import { readItem } from '../items/read-items';
import { markRemarksSeen, readRemarks, writeRemark } from '../items/remarks';
import { readReplyTo, replyTo } from '../messages/links';
import { sendMessage } from '../messages/send-message';
import { fileByItself, readArrival, readArrivals } from '../papers/arrivals';
import { planMessage } from '../outbox/plan-message';
import { asStaff, type Tx } from '../platform/db/database';
import { receiveMail } from '../platform/mail/mail-receiver';
import { sendRequest } from '../requests/send-request';
import { chaseSentence } from '../rounds/chase-sentence';
import { countRounds, readRounds } from '../rounds/read-rounds';
import { itemsOf, makeClient, paperLine, requestTo, SECRET_KEY, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import {
	letAnswerIn,
	mayReceive,
	pauseWhileAway,
	readWaitingAnswers,
	takeIn,
	turnAnswerAway,
	useNewAddress,
	type AnswerPlace
} from './answers-by-mail';
import { countOwnUnseen, markOwnWordsSeen, markWordsSeen, readOwnTalks, readTalk, writeOwnWords, writeWords } from './words';

useFirm();

const DOMAIN = 'papers.firm.example';
const TODAY = '2026-05-04';
let server: Awaited<ReturnType<typeof receiveMail>>;
let smtp: ReturnType<typeof createTransport>;
let place: AnswerPlace;
beforeAll(async () => {
	place = { db: context.db, papers: context.papers, domain: DOMAIN, secretKey: SECRET_KEY, origin: 'https://portal.example' };
	server = await receiveMail(
		{ port: 0, mostBytes: 4 * 1024 * 1024 },
		(address) => mayReceive(place, address),
		async (mail) => void (await takeIn(place, context.clock.now(), mail))
	);
	smtp = createTransport({ host: '127.0.0.1', port: server.port, ignoreTLS: true });
});
afterAll(async () => {
	smtp.close();
	await server.close();
});

const desk = <T>(work: (tx: Tx) => Promise<T>) => firm.run(work);
/** Asks for papers that are due on Friday the 8th. @returns their ids, and that of a mail that names them */
async function ask(titles: string[], dueOn = '2026-05-08') {
	const requestId = await sendRequest(
		context,
		firm.id,
		firm.odalys(),
		requestTo(
			client,
			titles.map((title) => paperLine(title, dueOn)),
			{ idempotencyKey: randomUUID() }
		)
	);
	const items = (await itemsOf(context, requestId)).map(({ id }) => id as string);
	const named = await desk((tx) =>
		planMessage(tx, machine(context.clock.now()), {
			kind: 'request',
			idempotencyKey: randomUUID(),
			to: { address: client.email, contactId: client.contactId },
			clientId: client.id,
			content: { subject: 'Your papers', body: 'Please.' },
			items: items.map((itemId) => ({ itemId, step: null }))
		})
	);
	await sendPlanned(context, firm);
	context.mailer.sent.length = 0;
	return { items, messageId: named!.id };
}
let message: string;
let lease: string;
beforeEach(async () => {
	const asked = await ask(['Lease']);
	[message, lease] = [asked.messageId, asked.items[0]];
});
const QUOTE =
	'\n\nOn Mon, 4 May 2026 at 09:00, Firm <office@firm.example> wrote:\n> Please send the lease.\n> https://portal.example/portal/x/join/secret-token';
/** Answers a message as a mail server would hand it on. @returns the reply of ours */
const answer = async (more: SendMailOptions = {}, to = message) =>
	smtp
		.sendMail({
			from: `Mara <${client.email}>`,
			to: replyTo(to, DOMAIN, SECRET_KEY),
			subject: 'Re: Your papers',
			text: `The landlord has it.${QUOTE}`,
			...more
		})
		.then(
			({ response }: { response: string }) => response,
			(error: { response?: string; message: string }) => error.response ?? error.message
		);
const counts = () => desk(async (tx) => countRounds(tx, await loadFirm(tx), context.clock.now(), null));
const talk = () => desk((tx) => readTalk(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId }));
const waiting = () => desk((tx) => readWaitingAnswers(tx, 20));
const holds = () => desk((tx) => readHolds(tx, firm.odalys(), client.id, TODAY));
const forecast = () => desk(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], 28));
const authenticated = (found: string) => ({ 'Authentication-Results': `mx.firm.example; ${found}` });

describe('an answer to a mail about one thing', () => {
	test('stands where it was about, without what it quotes; the firm finds it in Rounds, and nobody reminds them meanwhile', async () => {
		expect((await forecast())[0].localDay).toBe('2026-05-06');
		expect(await answer()).toMatch(/^250/);
		const [remark] = await desk((tx) => readRemarks(tx, firm.odalys(), lease));
		expect(remark).toMatchObject({
			words: 'The landlord has it.',
			side: 'client',
			by: client.mara().name,
			seenAt: null,
			mail: { from: client.email, files: [] }
		});
		expect(remark.mail!.folded).toContain('Please send the lease.');
		// a link that lets its reader in is not kept
		expect(remark.mail!.folded).not.toContain('secret-token');
		expect(await counts()).toMatchObject({ talk: 1, words: 0, waiting_mail: 0 });
		expect(await holds()).toMatchObject([{ contactId: client.contactId, until: '2026-05-07', why: 'replied' }]);
		expect(await forecast()).toEqual([]);
		// the client sees it as theirs, without the mail around it
		expect(await client.run((tx) => readRemarks(tx, client.mara(), lease))).toMatchObject([{ words: 'The landlord has it.', mail: null }]);
	});
	test('is answered by mail in the same thread, and the answer can be answered again', async () => {
		await answer();
		await desk((tx) => writeRemark(tx, firm.odalys(), { itemId: lease, words: 'Then we ask him.', pinned: null }));
		expect(await holds()).toEqual([]);
		const { rows } = await context.owner.query<{ id: string }>(`select id from message where firm_id = $1 and kind = 'remark'`, [firm.id]);
		await sendMessage({ ...context.place, replyDomain: DOMAIN }, firm.id, rows[0].id);
		const [mail] = context.mailer.sent;
		expect(mail).toMatchObject({
			to: { address: client.email },
			inReplyTo: expect.any(String),
			replyTo: { address: replyTo(rows[0].id, DOMAIN, SECRET_KEY) }
		});
		expect(mail.text).toContain('You can simply answer this mail');
		expect(await answer({ text: 'Thank you.', to: mail.replyTo!.address })).toMatch(/^250/);
		expect((await desk((tx) => readRemarks(tx, firm.odalys(), lease))).map(({ words }) => words)).toEqual([
			'The landlord has it.',
			'Then we ask him.',
			'Thank you.'
		]);
	});
	test('of somebody else of the client is theirs, and the firm’s answer reaches both', async () => {
		const other = await context.owner.query<{ id: string }>(
			`insert into contact (id, firm_id, name, email, locale, created_at) values (gen_random_uuid(), $1, 'Ferdi String', $2, 'en', now()) returning id`,
			[firm.id, `ferdi-${client.id}@gull.example`]
		);
		await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 2)', [
			firm.id,
			client.id,
			other.rows[0].id
		]);
		await answer({ from: `ferdi-${client.id}@gull.example`, text: 'I have the lease.' });
		expect((await desk((tx) => readRemarks(tx, firm.odalys(), lease)))[0]).toMatchObject({ by: 'Ferdi String', words: 'I have the lease.' });
		await desk((tx) => writeRemark(tx, firm.odalys(), { itemId: lease, words: 'Please send it.', pinned: null }));
		const { rows } = await context.owner.query(`select contact_id from message where firm_id = $1 and kind = 'remark'`, [firm.id]);
		expect(new Set(rows.map(({ contact_id }) => contact_id))).toEqual(new Set([client.contactId, other.rows[0].id]));
	});
	test('that brings the one file is handed in where the servers say whose it is; else the line is proposed', async () => {
		const PDF = { filename: 'scan0001.pdf', content: '%PDF-1.7 the lease' };
		await answer({ attachments: [PDF], headers: authenticated('dmarc=pass') });
		const [arrival] = await desk((tx) => readArrivals(tx, 9, null));
		await desk((tx) => fileByItself(tx, machine(context.clock.now()), arrival.id));
		expect(await desk((tx) => readItem(tx, firm.odalys(), lease))).toMatchObject({ state: 'handed_in', papers: [{ name: 'scan0001.pdf' }] });
		expect(await desk((tx) => readArrivals(tx, 9, null))).toEqual([]);

		const again = await ask(['Deed', 'Map']);
		await answer({ attachments: [PDF], headers: authenticated('dmarc=pass') }, again.messageId);
		const [unplaced] = await desk((tx) => readArrivals(tx, 9, null));
		expect(await desk((tx) => fileByItself(tx, machine(context.clock.now()), unplaced.id))).toBe(false);

		const one = await ask(['Permit']);
		await answer({ attachments: [{ ...PDF, filename: 'scan0002.pdf' }], text: '' }, one.messageId);
		const doubtful = (await desk((tx) => readArrivals(tx, 9, null))).find(({ name }) => name === 'scan0002.pdf')!;
		expect(await desk((tx) => fileByItself(tx, machine(context.clock.now()), doubtful.id))).toBe(false);
		const { proposed } = await desk((tx) => readArrival(tx, firm.odalys(), doubtful.id));
		expect(proposed).toMatchObject({ itemId: one.items[0], signs: [{ is: 'answers' }] });
	});
	test('with a file alone keeps nothing of what it quotes among its words', async () => {
		await answer({ text: QUOTE, attachments: [{ filename: 'a.pdf', content: '%PDF-1.7 a' }] });
		const { rows } = await context.owner.query('select words, folded from incoming_mail where firm_id = $1', [firm.id]);
		expect(rows[0].words).toBe('');
		expect(rows[0].folded).toContain('Please send the lease.');
		expect(JSON.stringify(rows)).not.toContain('secret-token');
		expect(await desk((tx) => readRemarks(tx, firm.odalys(), lease))).toEqual([]);
		expect(await holds()).toHaveLength(1);
	});
	test('written in HTML alone is read', async () => {
		await answer({ text: undefined, html: '<div>The <b>landlord</b> has it.</div><div class="x">Really.</div>' });
		expect((await desk((tx) => readRemarks(tx, firm.odalys(), lease)))[0].words).toBe('The landlord has it.\nReally.');
	});
});

describe('an answer to a mail about several things', () => {
	const several = async () => (await ask(['Lease', 'Deed'])).messageId;
	test('is between the firm and whoever wrote it, who can be answered; the thread and its subject go on', async () => {
		await answer({ subject: 'AW: Re: Your papers' }, await several());
		expect(await counts()).toMatchObject({ talk: 0, words: 1 });
		const rounds = await desk(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (d) => d }));
		expect(rounds.rows.find(({ section }) => section === 'words')).toMatchObject({ words: '“The landlord has it.”', aside: client.mara().name });
		expect(await talk()).toMatchObject({ unseen: 1, words: [{ words: 'The landlord has it.', mail: { from: client.email } }] });

		const input = {
			clientId: client.id,
			contactId: client.contactId,
			words: 'Then we ask him.',
			idempotencyKey: '6a6bb1f0-7f5a-4d1e-9d42-0a1b2c3d4e5f'
		};
		// pressed twice it goes once
		for (let n = 0; n < 2; n++) await desk((tx) => writeWords(tx, firm.odalys(), input));
		expect(await talk()).toMatchObject({ unseen: 0, words: [{}, { words: 'Then we ask him.', side: 'firm', seenAt: null }] });
		expect(await counts()).toMatchObject({ words: 0 });
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(1);
		// nothing is received here: nobody is told that they can answer, and the firm's own address gets what they write
		expect(context.mailer.sent[0].replyTo).toBeNull();
		expect(context.mailer.sent[0].text).not.toContain('answer this mail');
		expect(context.mailer.sent[0]).toMatchObject({ subject: 'Re: Your papers', to: { address: client.email }, inReplyTo: expect.any(String) });
		expect(context.mailer.sent[0].text).toContain('Then we ask him.');
		// they find it on their page, and it counts as seen once they look
		expect(await client.run((tx) => countOwnUnseen(tx, client.mara()))).toBe(1);
		await client.run((tx) => markOwnWordsSeen(tx, client.mara()));
		expect((await talk()).words[1].seenAt).not.toBeNull();
	});
	test('is read by nobody else of the client, of another firm, or of whom the client is closed to', async () => {
		await answer({}, await several());
		const { rows } = await context.owner.query<{ id: string }>(
			`insert into contact (id, firm_id, name, email, locale, created_at) values (gen_random_uuid(), $1, 'Ferdi', $2, 'en', now()) returning id`,
			[firm.id, `other-${client.id}@gull.example`]
		);
		await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 2)', [
			firm.id,
			client.id,
			rows[0].id
		]);
		const ferdi: Actor = { ...client.mara(), id: rows[0].id, name: 'Ferdi' };
		const seen = await context.db.inFirm(firm.id, (tx) => tx.rows('select words from remark'), rows[0].id);
		expect(seen).toEqual([]);
		expect((await context.db.inFirm(firm.id, (tx) => readOwnTalks(tx, ferdi), rows[0].id))[0].words).toEqual([]);
		expect((await client.run((tx) => readOwnTalks(tx, client.mara())))[0].words).toHaveLength(1);

		await desk((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
		const closedTo = asStaff(context.db, firm.partner.id!);
		const of = { clientId: client.id, contactId: client.contactId };
		await expect(closedTo.inFirm(firm.id, (tx) => readTalk(tx, firm.partner, of))).rejects.toMatchObject({ code: 'not_found' });
		await expect(
			closedTo.inFirm(firm.id, (tx) => writeWords(tx, firm.partner, { ...of, words: 'x', idempotencyKey: of.clientId }))
		).rejects.toMatchObject({
			code: 'not_found'
		});
		expect(await closedTo.inFirm(firm.id, (tx) => tx.rows('select id from chase_hold'))).toEqual([]);
	});
	test('two at once both stand, and the same one twice stands once', async () => {
		const to = await several();
		const replies = await Promise.all(['One.', 'Two.', 'Two.'].map((text) => answer({ text, messageId: `<${text}@gull.example>` }, to)));
		for (const reply of replies) expect(reply).toMatch(/^250/);
		expect((await talk()).words.map(({ words }) => words).sort()).toEqual(['One.', 'Two.']);
	});
	test('what the firm writes twice is one thread, though nobody has answered', async () => {
		const of = { clientId: client.id, contactId: client.contactId };
		for (const words of ['One.', 'Two.']) await desk((tx) => writeWords(tx, firm.odalys(), { ...of, words, idempotencyKey: randomUUID() }));
		await sendPlanned(context, firm);
		const [first, second] = context.mailer.sent;
		expect([first.inReplyTo, second.inReplyTo]).toEqual([null, first.messageId]);
	});
	test('what a client writes on their page stands in the same place', async () => {
		await answer({}, await several());
		await client.run((tx) => writeOwnWords(tx, client.mara(), { clientId: client.id, words: 'And the deed?' }));
		expect((await talk()).words.map(({ words }) => words)).toEqual(['The landlord has it.', 'And the deed?']);
		expect(await holds()).toHaveLength(1);
		await desk((tx) => markWordsSeen(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId }));
		expect(await counts()).toMatchObject({ words: 0 });
		await expect(desk((tx) => markWordsSeen(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId }))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		const other = await makeClient(context, firm);
		await expect(client.run((tx) => writeOwnWords(tx, client.mara(), { clientId: other.id, words: 'x' }))).rejects.toMatchObject({
			code: 'not_found'
		});
	});
});

describe('what an answer holds', () => {
	const beatAt = async (at: string) => {
		context.clock.set(at);
		return chasePeople(context.db, firm.id, at);
	};
	test.each([
		['America/Halifax', '2026-05-06T12:05:00Z', '2026-05-07T12:05:00Z'],
		['Australia/Sydney', '2026-05-05T23:05:00Z', '2026-05-06T23:05:00Z']
	])('goes on after three business days in %s, in one message that says why it waited', async (timeZone, step, after) => {
		await context.owner.query('update firm set time_zone = $2 where id = $1', [firm.id, timeZone]);
		const { messageId } = await ask(['Deed', 'Map']);
		await answer({}, messageId);
		expect(await beatAt(step)).toBe(0);
		const [next] = await forecast();
		expect(next).toMatchObject({ localDay: '2026-05-07', held: { why: 'replied', from: '2026-05-06' } });
		expect(next.items.map(({ title }) => title).sort()).toEqual(['Deed', 'Lease', 'Map']);
		expect(chaseSentence(next, await desk(loadFirm)).why).toContain('held since Wed 6 May as they wrote to us');
		expect(await beatAt(after)).toBe(1);
	});
	test('ends once the firm has answered: what fell due meanwhile is not made up for', async () => {
		const { messageId } = await ask(['Deed', 'Map']);
		await answer({}, messageId);
		context.clock.set('2026-05-06T14:00:00Z');
		await desk((tx) => markWordsSeen(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId }));
		expect((await forecast())[0]).toMatchObject({ localDay: '2026-05-11', held: null });
	});
	test('lasts while other words of theirs wait', async () => {
		const { messageId } = await ask(['Deed', 'Map']);
		await answer({ messageId: '<1@x.example>' }, messageId);
		await answer({ messageId: '<2@x.example>' });
		await desk((tx) => markRemarksSeen(tx, firm.odalys(), lease));
		expect(await holds()).toHaveLength(1);
		await desk((tx) => markWordsSeen(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId }));
		expect(await holds()).toEqual([]);
	});
	test('is held as well by what somebody writes on their page', async () => {
		await client.run((tx) => writeOwnWords(tx, client.mara(), { clientId: client.id, words: 'It comes on Friday.' }));
		expect(await holds()).toMatchObject([{ why: 'replied', until: '2026-05-07' }]);
		expect((await forecast())[0]).toMatchObject({ localDay: '2026-05-07', held: { from: '2026-05-06' } });
		await client.run((tx) => writeOwnWords(tx, client.mara(), { clientId: client.id, words: 'Or on Saturday.' }));
		expect(await holds()).toHaveLength(1);
		await desk((tx) => markWordsSeen(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId }));
		expect(await holds()).toEqual([]);
	});
	test('a pause of the firm, and a client who says that they are away, hold as well; the longer counts', async () => {
		const held = await desk(loadFirm);
		await desk((tx) => pauseReminders(tx, firm.odalys(), held, { clientId: client.id }, { until: '2026-05-12', reason: 'the shop moves' }));
		expect((await forecast())[0]).toMatchObject({ localDay: '2026-05-12', held: { why: 'paused' } });
		await client.run((tx) => sayAway(tx, client.mara(), held, '2026-05-16'));
		// a Saturday: the reminder goes on the Monday, or the Tuesday where that is a holiday
		expect((await forecast())[0]).toMatchObject({ held: { why: 'away', from: '2026-05-06' } });
		expect((await forecast())[0].localDay > '2026-05-16').toBe(true);
		await client.run((tx) => sayAway(tx, client.mara(), held, null));
		expect((await forecast())[0]).toMatchObject({ localDay: '2026-05-12' });
		const stranger = await makeClient(context, firm);
		await expect(
			desk((tx) =>
				pauseReminders(tx, firm.odalys(), held, { contactId: stranger.contactId, ofClient: client.id }, { until: '2026-05-12', reason: 'x' })
			)
		).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('what waits apart', () => {
	test.each([
		['somebody who is not known', { from: 'nobody@elsewhere.example' }, 'unknown'],
		['what the servers on the way doubt', { headers: authenticated('spf=fail; dmarc=fail') }, 'contradicted'],
		['two senders', { from: 'a@b.example, c@d.example' }, 'unknown']
	])('%s counts for nothing until it is let in', async (_, more: SendMailOptions, held) => {
		await answer({ ...more, attachments: [{ filename: 'a.pdf', content: '%PDF-1.7 a' }] });
		expect(await waiting()).toMatchObject([{ held, away: false, words: 'The landlord has it.', itemTitle: 'Lease', files: [{ name: 'a.pdf' }] }]);
		expect(await counts()).toMatchObject({ waiting_mail: 1, talk: 0 });
		expect(await holds()).toEqual([]);
		expect((await forecast())[0].localDay).toBe('2026-05-06');
		await desk(async (tx) => letAnswerIn(tx, firm.odalys(), (await readWaitingAnswers(tx, 1))[0].id));
		expect(await desk((tx) => readRemarks(tx, firm.odalys(), lease))).toMatchObject([{ words: 'The landlord has it.', by: client.mara().name }]);
		expect(await desk((tx) => readArrivals(tx, 9, null))).toMatchObject([{ name: 'a.pdf', held: false }]);
		expect(await waiting()).toEqual([]);
	});
	test('is put away with its files, by somebody whose role allows it, once', async () => {
		await answer({ from: 'nobody@elsewhere.example', attachments: [{ filename: 'a.pdf', content: '%PDF-1.7 a' }] });
		const [{ id }] = await waiting();
		const bram = { ...firm.odalys(), role: 'filing' as const };
		for (const act of [letAnswerIn, turnAnswerAway]) {
			await expect(desk((tx) => act(tx, bram, id))).rejects.toMatchObject({ code: 'not_allowed' });
			await expect(desk((tx) => act(tx, client.mara(), id))).rejects.toMatchObject({ code: 'not_allowed' });
		}
		await desk((tx) => turnAnswerAway(tx, firm.odalys(), id));
		expect(await desk((tx) => readArrivals(tx, 9, null))).toEqual([]);
		await expect(desk((tx) => letAnswerIn(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
});

describe('a new address', () => {
	const NEW = 'mara@new-kites.example';
	const emailOf = async () => (await context.owner.query('select email from contact where id = $1', [client.contactId])).rows[0].email;
	test('that somebody writes of is proposed beside their words, and used by whoever may; the old one is told, and they sign in anew', async () => {
		await answer({ text: `I have a new e-mail address: ${NEW}.${QUOTE}` });
		expect(await desk((tx) => readRemarks(tx, firm.odalys(), lease))).toMatchObject([{ words: `I have a new e-mail address: ${NEW}.` }]);
		expect(await counts()).toMatchObject({ waiting_mail: 1, talk: 1 });
		const [{ id, ...one }] = await waiting();
		expect(one).toMatchObject({ newAddress: NEW, held: null, away: false, contactEmail: client.email });
		expect(await emailOf()).toBe(client.email);
		for (const actor of [{ ...firm.odalys(), role: 'filing' as const }, client.mara()])
			await expect(desk((tx) => useNewAddress(tx, actor, id))).rejects.toMatchObject({ code: 'not_allowed' });
		// it came in already
		await expect(desk((tx) => letAnswerIn(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'invalid' });
		await desk((tx) => useNewAddress(tx, firm.odalys(), id));
		expect(await emailOf()).toBe(NEW);
		expect(await waiting()).toEqual([]);
		expect((await desk((tx) => readRemarks(tx, firm.odalys(), lease))).length).toBe(1);
		await expect(desk((tx) => useNewAddress(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
	test('that a program names is proposed too, as nobody’s words; the address can be kept', async () => {
		await answer({
			subject: 'Automatic reply: Your papers',
			text: `This mailbox is no longer read. You reach me at ${NEW}.`,
			headers: { 'Auto-Submitted': 'auto-replied' }
		});
		expect(await counts()).toMatchObject({ waiting_mail: 1, talk: 0 });
		expect(await holds()).toEqual([]);
		const [{ id, newAddress }] = await waiting();
		expect(newAddress).toBe(NEW);
		await desk((tx) => turnAnswerAway(tx, firm.odalys(), id));
		expect(await emailOf()).toBe(client.email);
		expect(await waiting()).toEqual([]);
	});
	test('of whoever wrote from one that nobody knows is used as it lets their words in; not where their sender is doubted', async () => {
		await answer({ from: NEW, text: `This is my private address.${QUOTE}` });
		const [{ id, newAddress }] = await waiting();
		expect(newAddress).toBeNull();
		await desk((tx) => useNewAddress(tx, firm.odalys(), id));
		expect(await emailOf()).toBe(NEW);
		expect(await desk((tx) => readRemarks(tx, firm.odalys(), lease))).toMatchObject([{ words: 'This is my private address.' }]);
		await answer({ from: 'other@forged.example', headers: authenticated('spf=fail; dmarc=fail') });
		const [doubted] = await waiting();
		await expect(desk((tx) => useNewAddress(tx, firm.odalys(), doubted.id))).rejects.toMatchObject({ code: 'invalid' });
		expect(await waiting()).toHaveLength(1);
		expect(await emailOf()).toBe(NEW);
	});
	test('that belongs to somebody else changes nothing, and the row stays', async () => {
		const other = await makeClient(context, firm, { name: 'Other' });
		await answer({ text: `My new address is ${other.email}.` });
		const [{ id }] = await waiting();
		await expect(desk((tx) => useNewAddress(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'invalid' });
		expect(await waiting()).toHaveLength(1);
		expect(await emailOf()).toBe(client.email);
	});
});

describe('what a program answered', () => {
	const away = {
		subject: 'Automatic reply: Your papers',
		// what it quotes has days as well
		text: `I am out of the office until 15 May 2026.\n\nOn 4 May 2026, Firm <office@firm.example> wrote:\n> Please send it until 20 May 2026.`,
		headers: { 'Auto-Submitted': 'auto-replied' }
	};
	test('holds nothing by itself; a word that they are away is proposed as a pause', async () => {
		await answer(away);
		expect(await holds()).toEqual([]);
		// the 16th is a Saturday
		expect(await waiting()).toMatchObject([{ away: true, backOn: '2026-05-18', held: null }]);
		const [{ id }] = await waiting();
		await expect(desk((tx) => letAnswerIn(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'invalid' });
		await desk((tx) => pauseWhileAway(tx, firm.odalys(), { id, until: '2026-05-16' }));
		expect(await holds()).toMatchObject([{ why: 'away', until: '2026-05-16', by: firm.odalys().name }]);
		expect((await forecast())[0].localDay > '2026-05-16').toBe(true);
		expect(await waiting()).toEqual([]);
	});
	test('of somebody else of the client says nothing of whom the message was for', async () => {
		const other = await makeClient(context, firm, { name: 'Other' });
		await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 2)', [
			firm.id,
			client.id,
			other.contactId
		]);
		expect(await answer({ ...away, from: other.email })).toMatch(/^250/);
		await answer({ ...away, from: other.email, text: 'This mailbox is no longer read. You reach me at other@new.example.' });
		expect(await waiting()).toEqual([]);
	});
	test('can be left as it is', async () => {
		await answer(away);
		await desk(async (tx) => turnAnswerAway(tx, firm.odalys(), (await readWaitingAnswers(tx, 1))[0].id));
		expect(await holds()).toEqual([]);
		expect(await waiting()).toEqual([]);
	});
	test.each([
		['that it has our mail', { text: 'We have your mail and will answer within two days.' }],
		['from an address that nobody has', { from: 'nobody@elsewhere.example' }],
		['for a name that the servers doubt', { headers: { ...away.headers, ...authenticated('dmarc=fail') } }]
	])('%s, is let go', async (_, more: SendMailOptions) => {
		expect(await answer({ ...away, ...more })).toMatch(/^250/);
		expect(await waiting()).toEqual([]);
		expect(await desk((tx) => readRemarks(tx, firm.odalys(), lease))).toEqual([]);
	});
});

describe('refused while it is sent, so that the sender hears why', () => {
	const refused = async (reply: Promise<string>, why: RegExp) => {
		expect(await reply).toMatch(why);
		expect((await context.owner.query('select 1 from incoming_mail where firm_id = $1', [firm.id])).rows).toEqual([]);
	};
	const forged = () => replyTo(message, DOMAIN, SECRET_KEY).replace(/-[0-9a-f]{16}@/, '-0123456789abcdef@');
	test('an address that we did not give out', () => refused(answer({ to: forged() }), /^550 5\.1\.1|550 5\.1\.1/));
	test('a message that is gone', () => refused(answer({}, '0b8f5a0e-93d7-4c8e-8f3a-1d2c3b4a5968'), /550 5\.1\.1/));
	test('a mail of nothing but a quote', () => refused(answer({ text: QUOTE }), /^550 5\.6\.0 There are no words/));
	test('a client who has left', async () => {
		await context.owner.query(`update client set state = 'ended' where id = $1`, [client.id]);
		await refused(answer(), /550 5\.7\.1/);
	});
	test('more than sixty within an hour: mail programs that answer each other', async () => {
		await context.owner.query(
			`insert into incoming_mail (id, firm_id, client_id, message_id, from_address, from_name, subject, words, came_at, answers_id, contact_id)
			select gen_random_uuid(), $1, $2, 'loop ' || n, $3, '', '', 'Again.', $4, $5, $6 from generate_series(1, 60) n`,
			[firm.id, client.id, client.email, '2026-05-04T13:00:00Z', message, client.contactId]
		);
		expect(await answer()).toMatch(/452 4\.3\.2/);
		context.clock.set('2026-05-04T14:01:00Z');
		expect(await answer()).toMatch(/^250/);
	});
	test('the key of the addresses may be changed: those that are out go on leading here', () => {
		const [old, now] = [SECRET_KEY, '7a'.repeat(32)];
		const address = replyTo(message, DOMAIN, old);
		expect(readReplyTo(address, DOMAIN, `${now},${old}`)).toBe(message);
		expect(readReplyTo(address, DOMAIN, now)).toBeNull();
	});
});

test('an answer to a message of last year stands where it was about, also when that is settled', async () => {
	await context.owner.query(`update item set state = 'accepted' where id = $1`, [lease]);
	context.clock.set(`${addDays(TODAY, 366)}T13:30:00Z`);
	await answer({ text: 'Was that all?' });
	expect(await desk((tx) => readRemarks(tx, firm.odalys(), lease))).toMatchObject([{ words: 'Was that all?' }]);
	expect(await counts()).toMatchObject({ talk: 1 });
});
