import { randomUUID } from 'node:crypto';
import { mkdtemp } from 'node:fs/promises';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { beforeEach, describe, expect, test } from 'vitest';
import { messageTextSchema } from '$lib/core/messages/message-texts';
import { say } from '$lib/words/words';
import { CHANNELS, remindedBy, waysOfColumn } from '$lib/core/messages/ways';
import { chaseInvitations } from '../chasing/chase-invitations';
import { chasePeople } from '../chasing/chase-people';
import { readForecast } from '../chasing/read-forecast';
import { changeContact } from '../clients/contacts';
import { readHistory } from '../clients/read-clients';
import { loadFirm } from '../firms/firm';
import { inviteContacts, inviteSchema } from '../invitations/invite';
import { takeUpInvitation } from '../invitations/take-up-invitation';
import { inviteMany } from '../invitations/invite-many';
import { addMessageText, useMessageText } from '../library/message-texts';
import { sendRequest } from '../requests/send-request';
import { readRounds } from '../rounds/read-rounds';
import { httpTextMessageGateway, isSigned, signBody } from '../platform/text-messages/text-message-gateway';
import { answerAsPhone, receivedTextMessage, startTextMessageStandin } from '../platform/text-messages/standin';
import { makeClient, makeFirm, paperLine, requestTo, sendPlanned, type TestClient } from '../testing/test-firm';
import { context, firm, useFirm } from '../testing/use-firm';
import { markTextMessageSeen, takeInTextMessage } from './incoming-texts';
import { markStuckMessages } from './stuck-messages';
import { sendMessage } from './send-message';
import { takeInReport } from './settle-message';

useFirm({ withClient: false });
beforeEach(async () => {
	context.mailer.sent.length = context.texts.sent.length = context.texts.answers.length = 0;
});

let numbers = 100;
async function texting(channels: 'email' | 'text' | 'both' = 'both', options: { access?: boolean } = {}): Promise<TestClient & { phone: string }> {
	const client = await makeClient(context, firm, options);
	const phone = `+1902555${String(++numbers).padStart(4, '0')}`;
	await context.owner.query('update contact set phone = $2, channels = $3 where id = $1', [client.contactId, phone, channels]);
	return { ...client, phone };
}
const contact = async (id: string) => (await context.owner.query('select * from contact where id = $1', [id])).rows[0];
const messages = async (kind?: string) =>
	(
		await context.owner.query('select * from message where firm_id = $1 and ($2::text is null or kind = $2) order by planned_at, channel', [
			firm.id,
			kind ?? null
		])
	).rows;
const rounds = async () =>
	(await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (d) => d }))).rows.map((row) => row.section);

describe('the column of the database', () => {
	test('says what core says, in every combination', async () => {
		const client = await makeClient(context, firm);
		for (const channels of CHANNELS)
			for (const mailProblem of [null, 'bounced', 'opted_out', 'no_address'] as const)
				for (const textProblem of [null, 'failed', 'stopped'] as const)
					for (const phone of [null, '+19025550100']) {
						const { rows } = await context.owner.query(
							`update contact set channels = $2, mail_problem = $3, text_problem = $4, phone = $5, email = case when $3 = 'no_address' then null else coalesce(email, 'x@y.example') end
							where id = $1 returning reminded_by`,
							[client.contactId, channels, mailProblem, textProblem, phone]
						);
						expect(waysOfColumn(rows[0].reminded_by)).toEqual(remindedBy({ channels, mailProblem, textProblem, phone }));
					}
	});
});

describe('requests and reminders', () => {
	test('a request goes by both ways, and so does its reminder, once a day each', async () => {
		const client = await texting();
		await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(client, [paperLine('Bank statement', '2026-05-06'), paperLine('Lease', '2026-05-20')])
		);
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(1);
		expect(context.texts.sent).toEqual([
			{
				reference: expect.any(String),
				to: client.phone,
				words: `Mara, Pennywhistle Row Bookkeeping asks for 2 things for Gull & String Kites. It is all on your page: http://localhost:3000/portal/${firm.slug} Answer STOP for no more texts.`
			}
		]);
		context.clock.set('2026-05-07T12:00:00Z');
		await chasePeople(context.db, firm.id, context.clock.now());
		await chasePeople(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		expect((await messages('chase')).map((m) => [m.channel, m.state, m.to_address])).toEqual([
			['email', 'sent', client.email],
			['text', 'sent', client.phone]
		]);
		expect(context.texts.sent[1].words).toContain('still missing one thing from you, the first due 6 May');
	});
	test('in the language of whoever reads them, and in the firm’s own words where it has some in that language', async () => {
		const keep = (language: 'en' | 'fr', body: string) =>
			firm.run(async (tx) => {
				const text = messageTextSchema.parse({
					kind: 'request_sms',
					language,
					name: language,
					folder: '',
					tags: '',
					subject: '',
					body,
					shared: 'all'
				});
				await useMessageText(tx, firm.odalys(), await addMessageText(tx, firm.odalys(), text), true);
			});
		await keep('en', 'Hi {contact_first_name}, {client_name} has something new:');
		const client = await texting();
		const send = () =>
			sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Bank statement', '2026-05-06')], { tellNow: true }));
		await send();
		await sendPlanned(context, firm);
		await context.owner.query(`update contact set locale = 'fr' where id = $1`, [client.contactId]);
		await send();
		await sendPlanned(context, firm);
		await keep('fr', 'Bonjour {contact_first_name}, du nouveau pour {client_name} :');
		await send();
		await sendPlanned(context, firm);
		expect(context.texts.sent.map((text) => text.words.split(' http')[0])).toEqual([
			'Hi Mara, Gull & String Kites has something new:',
			say('fr', 'text.request', { name: 'Mara', firm: 'Pennywhistle Row Bookkeeping', count: 1, client: 'Gull & String Kites' }),
			'Bonjour Mara, du nouveau pour Gull & String Kites :'
		]);
		expect(context.mailer.sent[1].text).toContain(say('fr', 'mail.request.act'));
	});
	test('by text alone, and the forecast says so', async () => {
		const client = await texting('text');
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Bank statement', '2026-05-06')]));
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toEqual([]);
		const [next] = await firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], 30));
		expect(next.by).toEqual(['text']);
		context.clock.set(next.at);
		await chasePeople(context.db, firm.id, context.clock.now());
		expect((await messages('chase')).map((m) => m.channel)).toEqual(['text']);
	});
	test('a reminder that was planned is held back when nothing is open, by text too', async () => {
		const client = await texting();
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Bank statement', '2026-05-06')]));
		context.clock.set('2026-05-07T12:00:00Z');
		await chasePeople(context.db, firm.id, context.clock.now());
		await context.owner.query(`update item set state = 'waived' where client_id = $1`, [client.id]);
		await sendPlanned(context, firm);
		expect((await messages('chase')).map((m) => [m.channel, m.state])).toEqual([
			['email', 'held_back'],
			['text', 'held_back']
		]);
	});
	test('a number that changed in between gets nothing', async () => {
		const client = await texting('text');
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-06')]));
		await context.owner.query(`update contact set phone = '+19025550777' where id = $1`, [client.contactId]);
		await sendPlanned(context, firm);
		expect(context.texts.sent).toEqual([]);
		expect((await messages())[0]).toMatchObject({ state: 'held_back', reason: 'the person has another number now' });
	});
	test('text wished without a number is refused', async () => {
		const client = await makeClient(context, firm);
		const change = firm.run((tx) =>
			changeContact(tx, firm.odalys(), {
				clientId: client.id,
				contactId: client.contactId,
				name: 'Mara Whitlock',
				email: client.email,
				phone: null,
				role: null,
				channels: 'text'
			})
		);
		await expect(change).rejects.toMatchObject({ code: 'invalid', fields: { phone: expect.any(String) } });
	});
});

describe('what becomes of a text', () => {
	async function oneText() {
		const client = await texting('text');
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-06')]));
		const [message] = await messages('request');
		return { client, id: message.id as string };
	}
	test('refused: it failed, Rounds says so, and reminders go by e-mail', async () => {
		const { client, id } = await oneText();
		context.texts.answers.push({ outcome: 'refused', reason: 'this number cannot get messages' });
		await sendMessage(context.place, firm.id, id);
		expect(await contact(client.contactId)).toMatchObject({ text_problem: 'failed', mail_problem: null, reminded_by: 'email' });
		expect(await rounds()).toContain('mail_trouble');
	});
	test('asked to come later: it does; cut off: unclear, never again', async () => {
		const { id } = await oneText();
		context.texts.answers.push({ outcome: 'try_later', reason: 'busy' }, { outcome: 'unclear', reason: 'cut off' });
		expect(await sendMessage(context.place, firm.id, id)).toEqual({ at: '2026-05-04T13:31:00Z' });
		expect(await sendMessage(context.place, firm.id, id)).toBe('done');
		expect((await messages('request'))[0].state).toBe('unclear');
		await sendMessage(context.place, firm.id, id);
		await markStuckMessages(context.place);
		expect(context.texts.sent).toEqual([]);
	});
	test('delivered, and failed later', async () => {
		const { client, id } = await oneText();
		await sendMessage(context.place, firm.id, id);
		await takeInReport(context.db, context.clock.now(), { messageId: id, action: 'delivered', reason: '' });
		expect((await messages('request'))[0].delivered_at).not.toBeNull();
		await takeInReport(context.db, context.clock.now(), { messageId: id, action: 'failed', reason: 'the phone could not be reached' });
		expect(await contact(client.contactId)).toMatchObject({ text_problem: 'failed', text_problem_detail: 'the phone could not be reached' });
	});
	test('another number forgets what was wrong with the old one', async () => {
		const { client, id } = await oneText();
		context.texts.answers.push({ outcome: 'refused', reason: 'no' });
		await sendMessage(context.place, firm.id, id);
		await firm.run((tx) =>
			changeContact(tx, firm.odalys(), {
				clientId: client.id,
				contactId: client.contactId,
				name: 'Mara Whitlock',
				email: client.email,
				phone: '+19025550999',
				role: null,
				channels: 'text'
			})
		);
		expect(await contact(client.contactId)).toMatchObject({ text_problem: null, reminded_by: 'text' });
	});
	test('without a gateway nothing is tried', async () => {
		const { id } = await oneText();
		await sendMessage({ ...context.place, texts: null }, firm.id, id);
		expect((await messages('request'))[0]).toMatchObject({ state: 'held_back', reason: 'no text gateway is set up' });
	});
});

describe('answers', () => {
	const says = (from: string, text: string, id: string = randomUUID()) => takeInTextMessage(context.db, context.clock.now(), { id, from, text });
	test('STOP holds for everybody with the number, START lifts it; mail goes on', async () => {
		const client = await texting();
		const elsewhere = await makeFirm(context);
		const twin = await makeClient(context, elsewhere);
		await context.owner.query(`update contact set phone = $2, channels = 'both' where id = $1`, [twin.contactId, client.phone]);
		await says(client.phone, 'Stop');
		await says(client.phone, 'STOP');
		expect((await contact(client.contactId)).reminded_by).toBe('email');
		expect((await contact(twin.contactId)).reminded_by).toBe('email');
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-06')]));
		await sendPlanned(context, firm);
		expect([context.mailer.sent.length, context.texts.sent.length]).toEqual([1, 0]);
		await says(client.phone, 'start');
		expect((await contact(client.contactId)).reminded_by).toBe('both');
		const history = await firm.run((tx) => readHistory(tx, firm.odalys(), client.id, null, 50));
		expect(history.map((line) => line.verb).filter((verb) => verb.startsWith('texts_'))).toEqual(['texts_allowed', 'texts_stopped']);
	});
	test('anything else reaches Rounds of the firm that wrote last, once, and leaves it when read', async () => {
		const client = await texting('text');
		const elsewhere = await makeFirm(context);
		const twin = await makeClient(context, elsewhere);
		await context.owner.query('update contact set phone = $2 where id = $1', [twin.contactId, client.phone]);
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-05-06')]));
		await sendPlanned(context, firm);
		const id = randomUUID();
		await says(client.phone, 'On Monday, promised', id);
		await says(client.phone, 'On Monday, promised', id);
		const { rows } = await context.owner.query('select id, firm_id, words from incoming_text where contact_id = $1', [client.contactId]);
		expect(rows).toEqual([{ id: expect.any(String), firm_id: firm.id, words: 'On Monday, promised' }]);
		expect((await context.owner.query('select 1 from incoming_text where firm_id = $1', [elsewhere.id])).rows).toEqual([]);
		expect(await rounds()).toContain('texts');
		await expect(elsewhere.run((tx) => markTextMessageSeen(tx, elsewhere.odalys(), rows[0].id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await firm.run((tx) => markTextMessageSeen(tx, firm.odalys(), rows[0].id));
		expect(await rounds()).not.toContain('texts');
	});
	test('from a number nobody wrote to: nothing is kept', async () => {
		await says('+19025550001', 'Hello?');
		expect((await context.owner.query(`select 1 from incoming_text where words = 'Hello?'`)).rows).toEqual([]);
	});
});

describe('invitations by text', () => {
	const invite = (client: TestClient, textBody: string | null) =>
		firm.run((tx) =>
			inviteContacts(tx, firm.odalys(), {
				contactIds: [client.contactId],
				clientId: client.id,
				subject: 'Your place',
				body: 'Welcome, {contact_first_name}!',
				textBody,
				idempotencyKey: randomUUID()
			})
		);
	test('both messages bring the same link, which works once; what is kept does not hold it', async () => {
		const client = await texting('email', { access: false });
		await invite(client, '{contact_first_name}, come in:');
		await sendPlanned(context, firm);
		const [text] = context.texts.sent;
		expect(text.words).toMatch(/^Mara, come in: http:\/\/localhost:3000\/portal\/firm-\d+\/join\/[\w-]{43} Answer STOP/);
		const token = /\/join\/([\w-]+)/.exec(text.words)![1];
		expect(context.mailer.sent[0].text).toContain(`/join/${token}`);
		expect((await messages('invitation')).find((m) => m.channel === 'text').body_text).toContain('/join/…');
		const nobody = { kind: 'nobody' as const, id: null, name: 'somebody', role: null, now: context.clock.now(), ip: '203.0.113.1', userAgent: '' };
		await takeUpInvitation(context.db, nobody, token, 'kites above the harbour');
		await expect(takeUpInvitation(context.db, nobody, token, 'kites above the harbour')).rejects.toMatchObject({ code: 'link_unusable' });
	});
	test('not ticked, no number, or STOP: e-mail alone', async () => {
		await invite(await texting('email', { access: false }), null);
		await invite(await makeClient(context, firm, { access: false }), 'Come in:');
		const stopped = await texting('email', { access: false });
		await context.owner.query(`update contact set text_problem = 'stopped' where id = $1`, [stopped.contactId]);
		await invite(stopped, 'Come in:');
		expect((await messages('invitation')).map((m) => m.channel)).toEqual(['email', 'email', 'email']);
	});
	test('a field nobody can fill stops it', async () => {
		const client = await texting('email', { access: false });
		await expect(invite(client, '{start_date}')).rejects.toMatchObject({ code: 'unfilled_fields' });
		expect(await messages()).toEqual([]);
		const schema = inviteSchema.pick({ textBody: true });
		expect(schema.parse({ textBody: ' ' }).textBody).toBeNull();
		expect(schema.safeParse({ textBody: 'x'.repeat(301) }).success).toBe(false);
	});
	test('many: with a number by both, without by mail; the reminder goes as the person wishes', async () => {
		const wishes = await texting('both', { access: false });
		await texting('email', { access: false });
		await makeClient(context, firm, { access: false });
		await firm.run((tx) =>
			inviteMany(
				tx,
				firm.odalys(),
				{
					idempotencyKey: randomUUID(),
					subject: 'S',
					body: 'B',
					textBody: '{contact_first_name}: {client_name}',
					filter: { mine: false, first: false, again: false, service: null, list: null }
				},
				0
			)
		);
		await sendPlanned(context, firm);
		expect([context.mailer.sent.length, context.texts.sent.length]).toEqual([3, 2]);
		expect(context.texts.sent[0].words).toContain('Mara: Gull & String Kites http');
		context.clock.set('2026-05-07T12:00:00Z');
		await chaseInvitations(context.db, firm.id, context.clock.now());
		const chases = await messages('invitation_chase');
		expect(chases.filter((m) => m.contact_id === wishes.contactId).map((m) => m.channel)).toEqual(['email', 'text']);
		expect(chases).toHaveLength(4);
	});
});

describe('the gateway over HTTP', () => {
	const KEY = 'a key of the tests only';
	async function withStandin<T>(
		work: (place: { url: string; folder: string; heard: unknown[]; settled(): Promise<void> }) => Promise<T>
	): Promise<T> {
		const heard: unknown[] = [];
		const ears = createServer(async (request, response) => {
			let body = '';
			for await (const chunk of request) body += chunk;
			heard.push({ path: request.url, signed: isSigned(body, String(request.headers['x-signature']), KEY), ...JSON.parse(body) });
			response.writeHead(204).end();
		});
		await new Promise<void>((resolve) => ears.listen(0, '127.0.0.1', resolve));
		const at = `http://127.0.0.1:${(ears.address() as { port: number }).port}`;
		const folder = await mkdtemp(join(tmpdir(), 'lantern-texts-'));
		const standin = await startTextMessageStandin({ port: 0, folder, key: KEY, answersTo: `${at}/answers` });
		try {
			return await work({ url: `http://127.0.0.1:${standin.port}`, folder, heard, settled: () => standin.settled() });
		} finally {
			await standin.close();
			await new Promise((resolve) => ears.close(resolve));
		}
	}
	const gateway = (url: string, key = KEY, reportTo = 'http://127.0.0.1:1/reports') =>
		httpTextMessageGateway({ url, key, from: '+19025550100', reportTo });
	const to = (number: string) => ({ reference: randomUUID(), to: number, words: 'Hello' });

	test('takes, reports signed, refuses; STOP closes a number until START', () =>
		withStandin(async ({ url, folder, heard, settled }) => {
			const reportTo = `${url.replace(/:\d+$/, '')}:1`;
			const ours = gateway(url, KEY, reportTo);
			const text = to('+19025550110');
			expect(await ours.send(text)).toEqual({ outcome: 'sent' });
			expect(await receivedTextMessage(folder, text.reference)).toEqual({ reference: text.reference, to: '+19025550110', text: 'Hello' });
			expect(await receivedTextMessage(folder, randomUUID())).toBeNull();
			expect(await ours.send(to('+19025550199'))).toEqual({ outcome: 'refused', reason: 'this number cannot get messages' });
			expect(await gateway(url, 'another key, which is wrong').send(to('+19025550110'))).toEqual({ outcome: 'refused', reason: 'wrong key' });
			await answerAsPhone({ url, key: KEY }, '+19025550110', 'STOP');
			expect(await ours.send(to('+19025550110'))).toMatchObject({ outcome: 'refused' });
			await answerAsPhone({ url, key: KEY }, '+19025550110', 'start');
			expect(await ours.send(to('+19025550110'))).toEqual({ outcome: 'sent' });
			await settled();
			expect(heard).toEqual([
				{ path: '/answers', signed: true, id: expect.any(String), from: '+19025550110', text: 'STOP' },
				{ path: '/answers', signed: true, id: expect.any(String), from: '+19025550110', text: 'start' }
			]);
		}));
	test('reports delivery and failure', () =>
		withStandin(async ({ url, heard, settled }) => {
			const at = await new Promise<string>((resolve) => {
				const server = createServer(async (request, response) => {
					let body = '';
					for await (const chunk of request) body += chunk;
					heard.push(JSON.parse(body).status);
					response.writeHead(204).end();
					if (heard.length === 2) server.close();
				}).listen(0, '127.0.0.1', () => resolve(`http://127.0.0.1:${(server.address() as { port: number }).port}`));
			});
			await gateway(url, KEY, at).send(to('+19025550111'));
			await settled();
			await gateway(url, KEY, at).send(to('+19025550198'));
			await settled();
			expect(heard).toEqual(['delivered', 'failed']);
		}));
	test('answers of every kind', async () => {
		const answers = [
			[503, '', 'try_later'],
			[429, '', 'try_later'],
			[400, 'not json', 'refused'],
			[302, '', 'unclear']
		] as const;
		for (const [status, body, outcome] of answers) {
			const server = createServer((_, response) => void response.writeHead(status, { location: '/elsewhere' }).end(body));
			await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
			const { port } = server.address() as { port: number };
			expect((await gateway(`http://127.0.0.1:${port}`).send(to('+19025550110'))).outcome, String(status)).toBe(outcome);
			await new Promise((resolve) => server.close(resolve));
		}
		const cutting = createServer((request) => request.socket.destroy());
		await new Promise<void>((resolve) => cutting.listen(0, '127.0.0.1', resolve));
		const { port } = cutting.address() as { port: number };
		expect((await gateway(`http://127.0.0.1:${port}`).send(to('+19025550110'))).outcome).toBe('unclear');
		await new Promise((resolve) => cutting.close(resolve));
		expect((await gateway(`http://127.0.0.1:${port}`).send(to('+19025550110'))).outcome).toBe('try_later');
	});
	test('a signature holds for one body and one key', () => {
		expect(isSigned('body', signBody('body', 'key'), 'key')).toBe(true);
		expect(isSigned('bodY', signBody('body', 'key'), 'key')).toBe(false);
		expect(isSigned('body', signBody('body', 'kez'), 'key')).toBe(false);
		expect(isSigned('body', null, 'key')).toBe(false);
	});
});
