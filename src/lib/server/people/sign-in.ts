import { randomInt, randomUUID } from 'node:crypto';
import type { JobPayload } from '$lib/core/jobs';
import { DomainError } from '$lib/core/errors/domain-error';
import { addToInstant, compareInstants } from '$lib/core/calendar/firm-calendar';
import { passwordProblem, type PasswordProblem } from '$lib/core/people/passwords';
import { afterFirstStep, STEP_MINUTES, STEP_TRIES } from '$lib/core/people/second-step';
import type { Role } from '$lib/core/people/roles';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { firmOfMessage } from '../platform/db/all-firms';
import { loadFirm } from '../firms/firm';
import { planMessage } from '../outbox/plan-message';
import type { Database, Tx } from '../platform/db/database';
import { enqueue } from '../platform/queue';
import { hashPassword, isCommonPassword, isSoonGuessed, verifyPassword } from '../platform/passwords';
import type { RateLimits } from '../platform/rate-limits';
import { hashToken, newToken } from '../platform/tokens';
import { endSessions, findDevice, noteDevice, signOutEverywhere } from './devices';
import { takePasskey, type PasskeyPlace } from './passkeys';
import { findPerson, ownAddress, ownerColumns, personAsActor, readPerson, type Person, type PersonRef } from './person';
import { isSecondStepRequired, readSecondSteps, takeRecoveryCode, takeTotp } from './second-step';
import { phoneForCodes, planCode } from './text-codes';
import { beginSession } from './sessions';

interface SignInPlace {
	db: Database;
	limits: RateLimits;
}

/** What a browser has from earlier: the cookie by which its devices are known. */
export interface Browser {
	device: string | undefined;
}

/** Somebody is in: the session's token, and the browser's cookie for the next time. */
export interface Entered {
	firmId: string;
	token: string;
	expiresAt: string;
	deviceCookie: string;
}

/** Somebody is in, or has to take the second step, to which the token belongs. */
export type SignInOutcome = { entered: Entered } | { stepToken: string };

/** Lets somebody in who has proved who they are. */
async function enter(tx: Tx, actor: Actor, person: Person, browser: Browser, how: { trust: boolean; mustSetUp: boolean }): Promise<Entered> {
	const contactId = person.kind === 'contact' ? person.id : null;
	await recordEvent(tx, actor, { verb: 'signed_in', contactId });
	if (contactId) await tx.rows('update contact set last_seen_at = $2 where id = $1', [contactId, actor.now]);
	const device = await noteDevice(tx, actor, person, browser.device, how.trust);
	const session = await beginSession(tx, actor, person, { deviceId: device.id, mustSetUp: how.mustSetUp });
	return { ...session, firmId: tx.firmId, deviceCookie: device.cookie };
}

/** What follows once the first step is done: in, or asked for the second. */
export async function passFirstStep(tx: Tx, actor: Actor, person: Person, browser: Browser): Promise<SignInOutcome> {
	const [has, required, device] = [
		await readSecondSteps(tx, person),
		await isSecondStepRequired(tx, person.kind),
		await findDevice(tx, person, browser.device, actor.now)
	];
	const next = afterFirstStep(has, required, device?.trusted ?? false);
	if (next !== 'ask') return { entered: await enter(tx, actor, person, browser, { trust: false, mustSetUp: next === 'set_up' }) };
	const stepToken = await beginStep(tx, actor, person, 'second');
	// whoever has nothing else gets the code at once
	if (has.text && !has.authenticator && has.passkeys === 0) await textCode(tx, actor, person, stepToken);
	return { stepToken };
}

/** Puts a code for a waiting second step on its way to the phone that was set up for that. */
async function textCode(tx: Tx, actor: Actor, person: PersonRef, token: string): Promise<void> {
	const step = await tx.first<{ id: string }>('select id from sign_in_step where token_hash = $1', [hashToken(token)]);
	const phone = await phoneForCodes(tx, person);
	if (step && phone) await planCode(tx, actor, person, phone, { stepId: step.id });
}

/**
 * Sends a code by text to somebody who waits at the second step; another one makes the one before worthless.
 * @returns false if nobody waits
 * @throws DomainError too_many
 */
export async function askForTextCode(place: SignInPlace, from: Actor, kind: PersonRef['kind'], token: string): Promise<boolean> {
	const found = await findStep(place.db, token, from.now);
	if (!found || found.kind !== 'second' || found.person.kind !== kind) return false;
	await place.limits.resetTry(`text ${found.person.id}`, from.ip);
	await place.db.inFirm(found.firmId, (tx) => textCode(tx, from, found.person, token));
	return true;
}

async function beginStep(tx: Tx, actor: Actor, person: PersonRef, kind: 'second' | 'mailed', made = newToken()): Promise<string> {
	await tx.rows(
		`insert into sign_in_step (id, firm_id, staff_id, contact_id, kind, token_hash, begun_at, expires_at) values ($1, $2, $3, $4, $5, $6, $7, $8)
		on conflict (token_hash) do nothing`,
		[randomUUID(), tx.firmId, ...ownerColumns(person), kind, made.hash, actor.now, addToInstant(actor.now, { minutes: STEP_MINUTES })]
	);
	return made.token;
}

/**
 * Takes the first step with a password. A wrong password, an unknown address and a suspended person get the same
 * answer, after the same work.
 * @param firmId for contacts, whose addresses are known per firm; staff are known by address alone
 * @returns null if address and password do not belong together
 * @throws DomainError too_many
 */
export async function signIn(
	place: SignInPlace,
	from: Actor,
	kind: PersonRef['kind'],
	input: { email: string; password: string },
	firmId: string | null,
	browser: Browser = { device: undefined }
): Promise<SignInOutcome | null> {
	const account = `${kind} ${firmId ?? ''} ${input.email.toLowerCase()}`;
	const firm = await firmOf(place.db, kind, input.email, firmId);
	const [person, device] = firm
		? await place.db.inFirm(firm, async (tx) => {
				const found = await findPerson(tx, kind, input.email);
				return [found, found && (await findDevice(tx, found, browser.device, from.now))] as const;
			})
		: [null, null];
	await place.limits.signInTry(account, from.ip, device?.id);
	const right = await verifyPassword(person ? person.passwordHash : null, input.password);
	if (!firm || !person) return null;
	return place.db.inFirm(firm, async (tx) => {
		const actor = personAsActor(from, person);
		if (!right || person.suspended) {
			await recordEvent(tx, actor, { verb: 'sign_in_refused', contactId: kind === 'contact' ? person.id : null });
			return null;
		}
		await place.limits.signInSucceeded(account, from.ip, device?.id);
		return passFirstStep(tx, actor, person, browser);
	});
}

async function firmOf(db: Database, kind: PersonRef['kind'], email: string, firmId: string | null): Promise<string | null> {
	if (kind === 'contact') return firmId;
	return (await db.queryOutsideFirm<{ firm_id: string }>('select firm_id from find_staff_by_email($1)', [email]))[0]?.firm_id ?? null;
}

/**
 * Signs somebody in with a passkey alone: it holds both steps, since the device asks who uses it.
 * @param firmId for contacts, in whose portal this happens
 * @returns null if it is nobody's here
 * @throws DomainError too_many
 */
export async function signInWithPasskey(
	place: SignInPlace & PasskeyPlace,
	from: Actor,
	kind: PersonRef['kind'],
	input: { challengeId: string; answer: { id: string } },
	firmId: string | null,
	browser: Browser
): Promise<Entered | null> {
	await place.limits.signInTry(`passkey ${input.answer.id.slice(0, 80)}`, from.ip);
	const found = await takePasskey(place.db, place, from.now, input, null);
	if (!found || found.person.kind !== kind || found.person.suspended || (firmId && found.firmId !== firmId)) return null;
	return place.db.inFirm(found.firmId, (tx) =>
		enter(tx, personAsActor(from, found.person), found.person, browser, { trust: false, mustSetUp: false })
	);
}

type DoorMail = JobPayload<'mail_from_door'>;

async function queueDoorMail(db: Database, from: Actor, mail: Omit<DoorMail, 'from'>): Promise<void> {
	const { now, ip, userAgent } = from;
	await enqueue(db, 'mail_from_door', { ...mail, from: { now, ip, userAgent: userAgent.slice(0, 300) } });
}

/** Mails what was asked for, if the address is somebody's. */
export async function mailFromDoor(db: Database, mail: DoorMail): Promise<void> {
	const { kind, email } = mail;
	const from: Actor = { ...mail.from, kind: 'nobody', id: null, name: 'somebody', role: null };
	const firm = await firmOf(db, kind, email, mail.firmId);
	if (!firm) return;
	await db.inFirm(firm, async (tx) => {
		const person = await findPerson(tx, kind, email);
		if (!person?.passwordHash || person.suspended) return;
		const contactId = kind === 'contact' ? person.id : null;
		if (mail.what === 'reset') {
			await recordEvent(tx, personAsActor(from, person), { verb: 'reset_asked', contactId });
			await planMessage(tx, from, { kind: 'password_reset', idempotencyKey: `reset ${person.id} ${from.now}`, to: ownAddress(person), content: {} });
			return;
		}
		const hash = Buffer.from(mail.tokenHash ?? '', 'hex');
		await beginStep(tx, from, person, 'mailed', { token: '', hash });
		const step = await tx.first<{ id: string }>('select id from sign_in_step where token_hash = $1', [hash]);
		await recordEvent(tx, personAsActor(from, person), { verb: 'code_asked', contactId });
		await planMessage(tx, from, { kind: 'sign_in_code', idempotencyKey: `code ${step!.id}`, to: ownAddress(person), content: { stepId: step!.id } });
	});
}

/**
 * Puts a code for signing in on its way, if the address is known. The caller learns nothing about that: the token they
 * get looks the same, and so is the work done while they wait.
 * @throws DomainError too_many
 */
export async function askForCode(place: SignInPlace, from: Actor, kind: PersonRef['kind'], email: string, firmId: string | null): Promise<string> {
	await place.limits.resetTry(`code ${kind} ${firmId ?? ''} ${email.toLowerCase()}`, from.ip);
	const { token, hash } = newToken();
	await queueDoorMail(place.db, from, { what: 'code', kind, email, firmId, tokenHash: hash.toString('hex') });
	return token;
}

/** Makes the code of a step that is sent now; only its hash is kept. */
export async function makeMailedCode(tx: Tx, stepId: string): Promise<string> {
	const code = String(randomInt(100_000_000)).padStart(8, '0');
	await tx.rows('update sign_in_step set code_hash = $2 where id = $1', [stepId, hashToken(`${stepId} ${code}`)]);
	return code;
}

export type StepAnswer =
	| { by: 'totp'; code: string }
	| { by: 'recovery'; code: string }
	| { by: 'mailed'; code: string }
	| { by: 'text'; code: string }
	| { by: 'passkey'; challengeId: string; answer: { id: string } };

interface StepRow {
	id: string;
	kind: 'second' | 'mailed';
	person: PersonRef;
	expires_at: string;
	tries: number;
	done_at: string | null;
	code_hash: Buffer | null;
}

async function lockStep(tx: Tx, token: string): Promise<StepRow | null> {
	const row = await tx.first<Omit<StepRow, 'person'> & { staff_id: string | null; contact_id: string | null }>(
		'select id, kind, staff_id, contact_id, expires_at, tries, done_at, code_hash from sign_in_step where token_hash = $1 for update',
		[hashToken(token)]
	);
	return row && { ...row, person: row.staff_id ? { kind: 'staff', id: row.staff_id } : { kind: 'contact', id: row.contact_id! } };
}

/** Somebody who waits at a step, and what they can take it with; null if the step is over. */
export async function findStep(
	db: Database,
	token: string,
	now: string
): Promise<{
	firmId: string;
	kind: 'second' | 'mailed';
	person: PersonRef;
	phone: string | null;
	authenticator: boolean;
	text: boolean;
	passkeys: number;
	recoveryCodes: number;
} | null> {
	const firmId = (await db.queryOutsideFirm<{ firm_id: string | null }>('select find_firm_of_step($1) as firm_id', [hashToken(token)]))[0]?.firm_id;
	if (!firmId) return null;
	return db.inFirm(firmId, async (tx) => {
		const step = await lockStep(tx, token);
		if (!step || isOver(step, now)) return null;
		return { firmId, kind: step.kind, person: step.person, phone: await phoneForCodes(tx, step.person), ...(await readSecondSteps(tx, step.person)) };
	});
}

const isOver = (step: StepRow, now: string) => step.done_at !== null || step.tries >= STEP_TRIES || compareInstants(step.expires_at, now) <= 0;

/**
 * Takes a waiting step with a code or a passkey. After five wrong answers the step is over.
 * @param trust whether the device is to be remembered
 * @param wallNow the real time, by which authenticators count
 * @returns 'wrong' for a wrong answer, 'over' if the sign-in has to begin anew
 * @throws DomainError too_many
 */
export async function takeStep(
	place: SignInPlace & PasskeyPlace & { secretKey: string; wallNow: string },
	from: Actor,
	kind: PersonRef['kind'],
	token: string,
	answer: StepAnswer,
	trust: boolean,
	browser: Browser
): Promise<SignInOutcome | 'wrong' | 'over'> {
	// a code that was mailed is guessed at by whoever asked for it: that is counted by what they were given, known or not
	if (answer.by === 'mailed') await place.limits.codeTry(`mailed ${hashToken(token).toString('hex')}`, from.ip);
	const found = await findStep(place.db, token, from.now);
	if (!found || found.person.kind !== kind) return 'over';
	const device = await place.db.inFirm(found.firmId, (tx) => findDevice(tx, found.person, browser.device, from.now));
	if (answer.by !== 'mailed') await place.limits.codeTry(found.person.id, from.ip, device?.id);
	// the answer of a passkey uses its challenge up, whatever becomes of this
	const passkey = answer.by === 'passkey' && found.kind === 'second' ? await takePasskey(place.db, place, from.now, answer, found.person) : null;
	return place.db.inFirm(found.firmId, async (tx) => {
		const step = await lockStep(tx, token);
		const person = step && (await readPerson(tx, step.person));
		if (!step || !person || person.suspended || isOver(step, from.now)) return 'over';
		const actor = personAsActor(from, person);
		const right =
			answer.by === 'mailed' || answer.by === 'text'
				? (answer.by === 'mailed') === (step.kind === 'mailed') &&
					step.code_hash !== null &&
					step.code_hash.equals(hashToken(`${step.id} ${answer.code}`))
				: step.kind === 'mailed'
					? false
					: answer.by === 'passkey'
						? passkey !== null
						: answer.by === 'totp'
							? await takeTotp(tx, person, answer.code, place)
							: answer.by === 'recovery' && (await takeRecoveryCode(tx, actor, person, answer.code));
		if (!right) {
			await tx.rows('update sign_in_step set tries = tries + 1 where id = $1', [step.id]);
			await recordEvent(tx, actor, { verb: 'second_step_refused', contactId: person.kind === 'contact' ? person.id : null });
			return step.tries + 1 >= STEP_TRIES ? 'over' : 'wrong';
		}
		await tx.rows('update sign_in_step set done_at = $2 where id = $1', [step.id, from.now]);
		await place.limits.codeSucceeded(person.id, from.ip, device?.id);
		if (step.kind === 'mailed') return passFirstStep(tx, actor, person, browser);
		return { entered: await enter(tx, actor, person, browser, { trust, mustSetUp: false }) };
	});
}

/** @throws DomainError invalid unless this is the person's password; for what is only done by oneself */
export async function requirePassword(place: SignInPlace, tx: Tx, from: Actor, ref: PersonRef, password: string): Promise<Person> {
	const person = await readPerson(tx, ref);
	if (!person) throw new DomainError('not_found', saying('wrong.signedOut'));
	await place.limits.codeTry(`password ${ref.id}`, from.ip);
	if (!(await verifyPassword(person.passwordHash, password)))
		throw new DomainError('invalid', saying('wrong.password.own'), { ownPassword: saying('wrong.password.own') });
	await place.limits.codeSucceeded(`password ${ref.id}`, from.ip);
	return person;
}

/**
 * Puts a message with a link for a new password on its way, if the address is known. The caller learns
 * nothing about that, and the work done while they wait is the same.
 * @throws DomainError too_many
 */
export async function askForReset(place: SignInPlace, from: Actor, kind: PersonRef['kind'], email: string, firmId: string | null): Promise<void> {
	await place.limits.resetTry(`${kind} ${firmId ?? ''} ${email.toLowerCase()}`, from.ip);
	await queueDoorMail(place.db, from, { what: 'reset', kind, email, firmId, tokenHash: null });
}

/**
 * Ends what is on its way to prove who somebody is: links for a new password, and sign-ins that wait for their second step or a code.
 * Who asked for them may be somebody else.
 */
export async function endOpenProofs(tx: Tx, person: PersonRef, now: string): Promise<void> {
	await tx.rows('update password_reset set used_at = $2 where coalesce(staff_id, contact_id) = $1 and used_at is null', [person.id, now]);
	await tx.rows('update sign_in_step set done_at = $2 where coalesce(staff_id, contact_id) = $1 and done_at is null', [person.id, now]);
}

interface ResetRow {
	id: string;
	suspended: boolean;
	expires_at: string;
	used_at: string | null;
	person_id: string;
	kind: PersonRef['kind'];
	name: string;
	email: string;
	role: Role | null;
}

/** The reset behind a link, or null if it is unknown, used, too old, or of somebody who is suspended. */
export async function findReset(
	db: Database,
	token: string,
	kind: PersonRef['kind'],
	now: string
): Promise<{ firmId: string; name: string; email: string } | null> {
	const hash = hashToken(token);
	const firmId = (await db.queryOutsideFirm<{ firm_id: string | null }>('select find_firm_of_reset($1) as firm_id', [hash]))[0]?.firm_id;
	if (!firmId) return null;
	const row = await db.inFirm(firmId, (tx) => readReset(tx, hash));
	return row && row.kind === kind && !row.used_at && !row.suspended && compareInstants(row.expires_at, now) > 0
		? { firmId, name: row.name, email: row.email }
		: null;
}

function readReset(tx: Tx, hash: Buffer): Promise<ResetRow | null> {
	return tx.first<ResetRow>(
		`select r.id, r.expires_at, r.used_at, coalesce(s.id, c.id) person_id, case when s.id is null then 'contact' else 'staff' end kind,
			coalesce(s.name, c.name) as name, coalesce(s.email, c.email)::text email, s.role, coalesce(s.suspended_at, c.suspended_at) is not null suspended
		from password_reset r left join staff s on s.id = r.staff_id left join contact c on c.id = r.contact_id
		where r.token_hash = $1 for update of r`,
		[hash]
	);
}

export class PasswordRefused extends Error {
	constructor(readonly problem: PasswordProblem) {
		super(problem);
	}
}

/** @param ownWords names and addresses of the person and the firm @throws PasswordRefused */
export function requireGoodPassword(password: string, ownWords: readonly string[]): void {
	const problem = passwordProblem(password, isCommonPassword, ownWords);
	if (problem) throw new PasswordRefused(problem);
	// knowing more only makes guessing easier: whatever stands this stands the other
	if (isSoonGuessed(password, ownWords)) throw new PasswordRefused(isSoonGuessed(password, []) ? 'common' : 'own_words');
}

/**
 * Sets a new password by a reset link, ends every session of the person, trusts none of their devices any more, and takes the first
 * step of signing in here.
 * @throws DomainError link_unusable, PasswordRefused
 */
export async function resetPassword(
	db: Database,
	from: Actor,
	kind: PersonRef['kind'],
	token: string,
	password: string,
	browser: Browser = { device: undefined }
): Promise<SignInOutcome> {
	const reset = await findReset(db, token, kind, from.now);
	if (!reset) throw new DomainError('link_unusable', saying('wrong.link.reset'));
	const { name: firmName } = await db.inFirm(reset.firmId, loadFirm);
	requireGoodPassword(password, [reset.name, reset.email, firmName]);
	const passwordHash = await hashPassword(password);
	return db.inFirm(reset.firmId, async (tx) => {
		const row = await readReset(tx, hashToken(token));
		if (!row || row.used_at || row.suspended) throw new DomainError('link_unusable', saying('wrong.link.reset'));
		const person: Person = {
			kind,
			id: row.person_id,
			name: row.name,
			email: row.email,
			role: row.role,
			passwordHash,
			suspended: false
		};
		const actor = personAsActor(from, person);
		await endOpenProofs(tx, person, from.now);
		await tx.rows(`update ${kind} set password_hash = $2 where id = $1`, [row.person_id, passwordHash]);
		await signOutEverywhere(tx, person, from.now);
		await recordEvent(tx, actor, { verb: 'password_changed', contactId: kind === 'contact' ? row.person_id : null });
		await planMessage(tx, actor, {
			kind: 'password_changed',
			idempotencyKey: `password changed ${row.id}`,
			to: ownAddress(person),
			content: {}
		});
		return passFirstStep(tx, actor, person, browser);
	});
}

/**
 * Changes the password of somebody who is signed in and writes the one they have. They stay signed in here, and nowhere else; links for a new
 * password and sign-ins under way end with it.
 * @throws DomainError invalid if the present one is wrong or the same; too_many; changed_meanwhile; PasswordRefused
 */
export async function changeOwnPassword(
	place: SignInPlace,
	from: Actor,
	here: { firmId: string; sessionId: string; person: PersonRef },
	input: { ownPassword: string; password: string }
): Promise<void> {
	const { person, firmName } = await place.db.inFirm(here.firmId, async (tx) => ({
		person: await requirePassword(place, tx, from, here.person, input.ownPassword),
		firmName: (await loadFirm(tx)).name
	}));
	if (input.password === input.ownPassword)
		throw new DomainError('invalid', saying('wrong.password.same'), { password: saying('wrong.password.same') });
	requireGoodPassword(input.password, [person.name, person.email, firmName]);
	const passwordHash = await hashPassword(input.password);
	await place.db.inFirm(here.firmId, async (tx) => {
		const changed = await tx.rows(`update ${person.kind} set password_hash = $2 where id = $1 and password_hash = $3 returning id`, [
			person.id,
			passwordHash,
			person.passwordHash
		]);
		if (changed.length === 0) throw new DomainError('changed_meanwhile', saying('wrong.password.changed'));
		await endOpenProofs(tx, person, from.now);
		await endSessions(tx, person, from.now, null, here.sessionId);
		await recordEvent(tx, from, { verb: 'password_changed', contactId: person.kind === 'contact' ? person.id : null });
		await planMessage(tx, from, {
			kind: 'password_changed',
			idempotencyKey: `password changed ${randomUUID()}`,
			to: ownAddress(person),
			content: {}
		});
	});
}

/** What the page behind the link in a reminder shows: whose it is, in whose language, and whether reminders are stopped; null if it leads nowhere. */
export async function readStopPage(db: Database, messageId: string): Promise<{ firmName: string; locale: string; stopped: boolean } | null> {
	const firmId = await firmOfMessage(db, messageId);
	if (!firmId) return null;
	return db.inFirm(firmId, async (tx) => {
		const reader = await tx.first<{ locale: string; stopped: boolean }>(
			`select c.locale, c.mail_problem is not distinct from 'opted_out' stopped from message m join contact c on c.id = m.contact_id where m.id = $1`,
			[messageId]
		);
		return { firmName: (await loadFirm(tx)).name, locale: reader?.locale ?? 'en', stopped: reader?.stopped ?? false };
	});
}

/** Stops reminders for the person a message went to. Doing it twice changes nothing. */
export async function stopReminders(db: Database, from: Actor, messageId: string): Promise<void> {
	const firmId = await firmOfMessage(db, messageId);
	if (!firmId) return;
	await db.inFirm(firmId, async (tx) => {
		const row = await tx.first<{ id: string; name: string; client_id: string | null }>(
			`update contact c set mail_problem = 'opted_out', mail_problem_detail = 'stopped by the link in a reminder'
			from message m where m.id = $1 and c.id = m.contact_id and c.mail_problem is null
			returning c.id, c.name, (select client_id from client_contact where contact_id = c.id order by rank limit 1) client_id`,
			[messageId]
		);
		if (row)
			await recordEvent(
				tx,
				{ ...from, kind: 'contact', id: row.id, name: row.name },
				{ verb: 'reminders_stopped', contactId: row.id, clientId: row.client_id }
			);
	});
}

/** Lets reminders come again that somebody has stopped by themselves; an address that does not work stays as it is. */
export async function startReminders(tx: Tx, from: Actor, contactId: string): Promise<void> {
	const row = await tx.first<{ name: string; client_id: string | null }>(
		`update contact c set mail_problem = null, mail_problem_detail = null where id = $1 and mail_problem = 'opted_out'
		returning c.name, (select client_id from client_contact where contact_id = c.id order by rank limit 1) client_id`,
		[contactId]
	);
	if (row)
		await recordEvent(
			tx,
			{ ...from, kind: 'contact', id: contactId, name: row.name },
			{ verb: 'reminders_started', contactId, clientId: row.client_id }
		);
}

/** The same by the link in a reminder. */
export async function startRemindersOf(db: Database, from: Actor, messageId: string): Promise<void> {
	const firmId = await firmOfMessage(db, messageId);
	if (!firmId) return;
	await db.inFirm(firmId, async (tx) => {
		const row = await tx.first<{ contact_id: string | null }>('select contact_id from message where id = $1', [messageId]);
		if (row?.contact_id) await startReminders(tx, from, row.contact_id);
	});
}
