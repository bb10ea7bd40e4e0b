import { randomUUID } from 'node:crypto';
import { describe, expect, test } from 'vitest';
import { MESSAGE_KINDS } from '$lib/core/messages/message-states';
import { changeContact } from '../clients/contacts';
import { mendAddress } from '../clients/add-client';
import { inviteContacts, withdrawInvitation } from '../invitations/invite';
import type { Tx } from '../platform/db/database';
import { answerItem } from '../item-kinds/kinds/question';
import { fillInByPhone } from '../requests/fill-in';
import { sendItemBack, waiveItem } from '../requests/judge-item';
import { announceRequests } from '../announcements/announce-requests';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, paperLine, questionLine, requestTo, sendPlanned, type TestClient } from '../testing/test-firm';
import { context, firm, useFirm } from '../testing/use-firm';
import { planMessages } from '../outbox/plan-message';

useFirm({ withClient: false });

const NEW = 'mara.whitlock@new.example';
/** What tells an old address that it is the old one; it stands apart. */
const WARNING = 'second_step_changed';
const messages = async () =>
	(
		await context.owner.query(
			'select kind, state, reason, to_address as "to" from message where firm_id = $1 and kind <> $2 order by planned_at, kind',
			[firm.id, WARNING]
		)
	).rows;
const ask = (client: TestClient, more: object = {}) =>
	sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')], more));
const invite = (client: TestClient) =>
	firm.run((tx) =>
		inviteContacts(tx, firm.odalys(), {
			clientId: client.id,
			contactIds: [client.contactId],
			subject: 'Your portal',
			body: 'Please come in.',
			textBody: null,
			idempotencyKey: randomUUID()
		})
	);
const invitationOf = async (client: TestClient) =>
	(await context.owner.query('select id from invitation where contact_id = $1 order by sent_at desc, id limit 1', [client.contactId])).rows[0]
		.id as string;

describe('a person who has another address by the time a message goes', () => {
	const addressed = () => context.mailer.sent.filter((mail) => !mail.subject.includes('was changed')).map((mail) => mail.to.address);
	test('gets there what is written to them; the old address gets none of it', async () => {
		const client = await makeClient(context, firm);
		await ask(client);
		await firm.run((tx) => mendAddress(tx, firm.odalys(), client.contactId, NEW));
		await sendPlanned(context, firm);
		expect(addressed()).toEqual([NEW]);
		// where it went is where it is shown to have gone, and a bounce is laid to the right address
		expect(await messages()).toMatchObject([{ kind: 'request', state: 'sent', to: NEW }]);
	});
	test.each([
		['sign_in_code', 'held_back', { stepId: randomUUID() }],
		['password_reset', 'held_back', {}],
		['new_device', 'sent', { device: 'a phone', at: '2026-05-04T13:00:00Z' }]
	] as const)('%s is %s: it was meant for the old one', async (kind, state, content) => {
		const client = await makeClient(context, firm);
		await firm.run((tx) =>
			planMessages(tx, firm.odalys(), [{ idempotencyKey: kind, kind, to: { contactId: client.contactId, address: client.email }, content }])
		);
		await firm.run((tx) => mendAddress(tx, firm.odalys(), client.contactId, NEW));
		await sendPlanned(context, firm);
		expect(addressed()).toEqual(state === 'sent' ? [client.email] : []);
		expect(await messages()).toMatchObject([{ kind, state, to: client.email }]);
	});
	test('or none at all is not written to', async () => {
		const client = await makeClient(context, firm, { access: false });
		await invite(client);
		await firm.run((tx) =>
			changeContact(tx, firm.odalys(), {
				clientId: client.id,
				contactId: client.contactId,
				name: 'Mara Whitlock',
				email: null,
				phone: null,
				role: null,
				channels: 'email'
			})
		);
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toEqual([]);
		expect(await messages()).toMatchObject([{ kind: 'invitation', state: 'held_back', reason: 'the person has no address any more' }]);
	});
});

describe('an invitation that does not wait any more when its message would go', () => {
	const takeUp = (client: TestClient) =>
		context.owner.query(
			`with came_in as (update contact set password_hash = 'x' where id = $1) update invitation set taken_up_at = now() where contact_id = $1`,
			[client.contactId]
		);
	test('is not sent: withdrawn, sent anew, or to an address that was wrong', async () => {
		const [withdrawn, again, wrong] = [
			await makeClient(context, firm, { access: false }),
			await makeClient(context, firm, { access: false }),
			await makeClient(context, firm, { access: false })
		];
		for (const client of [withdrawn, again, wrong]) await invite(client);
		const id = await invitationOf(withdrawn);
		await firm.run((tx) => withdrawInvitation(tx, firm.odalys(), id));
		context.clock.set('2026-05-04T13:31:00Z');
		await invite(again);
		await firm.run((tx) => mendAddress(tx, firm.odalys(), wrong.contactId, NEW));
		await sendPlanned(context, firm);
		expect(context.mailer.sent.map((mail) => mail.to.address)).toEqual([again.email]);
		expect((await messages()).map((one) => [one.state, one.reason])).toEqual([
			['held_back', 'the invitation does not wait any more'],
			['held_back', 'the invitation does not wait any more'],
			['held_back', 'the invitation does not wait any more'],
			['sent', null]
		]);
	});
	test('a request that brought it along goes without it once the person is in, and not at all while nobody could open it', async () => {
		const [inside, outside] = [await makeClient(context, firm, { access: false }), await makeClient(context, firm, { access: false })];
		for (const client of [inside, outside]) await ask(client, { withInvitation: true });
		await takeUp(inside);
		const id = await invitationOf(outside);
		await firm.run((tx) => withdrawInvitation(tx, firm.odalys(), id));
		await sendPlanned(context, firm);
		expect(context.mailer.sent.map((mail) => mail.to.address)).toEqual([inside.email]);
		expect(context.mailer.sent[0].text).not.toContain('/join/');
		expect((await messages()).filter((one) => one.kind === 'request').map((one) => one.reason)).toEqual(
			expect.arrayContaining([null, 'the invitation does not wait any more'])
		);
	});
	test('somebody who is not in yet finds the way in with whatever else is asked, today and tomorrow', async () => {
		const client = await makeClient(context, firm, { access: false });
		await invite(client);
		await ask(client);
		await ask(client);
		await sendPlanned(context, firm);
		context.clock.set('2026-05-05T13:30:00Z');
		await announceRequests(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		// the invitation was today's message: both things are told together tomorrow
		expect(context.mailer.sent.map((mail) => /\/join\//.test(mail.text))).toEqual([true, true]);
	});
	test('a request takes the one along that waits now', async () => {
		const client = await makeClient(context, firm, { access: false });
		await ask(client, { withInvitation: true });
		const first = await invitationOf(client);
		context.clock.set('2026-05-04T13:31:00Z');
		await invite(client);
		expect(await invitationOf(client)).not.toBe(first);
		await sendPlanned(context, firm);
		const links = context.mailer.sent.map((mail) => /\/join\/[\w-]+/.exec(mail.text)?.[0]);
		expect(links).toHaveLength(2);
		expect(new Set(links).size).toBe(1);
	});
});

test.each([
	['waived', (tx: Tx, itemId: string, version: number) => waiveItem(tx, firm.odalys(), { itemId, version })],
	['answered', (tx: Tx, itemId: string, version: number) => fillInByPhone(tx, firm.odalys(), { itemId, version, typed: { answer: 'All of it.' } })]
])('what was sent back and is %s by now is not told of', async (_, settle) => {
	const client = await makeClient(context, firm);
	const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [questionLine('What do you do?', '2026-05-20')]));
	await sendPlanned(context, firm);
	const [{ id }] = await itemsOf(context, requestId);
	const version = async () => (await itemsOf(context, requestId))[0].version;
	await client.run((tx) => answerItem(tx, client.mara(), { itemId: id, answer: 'Some.' }));
	await firm.run(async (tx) => sendItemBack(tx, firm.odalys(), { itemId: id, version: await version(), reason: 'All of it, please.' }));
	await firm.run(async (tx) => settle(tx, id, await version()));
	await sendPlanned(context, firm);
	expect((await messages()).filter((one) => one.kind === 'sent_back')).toMatchObject([
		{ state: 'held_back', reason: 'it is answered or waived by now' }
	]);
	expect(context.mailer.sent.map((mail) => mail.text).join()).not.toContain('All of it, please.');
});

test('somebody who was suspended meanwhile is not written to', async () => {
	const client = await makeClient(context, firm);
	await ask(client);
	await context.owner.query('update contact set suspended_at = now() where id = $1', [client.contactId]);
	await sendPlanned(context, firm);
	expect(context.mailer.sent).toEqual([]);
	expect(await messages()).toMatchObject([{ state: 'held_back', reason: 'the person is suspended' }]);
	const { rows } = await context.owner.query(`select details from event where firm_id = $1 and verb = 'message_held_back'`, [firm.id]);
	expect(rows[0].details).toMatchObject({ to: 'Mara Whitlock', reason: 'the person is suspended' });
});

test('a mail server that cannot take it is asked all day, and then a person has it; the address is not blamed', async () => {
	const client = await makeClient(context, firm);
	await ask(client);
	for (const at of ['2026-05-04T13:30:00Z', '2026-05-04T16:35:00Z', '2026-05-05T13:00:00Z']) {
		context.clock.set(at);
		context.mailer.answers.push({ outcome: 'try_later', reason: '451 busy' });
		await sendPlanned(context, firm);
		expect(await messages(), at).toMatchObject([{ state: 'planned', reason: '451 busy' }]);
	}
	// nobody is written to at night, whenever the server is back
	context.clock.set('2026-05-05T02:15:00Z');
	await sendPlanned(context, firm);
	expect(await messages()).toMatchObject([{ state: 'planned' }]);
	context.clock.set('2026-05-05T19:31:00Z');
	context.mailer.answers.push({ outcome: 'try_later', reason: '451 busy' });
	await sendPlanned(context, firm);
	expect(await messages()).toMatchObject([{ state: 'failed', reason: 'it could not be handed over for 30 hours: 451 busy' }]);
	expect((await context.owner.query('select mail_problem from contact where id = $1', [client.contactId])).rows).toEqual([{ mail_problem: null }]);
	expect(context.mailer.sent).toEqual([]);
});

test('the database knows the same kinds of messages as the application', async () => {
	const { rows } = await context.owner.query('select name from message_kind');
	expect(rows.map((row) => row.name).toSorted()).toEqual([...MESSAGE_KINDS].toSorted());
});
