import { mayUndoMerge } from '$lib/core/clients/merge';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { endAllSessions } from '../people/sessions';
import type { Tx } from '../platform/db/database';
import { MOVED, refreshMoved, type Kind } from './merge';

export interface KeptMerge {
	id: string;
	kind: Kind;
	goneName: string;
	by: string;
	at: string;
}

/** Merges into a client or its people that can still be undone, the newest first. */
export async function readMerges(tx: Tx, actor: Actor, clientId: string): Promise<KeptMerge[]> {
	requireStaff(actor, 'look');
	const rows = await tx.rows<KeptMerge>(
		`select m.id, m.kind, m.gone_name as "goneName", s.name as by, m.at from merge m join staff s on s.id = m.by_id
		where m.undone_at is null and (m.keep_id = $1 or m.keep_id in (select contact_id from client_contact where client_id = $1)) order by m.at desc`,
		[clientId]
	);
	return rows.filter((row) => mayUndoMerge(row.at, actor.now));
}

interface MergeRow {
	id: string;
	kind: Kind;
	keep_id: string;
	gone_id: string;
	gone_name: string;
	moved: Record<string, unknown>;
	before: Record<string, unknown>;
	at: string;
	undone_at: string | null;
}

/**
 * Undoes a merge: what was moved goes back, what the kept one had before is restored. What came after stays with the
 * kept one.
 * @throws DomainError changed_meanwhile if it was undone, or the 30 days are over, or a later merge lies above it
 */
export async function undoMerge(tx: Tx, actor: Actor, mergeId: string): Promise<void> {
	requireStaff(actor, 'close_client');
	const merge = await tx.first<MergeRow>('select * from merge where id = $1 for update', [mergeId]);
	if (!merge) throw new DomainError('not_found', 'There is no such merge.');
	if (merge.undone_at) throw new DomainError('changed_meanwhile', 'This merge was undone already.');
	if (!mayUndoMerge(merge.at, actor.now)) throw new DomainError('changed_meanwhile', 'This merge is more than 30 days old and stays.');
	const above = await tx.first<{ gone_name: string }>(
		'select gone_name from merge where undone_at is null and at > $2 and (keep_id = $1 or gone_id = $1) limit 1',
		[merge.keep_id, merge.at]
	);
	if (above) throw new DomainError('changed_meanwhile', `“${above.gone_name}” was merged after it. Undo that first.`);
	const { kind, keep_id: keepId, gone_id: goneId } = merge;
	if (kind === 'contact') {
		const { email } = merge.before as { email: string | null };
		await tx.rows(
			`update contact set name = $2, phone = $3, email = $4, mail_problem = $5, password_hash = case when $6 then password_hash end where id = $1`,
			[keepId, merge.before.name, merge.before.phone, email, merge.before.mail_problem, merge.before.hadAccess]
		);
		if (!merge.before.hadAccess) await endAllSessions(tx, { kind: 'contact', id: keepId }, actor.now);
	}
	await tx.rows('select show_merged($1, $2)', [kind, goneId]);
	for (const { key, table, column } of MOVED[kind])
		await tx.rows(`update ${table} set ${column} = $3 where id = any ($1) and ${column} = $2`, [
			(merge.moved[key] as string[]) ?? [],
			keepId,
			goneId
		]);
	const own = kind === 'client' ? 'client_id' : 'contact_id';
	const other = kind === 'client' ? 'contact_id' : 'client_id';
	await tx.rows(`delete from client_contact where ${own} = $1 and ${other} = any ($2)`, [keepId, merge.moved.added]);
	await tx.rows(
		`insert into client_contact (firm_id, ${own}, ${other}, role, rank) select $1, $2, l.${other}, l.role, l.rank
		from jsonb_to_recordset($3) as l (${other} uuid, role text, rank int) on conflict do nothing`,
		[tx.firmId, goneId, JSON.stringify(merge.moved.links)]
	);
	if (kind === 'client') {
		const { name, kind: was, responsible_id, replaced } = merge.before as { name: string; kind: string; responsible_id: string; replaced: string[] };
		await tx.rows('update client set name = $2, kind = $3, responsible_id = $4 where id = $1', [keepId, name, was, responsible_id]);
		await tx.rows('update engagement_service set client_id = $2 where engagement_id = any ($1)', [merge.moved['engagement.client_id'] ?? [], goneId]);
		await tx.rows('update folder_contact set client_id = $2 where folder_id = any ($1)', [merge.moved['folder.client_id'] ?? [], goneId]);
		await tx.rows('update fact set client_id = $2 where id = any ($1)', [merge.moved.fact, goneId]);
		await tx.rows(
			`update list_override o set client_id = $3 from jsonb_to_recordset($1) as d (list_id uuid, line_key text)
			where o.client_id = $2 and (o.list_id, o.line_key) = (d.list_id, d.line_key)`,
			[JSON.stringify(merge.moved.decisions ?? []), keepId, goneId]
		);
		// what somebody has corrected since stays
		await tx.rows(
			`update fact f set replaced_at = null where id = any ($1)
				and not exists (select from fact o where o.client_id = f.client_id and o.name = f.name and o.replaced_at is null)`,
			[replaced]
		);
	}
	await refreshMoved(tx, (merge.moved[`item.${own}`] as string[]) ?? []);
	await tx.rows('update merge set undone_at = $2, undone_by = $3 where id = $1', [mergeId, actor.now, actor.name]);
	const clients =
		kind === 'client'
			? [keepId, goneId]
			: (await tx.rows<{ client_id: string }>('select distinct client_id from client_contact where contact_id = any ($1)', [[keepId, goneId]])).map(
					(row) => row.client_id
				);
	for (const clientId of clients)
		await recordEvent(tx, actor, {
			verb: 'merge_undone',
			clientId,
			contactId: kind === 'contact' ? keepId : null,
			details: { gone: merge.gone_name }
		});
}
