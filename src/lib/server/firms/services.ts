import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { chasePlanOf } from '$lib/core/chasing/chase-plan';
import { feeAmount, type FeeRhythm } from '$lib/core/letters/fees';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import { loadFirm } from './firm';

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

/**
 * A fee as somebody typed it, as it is kept; null for none.
 * @param field of the form
 * @throws DomainError invalid if it is no amount of the firm's currency
 */
export function requireFee(typed: string, currency: string, service: string, field: string): string | null {
	const amount = feeAmount(typed, currency);
	if (amount !== undefined) return amount;
	const words = `Write the fee for ${service} as a number in ${currency}, such as 280 or 280.50, or leave it empty.`;
	throw new DomainError('invalid', words, { [field]: words });
}

/** Sets what a service usually costs. @param input.fee as it was typed; empty where it is agreed each time */
export async function priceService(tx: Tx, actor: Actor, input: { serviceId: string; fee: string; every: FeeRhythm }): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const { currency } = await loadFirm(tx);
	const service = await tx.first<{ name: string }>('select name from service where id = $1 and ended_at is null', [input.serviceId]);
	if (!service) throw new DomainError('not_found', 'There is no such service.');
	const changed = await tx.first(
		'update service set fee = $2, fee_every = $3 where id = $1 and (fee, fee_every) is distinct from ($2, $3) returning id',
		[input.serviceId, requireFee(input.fee, currency, service.name, 'fee'), input.every]
	);
	if (changed) await recordEvent(tx, actor, { verb: 'service_priced', details: { name: service.name } });
}

/** Chooses the plan by which what is asked for a service is chased from now on; null as the firm has it. @throws DomainError not_found */
export async function planService(tx: Tx, actor: Actor, input: { serviceId: string; chasePlan: string | null }): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const service = await tx.first<{ name: string }>('select name from service where id = $1 and ended_at is null for update', [input.serviceId]);
	if (!service) throw new DomainError('not_found', 'There is no such service.');
	const changed = await tx.first('update service set chase_plan = $2 where id = $1 and chase_plan is distinct from $2 returning id', [
		input.serviceId,
		input.chasePlan
	]);
	const plan = input.chasePlan === null ? 'as the firm has it' : chasePlanOf(await loadFirm(tx), input.chasePlan).name;
	if (changed) await recordEvent(tx, actor, { verb: 'service_plan_changed', details: { name: service.name, plan } });
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
export function readServiceUse(
	tx: Tx
): Promise<{ id: string; name: string; fee: string | null; every: FeeRhythm; chasePlan: string | null; clients: number }[]> {
	return tx.rows(
		`select s.id, s.name, s.fee, s.fee_every every, s.chase_plan "chasePlan", (select count(distinct e.client_id) from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null
			where es.service_id = s.id) clients
		from service s where s.ended_at is null order by s.position, s.name`
	);
}
