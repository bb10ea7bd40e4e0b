import { randomInt, randomUUID, timingSafeEqual } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import QRCode from 'qrcode';
import { DomainError } from '$lib/core/errors/domain-error';
import {
	bareRecoveryCode,
	hasSecondStep,
	mayTakeTotpStep,
	RECOVERY_ALPHABET,
	RECOVERY_CODES,
	recoveryCodeInWords,
	TOTP_PERIOD_SECONDS,
	TOTP_WINDOW,
	type SecondSteps
} from '$lib/core/people/second-step';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { MessageContent } from '../outbox/message-content';
import { planMessage } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';
import { hashPassword, verifyPassword } from '../platform/passwords';
import { decrypt, encrypt, hashToken } from '../platform/tokens';
import { signOutEverywhere } from './devices';
import { ownAddress, ownerColumns, type Person, type PersonRef } from './person';

/** Which second steps somebody has set up. */
export async function readSecondSteps(tx: Tx, person: PersonRef): Promise<SecondSteps & { recoveryCodes: number }> {
	const row = await tx.first<SecondSteps & { recoveryCodes: number }>(
		`select exists (select from authenticator where coalesce(staff_id, contact_id) = $1 and confirmed_at is not null) authenticator,
			exists (select from text_factor where coalesce(staff_id, contact_id) = $1 and confirmed_at is not null) text,
			(select count(*)::int from passkey where coalesce(staff_id, contact_id) = $1) passkeys,
			(select count(*)::int from recovery_code where coalesce(staff_id, contact_id) = $1 and used_at is null) "recoveryCodes"`,
		[person.id]
	);
	return row!;
}

/** Whether the firm asks a second step of somebody of this kind. */
export async function isSecondStepRequired(tx: Tx, kind: PersonRef['kind']): Promise<boolean> {
	const row = await tx.first<{ yes: boolean }>(
		`select ${kind === 'staff' ? 'second_step_staff' : 'second_step_contacts'} as yes from firm where id = $1`,
		[tx.firmId]
	);
	return row!.yes;
}

const totpOf = (secret: Secret, label: string, issuer: string) =>
	new TOTP({ issuer, label, secret, algorithm: 'SHA1', digits: 6, period: TOTP_PERIOD_SECONDS });

/**
 * Begins to set up an authenticator app (RFC 6238): a new secret, as a picture to scan and as text to type. One that
 * works already goes on working until the new one has given its first right code.
 */
export async function beginAuthenticator(
	tx: Tx,
	actor: Actor,
	person: Person,
	place: { secretKey: string; issuer: string }
): Promise<{ secret: string; picture: string; /** opens the app on a phone that cannot scan its own screen */ link: string }> {
	const secret = new Secret({ size: 20 });
	await tx.rows('delete from authenticator where coalesce(staff_id, contact_id) = $1 and confirmed_at is null', [person.id]);
	await tx.rows('insert into authenticator (id, firm_id, staff_id, contact_id, secret, begun_at) values ($1, $2, $3, $4, $5, $6)', [
		randomUUID(),
		tx.firmId,
		...ownerColumns(person),
		encrypt(Buffer.from(secret.base32), place.secretKey),
		actor.now
	]);
	const uri = totpOf(secret, person.email, place.issuer).toString();
	return { secret: secret.base32.replace(/(.{4})(?=.)/g, '$1 '), picture: await QRCode.toDataURL(uri, { margin: 1, width: 220 }), link: uri };
}

/**
 * Takes an authenticator into use once its first code is right.
 * @param wallNow the real time, by which authenticators count
 * @returns recovery codes, if the person had none: they are shown this once
 */
export async function confirmAuthenticator(
	tx: Tx,
	actor: Actor,
	person: Person,
	code: string,
	place: { secretKey: string; wallNow: string }
): Promise<string[] | null> {
	const row = await tx.first<AuthenticatorRow>(
		'select id, secret, last_step from authenticator where coalesce(staff_id, contact_id) = $1 and confirmed_at is null for update',
		[person.id]
	);
	if (!row) throw new DomainError('changed_meanwhile', saying('wrong.authenticator.gone'));
	const step = stepOfCode(row, code, place);
	if (step === null) throw new DomainError('invalid', saying('wrong.code.setUp'), { code: saying('wrong.code.setUp') });
	await tx.rows('delete from authenticator where coalesce(staff_id, contact_id) = $1 and confirmed_at is not null', [person.id]);
	await tx.rows('update authenticator set confirmed_at = $2, last_step = $3 where id = $1', [row.id, actor.now, step]);
	return finishSetUp(tx, actor, person, 'authenticator');
}

/** What follows whenever a second step was set up: a message, history, and recovery codes if there are none. */
export async function finishSetUp(tx: Tx, actor: Actor, person: Person, what: 'authenticator' | 'passkey' | 'text'): Promise<string[] | null> {
	await tellChange(tx, actor, person, `${what}_added`);
	await tx.rows(`update session set must_set_up = false where ${person.kind === 'staff' ? 'staff_id' : 'contact_id'} = $1`, [person.id]);
	const { recoveryCodes } = await readSecondSteps(tx, person);
	return recoveryCodes > 0 ? null : makeRecoveryCodes(tx, actor, person);
}

/** Records what changed about somebody's second step, and writes to them: it may not have been them. */
export async function tellChange(
	tx: Tx,
	actor: Actor,
	person: Person,
	what: Exclude<NonNullable<MessageContent['change']>, 'address_changed' | 'cleared_by_firm'>
): Promise<void> {
	await recordEvent(tx, actor, { verb: what, contactId: person.kind === 'contact' ? person.id : null });
	await planMessage(tx, actor, {
		kind: 'second_step_changed',
		idempotencyKey: `second step ${what} ${person.id} ${actor.now}`,
		to: ownAddress(person),
		content: { change: what }
	});
}

/**
 * Takes every second step of somebody away who has lost them all, recovery codes included: signed out everywhere, they come in by their
 * password and set up anew, at once where the firm asks for it. They are told by mail, since it may be somebody else who called.
 * Who may do this for whom is asked before.
 */
export async function clearSecondSteps(tx: Tx, actor: Actor, person: PersonRef & { email: string | null }): Promise<void> {
	for (const table of ['authenticator', 'text_factor', 'passkey', 'recovery_code'])
		await tx.rows(`delete from ${table} where coalesce(staff_id, contact_id) = $1`, [person.id]);
	await signOutEverywhere(tx, person, actor.now);
	if (!person.email) return;
	await planMessage(tx, actor, {
		kind: 'second_step_changed',
		idempotencyKey: `second step cleared ${person.id} ${actor.now}`,
		to: ownAddress({ ...person, email: person.email }),
		content: { change: 'cleared_by_firm' }
	});
}

/** New recovery codes; those from before stop working. Only their hashes are kept. */
export async function makeRecoveryCodes(tx: Tx, actor: Actor, person: Person): Promise<string[]> {
	const codes = Array.from({ length: RECOVERY_CODES }, () =>
		Array.from({ length: 12 }, () => RECOVERY_ALPHABET[randomInt(RECOVERY_ALPHABET.length)]).join('')
	);
	const hashes = await Promise.all(codes.map(hashPassword));
	await tx.rows('delete from recovery_code where coalesce(staff_id, contact_id) = $1', [person.id]);
	await tx.rows(
		'insert into recovery_code (id, firm_id, staff_id, contact_id, slow_hash, made_at) select gen_random_uuid(), $1, $2, $3, unnest($4::text[]), $5',
		[tx.firmId, ...ownerColumns(person), hashes, actor.now]
	);
	await recordEvent(tx, actor, { verb: 'recovery_codes_made', contactId: person.kind === 'contact' ? person.id : null });
	return codes.map(recoveryCodeInWords);
}

interface AuthenticatorRow {
	id: string;
	secret: Buffer;
	last_step: number;
}

/** The time step a code belongs to, or null if it is wrong, too old, too early or was used before. */
function stepOfCode(row: AuthenticatorRow, code: string, place: { secretKey: string; wallNow: string }): number | null {
	const timestamp = Date.parse(place.wallNow);
	const secret = Secret.fromBase32(decrypt(row.secret, place.secretKey).toString());
	const delta = totpOf(secret, '', '').validate({ token: code, timestamp, window: TOTP_WINDOW });
	if (delta === null) return null;
	const nowStep = Math.floor(timestamp / 1000 / TOTP_PERIOD_SECONDS);
	return mayTakeTotpStep(nowStep + delta, nowStep, row.last_step) ? nowStep + delta : null;
}

/** Whether a code of somebody's authenticator is right now; it is used up by that. */
export async function takeTotp(tx: Tx, person: PersonRef, code: string, place: { secretKey: string; wallNow: string }): Promise<boolean> {
	const row = await tx.first<AuthenticatorRow>(
		'select id, secret, last_step from authenticator where coalesce(staff_id, contact_id) = $1 and confirmed_at is not null for update',
		[person.id]
	);
	const step = row && stepOfCode(row, code, place);
	if (!row || step === null) return false;
	await tx.rows('update authenticator set last_step = $2 where id = $1', [row.id, step]);
	return true;
}

/** Whether a recovery code is somebody's; each works once. */
export async function takeRecoveryCode(tx: Tx, actor: Actor, person: Person, typed: string): Promise<boolean> {
	const bare = bareRecoveryCode(typed);
	if (!bare) return false;
	const fast = hashToken(bare);
	const codes = await tx.rows<{ id: string; hash: Buffer | null; slow: string | null }>(
		'select id, hash, slow_hash slow from recovery_code where coalesce(staff_id, contact_id) = $1 and used_at is null for update',
		[person.id]
	);
	// all at once: they are ten at most, and each takes as long as a password does
	const fits = await Promise.all(codes.map(({ hash, slow }) => (hash ? timingSafeEqual(hash, fast) : verifyPassword(slow, bare))));
	const right = codes[fits.indexOf(true)];
	if (!right) return false;
	await tx.rows('update recovery_code set used_at = $2 where id = $1', [right.id, actor.now]);
	await tellChange(tx, actor, person, 'recovery_code_used');
	return true;
}

const LAST_STEP = {
	passkey: 'wrong.secondStep.lastPasskey',
	authenticator: 'wrong.secondStep.lastAuthenticator',
	text: 'wrong.secondStep.lastText'
} as const;

/** @throws DomainError invalid if it is the last second step of somebody who must have one */
export async function requireAnother(tx: Tx, person: PersonRef, less: 'authenticator' | 'passkey' | 'text'): Promise<void> {
	const has = await readSecondSteps(tx, person);
	const left = has.passkeys + Number(has.authenticator) + Number(has.text) - 1;
	if (left <= 0 && (await isSecondStepRequired(tx, person.kind))) throw new DomainError('invalid', saying(LAST_STEP[less]));
}

/** Takes somebody's authenticator out of use; with the last second step the recovery codes go too. */
export async function removeAuthenticator(tx: Tx, actor: Actor, person: Person): Promise<void> {
	await requireAnother(tx, person, 'authenticator');
	const gone = await tx.rows('delete from authenticator where coalesce(staff_id, contact_id) = $1 returning id', [person.id]);
	if (gone.length === 0) return;
	await dropUselessCodes(tx, person);
	await tellChange(tx, actor, person, 'authenticator_removed');
}

export async function dropUselessCodes(tx: Tx, person: PersonRef): Promise<void> {
	const has = await readSecondSteps(tx, person);
	if (!hasSecondStep(has)) await tx.rows('delete from recovery_code where coalesce(staff_id, contact_id) = $1', [person.id]);
}
