import { randomUUID } from 'node:crypto';
import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { DEVICES_IN_COOKIE, TRUST_DAYS } from '$lib/core/people/second-step';
import type { Actor } from '../actor';
import { planMessage } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';
import { hashToken, newToken } from '../platform/tokens';
import { endAllSessions } from './sessions';
import { ownAddress, ownerColumns, type Person, type PersonRef } from './person';

/** The tokens that a browser keeps for the people who signed in with it. */
function tokensOf(cookie: string | undefined): string[] {
	return (cookie ?? '')
		.split('.')
		.filter((token) => /^[\w-]{43}$/.test(token))
		.slice(0, DEVICES_IN_COOKIE);
}

interface KnownDevice {
	id: string;
	token: string;
	trusted: boolean;
}

/** The device of a person behind a browser's cookie, or null. A token somebody else planted is nobody's device. */
export async function findDevice(tx: Tx, person: PersonRef, cookie: string | undefined, now: string): Promise<KnownDevice | null> {
	for (const token of tokensOf(cookie)) {
		const row = await tx.first<{ id: string; trusted: boolean }>(
			`select id, coalesce(trusted_until > $3, false) trusted from device where token_hash = $1 and coalesce(staff_id, contact_id) = $2 and forgotten_at is null`,
			[hashToken(token), person.id, now]
		);
		if (row) return { ...row, token };
	}
	return null;
}

/**
 * Notes with which device somebody signs in. One not seen before gets a token of its own, and its owner a message,
 * unless it is their first.
 * @param trust whether it is to be remembered
 * @returns the device and the browser's new cookie
 */
export async function noteDevice(
	tx: Tx,
	actor: Actor,
	person: Person,
	cookie: string | undefined,
	trust: boolean
): Promise<{ id: string; cookie: string }> {
	const known = await findDevice(tx, person, cookie, actor.now);
	const trustedUntil = trust ? addToInstant(actor.now, { hours: TRUST_DAYS * 24 }) : null;
	if (known) {
		await tx.rows('update device set last_seen_at = $2, trusted_until = coalesce($3, trusted_until) where id = $1', [
			known.id,
			actor.now,
			trustedUntil
		]);
		return { id: known.id, cookie: [known.token, ...tokensOf(cookie).filter((token) => token !== known.token)].join('.') };
	}
	const first = !(await tx.first('select 1 from device where coalesce(staff_id, contact_id) = $1', [person.id]));
	const { token, hash } = newToken();
	const id = randomUUID();
	await tx.rows(
		`insert into device (id, firm_id, staff_id, contact_id, token_hash, user_agent, first_seen_at, last_seen_at, trusted_until) values ($1, $2, $3, $4, $5, $6, $7, $7, $8)`,
		[id, tx.firmId, ...ownerColumns(person), hash, actor.userAgent.slice(0, 300), actor.now, trustedUntil]
	);
	if (!first)
		await planMessage(tx, actor, {
			kind: 'new_device',
			idempotencyKey: `new device ${id}`,
			to: ownAddress(person),
			content: { device: actor.userAgent.slice(0, 300), at: actor.now }
		});
	return { id, cookie: [token, ...tokensOf(cookie)].slice(0, DEVICES_IN_COOKIE).join('.') };
}

/** Ends every session of a person, and asks each of their devices for the second step again. */
export async function signOutEverywhere(tx: Tx, person: PersonRef, now: string): Promise<void> {
	await endAllSessions(tx, person, now);
	await distrustDevices(tx, person);
}

/** Trusts no device of a person any more: each is asked for the second step again. */
async function distrustDevices(tx: Tx, person: PersonRef): Promise<void> {
	await tx.rows('update device set trusted_until = null where coalesce(staff_id, contact_id) = $1', [person.id]);
}

export interface OwnSession {
	id: string;
	userAgent: string;
	ip: string;
	begunAt: string;
	lastUsedAt: string;
	trustedUntil: string | null;
}

/** Where somebody is signed in now, the last used first. */
export function readSessions(tx: Tx, person: PersonRef, now: string): Promise<OwnSession[]> {
	return tx.rows<OwnSession>(
		`select s.id, s.user_agent as "userAgent", s.ip, s.created_at as "begunAt", s.last_used_at as "lastUsedAt", case when d.trusted_until > $2 then d.trusted_until end as "trustedUntil"
		from session s left join device d on d.id = s.device_id and d.forgotten_at is null
		where ${person.kind === 'staff' ? 's.staff_id' : 's.contact_id'} = $1 and s.ended_at is null and s.expires_at > $2 order by s.last_used_at desc, s.id`,
		[person.id, now]
	);
}

/**
 * Ends one of somebody's sessions, or all but the one they are in; what was trusted of those devices is not any more.
 * @param sessionId null for all others
 */
export async function endSessions(tx: Tx, person: PersonRef, now: string, sessionId: string | null, present: string): Promise<number> {
	const ended = await tx.rows<{ device_id: string | null }>(
		`update session set ended_at = $2 where ${person.kind === 'staff' ? 'staff_id' : 'contact_id'} = $1 and ended_at is null
			and ($3::uuid is null and id <> $4 or id = $3) returning device_id`,
		[person.id, now, sessionId, present]
	);
	await tx.rows(
		`update device set forgotten_at = $2, trusted_until = null where coalesce(staff_id, contact_id) = $1 and forgotten_at is null
			and (id = any ($3) or ($4::uuid is null and id is distinct from (select device_id from session where id = $5)))`,
		[person.id, now, ended.map((row) => row.device_id).filter(Boolean), sessionId, present]
	);
	return ended.length;
}
