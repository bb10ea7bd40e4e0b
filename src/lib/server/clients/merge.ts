import { randomUUID } from 'node:crypto';
import { CLIENT_FIELDS } from '$lib/core/clients/merge';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { loadFirm } from '../firms/firm';
import { endAllSessions } from '../people/sessions';
import type { Tx } from '../platform/db/database';
import { movedColumns, OF_CLIENT, OF_CONTACT } from './owned-tables';
import { previewMerge } from './preview-merge';

export type Kind = 'client' | 'contact';

/** The columns whose rows move over. */
export const MOVED = { client: movedColumns(OF_CLIENT), contact: movedColumns(OF_CONTACT) } as const;

/** Moves what belongs to one over to another, table by table, and answers which rows those were. */
async function moveOwned(tx: Tx, kind: Kind, from: string, to: string): Promise<Record<string, string[]>> {
	const moved: Record<string, string[]> = {};
	for (const { key, table, column } of MOVED[kind]) {
		const rows = await tx.rows<{ id: string }>(`update ${table} set ${column} = $2 where ${column} = $1 returning id`, [from, to]);
		if (rows.length > 0) moved[key] = rows.map((row) => row.id);
	}
	return moved;
}

async function keepMerge(
	tx: Tx,
	actor: Actor,
	merge: { kind: Kind; keepId: string; goneId: string; goneName: string; moved: Record<string, unknown>; before: Record<string, unknown> }
): Promise<void> {
	await tx.rows(
		'insert into merge (id, firm_id, kind, keep_id, gone_id, gone_name, moved, before, by_id, at) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)',
		[
			randomUUID(),
			tx.firmId,
			merge.kind,
			merge.keepId,
			merge.goneId,
			merge.goneName,
			JSON.stringify(merge.moved),
			JSON.stringify(merge.before),
			actor.id,
			actor.now
		]
	);
}

/** Chase days follow the state of the client and the reachability of the person: placed anew for what has moved. */
export async function refreshMoved(tx: Tx, items: readonly string[]): Promise<void> {
	const firm = await loadFirm(tx);
	await refreshChaseDays(tx, items, firm);
}

/**
 * Merges two clients into one: everything of the second moves to the first, field by field what was chosen. The second
 * is seen no more; it can be undone for 30 days.
 * @param take fields of which the second one's value is kept
 */
export async function mergeClients(tx: Tx, actor: Actor, input: { keepId: string; goneId: string; take: readonly string[] }): Promise<void> {
	requireStaff(actor, 'close_client');
	const both = await tx.rows<{ restricted: boolean }>('select restricted from client where id = any ($1) order by id for update', [
		[input.keepId, input.goneId]
	]);
	// what was closed to some must not come open by the way
	if (both.some((client) => client.restricted))
		throw new DomainError('invalid', 'One of them is only for some of the firm. Open it to everybody first, and close the merged one again.');
	const { keep, gone, choices } = await previewMerge(tx, actor, 'client', input.keepId, input.goneId);
	const taken = new Set(choices.filter((choice) => input.take.includes(choice.field)).map((choice) => choice.field));
	const before = (await tx.first<Record<string, string>>('select name, kind, responsible_id from client where id = $1', [keep.id]))!;

	const links = await tx.rows<{ contact_id: string; role: string; rank: number }>(
		'delete from client_contact where client_id = $1 returning contact_id, role, rank',
		[gone.id]
	);
	const added = await tx.rows<{ contact_id: string }>(
		`insert into client_contact (firm_id, client_id, contact_id, role, rank)
		select $1, $2, l.contact_id, l.role, (select coalesce(max(rank), 0) from client_contact where client_id = $2) + row_number() over (order by l.rank)
		from jsonb_to_recordset($3) as l (contact_id uuid, role text, rank int) on conflict (client_id, contact_id) do nothing returning contact_id`,
		[tx.firmId, keep.id, JSON.stringify(links)]
	);
	const facts = [...taken].filter((field) => !(CLIENT_FIELDS as readonly string[]).includes(field));
	const replaced = await tx.rows<{ id: string }>(
		'update fact set replaced_at = $3 where client_id = $1 and name = any ($2) and replaced_at is null returning id',
		[keep.id, facts, actor.now]
	);
	const brought = await tx.rows<{ id: string }>(
		'update fact set client_id = $2 where client_id = $1 and name = any ($3) and replaced_at is null returning id',
		[gone.id, keep.id, facts]
	);
	// folders of one name would be one: what lies in the one that comes stays apart, with its own rights
	await tx.rows(
		`update folder f set name = left(f.name, 30) || ' (' || left($3, 26) || ')' where f.client_id = $1
			and exists (select from folder k where k.client_id = $2 and lower(k.name) = lower(f.name))`,
		[gone.id, keep.id, gone.name]
	);
	const moved = await moveOwned(tx, 'client', gone.id, keep.id);
	await tx.rows('update folder_contact c set client_id = $2 where client_id = $1', [gone.id, keep.id]);
	await tx.rows('update engagement_service set client_id = $2 where client_id = $1', [gone.id, keep.id]);
	// what was decided for the one that is kept stands
	const decisions = await tx.rows<{ list_id: string; line_key: string }>(
		`update list_override o set client_id = $2 where client_id = $1
			and not exists (select from list_override k where k.client_id = $2 and (k.list_id, k.line_key) = (o.list_id, o.line_key)) returning list_id, line_key`,
		[gone.id, keep.id]
	);
	await tx.rows('delete from client_look where client_id = $1', [gone.id]);
	await tx.rows(
		`update client k set name = case when $3 then g.name else k.name end, kind = case when $4 then g.kind else k.kind end,
			responsible_id = case when $5 then g.responsible_id else k.responsible_id end
		from client g where k.id = $1 and g.id = $2`,
		[keep.id, gone.id, taken.has('name'), taken.has('kind'), taken.has('responsible')]
	);
	await tx.rows(`select hide_merged('client', $1, $2)`, [gone.id, actor.now]);
	await refreshMoved(tx, moved['item.client_id'] ?? []);
	await keepMerge(tx, actor, {
		kind: 'client',
		keepId: keep.id,
		goneId: gone.id,
		goneName: gone.name,
		moved: { ...moved, fact: brought.map((row) => row.id), decisions, links, added: added.map((row) => row.contact_id) },
		before: { ...before, replaced: replaced.map((row) => row.id) }
	});
	await recordEvent(tx, actor, { verb: 'clients_merged', clientId: keep.id, details: { gone: gone.name, goneId: gone.id } });
}

/**
 * Merges two contacts into one person with one sign-in. The second one's sessions end; their way in is only taken over
 * with their address, and only if the first has none.
 */
export async function mergeContacts(tx: Tx, actor: Actor, input: { keepId: string; goneId: string; take: readonly string[] }): Promise<void> {
	requireStaff(actor, 'close_client');
	await tx.rows('select 1 from contact where id = any ($1) order by id for update', [[input.keepId, input.goneId]]);
	const { keep, gone, choices } = await previewMerge(tx, actor, 'contact', input.keepId, input.goneId);
	const taken = new Set(choices.filter((choice) => input.take.includes(choice.field)).map((choice) => choice.field));
	const read = (id: string) =>
		tx.first<{ name: string; email: string | null; phone: string | null; mail_problem: string | null; password_hash: string | null }>(
			'select name, email::text, phone, mail_problem, password_hash from contact where id = $1',
			[id]
		);
	const [before, other] = [(await read(keep.id))!, (await read(gone.id))!];
	if (taken.has('email') && before.password_hash)
		throw new DomainError('invalid', `${keep.name} signs in with ${before.email}. Keep that address; the other one is not needed to sign in.`);

	const links = await tx.rows<{ client_id: string; role: string; rank: number }>(
		'delete from client_contact where contact_id = $1 returning client_id, role, rank',
		[gone.id]
	);
	const added = await tx.rows<{ client_id: string }>(
		`insert into client_contact (firm_id, client_id, contact_id, role, rank)
		select $1, l.client_id, $2, l.role, l.rank from jsonb_to_recordset($3) as l (client_id uuid, role text, rank int)
		on conflict (client_id, contact_id) do nothing returning client_id`,
		[tx.firmId, keep.id, JSON.stringify(links)]
	);
	const moved = await moveOwned(tx, 'contact', gone.id, keep.id);
	// what they were still to be told, and that they were written to and reminded lately, goes along
	await tx.rows(
		`insert into request_announcement (firm_id, request_id, contact_id) select firm_id, request_id, $2 from request_announcement
		where contact_id = $1 and told_at is null on conflict do nothing`,
		[gone.id, keep.id]
	);
	await tx.rows('update request_announcement set told_at = $2 where contact_id = $1 and told_at is null', [gone.id, actor.now]);
	await tx.rows(
		`insert into paper_announcement (firm_id, paper_id, contact_id) select firm_id, paper_id, $2 from paper_announcement
		where contact_id = $1 and told_at is null on conflict do nothing`,
		[gone.id, keep.id]
	);
	await tx.rows('update paper_announcement set told_at = $2 where contact_id = $1 and told_at is null', [gone.id, actor.now]);
	await tx.rows(
		`insert into folder_contact (firm_id, client_id, folder_id, contact_id) select firm_id, client_id, folder_id, $2 from folder_contact
		where contact_id = $1 on conflict do nothing`,
		[gone.id, keep.id]
	);
	await tx.rows(
		`update contact k set last_told_on = greatest(k.last_told_on, g.last_told_on), last_chased_on = greatest(k.last_chased_on, g.last_chased_on),
			no_reminder_before = greatest(k.no_reminder_before, g.no_reminder_before), times = coalesce(k.times, g.times), chase_plan = coalesce(k.chase_plan, g.chase_plan),
			reminded_on = array(select distinct d from unnest(k.reminded_on || g.reminded_on) d order by d)
		from contact g where k.id = $1 and g.id = $2`,
		[keep.id, gone.id]
	);
	// an invitation that went to the other address would open a way in for whoever reads it
	await tx.rows('update invitation set replaced_at = $2 where id = any ($1) and waits', [moved['invitation.contact_id'] ?? [], actor.now]);
	await endAllSessions(tx, { kind: 'contact', id: gone.id }, actor.now);
	await tx.rows(`select hide_merged('contact', $1, $2)`, [gone.id, actor.now]);
	await tx.rows(
		`update contact set name = $2, phone = $3, email = $4, mail_problem = $5, mail_problem_detail = null, password_hash = coalesce(password_hash, $6) where id = $1`,
		[
			keep.id,
			taken.has('name') ? other.name : before.name,
			taken.has('phone') ? other.phone : before.phone,
			taken.has('email') ? other.email : before.email,
			taken.has('email') ? other.mail_problem : before.mail_problem,
			taken.has('email') ? other.password_hash : null
		]
	);
	await refreshMoved(tx, moved['item.contact_id'] ?? []);
	const { password_hash, ...visible } = before;
	await keepMerge(tx, actor, {
		kind: 'contact',
		keepId: keep.id,
		goneId: gone.id,
		goneName: gone.name,
		moved: { ...moved, links, added: added.map((row) => row.client_id) },
		before: { ...visible, hadAccess: password_hash !== null }
	});
	for (const { client_id } of await tx.rows<{ client_id: string }>('select client_id from client_contact where contact_id = $1', [keep.id]))
		await recordEvent(tx, actor, {
			verb: 'contacts_merged',
			clientId: client_id,
			contactId: keep.id,
			details: { contact: keep.name, gone: gone.name }
		});
}
