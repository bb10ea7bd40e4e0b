import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { addClient, findContactByEmail, mendAddress } from '../clients/add-client';
import { readClient } from '../clients/read-clients';
import { inviteContacts, withdrawInvitation } from '../invitations/invite';
import { openInvitation, takeUpInvitation } from '../invitations/take-up-invitation';
import { networkOf } from '../platform/rate-limits';
import { hashPassword, isCommonPassword } from '../platform/passwords';
import {
	answerDoors,
	makeClient,
	makeFirm,
	openTestContext,
	sendPlanned,
	type TestClient,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import type { Actor } from '../actor';
import { resumeSession, endAllSessions } from './sessions';
import { askForCode } from './door-mail';
import { askForReset, changeOwnPassword, findReset, PasswordRefused, requireGoodPassword, resetPassword } from './change-password';
import { findSignInStep } from './sign-in-steps';
import { signIn } from './sign-in';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
const PASSWORD = 'kites above the harbour';
const START = '2026-05-04T15:00:00Z';
let address = 0;
const nobody = (): Actor => ({
	kind: 'nobody',
	id: null,
	name: 'somebody',
	role: null,
	now: context.clock.now(),
	ip: `203.0.113.${++address}`,
	userAgent: 'test'
});

beforeAll(async () => {
	context = await openTestContext(START);
});
afterAll(() => context.close());
beforeEach(async () => {
	context.clock.set(START);
	firm = await makeFirm(context);
	client = await makeClient(context, firm, { access: false });
	context.mailer.sent.length = 0;
});

const invite = (idempotencyKey: string = randomUUID()) =>
	context.db.inFirm(firm.id, (tx) =>
		inviteContacts(tx, firm.odalys(), { contactIds: [client.contactId], clientId: client.id, subject: 'Welcome', body: 'Come in', idempotencyKey })
	);
async function linkFromMail(): Promise<string> {
	await sendPlanned(context, firm);
	return /\/(?:join|reset)\/([\w-]+)/.exec(context.mailer.sent.at(-1)!.text)![1];
}

describe('an invitation', () => {
	test('is opened, taken up once, and its link is nowhere in the database', async () => {
		await invite();
		const token = await linkFromMail();
		const { rows } = await context.owner.query('select body_text, body_html from message where contact_id = $1', [client.contactId]);
		expect(JSON.stringify(rows)).not.toContain(token);
		expect(rows[0].body_text).toContain('/join/…');
		expect((await openInvitation(context.db, nobody(), token))?.state).toBe('sent');
		const results = await Promise.allSettled([1, 2].map(() => takeUpInvitation(context.db, nobody(), token, PASSWORD)));
		expect(results.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected']);
		expect((await openInvitation(context.db, nobody(), token))?.state).toBe('taken_up');
		const record = await context.db.inFirm(firm.id, (tx) => readClient(tx, firm.odalys(), client.id));
		expect(record.contacts[0]).toMatchObject({ hasAccess: true, invitation: { state: 'taken_up' } });
	});

	test('lapses after 14 days, is withdrawn, is replaced: each link says so', async () => {
		await invite();
		const first = await linkFromMail();
		await invite();
		const second = await linkFromMail();
		expect((await openInvitation(context.db, nobody(), first))?.state).toBe('replaced');
		await expect(takeUpInvitation(context.db, nobody(), first, PASSWORD)).rejects.toMatchObject({ code: 'link_unusable' });
		const seen = await openInvitation(context.db, nobody(), second);
		await context.db.inFirm(firm.id, (tx) => withdrawInvitation(tx, firm.odalys(), seen!.id));
		expect((await openInvitation(context.db, nobody(), second))?.state).toBe('withdrawn');
		await invite();
		const third = await linkFromMail();
		context.clock.set(addToInstant(START, { hours: 14 * 24 }));
		expect((await openInvitation(context.db, nobody(), third))?.state).toBe('expired');
		await expect(takeUpInvitation(context.db, nobody(), third, PASSWORD)).rejects.toMatchObject({ code: 'link_unusable' });
		expect(await openInvitation(context.db, nobody(), 'made-up')).toBeNull();
	});

	test('a second click sends nothing twice, and whoever has access is not invited', async () => {
		const key = randomUUID();
		await invite(key);
		await invite(key);
		expect((await context.owner.query('select 1 from message where contact_id = $1', [client.contactId])).rowCount).toBe(1);
		await takeUpInvitation(context.db, nobody(), await linkFromMail(), PASSWORD);
		await expect(invite()).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('a poor password is refused and the link still works', async () => {
		await invite();
		const token = await linkFromMail();
		await expect(takeUpInvitation(context.db, nobody(), token, 'short')).rejects.toMatchObject({ problem: 'too_short' });
		await expect(takeUpInvitation(context.db, nobody(), token, 'password1234')).rejects.toMatchObject({ problem: 'common' });
		await expect(takeUpInvitation(context.db, nobody(), token, PASSWORD)).resolves.toMatchObject({ firmSlug: firm.slug });
	});
});

describe('signing in', () => {
	const tryIn = (password: string, email = client.email, from = nobody()) => signIn(context, from, 'contact', { email, password }, firm.id);
	const enter = async () => {
		const outcome = await tryIn(PASSWORD);
		if (!outcome || !('entered' in outcome)) throw new Error('not let in');
		return outcome.entered;
	};
	beforeEach(async () => {
		await context.owner.query('update contact set password_hash = $2 where id = $1', [client.contactId, await hashPassword(PASSWORD)]);
	});

	test('right, wrong, unknown, suspended, other firm', async () => {
		expect(await tryIn(PASSWORD, client.email.toUpperCase())).not.toBeNull();
		expect(await tryIn('wrong password here')).toBeNull();
		expect(await tryIn(PASSWORD, 'nobody@nowhere.example')).toBeNull();
		const other = await makeFirm(context);
		expect(await signIn(context, nobody(), 'contact', { email: client.email, password: PASSWORD }, other.id)).toBeNull();
		expect(await signIn(context, nobody(), 'staff', { email: client.email, password: PASSWORD }, null)).toBeNull();
		await context.owner.query('update contact set suspended_at = now() where id = $1', [client.contactId]);
		expect(await tryIn(PASSWORD)).toBeNull();
	});

	test('too many tries are refused, for the account and for the network address', async () => {
		const from = nobody();
		for (let i = 0; i < 8; i++) await tryIn('wrong', client.email, from);
		await expect(tryIn(PASSWORD, client.email, from)).rejects.toMatchObject({ code: 'too_many' });
		const elsewhere = nobody();
		for (let i = 0; i < 60; i++) await context.limits.signInTry(`contact ${i}`, elsewhere.ip);
		await expect(tryIn('x', 'fresh@account.example', elsewhere)).rejects.toMatchObject({ code: 'too_many' });
	});

	test('a stranger who guesses does not shut the owner out: other networks go on, and where many guess, the devices that are known', async () => {
		const at = (ip: string) => ({ ...nobody(), ip });
		const { deviceCookie } = await enter();
		for (let i = 0; i < 8; i++) await tryIn('wrong', client.email, at(`192.0.2.${i}`));
		await expect(tryIn(PASSWORD, client.email, at('192.0.2.99'))).rejects.toMatchObject({ code: 'too_many' });
		expect(await tryIn(PASSWORD, client.email, at('192.0.3.1'))).not.toBeNull();
		for (let i = 0; i < 80; i++) await context.limits.signInTry(`contact ${firm.id} ${client.email}`, `10.${i}.0.1`);
		await expect(tryIn(PASSWORD, client.email, at('10.99.0.1'))).rejects.toMatchObject({ code: 'too_many' });
		const known = { device: deviceCookie };
		const input = (password: string) => ({ email: client.email, password });
		expect(await signIn(context, at('10.99.0.1'), 'contact', input(PASSWORD), firm.id, known)).not.toBeNull();
		// nor does a known device guess without end
		for (let i = 0; i < 8; i++) await signIn(context, at(`10.98.${i}.1`), 'contact', input('wrong'), firm.id, known);
		await expect(signIn(context, at('10.97.0.1'), 'contact', input(PASSWORD), firm.id, known)).rejects.toMatchObject({ code: 'too_many' });
	});
	test.each([
		['203.0.113.9', '203.0.113'],
		['::ffff:203.0.113.9', '203.0.113'],
		['2001:db8:12:34:56:78:9a:bc', '2001:db8:12:34'],
		['2001:DB8:0012:0034::1', '2001:db8:12:34'],
		['2001:db8::1', '2001:db8:0:0'],
		['fe80::1%eth0', 'fe80:0:0:0'],
		['::1', '0:0:0:0']
	])('%s is of the network %s', (ip, network) => expect(networkOf(ip)).toBe(network));

	test('a session rotates, keeps the old token a moment, ends by idleness, suspension and command', async () => {
		const { token } = await enter();
		const resume = (t: string) => resumeSession(context.db, t, 'contact', context.clock.now());
		expect(await resume(token)).toMatchObject({ personId: client.contactId, newToken: null });
		expect(await resumeSession(context.db, token, 'staff', context.clock.now())).toBeNull();
		expect(await resume('made up')).toBeNull();
		context.clock.set(addToInstant(START, { minutes: 61 }));
		const next = (await resume(token))!.newToken!;
		expect(next).toBeTruthy();
		expect((await resume(token))?.newToken).toBeNull();
		context.clock.set(addToInstant(START, { minutes: 63 }));
		expect(await resume(token)).toBeNull();
		expect(await resume(next)).not.toBeNull();
		await context.db.inFirm(firm.id, (tx) => endAllSessions(tx, { kind: 'contact', id: client.contactId }, context.clock.now()));
		expect(await resume(next)).toBeNull();
		const again = (await enter()).token;
		context.clock.set(addToInstant(context.clock.now(), { hours: 24 * 14 + 1 }));
		expect(await resume(again)).toBeNull();
		const { rows } = await context.owner.query('select token_hash from session');
		expect(JSON.stringify(rows)).not.toContain(again);
	});

	test('a session ends at its greatest age, however much it is used', async () => {
		let { token } = await enter();
		let days = 0;
		for (; days < 200; days += 10) {
			context.clock.set(addToInstant(START, { hours: 24 * days }));
			const session = await resumeSession(context.db, token, 'contact', context.clock.now());
			if (!session) break;
			token = session.newToken ?? token;
		}
		expect(days).toBe(90);
	});

	test('a forgotten password: same silence for the unknown, a link that works once and two hours', async () => {
		await askForReset(context, nobody(), 'contact', 'nobody@nowhere.example', firm.id);
		await answerDoors(context);
		expect((await context.owner.query('select 1 from message where firm_id = $1', [firm.id])).rowCount).toBe(0);
		const { token: session } = await enter();
		await askForReset(context, nobody(), 'contact', client.email, firm.id);
		await answerDoors(context);
		const token = await linkFromMail();
		expect(await findReset(context.db, token, 'staff', context.clock.now())).toBeNull();
		expect(await findReset(context.db, token, 'contact', addToInstant(START, { hours: 2 }))).toBeNull();
		const results = await Promise.allSettled([1, 2].map(() => resetPassword(context.db, nobody(), 'contact', token, 'a boat a gull a lamp')));
		expect(results.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected']);
		expect(await resumeSession(context.db, session, 'contact', context.clock.now())).toBeNull();
		expect(await tryIn(PASSWORD)).toBeNull();
		expect(await tryIn('a boat a gull a lamp')).not.toBeNull();
		await sendPlanned(context, firm);
		expect(context.mailer.sent.map((mail) => mail.subject)).toContain('Your password was changed');
	});
});

describe('what somebody else may have begun', () => {
	const askLink = async () => {
		await askForReset(context, nobody(), 'contact', client.email, firm.id);
		await answerDoors(context);
		const link = await linkFromMail();
		context.mailer.sent.length = 0;
		context.clock.set(addToInstant(context.clock.now(), { minutes: 1 }));
		return link;
	};
	const isGood = async (link: string) => (await findReset(context.db, link, 'contact', context.clock.now())) !== null;
	const begin = async () => {
		const outcome = await signIn(context, nobody(), 'contact', { email: client.email, password: PASSWORD }, firm.id);
		if (!outcome || !('entered' in outcome)) throw new Error('not let in');
		return outcome.entered.token;
	};
	beforeEach(async () => {
		await context.owner.query('update contact set password_hash = $2 where id = $1', [client.contactId, await hashPassword(PASSWORD)]);
	});

	test('ends with a new address: session, link and waiting sign-in; the old address is told, and led nowhere', async () => {
		const [session, link] = [await begin(), await askLink()];
		const step = await askForCode(context, nobody(), 'contact', client.email, firm.id);
		await answerDoors(context);
		await sendPlanned(context, firm);
		context.mailer.sent.length = 0;
		await firm.run((tx) => mendAddress(tx, firm.odalys(), client.contactId, 'mara@new.example'));
		expect(await resumeSession(context.db, session, 'contact', context.clock.now())).toBeNull();
		expect(await isGood(link)).toBe(false);
		expect(await findSignInStep(context.db, step, context.clock.now())).toBeNull();
		await sendPlanned(context, firm);
		const told = context.mailer.sent.filter((mail) => mail.subject.includes('was changed'));
		expect(told.map((mail) => mail.to.address)).toEqual([client.email]);
		expect(told[0].text).toContain('at another address');
		expect(told[0].text).not.toContain('mara@new.example');
		expect(told[0].text).not.toMatch(/\/(you|sign-in)/);
		// put right once more in the same letters, nobody is signed out
		const again = await signIn(context, nobody(), 'contact', { email: 'mara@new.example', password: PASSWORD }, firm.id);
		await firm.run((tx) => mendAddress(tx, firm.odalys(), client.contactId, 'MARA@new.example'));
		expect(await resumeSession(context.db, (again as { entered: { token: string } }).entered.token, 'contact', context.clock.now())).not.toBeNull();
	});
	test('ends with a new password: an older link and a sign-in half done', async () => {
		const [older, newer] = [await askLink(), await askLink()];
		const step = await askForCode(context, nobody(), 'contact', client.email, firm.id);
		await answerDoors(context);
		await resetPassword(context.db, nobody(), 'contact', newer, 'a boat a gull a lamp');
		expect(await isGood(older)).toBe(false);
		expect(await findSignInStep(context.db, step, context.clock.now())).toBeNull();
	});
	test('ends with the password changed while signed in: here one stays, everywhere else one is out', async () => {
		const [here, elsewhere, link] = [await begin(), await begin(), await askLink()];
		const mine = (await resumeSession(context.db, here, 'contact', context.clock.now()))!;
		const change = (ownPassword: string, password: string) =>
			changeOwnPassword(
				context,
				{ ...client.mara(), now: context.clock.now() },
				{ firmId: firm.id, sessionId: mine.sessionId, person: { kind: 'contact', id: client.contactId } },
				{ ownPassword, password }
			);
		await expect(change('not mine at all', 'a boat a gull a lamp')).rejects.toMatchObject({
			code: 'invalid',
			fields: { ownPassword: expect.anything() }
		});
		await expect(change(PASSWORD, PASSWORD)).rejects.toMatchObject({ code: 'invalid', fields: { password: expect.anything() } });
		await expect(change(PASSWORD, 'password')).rejects.toBeInstanceOf(PasswordRefused);
		expect(await isGood(link)).toBe(true);
		await change(PASSWORD, 'a boat a gull a lamp');
		expect(await resumeSession(context.db, here, 'contact', context.clock.now())).not.toBeNull();
		expect(await resumeSession(context.db, elsewhere, 'contact', context.clock.now())).toBeNull();
		expect(await isGood(link)).toBe(false);
		expect(await signIn(context, nobody(), 'contact', { email: client.email, password: PASSWORD }, firm.id)).toBeNull();
		await sendPlanned(context, firm);
		expect(context.mailer.sent.map((mail) => [mail.to.address, mail.subject])).toContainEqual([client.email, 'Your password was changed']);
		await expect(change(PASSWORD, 'another boat another gull')).rejects.toMatchObject({ code: 'invalid' });
	});
	test('a link of somebody who is suspended makes no session that comes alive afterwards', async () => {
		const link = await askLink();
		await context.owner.query('update contact set suspended_at = now() where id = $1', [client.contactId]);
		await expect(resetPassword(context.db, nobody(), 'contact', link, 'a boat a gull a lamp')).rejects.toMatchObject({ code: 'link_unusable' });
		expect((await context.owner.query('select 1 from session where contact_id = $1', [client.contactId])).rowCount).toBe(0);
	});
});

describe('a known address', () => {
	test('is offered, not doubled, whatever its case; chosen, it serves both clients', async () => {
		const input = (id: string | null) => ({
			name: 'Second business',
			kind: 'business' as const,
			responsibleId: firm.coordinator.id!,
			contacts: [{ id, name: 'M. Whitlock', email: client.email.toUpperCase() }]
		});
		const refused = await context.db.inFirm(firm.id, (tx) => addClient(tx, firm.odalys(), input(null))).catch((e) => e);
		expect(JSON.parse(refused.fields['contacts.0.known'])).toMatchObject({
			id: client.contactId,
			name: 'Mara Whitlock',
			clients: ['Gull & String Kites']
		});
		const second = await context.db.inFirm(firm.id, (tx) => addClient(tx, firm.odalys(), input(client.contactId)));
		const record = await context.db.inFirm(firm.id, (tx) => readClient(tx, firm.odalys(), second));
		expect(record.contacts[0]).toMatchObject({ id: client.contactId, otherClients: ['Gull & String Kites'] });
	});

	test('a mended address lets mail go again, but not onto somebody else’s', async () => {
		const other = await makeClient(context, firm);
		await context.owner.query(`update contact set mail_problem = 'bounced' where id = $1`, [client.contactId]);
		await expect(context.db.inFirm(firm.id, (tx) => mendAddress(tx, firm.odalys(), client.contactId, other.email))).rejects.toMatchObject({
			fields: { email: expect.any(String) }
		});
		await context.db.inFirm(firm.id, (tx) => mendAddress(tx, firm.odalys(), client.contactId, 'new@client.example'));
		expect(await context.db.inFirm(firm.id, (tx) => findContactByEmail(tx, 'new@client.example'))).toMatchObject({ id: client.contactId });
	});
});

test('the shipped list knows what everybody tries first', () => {
	for (const word of ['password', 'qwertyuiop', '123456789']) expect(isCommonPassword(word)).toBe(true);
	expect(isCommonPassword('kites above the harbour')).toBe(false);
	const refused = (password: string) => {
		try {
			requireGoodPassword(password, ['Odalys Fenwick', 'odalys@pennywhistle.example', 'Pennywhistle Row Bookkeeping']);
			return null;
		} catch (error) {
			return (error as { problem: string }).problem;
		}
	};
	for (const password of ['passwordpass', 'thisismypassword', 'p4ssw0rdp4ssw0rd!', 'qwertyuiop12', '123456789012345678901234567890123456789'])
		expect([password, refused(password)]).toEqual([password, 'common']);
	for (const password of ['pennywhistlerow', 'PennywhistleRow1', 'odalysfenwick1', 'odalys-fenwick'])
		expect([password, refused(password)]).toEqual([password, 'own_words']);
	for (const password of ['kites above the harbour', 'lamplight ledger harbour', 'eleven clocks at noon', 'gT7!wq-0pLm4z'])
		expect(refused(password)).toBeNull();
});
