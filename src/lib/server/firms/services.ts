import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

/** Adds a service to the firm's own list. @throws DomainError invalid if it is there already */
export async function addService(tx: Tx, actor: Actor, name: string): Promise<string> {
	requireStaff(actor, 'set_up_firm');
	const id = randomUUID();
	const added = await tx.first(
		`insert into service (id, firm_id, name, position, created_at)
		select $1, $2, $3, coalesce(max(position), 0) + 1, $4 from service where firm_id = $2
		on conflict (firm_id, lower(name)) where ended_at is null do nothing returning id`,
		[id, tx.firmId, name, actor.now]
	);
	if (!added) throw new DomainError('invalid', `“${name}” is on the list already.`, { name: 'This is on the list already.' });
	await recordEvent(tx, actor, { verb: 'service_added', details: { name } });
	return id;
}

/** @throws DomainError not_found if one of them is not the firm's */
export async function requireServices(tx: Tx, ids: readonly string[]): Promise<void> {
	if (ids.length === 0) return;
	const known = await tx.first<{ n: number }>('select count(*) n from service where id = any ($1)', [ids]);
	if (known!.n !== new Set(ids).size) throw new DomainError('not_found', 'There is no such service.');
}

/** Takes a service off the list: it is not offered any more, and stays where it was chosen. Doing it twice changes nothing. */
export async function endService(tx: Tx, actor: Actor, serviceId: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const ended = await tx.first<{ name: string }>('update service set ended_at = $2 where id = $1 and ended_at is null returning name', [
		serviceId,
		actor.now
	]);
	if (ended) await recordEvent(tx, actor, { verb: 'service_ended', details: { name: ended.name } });
	else if (!(await tx.first('select 1 from service where id = $1', [serviceId]))) throw new DomainError('not_found', 'There is no such service.');
}

/** The services on the list, in order, with how many clients have each now. */
export function readServiceUse(tx: Tx): Promise<{ id: string; name: string; clients: number }[]> {
	return tx.rows(
		`select s.id, s.name, (select count(distinct e.client_id) from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null
			where es.service_id = s.id) clients
		from service s where s.ended_at is null order by s.position, s.name`
	);
}
