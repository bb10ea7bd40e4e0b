import type { Right } from '$lib/core/clients/client-rights';
import { MAY, type Act } from '$lib/core/people/roles';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

export interface ClientRights {
	restricted: boolean;
	/** people and groups who were given a right, by their ids */
	given: Record<string, Right>;
	/** in words, for the record: "Imre Lockhart, Year end" */
	words: string[];
}

/** What somebody of the firm may do with this client, by their role and by whether they may only see it: what is not here is not offered. */
export async function readActs(tx: Tx, actor: Actor, clientId: string): Promise<readonly Act[]> {
	requireStaff(actor, 'look');
	const row = await tx.first<{ works: boolean }>('select $1::uuid <> all (not_worked_clients()) works', [clientId]);
	return row!.works && actor.role ? MAY[actor.role] : ['look'];
}

/** Who may do what with a client beyond everybody's role. */
export async function readClientRights(tx: Tx, actor: Actor, clientId: string): Promise<ClientRights> {
	requireStaff(actor, 'look');
	const client = await tx.first<{ restricted: boolean }>('select restricted from client where id = $1', [clientId]);
	if (!client) throw new DomainError('not_found', 'There is no such client.');
	const rows = await tx.rows<{ id: string; name: string; level: Right }>(
		`select coalesce(r.staff_id, r.group_id) id, coalesce(s.name, g.name) as name, r.level
		from client_right r left join staff s on s.id = r.staff_id left join staff_group g on g.id = r.group_id where r.client_id = $1 order by 2`,
		[clientId]
	);
	return { restricted: client.restricted, given: Object.fromEntries(rows.map((row) => [row.id, row.level])), words: rows.map((row) => row.name) };
}

/**
 * Opens a client to everybody of the firm, or closes it to all but some. Whoever looks after it and administrators always
 * may everything.
 * @throws DomainError invalid if whoever asks would shut themselves out
 */
export async function changeClientRights(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; restricted: boolean; rights: readonly { id: string; level: Right }[] }
): Promise<void> {
	requireStaff(actor, 'close_client');
	const client = await tx.first<{ responsible_id: string }>('select responsible_id from client where id = $1 for update', [input.clientId]);
	if (!client) throw new DomainError('not_found', 'There is no such client.');
	// written first: only who administers the client gets further
	await recordEvent(tx, actor, { verb: 'client_rights_changed', clientId: input.clientId, details: { to: input.restricted ? 'some' : 'everybody' } });
	await tx.rows('delete from client_right where client_id = $1', [input.clientId]);
	if (input.restricted)
		await tx.rows(
			`insert into client_right (firm_id, client_id, staff_id, group_id, level)
			select $1, $2, s.id, g.id, r.level from jsonb_to_recordset($3) as r (id uuid, level text)
				left join staff s on s.id = r.id left join staff_group g on g.id = r.id where s.id is not null or g.id is not null`,
			[tx.firmId, input.clientId, JSON.stringify(input.rights)]
		);
	await tx.rows('update client set restricted = $2 where id = $1', [input.clientId, input.restricted]);
	const keeps =
		!input.restricted ||
		client.responsible_id === actor.id ||
		actor.role === 'administrator' ||
		(await tx.first(
			`select 1 from client_right r where r.client_id = $1 and r.level = 'administer'
				and (r.staff_id = $2 or r.group_id in (select group_id from staff_group_member where staff_id = $2))`,
			[input.clientId, actor.id]
		));
	if (!keeps)
		throw new DomainError('invalid', 'You would shut yourself out. Give yourself the right to administer it, or ask whoever looks after it.');
}
