import type { ClientKnown } from '$lib/core/requests/conditions';
import type { Tx } from '../platform/db/database';

/** What is known of clients when lists are made to fit them, in one statement. @param today `YYYY-MM-DD` in the firm's time zone */
export async function readClientsKnown(tx: Tx, clientIds: readonly string[], today: string): Promise<Map<string, ClientKnown>> {
	const rows = await tx.rows<{ id: string; kind: ClientKnown['kind']; services: string[]; facts: Record<string, string> }>(
		`select c.id, c.kind, coalesce(s.names, '{}') services, coalesce(f.facts, '{}') facts
		from client c
			left join (select client_id, jsonb_object_agg(name, value) facts from fact where client_id = any ($1) and replaced_at is null group by client_id) f on f.client_id = c.id
			left join services_of_clients($1) s on s.client_id = c.id
		where c.id = any ($1)`,
		[clientIds]
	);
	return new Map(rows.map(({ id, ...known }) => [id, { ...known, today }]));
}
