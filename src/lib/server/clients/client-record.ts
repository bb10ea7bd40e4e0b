import { chasePlanOf } from '$lib/core/chasing/chase-plan';
import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import { serviceWithFee } from '$lib/words/fees';
import { DomainError } from '$lib/core/errors/domain-error';
import { CLIENT_TRANSITIONS, clientStateAfter, type ClientMove, type ClientState } from '$lib/core/clients/client-states';
import type { clientBasicsSchema, engagementSchema } from '$lib/core/clients/record-forms';
import type { FeeRhythm } from '$lib/core/letters/fees';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { loadFirm } from '../firms/firm';
import { requireFee } from '../firms/services';
import type { Tx } from '../platform/db/database';

const CLOSED_WORDS = { locked: 'locked', ended: 'no longer a client' } as const;

interface LockedClient {
	id: string;
	name: string;
	kind: 'business' | 'person';
	responsible_id: string;
	state: ClientState;
}

/** Locks a client for a change. @throws DomainError not_found */
export async function lockClient(tx: Tx, clientId: string): Promise<LockedClient> {
	const client = await tx.first<LockedClient>('select id, name, kind, responsible_id, state from client where id = $1 for update', [clientId]);
	if (!client) throw new DomainError('not_found', 'There is no such client.');
	return client;
}

/**
 * Refuses what needs a client the firm works for, such as asking or inviting.
 * @throws DomainError changed_meanwhile if the client is locked or ended
 */
export async function requireActiveClient(tx: Tx, clientId: string): Promise<void> {
	const client = await tx.first<{ name: string; state: ClientState }>('select name, state from client where id = $1', [clientId]);
	if (!client) throw new DomainError('not_found', 'There is no such client.');
	if (client.state !== 'active')
		throw new DomainError('changed_meanwhile', `${client.name} is ${CLOSED_WORDS[client.state]}. Nothing was sent; reopen the client first.`);
}

/** Changes a client's name, kind or who looks after them. */
export async function changeClient(tx: Tx, actor: Actor, clientId: string, input: z.output<typeof clientBasicsSchema>): Promise<void> {
	requireStaff(actor, 'add_client');
	const before = await lockClient(tx, clientId);
	const people = await tx.rows<{ id: string; name: string }>('select id, name from staff where id = any ($1) and suspended_at is null', [
		[before.responsible_id, input.responsibleId]
	]);
	const nameOf = (id: string) => people.find((person) => person.id === id)?.name;
	if (!nameOf(input.responsibleId)) throw new DomainError('invalid', 'Choose who is responsible.', { responsibleId: 'Choose who is responsible.' });
	await tx.rows('update client set name = $2, kind = $3, responsible_id = $4 where id = $1', [clientId, input.name, input.kind, input.responsibleId]);
	if (input.chasePlan !== undefined) {
		const changed = await tx.first('update client set chase_plan = $2 where id = $1 and chase_plan is distinct from $2 returning id', [
			clientId,
			input.chasePlan
		]);
		if (changed)
			await recordEvent(tx, actor, {
				verb: 'client_plan_changed',
				clientId,
				details: { plan: input.chasePlan === null ? 'the firm’s usual one' : chasePlanOf(await loadFirm(tx), input.chasePlan).name }
			});
	}
	if (before.name !== input.name) await recordEvent(tx, actor, { verb: 'client_renamed', clientId, details: { from: before.name, to: input.name } });
	if (before.responsible_id !== input.responsibleId)
		await recordEvent(tx, actor, {
			verb: 'client_handed_over',
			clientId,
			details: { from: nameOf(before.responsible_id) ?? 'somebody', to: nameOf(input.responsibleId) }
		});
}

const MOVE_EVENTS = { lock: 'client_locked', unlock: 'client_unlocked', end: 'client_ended', reopen: 'client_reopened' } as const;

/**
 * Locks, unlocks, ends or reopens a client by core's table, with the reason. Chasing stops and begins again with it;
 * nothing that was asked is lost.
 * @throws DomainError changed_meanwhile if the table does not allow it from here
 */
export async function moveClient(tx: Tx, actor: Actor, input: { clientId: string; move: ClientMove; reason: string }): Promise<void> {
	requireStaff(actor, 'close_client');
	const client = await lockClient(tx, input.clientId);
	const to = clientStateAfter(client.state, input.move);
	if (!to) {
		const needed = CLIENT_TRANSITIONS.filter((t) => t.move === input.move).map((t) => t.from);
		throw new DomainError('changed_meanwhile', `Nothing was changed: ${client.name} is ${client.state} now, not ${needed.join(' or ')}.`);
	}
	await tx.rows('update client set state = $2, state_at = $3, state_by = $4, state_reason = $5 where id = $1', [
		client.id,
		to,
		actor.now,
		actor.name,
		input.reason
	]);
	const firm = await loadFirm(tx);
	const items = await tx.rows<{ id: string }>('select id from item where client_id = $1 order by id for update', [client.id]);
	await refreshChaseDays(
		tx,
		items.map((item) => item.id),
		firm
	);
	await recordEvent(tx, actor, { verb: MOVE_EVENTS[input.move], clientId: client.id, details: { reason: input.reason } });
}

export interface Engagement {
	id: string;
	name: string;
	beganOn: string;
	endedOn: string | null;
	endedBy: string | null;
	endReason: string | null;
	services: EngagedService[];
}

export interface EngagedService {
	id: string;
	name: string;
	/** as it was agreed; null where the usual one counts */ fee: string | null;
	every: FeeRhythm | null;
}

/** What the firm does for a client; what is going on first. */
export async function readEngagements(tx: Tx, actor: Actor, clientId: string): Promise<Engagement[]> {
	requireStaff(actor, 'look');
	return tx.rows<Engagement>(
		`select e.id, e.name, e.began_on as "beganOn", e.ended_on as "endedOn", e.ended_by as "endedBy", e.end_reason as "endReason",
			coalesce((select json_agg(json_build_object('id', s.id, 'name', s.name, 'fee', es.fee, 'every', es.fee_every) order by s.position, s.name)
				from engagement_service es join service s on s.id = es.service_id where es.engagement_id = e.id), '[]') services
		from engagement e where e.client_id = $1 order by e.ended_on desc nulls first, e.began_on, e.name`,
		[clientId]
	);
}

/**
 * Begins an engagement, or changes one: its name, its first day, which services belong to it and what each costs.
 * @param input.fees by service, as they were typed, empty for the usual one; left out, what was agreed stays
 * @throws DomainError invalid if a fee is no amount
 */
export async function writeEngagement(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; engagementId: string | null } & z.output<typeof engagementSchema>
): Promise<void> {
	requireStaff(actor, 'add_client');
	await lockClient(tx, input.clientId);
	const services = await tx.rows<{ id: string; name: string }>('select id, name from service where id = any ($1) order by position, name', [
		input.services
	]);
	const id = input.engagementId ?? randomUUID();
	const { currency } = await loadFirm(tx);
	const agreed = await tx.rows<{ id: string; fee: string | null; every: FeeRhythm | null }>(
		'select service_id id, fee, fee_every every from engagement_service where engagement_id = $1',
		[id]
	);
	const feeOf = (service: { id: string; name: string }) => {
		const typed = input.fees?.[service.id];
		if (!typed) return agreed.find((one) => one.id === service.id) ?? { fee: null, every: null };
		const fee = requireFee(typed.fee, currency, service.name, `fee.${service.id}`);
		return { fee, every: fee === null ? null : typed.every };
	};
	const priced = services.map((service) => ({ ...service, ...feeOf(service) }));
	if (input.engagementId) {
		const changed = await tx.first(
			'update engagement set name = $3, began_on = $4 where id = $1 and client_id = $2 and ended_on is null returning id',
			[id, input.clientId, input.name, input.beganOn]
		);
		if (!changed) throw new DomainError('changed_meanwhile', 'This engagement has ended in the meantime. Reopen it before changing it.');
		await tx.rows('delete from engagement_service where engagement_id = $1', [id]);
	} else {
		await tx.rows('insert into engagement (id, firm_id, client_id, name, began_on, created_at) values ($1, $2, $3, $4, $5, $6)', [
			id,
			tx.firmId,
			input.clientId,
			input.name,
			input.beganOn,
			actor.now
		]);
	}
	await tx.rows(
		`insert into engagement_service (firm_id, client_id, engagement_id, service_id, fee, fee_every)
		select $1, $2, $3, s.id, s.fee, s.every from jsonb_to_recordset($4) as s (id uuid, fee text, every text)`,
		[tx.firmId, input.clientId, id, JSON.stringify(priced)]
	);
	await recordEvent(tx, actor, {
		verb: input.engagementId ? 'engagement_changed' : 'engagement_begun',
		clientId: input.clientId,
		details: {
			name: input.name,
			services: priced.map((service) => serviceWithFee(service, currency)).join(', ') || 'no services yet'
		}
	});
}

/** Ends an engagement, or takes it up again. @throws DomainError changed_meanwhile if somebody did so already */
export async function endEngagement(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; engagementId: string; reason: string; on: string; reopen: boolean }
): Promise<void> {
	requireStaff(actor, 'close_client');
	const row = await tx.first<{ name: string }>(
		input.reopen
			? 'update engagement set ended_on = null, ended_by = null, end_reason = null where id = $1 and client_id = $2 and ended_on is not null returning name'
			: 'update engagement set ended_on = $3, ended_by = $4, end_reason = $5 where id = $1 and client_id = $2 and ended_on is null returning name',
		input.reopen ? [input.engagementId, input.clientId] : [input.engagementId, input.clientId, input.on, actor.name, input.reason]
	);
	if (!row) throw new DomainError('changed_meanwhile', 'Somebody has done this in the meantime. Here is how it stands now.');
	await recordEvent(tx, actor, {
		verb: input.reopen ? 'engagement_reopened' : 'engagement_ended',
		clientId: input.clientId,
		details: { name: row.name, reason: input.reason }
	});
}

/** The firm's list of services, those in use. */
export function readServices(tx: Tx): Promise<{ id: string; name: string; fee: string | null; every: FeeRhythm }[]> {
	return tx.rows('select id, name, fee, fee_every every from service where ended_at is null order by position, name');
}
