import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { addDays } from '$lib/core/calendar/firm-calendar';
import { DEFAULT_INVITATION_STEPS, nextInvitationChase } from '$lib/core/invitations/invitation-chasing';
import { invitationExpiry, invitationStateAt } from '$lib/core/invitations/invitation-states';
import { chaseInvitations, forecastInvitationChases } from '../chasing/chase-invitations';
import { chasePeople } from '../chasing/chase-people';
import { addContact } from '../clients/contacts';
import { moveClient } from '../clients/client-record';
import { loadFirm } from '../firms/firm';
import { takeInReport } from '../messages/settle-message';
import { sendRequest } from '../requests/send-request';
import {
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	requestTo,
	SECRET_KEY,
	sendPlanned,
	type TestClient,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import { inviteContacts, linkForContact, withdrawInvitation } from './invite';
import { openInvitation, takeUpInvitation } from './take-up-invitation';
import { previewInvitation } from './invitation-words';
import { inviteFilterSchema, inviteMany, readRun, summariseInvites } from './invite-many';

let context: TestContext;
let firm: TestFirm;
const PASSWORD = 'kites above the harbour';
const PLACE = { origin: 'http://localhost:3000', secretKey: SECRET_KEY };

beforeAll(async () => {
	context = await openTestContext();
});
afterAll(() => context.close());
beforeEach(async () => {
	context.clock.set('2026-05-04T13:00:00Z');
	context.mailer.sent.length = 0;
	firm = await makeFirm(context);
});

const nobody = () => ({
	kind: 'nobody' as const,
	id: null,
	name: 'somebody',
	role: null,
	now: context.clock.now(),
	ip: '203.0.113.9',
	userAgent: 'test'
});
const invite = (client: TestClient, idempotencyKey = randomUUID(), contactIds = [client.contactId]) =>
	firm.run((tx) => inviteContacts(tx, firm.odalys(), { contactIds, clientId: client.id, subject: 'Welcome', body: 'Come in', idempotencyKey }));
const tokenIn = (text: string) => /\/join\/([\w-]+)/.exec(text)![1];
const lastMail = () => context.mailer.sent.at(-1)!;
const invitationOf = async (contactId: string) =>
	(await context.owner.query('select * from invitation where contact_id = $1 order by sent_at desc', [contactId])).rows[0];

describe('one', () => {
	test('several people of a client get a message and a link each, once', async () => {
		const client = await makeClient(context, firm, { access: false });
		const second = await firm.run((tx) =>
			addContact(tx, firm.odalys(), {
				clientId: client.id,
				knownId: null,
				name: 'Pim Whitlock',
				email: `${randomUUID()}@x.example`,
				phone: null,
				channels: 'email',
				role: null
			})
		);
		const key = randomUUID();
		await invite(client, key, [client.contactId, second]);
		await invite(client, key, [client.contactId, second]);
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(2);
		expect(new Set(context.mailer.sent.map((m) => tokenIn(m.text))).size).toBe(2);
		expect(context.mailer.sent[0].text).toContain(`/portal/${firm.slug}/help`);
		expect(context.mailer.sent[0].reportDelivery).toBe(true);
	});

	test('the link can be handed over: the same one as in the message, without a second invitation', async () => {
		const client = await makeClient(context, firm, { access: false });
		await invite(client);
		await sendPlanned(context, firm);
		const link = await firm.run((tx) => linkForContact(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId }, PLACE));
		expect(tokenIn(link)).toBe(tokenIn(lastMail().text));
		// what is kept of the message does not hold it, nor does the database
		const { rows } = await context.owner.query(
			`select body_text, body_html, encode(i.token_hash, 'hex') hash from message m join invitation i on i.message_id = m.id where m.contact_id = $1`,
			[client.contactId]
		);
		expect(JSON.stringify(rows)).not.toContain(tokenIn(link));
	});

	test('a link without a message opens, is taken up once, and is not for other hands', async () => {
		const client = await makeClient(context, firm, { access: false });
		const link = await firm.run((tx) => linkForContact(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId }, PLACE));
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toEqual([]);
		expect((await openInvitation(context.db, nobody(), tokenIn(link)))?.state).toBe('sent');
		await takeUpInvitation(context.db, nobody(), tokenIn(link), PASSWORD);
		await expect(takeUpInvitation(context.db, nobody(), tokenIn(link), 'another good password')).rejects.toMatchObject({ code: 'link_unusable' });
		await expect(
			firm.run((tx) => linkForContact(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId }, PLACE))
		).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		await expect(
			firm.run((tx) => linkForContact(tx, { ...firm.filing, now: context.clock.now() }, { clientId: client.id, contactId: client.contactId }, PLACE))
		).rejects.toMatchObject({ code: 'not_allowed' });
	});

	test('the message is seen before it goes, and nothing is written by looking', async () => {
		const client = await makeClient(context, firm, { access: false });
		const shown = await firm.run((tx) =>
			previewInvitation(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId, subject: 'Hello', body: 'A <b>word</b>' }, PLACE)
		);
		expect(shown).toMatchObject({ subject: 'Hello', to: `Mara Whitlock <${client.email}>` });
		expect(shown.html).toContain('A &lt;b&gt;word&lt;/b&gt;');
		expect(shown.html).toContain('/join/…');
		expect(await invitationOf(client.contactId)).toBeUndefined();
	});

	test('that it arrived is noted once; a failure after it is still heard', async () => {
		const client = await makeClient(context, firm, { access: false });
		await invite(client);
		await sendPlanned(context, firm);
		const { message_id } = await invitationOf(client.contactId);
		const report = (action: 'delivered' | 'failed', reason: string) =>
			takeInReport(context.db, context.clock.now(), { messageId: message_id, action, reason });
		await report('delivered', '2.0.0');
		context.clock.set('2026-05-04T14:00:00Z');
		await report('delivered', '2.0.0');
		const state = async () => (await context.owner.query('select state, delivered_at from message where id = $1', [message_id])).rows[0];
		expect(await state()).toEqual({ state: 'sent', delivered_at: '2026-05-04T13:00:00.000Z' });
		await report('failed', '5.2.2');
		expect((await state()).state).toBe('failed');
	});
});

describe('chased by a plan of its own', () => {
	test.each(['America/Halifax', 'Pacific/Auckland'])(
		'the plan in %s counts business days, over a change of clocks, and ends before the link does',
		(timeZone) => {
			const calendar = { timeZone, businessDays: [1, 2, 3, 4, 5], holidays: ['2026-03-10'], sendFrom: '09:00', sendTo: '17:00' };
			// Friday 6 March, noon in Halifax, which is Saturday in Auckland; Halifax changes its clocks on Sunday 8 March
			const sentAt = '2026-03-06T16:00:00Z';
			const days = [];
			for (let chased = 0; ; chased++) {
				const next = nextInvitationChase({ sentAt, expiresAt: invitationExpiry(sentAt), chased }, calendar, DEFAULT_INVITATION_STEPS);
				if (!next) break;
				days.push(next.on);
			}
			expect(days).toEqual(['2026-03-12', '2026-03-18']);
			expect(nextInvitationChase({ sentAt, expiresAt: '2026-03-11T20:00:00Z', chased: 0 }, calendar, DEFAULT_INVITATION_STEPS)).toBeNull();
			expect(DEFAULT_INVITATION_STEPS).toHaveLength(days.length);
		}
	);

	/** Lets the worker look once a morning and once a noon, and answers on which days who was reminded. */
	async function live(through: string): Promise<string[]> {
		const sent: string[] = [];
		for (let day = '2026-05-05'; day <= through; day = addDays(day, 1))
			for (const time of ['12:00:00Z', '15:30:00Z']) {
				context.clock.set(`${day}T${time}`);
				await chasePeople(context.db, firm.id, context.clock.now());
				await chaseInvitations(context.db, firm.id, context.clock.now());
				const before = context.mailer.sent.length;
				await sendPlanned(context, firm);
				for (const mail of context.mailer.sent.slice(before)) sent.push(`${day} ${mail.to.address}`);
			}
		return sent;
	}
	const forecast = () =>
		firm.run(async (tx) =>
			(await forecastInvitationChases(tx, firm.odalys(), await loadFirm(tx), '2026-06-30')).map((c) => ({ day: c.localDay, contact: c.contactId }))
		);

	test('what the Almanac says goes out: to who has not come in, until they have; the same link each time', async () => {
		const [slow, quick, gone, stopped] = await Promise.all(
			[1, 2, 3, 4].map((n) => makeClient(context, firm, { name: `Client ${n}`, access: false }))
		);
		for (const client of [slow, quick, gone, stopped]) await invite(client);
		await sendPlanned(context, firm);
		const token = tokenIn(context.mailer.sent.find((m) => m.to.address === slow.email)!.text);
		await takeUpInvitation(context.db, nobody(), tokenIn(context.mailer.sent.find((m) => m.to.address === quick.email)!.text), PASSWORD);
		await firm.run(async (tx) => withdrawInvitation(tx, firm.odalys(), (await invitationOf(gone.contactId)).id));
		await firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: stopped.id, move: 'lock', reason: 'x' }));
		expect(await forecast()).toEqual(['2026-05-07', '2026-05-13'].map((day) => ({ day, contact: slow.contactId })));
		expect(await live('2026-05-20')).toEqual([`2026-05-07 ${slow.email}`, `2026-05-13 ${slow.email}`]);
		expect(tokenIn(lastMail().text)).toBe(token);
		expect(lastMail().unsubscribeUrl).toContain('/mail/stop/');
		expect(await forecast()).toEqual([]);
	});

	test('who has something open gets one reminder, with the way in; never two a day', async () => {
		const client = await makeClient(context, firm, { access: false });
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-11')], { withInvitation: true }));
		await sendPlanned(context, firm);
		expect(await forecast()).toEqual([]);
		const sent = await live('2026-05-20');
		expect(sent.length).toBeGreaterThan(1);
		expect(new Set(sent).size).toBe(sent.length);
		// 14 days after it was sent the link has lapsed; up to then each reminder shows the way in
		const [first] = context.mailer.sent.slice(1);
		expect(tokenIn(first.text)).toBe(tokenIn(context.mailer.sent[0].text));
	});
});

describe('many at once', () => {
	const filter = (query: Record<string, string> = {}) => inviteFilterSchema.parse(query);
	const summary = (query: Record<string, string> = {}) => firm.run((tx) => summariseInvites(tx, firm.odalys(), filter(query)));
	const send = (idempotencyKey: string, query: Record<string, string> = {}, body = 'Welcome, {client_name}!') =>
		firm.run((tx) => inviteMany(tx, firm.odalys(), { idempotencyKey, subject: 'Your place, {contact_first_name}', body, filter: filter(query) }, 0));

	test('says who gets it and who does not, and why; each gets a message of their own, once', async () => {
		const plain = await makeClient(context, firm, { name: 'Plain', access: false });
		const twice = await makeClient(context, firm, { name: 'Twice A', access: false, email: 'owner@twice.example' });
		await makeClient(context, firm, { name: 'Twice B', contactId: twice.contactId, email: 'owner@twice.example', access: false });
		await makeClient(context, firm, { name: 'In already' });
		const invited = await makeClient(context, firm, { name: 'Invited', access: false });
		await invite(invited);
		const bounced = await makeClient(context, firm, { name: 'Bounced', access: false });
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [bounced.contactId]);
		const nowhere = await makeClient(context, firm, { name: 'Nowhere', access: false });
		await context.owner.query(`update contact set mail_problem = 'no_address', email = null where id = $1`, [nowhere.contactId]);
		const closed = await makeClient(context, firm, { name: 'Closed', access: false });
		await firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: closed.id, move: 'end', reason: 'x' }));

		expect(await summary()).toMatchObject({
			getsIt: 2,
			noAddress: 1,
			firstWithout: nowhere.contactId,
			bounced: 1,
			invited: 1,
			hasAccess: 1,
			suspended: 0
		});
		expect((await summary({ again: '1' })).getsIt).toBe(3);
		expect((await summary({ mine: '1' })).getsIt).toBe(2);
		expect((await summary({ service: randomUUID() })).getsIt).toBe(0);

		await sendPlanned(context, firm);
		context.mailer.sent.length = 0;
		const key = randomUUID();
		expect(await Promise.all([send(key), send(key)])).toEqual([key, key]);
		await send(key);
		await sendPlanned(context, firm);
		expect(context.mailer.sent.map((m) => [m.to.address, m.subject]).sort()).toEqual(
			[
				[plain.email, 'Your place, Mara'],
				['owner@twice.example', 'Your place, Mara']
			].sort()
		);
		expect(context.mailer.sent.find((m) => m.to.address === plain.email)!.text).toContain('Welcome, Plain!');
		await takeUpInvitation(context.db, nobody(), tokenIn(context.mailer.sent.find((m) => m.to.address === plain.email)!.text), PASSWORD);
		const { run, lines } = await firm.run((tx) => readRun(tx, firm.odalys(), key, { from: 0, limit: 10 }));
		expect(run).toMatchObject({ invited: 2, through: 2, takenUp: 1, opened: 1, troubled: 0 });
		expect(lines.map((line) => [line.clientName, line.state, line.messageState])).toEqual([
			['Plain', 'taken_up', 'sent'],
			['Twice A', 'sent', 'sent']
		]);
		await expect(send(randomUUID())).rejects.toMatchObject({ code: 'invalid' });
	});

	test('a field that cannot be filled for everybody is named, and nobody gets anything', async () => {
		await makeClient(context, firm, { access: false });
		await expect(send(randomUUID(), {}, 'Your fee is {monthly_fee}.')).rejects.toMatchObject({
			code: 'unfilled_fields',
			message: expect.stringContaining('Monthly fee')
		});
		expect((await summary()).invited).toBe(0);
	});

	test('a run of another firm does not exist; who may not, cannot', async () => {
		await makeClient(context, firm, { access: false });
		const key = await send(randomUUID());
		const other = await makeFirm(context);
		await expect(other.run((tx) => readRun(tx, other.odalys(), key, { from: 0, limit: 1 }))).rejects.toMatchObject({ code: 'not_found' });
		await expect(firm.run((tx) => summariseInvites(tx, firm.filing, filter()))).rejects.toMatchObject({ code: 'not_allowed' });
	});
});

test('the database says of an invitation that it waits where core says that it is sent or has expired', async () => {
	const client = await makeClient(context, firm, { access: false });
	await invite(client);
	const { id } = await invitationOf(client.contactId);
	const times = [null, '2026-05-01T12:00:00Z'];
	for (const takenUpAt of times)
		for (const withdrawnAt of times)
			for (const replacedAt of times) {
				const { rows } = await context.owner.query(
					'update invitation set taken_up_at = $2, withdrawn_at = $3, replaced_at = $4 where id = $1 returning waits, expires_at',
					[id, takenUpAt, withdrawnAt, replacedAt]
				);
				const state = invitationStateAt(
					{ expiresAt: new Date(rows[0].expires_at).toISOString(), takenUpAt, withdrawnAt, replacedAt },
					context.clock.now()
				);
				expect(rows[0].waits, state).toBe(state === 'sent' || state === 'expired');
			}
});
