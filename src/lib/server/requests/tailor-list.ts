import { DomainError } from '$lib/core/errors/domain-error';
import type { ClientKnown } from '$lib/core/requests/conditions';
import type { Override } from '$lib/core/requests/tailoring';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

/** What is known of clients when lists are made to fit them, in one statement. @param today `YYYY-MM-DD` in the firm's time zone */
export async function readClientsKnown(tx: Tx, clientIds: readonly string[], today: string): Promise<Map<string, ClientKnown>> {
	const rows = await tx.rows<{ id: string; kind: ClientKnown['kind']; services: string[]; facts: Record<string, string> }>(
		`select c.id, c.kind, coalesce(s.names, '{}') services, coalesce(f.facts, '{}') facts
		from client c
			left join (select client_id, jsonb_object_agg(name, value) facts from fact where client_id = any ($1) and replaced_at is null group by client_id) f on f.client_id = c.id
			left join (select es.client_id, array_agg(distinct sv.name) names from engagement_service es
				join engagement e on e.id = es.engagement_id and e.ended_on is null join service sv on sv.id = es.service_id
				where es.client_id = any ($1) group by es.client_id) s on s.client_id = c.id
		where c.id = any ($1)`,
		[clientIds]
	);
	return new Map(rows.map(({ id, ...known }) => [id, { ...known, today }]));
}

/** What was decided about the lines of a list for clients, by client and line. */
export async function readOverrides(tx: Tx, listId: string, clientIds: readonly string[]): Promise<Map<string, Record<string, Override>>> {
	const rows = await tx.rows<{ client_id: string; line_key: string; decision: Override }>(
		'select client_id, line_key, decision from list_override where list_id = $1 and client_id = any ($2)',
		[listId, clientIds]
	);
	const found = new Map<string, Record<string, Override>>();
	for (const row of rows) found.set(row.client_id, { ...found.get(row.client_id), [row.line_key]: row.decision });
	return found;
}

/** Keeps for a client whether a line of a list is asked, whatever its condition says; null forgets it. */
export async function keepOverride(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; listId: string; lineKey: string; decision: Override | null }
): Promise<void> {
	requireStaff(actor, 'send_request');
	const line = await tx.first<{ title: string; list: string }>(
		`select x ->> 'title' title, l.name list from request_list l, jsonb_array_elements(l.lines) x where l.id = $1 and x ->> 'key' = $2`,
		[input.listId, input.lineKey]
	);
	if (!line) throw new DomainError('not_found', 'This line is not in the list any more.');
	if (!input.decision) {
		const forgotten = await tx.first('delete from list_override where client_id = $1 and list_id = $2 and line_key = $3 returning 1', [
			input.clientId,
			input.listId,
			input.lineKey
		]);
		if (forgotten) await recordEvent(tx, actor, { verb: 'line_left_to_rule', clientId: input.clientId, details: line });
		return;
	}
	await tx.rows(
		`insert into list_override (firm_id, client_id, list_id, line_key, decision, decided_by_id, decided_at) values ($1, $2, $3, $4, $5, $6, $7)
		on conflict (client_id, list_id, line_key) do update set decision = excluded.decision, decided_by_id = excluded.decided_by_id, decided_at = excluded.decided_at`,
		[tx.firmId, input.clientId, input.listId, input.lineKey, input.decision, actor.id, actor.now]
	);
	await recordEvent(tx, actor, {
		verb: input.decision === 'in' ? 'line_kept_in' : 'line_kept_out',
		clientId: input.clientId,
		details: line
	});
}
