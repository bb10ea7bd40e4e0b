import { DomainError } from '$lib/core/errors/domain-error';
import type { Override } from '$lib/core/requests/tailoring';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

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
