import { requireStaff, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';

export interface Double {
	id: string;
	name: string;
	why: string;
}

/** Clients that may be the same as one, with the reason. */
export async function readLikelyDoubles(tx: Tx, actor: Actor, clientId: string): Promise<Double[]> {
	requireStaff(actor, 'look');
	return tx.rows<Double>(
		'select c.id, c.name, d.why from likely_doubles($1) d join client c on c.id = d.client_id order by lower(c.name), c.id limit 12',
		[clientId]
	);
}

/** Contacts that may be the same as one: of the same name or phone number. */
export async function readLikelySamePeople(tx: Tx, actor: Actor, contactId: string): Promise<(Double & { email: string | null })[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select o.id, o.name, o.email::text, case when o.phone = c.phone then 'has the same phone number' else 'has the same name' end why
		from contact c join contact o on o.firm_id = c.firm_id and o.id <> c.id and (o.phone = c.phone or lower(o.name) = lower(c.name))
		where c.id = $1 order by lower(o.name), o.id limit 12`,
		[contactId]
	);
}
