import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { afterFirstStep, bareRecoveryCode, mayTakeTotpStep, recoveryCodeInWords } from '$lib/core/people/second-step';
import type { Actor } from '../actor';
import { hashPassword } from '../platform/passwords';
import { answerDoors, makeClient, makeFirm, openTestContext, SECRET_KEY, sendPlanned, type TestFirm, type TestContext } from '../testing/test-firm';
import { endSessions, readSessions } from './devices';
import { beginPasskey, keepPasskey, readPasskeys, removePasskey, takePasskey } from './passkeys';
import { readPerson, type Person, type PersonRef } from './person';
import { beginAuthenticator, confirmAuthenticator, makeRecoveryCodes, readSecondSteps, removeAuthenticator } from './second-step';
import { resumeSession } from './sessions';
import { beginTextCodes, confirmTextCodes, phoneForCodes, removeTextCodes } from './text-codes';
import { askForCode } from './door-mail';
import { askForReset, requirePassword, resetPassword } from './change-password';
import { askForTextCode, findSignInStep, takeSignInStep, type SignInStepAnswer } from './sign-in-steps';
import { signIn, type Entered } from './sign-in';

let context: TestContext;
let firm: TestFirm;
let email: string;
let ref: PersonRef;
const PASSWORD = 'lamplight ledger harbour';
const ORIGIN = 'http://localhost:3000';

beforeAll(async () => {
	context = await openTestContext();
});
afterAll(() => context.close());
beforeEach(async () => {
	context.clock.set('2026-05-04T13:00:00Z');
	context.mailer.sent.length = 0;
	firm = await makeFirm(context);
	ref = { kind: 'staff', id: firm.coordinator.id! };
	email = `${ref.id}@staff.example`;
	await context.owner.query('update staff set password_hash = $2 where id = $1', [ref.id, await hashPassword(PASSWORD)]);
});

let visits = 0;
const visitor = (userAgent = 'Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0'): Actor => ({
	kind: 'nobody',
	id: null,
	name: 'somebody',
	role: null,
	now: context.clock.now(),
	ip: `203.0.113.${++visits % 250}`,
	userAgent
});
const place = () => ({ ...context, origin: ORIGIN, secretKey: SECRET_KEY, wallNow: context.clock.now() });
const person = () => firm.run((tx) => readPerson(tx, ref)) as Promise<Person>;
const tryIn = (device?: string) => signIn(context, visitor(), 'staff', { email, password: PASSWORD }, null, { device });
async function firstStep(device?: string): Promise<string> {
	const outcome = await tryIn(device);
	if (!outcome || !('stepToken' in outcome)) throw new Error('no second step was asked');
	return outcome.stepToken;
}
async function entered(device?: string): Promise<Entered> {
	const outcome = await tryIn(device);
	if (!outcome || !('entered' in outcome)) throw new Error('not let in');
	return outcome.entered;
}
const answer = (token: string, by: SignInStepAnswer, trust = false, device?: string) =>
	takeSignInStep(place(), visitor(), 'staff', token, by, trust, { device });
/** What a second program makes of the secret: oathtool, which we did not write. */
const oathtool = (secret: string, at: string) =>
	execFileSync('oathtool', ['--totp', '--base32', '--now', at.replace('T', ' ').replace(/(\.\d+)?Z$/, ' UTC'), secret.replaceAll(' ', '')])
		.toString()
		.trim();
const code = (secret: string, at = context.clock.now()) => ({ by: 'totp' as const, code: oathtool(secret, at) });
async function setUp(): Promise<{ secret: string; codes: string[] }> {
	const me = await person();
	const { secret } = await firm.run((tx) => beginAuthenticator(tx, firm.odalys(), me, { secretKey: SECRET_KEY, issuer: 'Pennywhistle Row' }));
	const codes = await firm.run((tx) => confirmAuthenticator(tx, firm.odalys(), me, oathtool(secret, context.clock.now()), place()));
	context.clock.set(addToInstant(context.clock.now(), { minutes: 1 }));
	return { secret, codes: codes! };
}

describe('the rules', () => {
	test.each([
		[{ authenticator: false, passkeys: 0, text: false }, false, false, 'in'],
		[{ authenticator: false, passkeys: 0, text: false }, true, false, 'set_up'],
		[{ authenticator: false, passkeys: 0, text: false }, true, true, 'set_up'],
		[{ authenticator: true, passkeys: 0, text: false }, false, false, 'ask'],
		[{ authenticator: false, passkeys: 1, text: false }, true, false, 'ask'],
		[{ authenticator: true, passkeys: 1, text: false }, true, true, 'in'],
		[{ authenticator: false, passkeys: 0, text: true }, true, false, 'ask']
	] as const)('%j, required %s, trusted %s: %s', (has, required, trusted, next) => expect(afterFirstStep(has, required, trusted)).toBe(next));
	test('a step is taken once, and only near now', () => {
		expect([-2, -1, 0, 1, 2].map((off) => mayTakeTotpStep(100 + off, 100, 0))).toEqual([false, true, true, true, false]);
		expect(mayTakeTotpStep(100, 100, 100)).toBe(false);
		expect(mayTakeTotpStep(99, 100, 100)).toBe(false);
		expect(mayTakeTotpStep(101, 100, 100)).toBe(true);
	});
	test('recovery codes are read as people write them', () => {
		expect(bareRecoveryCode(' ABCD-efgh 2345 ')).toBe('abcdefgh2345');
		for (const wrong of ['', 'abcd', 'abcd-efgh-234o', 'abcd-efgh-2345-6']) expect(bareRecoveryCode(wrong), wrong).toBeNull();
		expect(recoveryCodeInWords('abcdefgh2345')).toBe('abcd-efgh-2345');
	});
});

describe('an authenticator app', () => {
	test('the picture says what the text says, and oathtool makes the codes we take', async () => {
		const me = await person();
		const { secret, picture } = await firm.run((tx) =>
			beginAuthenticator(tx, firm.odalys(), me, { secretKey: SECRET_KEY, issuer: 'Pennywhistle Row' })
		);
		const file = join(mkdtempSync(join(tmpdir(), 'lantern-qr-')), 'qr.png');
		writeFileSync(file, Buffer.from(picture.split(',')[1], 'base64'));
		const uri = new URL(execFileSync('zbarimg', ['--quiet', '--raw', file]).toString().trim());
		expect(uri.protocol).toBe('otpauth:');
		expect(uri.searchParams.get('secret')).toBe(secret.replaceAll(' ', ''));
		expect(uri.searchParams.get('issuer')).toBe('Pennywhistle Row');
		expect(decodeURIComponent(uri.pathname)).toContain(email);
		// until its first code was right it does nothing
		expect(await firm.run((tx) => readSecondSteps(tx, ref))).toMatchObject({ authenticator: false });
		await expect(firm.run((tx) => confirmAuthenticator(tx, firm.odalys(), me, '000000', place()))).rejects.toMatchObject({ code: 'invalid' });
		const codes = await firm.run((tx) => confirmAuthenticator(tx, firm.odalys(), me, oathtool(secret, context.clock.now()), place()));
		expect(codes).toHaveLength(10);
		const { rows } = await context.owner.query(`select encode(secret, 'escape') secret from authenticator`);
		expect(JSON.stringify(rows)).not.toContain(secret.replaceAll(' ', ''));
	});

	test('asked after the password; a code lets in once, on a clock that is half a minute off too, not a minute and a half', async () => {
		const { secret } = await setUp();
		const token = await firstStep();
		expect(await answer(token, code(secret, addToInstant(context.clock.now(), { seconds: -90 })))).toBe('wrong');
		expect(await answer(token, code(secret, addToInstant(context.clock.now(), { seconds: 90 })))).toBe('wrong');
		const early = code(secret, addToInstant(context.clock.now(), { seconds: 30 }));
		expect(await answer(token, early)).toMatchObject({ entered: { firmId: firm.id } });
		// seen over a shoulder, the same code is worth nothing, nor is an older one
		const second = await firstStep();
		expect(await answer(second, early)).toBe('wrong');
		expect(await answer(second, code(secret))).toBe('wrong');
		// the step that was taken is over
		expect(await answer(token, code(secret, addToInstant(context.clock.now(), { minutes: 1 })))).toBe('over');
	});

	test('five wrong codes end the sign-in, ten minutes too; the tries are counted over sign-ins', async () => {
		const { secret } = await setUp();
		const token = await firstStep();
		for (let i = 0; i < 4; i++) expect(await answer(token, { by: 'totp', code: '000000' })).toBe('wrong');
		expect(await answer(token, { by: 'totp', code: '000000' })).toBe('over');
		expect(await answer(token, code(secret))).toBe('over');
		const late = await firstStep();
		context.clock.set(addToInstant(context.clock.now(), { minutes: 10 }));
		expect(await answer(late, code(secret))).toBe('over');
		const more = await firstStep();
		for (let i = 0; i < 5; i++) await answer(more, { by: 'totp', code: '000000' }).catch(() => undefined);
		await expect(answer(await firstStep(), code(secret))).rejects.toMatchObject({ code: 'too_many' });
	});

	test('a step is nobody else’s: made up, of the other side, after suspension', async () => {
		const { secret } = await setUp();
		expect(await answer('made up', code(secret))).toBe('over');
		const token = await firstStep();
		expect(await takeSignInStep(place(), visitor(), 'contact', token, code(secret), false, { device: undefined })).toBe('over');
		await context.owner.query('update staff set suspended_at = now() where id = $1', [ref.id]);
		expect(await answer(token, code(secret))).toBe('over');
	});

	test('a recovery code works once, and its owner hears of it', async () => {
		const { codes } = await setUp();
		expect(await answer(await firstStep(), { by: 'recovery', code: codes[3].toUpperCase() })).toMatchObject({ entered: {} });
		expect(await answer(await firstStep(), { by: 'recovery', code: codes[3] })).toBe('wrong');
		expect(await firm.run((tx) => readSecondSteps(tx, ref))).toMatchObject({ recoveryCodes: 9 });
		await sendPlanned(context, firm);
		expect(context.mailer.sent.map((m) => m.text).join()).toContain('one of your recovery codes');
		const fresh = await firm.run(async (tx) => makeRecoveryCodes(tx, firm.odalys(), (await readPerson(tx, ref))!));
		expect(await answer(await firstStep(), { by: 'recovery', code: codes[4] })).toBe('wrong');
		expect(await answer(await firstStep(), { by: 'recovery', code: fresh[4] })).toMatchObject({ entered: {} });
		const { rows } = await context.owner.query(`select hash, slow_hash from recovery_code`);
		expect(JSON.stringify(rows)).not.toContain(fresh[0].replaceAll('-', ''));
		expect(rows.every(({ hash, slow_hash: slow }) => hash === null && slow.startsWith('$argon2id$'))).toBe(true);
		// no two alike, for each has a salt of its own
		expect(new Set(rows.map(({ slow_hash: slow }) => slow)).size).toBe(rows.length);
	});

	test('a recovery code of before, kept by a fast hash, works once as well', async () => {
		const { codes } = await setUp();
		const bare = codes[2].replaceAll('-', '');
		await context.owner.query(
			`update recovery_code set hash = sha256($2::bytea), slow_hash = null where id = (select id from recovery_code where staff_id = $1 limit 1)`,
			[ref.id, 'abcdefghjkmn']
		);
		expect(bare).not.toBe('abcdefghjkmn');
		expect(await answer(await firstStep(), { by: 'recovery', code: 'abcd-efgh-jkmn' })).toMatchObject({ entered: {} });
		expect(await answer(await firstStep(), { by: 'recovery', code: 'abcd-efgh-jkmn' })).toBe('wrong');
	});

	test('the last one of somebody who needs it cannot go; without need it takes the recovery codes along', async () => {
		await setUp();
		const me = await person();
		await expect(firm.run((tx) => removeAuthenticator(tx, firm.odalys(), me))).rejects.toMatchObject({ code: 'invalid' });
		await context.owner.query('update firm set second_step_staff = false where id = $1', [firm.id]);
		await firm.run((tx) => removeAuthenticator(tx, firm.odalys(), me));
		expect(await firm.run((tx) => readSecondSteps(tx, ref))).toEqual({ authenticator: false, text: false, passkeys: 0, recoveryCodes: 0 });
		expect(await tryIn()).toHaveProperty('entered');
	});
});

describe('who must have a second step', () => {
	test('gets in only to set it up, and is free once it works', async () => {
		const { token } = await entered();
		const session = () => resumeSession(context.db, token, 'staff', context.clock.now());
		expect((await session())!.mustSetUp).toBe(true);
		await setUp();
		expect((await session())!.mustSetUp).toBe(false);
	});
	test('is the firm’s to say, for staff and for contacts', async () => {
		const client = await makeClient(context, firm);
		await context.owner.query('update contact set password_hash = $2 where id = $1', [client.contactId, await hashPassword(PASSWORD)]);
		const asContact = async () => {
			const outcome = await signIn(context, visitor(), 'contact', { email: client.email, password: PASSWORD }, firm.id);
			return (await resumeSession(context.db, (outcome as { entered: Entered }).entered.token, 'contact', context.clock.now()))!.mustSetUp;
		};
		expect(await asContact()).toBe(false);
		await context.owner.query('update firm set second_step_contacts = true, second_step_staff = false where id = $1', [firm.id]);
		expect(await asContact()).toBe(true);
		const { token } = await entered();
		expect((await resumeSession(context.db, token, 'staff', context.clock.now()))!.mustSetUp).toBe(false);
	});
});

describe('devices', () => {
	test('a trusted one is not asked for 30 days; a stolen cookie of another, or one that was planted, is worth nothing', async () => {
		const { secret } = await setUp();
		const outcome = await answer(await firstStep(), code(secret), true);
		const { deviceCookie } = (outcome as { entered: Entered }).entered;
		expect(await tryIn(deviceCookie)).toHaveProperty('entered');
		expect(await tryIn('x'.repeat(43))).toHaveProperty('stepToken');
		// a cookie that was there before is never taken over: nobody can plant one to be trusted later
		const planted = 'p'.repeat(43);
		context.clock.set(addToInstant(context.clock.now(), { minutes: 2 }));
		const again = (await answer(await firstStep(planted), code(secret), true, planted)) as { entered: Entered };
		expect(again.entered.deviceCookie.split('.')[0]).not.toBe(planted);
		expect(await tryIn(planted)).toHaveProperty('stepToken');
		context.clock.set(addToInstant(context.clock.now(), { hours: 24 * 30 + 1 }));
		expect(await tryIn(deviceCookie)).toHaveProperty('stepToken');
		const { rows } = await context.owner.query(`select encode(token_hash, 'escape') from device`);
		expect(JSON.stringify(rows)).not.toContain(deviceCookie.split('.')[0]);
	});

	test('a new password trusts none of them any more, and asks for the second step', async () => {
		const { secret } = await setUp();
		const { deviceCookie } = ((await answer(await firstStep(), code(secret), true)) as { entered: Entered }).entered;
		await askForReset(context, visitor(), 'staff', email, null);
		await answerDoors(context);
		await sendPlanned(context, firm);
		const token = /\/reset\/([\w-]+)/.exec(context.mailer.sent.at(-1)!.text)![1];
		expect(await resetPassword(context.db, visitor(), 'staff', token, 'a boat a gull a lamp', { device: deviceCookie })).toHaveProperty('stepToken');
	});

	test('the first one is quiet, each further one is told of by mail, a known one not', async () => {
		const first = await entered();
		await entered(first.deviceCookie);
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toEqual([]);
		await entered();
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(1);
		expect(context.mailer.sent[0]).toMatchObject({ subject: 'A new device signed in at Pennywhistle Row Bookkeeping', to: { address: email } });
		expect(context.mailer.sent[0].text).toContain('Firefox on Linux');
		expect(context.mailer.sent[0].text).toContain('/desk/you');
	});

	test('one session is ended, or all others; nobody ends another’s; trust goes with it', async () => {
		const { secret } = await setUp();
		const inTwice = async () => {
			const outcome = (await answer(await firstStep(), code(secret), true)) as { entered: Entered };
			context.clock.set(addToInstant(context.clock.now(), { minutes: 1 }));
			return outcome.entered;
		};
		const [here, there] = [await inTwice(), await inTwice()];
		const idOf = async (e: Entered) => (await resumeSession(context.db, e.token, 'staff', context.clock.now()))?.sessionId;
		const present = (await idOf(here))!;
		const other = await makeFirm(context);
		const partner: PersonRef = { kind: 'staff', id: firm.partner.id! };
		expect(await firm.run((tx) => endSessions(tx, partner, context.clock.now(), present, present))).toBe(0);
		expect(await other.run((tx) => endSessions(tx, ref, context.clock.now(), present, present))).toBe(0);
		expect(await firm.run((tx) => readSessions(tx, ref, context.clock.now()))).toHaveLength(2);
		expect(await firm.run((tx) => endSessions(tx, ref, context.clock.now(), null, present))).toBe(1);
		expect(await idOf(there)).toBeUndefined();
		expect(await idOf(here)).toBe(present);
		expect(await tryIn(there.deviceCookie)).toHaveProperty('stepToken');
		expect(await tryIn(here.deviceCookie)).toHaveProperty('entered');
	});

	test('people who share a browser are each known there', async () => {
		const mine = await entered();
		await context.owner.query('update staff set password_hash = $2 where id = $1', [firm.partner.id, await hashPassword(PASSWORD)]);
		const theirs = (await signIn(context, visitor(), 'staff', { email: `${firm.partner.id}@staff.example`, password: PASSWORD }, null, {
			device: mine.deviceCookie
		})) as { entered: Entered };
		await entered(theirs.entered.deviceCookie);
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toEqual([]);
	});
});

describe('a code by mail', () => {
	const ask = async (address = email) => {
		const token = await askForCode(context, visitor(), 'staff', address, null);
		await answerDoors(context);
		return token;
	};
	const codeIn = (text: string) => /is (\d{4}) (\d{4})\./.exec(text)!.slice(1).join('');

	test('lets in once, for ten minutes, only with the token of who asked; then the second step is asked', async () => {
		const token = await ask();
		await sendPlanned(context, firm);
		const mailed = codeIn(context.mailer.sent.at(-1)!.text);
		const stranger = await ask();
		expect(await answer(stranger, { by: 'mailed', code: mailed })).toBe('wrong');
		expect(await answer(token, { by: 'mailed', code: mailed })).toMatchObject({ entered: {} });
		expect(await answer(token, { by: 'mailed', code: mailed })).toBe('over');
		await setUp();
		const next = await ask();
		await sendPlanned(context, firm);
		const fresh = codeIn(context.mailer.sent.filter((m) => m.subject.startsWith('Your code')).at(-1)!.text);
		expect(await answer(next, { by: 'mailed', code: fresh })).toHaveProperty('stepToken');
		// neither what is kept of the message nor the database holds the code
		const { rows } = await context.owner.query(
			`select body_text, body_html, encode(code_hash, 'escape') from message, sign_in_step where message.kind = 'sign_in_code'`
		);
		expect(JSON.stringify(rows)).not.toContain(`${fresh.slice(0, 4)} ${fresh.slice(4)}`);
		expect(JSON.stringify(rows)).not.toContain(fresh);
	});

	test('an unknown address gets the same answer, and nothing else', async () => {
		const token = await ask('nobody@nowhere.example');
		expect(token).toMatch(/^[\w-]{43}$/);
		expect(await answer(token, { by: 'mailed', code: '12345678' })).toBe('over');
		// nor does the number of guesses tell them apart: both end at the same one
		const known = await ask();
		for (const [given, before] of [
			[token, 1],
			[known, 0]
		] as const) {
			for (let i = before; i < 10; i++) await answer(given, { by: 'mailed', code: '12345678' });
			await expect(answer(given, { by: 'mailed', code: '12345678' })).rejects.toMatchObject({ code: 'too_many' });
		}
		await context.owner.query('delete from message where firm_id = $1', [firm.id]);
		expect((await context.owner.query('select 1 from message where firm_id = $1', [firm.id])).rowCount).toBe(0);
		for (let i = 0; i < 2; i++) await ask();
		await expect(ask()).resolves.toBeTruthy();
		await expect(ask()).rejects.toMatchObject({ code: 'too_many' });
	});

	test('wrong codes of somebody who asked in the owner’s place do not keep the owner from their second step', async () => {
		const { secret } = await setUp();
		const token = await ask();
		for (let i = 0; i < 10; i++) await answer(token, { by: 'mailed', code: '12345678' });
		expect(await answer(await firstStep(), code(secret))).toHaveProperty('entered');
	});

	test('a code by mail is no second step', async () => {
		await setUp();
		const second = await firstStep();
		expect((await findSignInStep(context.db, second, context.clock.now()))?.kind).toBe('second');
		expect(await answer(second, { by: 'mailed', code: '12345678' })).toBe('wrong');
	});
});

describe('a code by text', () => {
	const PHONE = '+19025550123';
	const codeIn = (text: string) => /^(\d{4}) (\d{4}) is/.exec(text)!.slice(1).join('');
	const lastCode = async () => {
		await sendPlanned(context, firm);
		return codeIn(context.texts.sent.at(-1)!.words);
	};
	const begin = async (phone = PHONE) => {
		const me = await person();
		await firm.run((tx) => beginTextCodes(tx, context.limits, firm.odalys(), me, phone));
		return me;
	};
	const confirm = async (me: Person, given: string) => firm.run((tx) => confirmTextCodes(tx, firm.odalys(), me, given));
	beforeEach(() => void (context.texts.sent.length = 0));

	test('is set up by proving the number, sent at once when it is the only step, and works once', async () => {
		const me = await begin();
		const proof = await lastCode();
		expect(await confirm(me, '00000000')).toBe('wrong');
		expect(await confirm(me, proof)).toMatchObject({ codes: expect.arrayContaining([expect.any(String)]) });
		expect(await firm.run((tx) => phoneForCodes(tx, ref))).toBe(PHONE);
		await expect(confirm(me, proof)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect(context.texts.sent[0].to).toBe(PHONE);

		const token = await firstStep();
		const sent = await lastCode();
		expect(await answer(token, { by: 'mailed', code: sent })).toBe('wrong');
		expect(await answer(token, { by: 'text', code: sent })).toMatchObject({ entered: {} });
		expect(await answer(token, { by: 'text', code: sent })).toBe('over');
		const { rows } = await context.owner.query('select m.*, encode(s.code_hash, $$escape$$) from message m, sign_in_step s');
		expect(JSON.stringify(rows)).not.toContain(sent);
	});

	test('another code makes the one before worthless; a number of somebody else does not help', async () => {
		const me = await begin();
		await confirm(me, await lastCode());
		const token = await firstStep();
		const first = await lastCode();
		context.clock.set(addToInstant(context.clock.now(), { seconds: 20 }));
		expect(await askForTextCode(context, visitor(), 'staff', token)).toBe(true);
		const second = await lastCode();
		if (first !== second) expect(await answer(token, { by: 'text', code: first })).toBe('wrong');
		expect(await answer(await firstStep(), { by: 'text', code: second })).toBe('wrong');
		expect(await answer(token, { by: 'text', code: second })).toMatchObject({ entered: {} });
		expect(await askForTextCode(context, visitor(), 'contact', token)).toBe(false);
		expect(await askForTextCode(context, visitor(), 'staff', 'made up')).toBe(false);
	});

	test('is not asked for beside an authenticator until wished; a number half set up is nothing', async () => {
		await setUp();
		const me = await begin();
		context.texts.sent.length = 0;
		await firstStep();
		await context.owner.query(`delete from message where state = 'planned' and channel = 'text'`);
		const unproved = await firstStep();
		expect(await askForTextCode(context, visitor(), 'staff', unproved)).toBe(true);
		await sendPlanned(context, firm);
		expect(context.texts.sent).toEqual([]);
		expect((await firm.run((tx) => readSecondSteps(tx, ref))).text).toBe(false);
		await expect(firm.run((tx) => removeTextCodes(tx, firm.odalys(), me))).resolves.toBeUndefined();
	});

	test('so many codes, wrong ones and minutes, then it is over', async () => {
		const me = await begin();
		await sendPlanned(context, firm);
		for (let i = 0; i < 5; i++) expect(await confirm(me, '00000000')).toBe('wrong');
		await expect(confirm(me, '00000000')).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await begin();
		const proof = await lastCode();
		context.clock.set(addToInstant(context.clock.now(), { minutes: 11 }));
		await expect(confirm(me, proof)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await begin();
		await begin();
		await expect(begin()).rejects.toMatchObject({ code: 'too_many' });
	});

	test('the last step of somebody who needs one stays', async () => {
		const me = await begin();
		await confirm(me, await lastCode());
		await expect(firm.run((tx) => removeTextCodes(tx, firm.odalys(), me))).rejects.toMatchObject({ code: 'invalid' });
		await context.owner.query('update firm set second_step_staff = false where id = $1', [firm.id]);
		await firm.run((tx) => removeTextCodes(tx, firm.odalys(), me));
		expect(await firm.run((tx) => readSecondSteps(tx, ref))).toMatchObject({ text: false, recoveryCodes: 0 });
	});
});

describe('passkeys, as far as they go without a browser', () => {
	test('what is made up is refused; a challenge is used once, by whom it was given to', async () => {
		const me = await person();
		const begin = () => firm.run((tx) => beginPasskey(tx, firm.odalys(), me, { origin: ORIGIN, firmName: 'x' }));
		const { challengeId, options } = await begin();
		expect(options.rp.id).toBe('localhost');
		expect(options.authenticatorSelection?.userVerification).toBe('required');
		const made = { id: 'x', rawId: 'x', response: {}, type: 'public-key' };
		await expect(
			firm.run((tx) => keepPasskey(tx, firm.odalys(), me, { challengeId, answer: made, name: 'x' }, { origin: ORIGIN }))
		).rejects.toMatchObject({
			code: 'invalid'
		});
		expect(await takePasskey(context.db, { origin: ORIGIN }, context.clock.now(), { challengeId, answer: { id: 'x' } }, null)).toBeNull();
		expect(await firm.run((tx) => readPasskeys(tx, ref))).toEqual([]);
		await expect(firm.run((tx) => removePasskey(tx, firm.odalys(), me, challengeId))).rejects.toMatchObject({ code: 'invalid' });
	});
});

test('what changes the sign-in asks for the password, which cannot be guessed here either', async () => {
	const ask = (password: string) => firm.run((tx) => requirePassword(context, tx, visitor(), ref, password));
	expect((await ask(PASSWORD)).id).toBe(ref.id);
	for (let i = 0; i < 10; i++) await expect(ask('wrong')).rejects.toMatchObject({ code: 'invalid' });
	await expect(ask(PASSWORD)).rejects.toMatchObject({ code: 'too_many' });
});
