import { DomainError } from '$lib/core/errors/domain-error';
import { isKnownService, type Subscription } from '$lib/core/telling/push';
import { saying } from '$lib/words/sayings';
import { requireReader, type Actor, type ContactActor, type Staff } from '../actor';
import type { Tx } from '../platform/db/database';
import { ownerColumns } from './person';

/** A device on which somebody is told that there is something new. */
export interface ToldDevice {
	id: string;
	userAgent: string;
	/** instant */ since: string;
	/** it is the one that asks */ here: boolean;
}

/**
 * On which of their devices whoever asks is told, the newest first.
 * @param sessionId the session in which they ask
 */
export async function readToldDevices(tx: Tx, actor: Actor, sessionId: string): Promise<ToldDevice[]> {
	requireReader(actor);
	return tx.rows<ToldDevice>(
		`select d.id, d.user_agent "userAgent", t.since, t.device_id is not distinct from (select device_id from session where id = $2) here
		from told_device t join device d on d.id = t.device_id where coalesce(t.staff_id, t.contact_id) = $1 and t.device_id in (select device_id from device_told) order by t.since desc, t.device_id`,
		[actor.id, sessionId]
	);
}

/**
 * Tells whoever asks, on the device they ask on, that there is something new from now on. Done again, it is the newest subscription that holds.
 * @param given.sessionId the session in which they ask
 * @param given.services push services that are spoken to
 * @throws DomainError invalid for a push service that is not known, or a session that began without signing in
 */
export async function tellOnDevice(
	tx: Tx,
	actor: Actor,
	given: { sessionId: string; subscription: Subscription; services: readonly string[] }
): Promise<void> {
	requireReader(actor);
	const { endpoint, p256dh, auth } = given.subscription;
	if (!isKnownService(endpoint, given.services)) throw new DomainError('invalid', saying('wrong.push.service'));
	const told = await tx.first(
		`insert into told_device (device_id, firm_id, staff_id, contact_id, endpoint, p256dh, auth, since)
		select d.id, d.firm_id, $2, $3, $4, $5, $6, $7 from session s join device d on d.id = s.device_id and d.forgotten_at is null and coalesce(d.staff_id, d.contact_id) = $8
		where s.id = $1 and s.ended_at is null
		on conflict (device_id) do update set endpoint = excluded.endpoint, p256dh = excluded.p256dh, auth = excluded.auth
		returning 1`,
		[given.sessionId, ...ownerColumns(person(actor)), endpoint, p256dh, auth, actor.now, actor.id]
	);
	if (!told) throw new DomainError('invalid', saying('wrong.push.session'));
}

/** Tells whoever asks nothing any more on one of their devices. @throws DomainError not_found for one that is not theirs */
export async function stopOnDevice(tx: Tx, actor: Actor, deviceId: string): Promise<void> {
	requireReader(actor);
	const stopped = await tx.rows('delete from told_device where device_id = $1 and coalesce(staff_id, contact_id) = $2 returning 1', [
		deviceId,
		actor.id
	]);
	if (stopped.length === 0) throw new DomainError('not_found', saying('wrong.push.stopped'));
}

const person = (actor: Staff | ContactActor) => ({ kind: actor.kind, id: actor.id });
