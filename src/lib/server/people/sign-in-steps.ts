import { randomUUID } from 'node:crypto';
import { addToInstant, compareInstants } from '$lib/core/calendar/firm-calendar';
import { SIGN_IN_STEP_MINUTES, SIGN_IN_STEP_TRIES } from '$lib/core/people/second-step';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Database, Tx } from '../platform/db/database';
import { hashToken, newToken } from '../platform/tokens';
import { findDevice } from './devices';
import { takePasskey, type PasskeyPlace } from './passkeys';
import { ownerColumns, personAsActor, readPerson, type PersonRef } from './person';
import { readSecondSteps, takeRecoveryCode, takeTotp } from './second-step';
import { enter, passFirstStep, type Browser, type SignInOutcome, type SignInPlace } from './sign-in';
import { phoneForCodes, planTextCode } from './text-codes';

/** Puts a code for a waiting second step on its way to the phone that was set up for that. */
export async function textCode(tx: Tx, actor: Actor, person: PersonRef, token: string): Promise<void> {
	const step = await tx.first<{ id: string }>('select id from sign_in_step where token_hash = $1', [hashToken(token)]);
	const phone = await phoneForCodes(tx, person);
	if (step && phone) await planTextCode(tx, actor, person, phone, { stepId: step.id });
}

/**
 * Sends a code by text to somebody who waits at the second step; another one makes the one before worthless.
 * @returns false if nobody waits
 * @throws DomainError too_many
 */
export async function askForTextCode(place: SignInPlace, from: Actor, kind: PersonRef['kind'], token: string): Promise<boolean> {
	const found = await findSignInStep(place.db, token, from.now);
	if (!found || found.kind !== 'second' || found.person.kind !== kind) return false;
	await place.limits.resetTry(`text ${found.person.id}`, from.ip);
	await place.db.inFirm(found.firmId, (tx) => textCode(tx, from, found.person, token));
	return true;
}

export async function beginSignInStep(tx: Tx, actor: Actor, person: PersonRef, kind: 'second' | 'mailed', made = newToken()): Promise<string> {
	await tx.rows(
		`insert into sign_in_step (id, firm_id, staff_id, contact_id, kind, token_hash, begun_at, expires_at) values ($1, $2, $3, $4, $5, $6, $7, $8)
		on conflict (token_hash) do nothing`,
		[randomUUID(), tx.firmId, ...ownerColumns(person), kind, made.hash, actor.now, addToInstant(actor.now, { minutes: SIGN_IN_STEP_MINUTES })]
	);
	return made.token;
}

export type SignInStepAnswer =
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
export async function findSignInStep(
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

const isOver = (step: StepRow, now: string) =>
	step.done_at !== null || step.tries >= SIGN_IN_STEP_TRIES || compareInstants(step.expires_at, now) <= 0;

/**
 * Takes a waiting step with a code or a passkey. After five wrong answers the step is over.
 * @param trust whether the device is to be remembered
 * @param wallNow the real time, by which authenticators count
 * @returns 'wrong' for a wrong answer, 'over' if the sign-in has to begin anew
 * @throws DomainError too_many
 */
export async function takeSignInStep(
	place: SignInPlace & PasskeyPlace & { secretKey: string; wallNow: string },
	from: Actor,
	kind: PersonRef['kind'],
	token: string,
	answer: SignInStepAnswer,
	trust: boolean,
	browser: Browser
): Promise<SignInOutcome | 'wrong' | 'over'> {
	// a code that was mailed is guessed at by whoever asked for it: that is counted by what they were given, known or not
	if (answer.by === 'mailed') await place.limits.codeTry(`mailed ${hashToken(token).toString('hex')}`, from.ip);
	const found = await findSignInStep(place.db, token, from.now);
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
			return step.tries + 1 >= SIGN_IN_STEP_TRIES ? 'over' : 'wrong';
		}
		await tx.rows('update sign_in_step set done_at = $2 where id = $1', [step.id, from.now]);
		await place.limits.codeSucceeded(person.id, from.ip, device?.id);
		if (step.kind === 'mailed') return passFirstStep(tx, actor, person, browser);
		return { entered: await enter(tx, actor, person, browser, { trust, mustSetUp: false }) };
	});
}
