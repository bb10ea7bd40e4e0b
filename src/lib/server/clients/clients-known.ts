import type { ClientKnown } from '$lib/core/requests/conditions';
import { requireStaff, type Actor } from '../actor';
import { isShownTo, loadFacts } from '../facts/firm-facts';
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

/**
 * What is known of one client as somebody of the firm may see it, for trying a questionnaire; null if there is no such client for them.
 * @param today `YYYY-MM-DD` in the firm's time zone
 */
export async function readKnownForTrying(
	tx: Tx,
	actor: Actor,
	clientId: string,
	today: string
): Promise<{ name: string; known: ClientKnown } | null> {
	requireStaff(actor, 'look');
	const known = (await readClientsKnown(tx, [clientId], today)).get(clientId);
	const client = await tx.first<{ name: string }>('select name from client where id = $1', [clientId]);
	if (!known || !client) return null;
	const facts = await loadFacts(tx);
	const seen = Object.entries(known.facts).filter(([name]) => {
		const fact = facts.get(name);
		return fact && isShownTo(actor, fact);
	});
	return { name: client.name, known: { ...known, facts: Object.fromEntries(seen) } };
}

/** Fewer clients than these say nothing about what is always known. */
const ENOUGH = 5;

/** The names of facts that are known of every active client that this person sees. */
export async function readAlwaysKnown(tx: Tx): Promise<string[]> {
	const rows = await tx.rows<{ name: string }>(
		`with active as (select id from client where firm_id = $1 and state = 'active')
		select f.name from fact f join active on active.id = f.client_id where f.firm_id = $1 and f.replaced_at is null
		group by f.name having count(*) >= greatest((select count(*) from active), $2)`,
		[tx.firmId, ENOUGH]
	);
	return rows.map(({ name }) => name);
}
