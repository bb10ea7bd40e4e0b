import { randomInt, randomUUID } from 'node:crypto';
import { addToInstant, compareInstants } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { SIGN_IN_STEP_MINUTES, SIGN_IN_STEP_TRIES } from '$lib/core/people/second-step';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../actor';
import { planMessage } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';
import type { RateLimits } from '../platform/rate-limits';
import { hashToken } from '../platform/tokens';
import { ownerColumns, type Person, type PersonRef } from './person';
import { dropUselessCodes, finishSetUp, requireAnother, tellChange } from './second-step';

/** The number to which somebody's codes go, or null. */
export async function phoneForCodes(tx: Tx, person: PersonRef): Promise<string | null> {
	const row = await tx.first<{ phone: string }>(
		'select phone from text_factor where coalesce(staff_id, contact_id) = $1 and confirmed_at is not null',
		[person.id]
	);
	return row && row.phone;
}

/**
 * Begins to set up codes by text: one goes to the number, and proves that it is theirs. A number that works already
 * goes on working until then.
 * @throws DomainError too_many
 */
export async function beginTextCodes(tx: Tx, limits: RateLimits, actor: Actor, person: Person, phone: string): Promise<void> {
	await limits.resetTry(`text ${person.id}`, actor.ip);
	await tx.rows('delete from text_factor where coalesce(staff_id, contact_id) = $1 and confirmed_at is null', [person.id]);
	const id = randomUUID();
	await tx.rows('insert into text_factor (id, firm_id, staff_id, contact_id, phone, begun_at, expires_at) values ($1, $2, $3, $4, $5, $6, $7)', [
		id,
		tx.firmId,
		...ownerColumns(person),
		phone,
		actor.now,
		addToInstant(actor.now, { minutes: SIGN_IN_STEP_MINUTES })
	]);
	await planTextCode(tx, actor, person, phone, { factorId: id });
}

/** Plans the text that brings a code, for the step that waits or the phone that is set up. */
export async function planTextCode(
	tx: Tx,
	actor: Actor,
	person: PersonRef,
	phone: string,
	what: { factorId: string } | { stepId: string }
): Promise<void> {
	await planMessage(tx, actor, {
		kind: 'sign_in_code',
		channel: 'text',
		idempotencyKey: `text code ${JSON.stringify(what)} ${actor.now}`,
		to: { address: phone, ...(person.kind === 'staff' ? { staffId: person.id } : { contactId: person.id }) },
		content: what
	});
}

/** Makes the code that proves a number; only its hash is kept. */
export async function makeFactorCode(tx: Tx, factorId: string): Promise<string> {
	const code = String(randomInt(100_000_000)).padStart(8, '0');
	await tx.rows('update text_factor set code_hash = $2 where id = $1', [factorId, hashToken(`${factorId} ${code}`)]);
	return code;
}

/**
 * Takes a number into use once its code is right.
 * @returns recovery codes, if the person had none; 'wrong' if the code is; then the try is counted
 * @throws DomainError changed_meanwhile if it has to begin anew
 */
export async function confirmTextCodes(tx: Tx, actor: Actor, person: Person, code: string): Promise<{ codes: string[] | null } | 'wrong'> {
	const row = await tx.first<{ id: string; expires_at: string; code_hash: Buffer | null; tries: number }>(
		'select id, expires_at, code_hash, tries from text_factor where coalesce(staff_id, contact_id) = $1 and confirmed_at is null for update',
		[person.id]
	);
	if (!row || row.tries >= SIGN_IN_STEP_TRIES || compareInstants(row.expires_at, actor.now) <= 0)
		throw new DomainError('changed_meanwhile', saying('wrong.text.gone'));
	if (!row.code_hash?.equals(hashToken(`${row.id} ${code}`))) {
		await tx.rows('update text_factor set tries = tries + 1 where id = $1', [row.id]);
		return 'wrong';
	}
	await tx.rows('delete from text_factor where coalesce(staff_id, contact_id) = $1 and confirmed_at is not null', [person.id]);
	await tx.rows('update text_factor set confirmed_at = $2, code_hash = null where id = $1', [row.id, actor.now]);
	return { codes: await finishSetUp(tx, actor, person, 'text') };
}

/** Takes codes by text out of use; with the last second step the recovery codes go too. */
export async function removeTextCodes(tx: Tx, actor: Actor, person: Person): Promise<void> {
	const used = await phoneForCodes(tx, person);
	if (used) await requireAnother(tx, person, 'text');
	await tx.rows('delete from text_factor where coalesce(staff_id, contact_id) = $1', [person.id]);
	if (!used) return;
	await dropUselessCodes(tx, person);
	await tellChange(tx, actor, person, 'text_removed');
}
