import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { CLIENT_MERGE_FIELDS, CONTACT_FIELDS, mayUndoMerge, mergeChoices, type MergeChoice } from '$lib/core/clients/merge';
import { FACT_NAMES } from '$lib/core/clients/facts';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { loadFirm } from '../firms/firm';
import { endAllSessions } from '../people/sessions';
import type { Tx } from '../platform/db/database';
import { movedColumns, OF_CLIENT, OF_CONTACT } from './owned-tables';

type Kind = 'client' | 'contact';

/** The columns whose rows move over. */
const MOVED = { client: movedColumns(OF_CLIENT), contact: movedColumns(OF_CONTACT) } as const;

interface MergeSide {
	id: string;
	name: string;
	fields: Record<string, string | null>;
}

async function readSide(tx: Tx, kind: Kind, id: string): Promise<MergeSide> {
	const row =
		kind === 'client'
			? await tx.first<{ name: string; fields: Record<string, string | null> }>(
					`select c.name, jsonb_build_object('name', c.name, 'kind', c.kind, 'responsible', s.name)
						|| coalesce((select jsonb_object_agg(name, value) from fact where client_id = c.id and replaced_at is null), '{}') fields
					from client c join staff s on s.id = c.responsible_id where c.id = $1`,
					[id]
				)
			: await tx.first<{ name: string; fields: Record<string, string | null> }>(
					`select name, jsonb_build_object('name', name, 'email', email, 'phone', phone) fields from contact where id = $1`,
					[id]
				);
	if (!row) throw new DomainError('not_found', kind === 'client' ? 'There is no such client.' : 'There is no such contact.');
	return { id, ...row };
}

export interface MergePreview {
	keep: { id: string; name: string };
	gone: { id: string; name: string };
	choices: MergeChoice[];
	/** how many of what would move */
	moves: { what: string; count: number }[];
}

/** What merging one into the other would do, field by field, and how much moves. */
export async function previewMerge(tx: Tx, actor: Actor, kind: Kind, keepId: string, goneId: string): Promise<MergePreview> {
	requireStaff(actor, 'close_client');
	if (keepId === goneId) throw new DomainError('invalid', 'These are one and the same already.');
	const [keep, gone] = [await readSide(tx, kind, keepId), await readSide(tx, kind, goneId)];
	const counts = await tx.first<Record<string, number>>(
		kind === 'client'
			? `select (select count(*)::int from request where client_id = $1) requests, (select count(*)::int from paper where client_id = $1 and removed_at is null) papers,
				(select count(*)::int from client_contact where client_id = $1) people, (select count(*)::int from engagement where client_id = $1) engagements,
				(select count(*)::int from client_note where client_id = $1 and removed_at is null) notes`
			: `select (select count(*)::int from request where contact_id = $1) requests, (select count(*)::int from client_contact where contact_id = $1) clients,
				(select count(*)::int from message where contact_id = $1) messages`,
		[goneId]
	);
	return {
		keep: { id: keep.id, name: keep.name },
		gone: { id: gone.id, name: gone.name },
		choices: mergeChoices(kind === 'client' ? CLIENT_MERGE_FIELDS : CONTACT_FIELDS, keep.fields, gone.fields),
		moves: Object.entries(counts!)
			.filter(([, count]) => count > 0)
			.map(([what, count]) => ({ what, count }))
	};
}

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
async function refreshMoved(tx: Tx, items: readonly string[]): Promise<void> {
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
	const facts = FACT_NAMES.filter((name) => taken.has(name));
	const replaced = await tx.rows<{ id: string }>(
		'update fact set replaced_at = $3 where client_id = $1 and name = any ($2) and replaced_at is null returning id',
		[keep.id, facts, actor.now]
	);
	const brought = await tx.rows<{ id: string }>(
		'update fact set client_id = $2 where client_id = $1 and name = any ($3) and replaced_at is null returning id',
		[gone.id, keep.id, facts]
	);
	const moved = await moveOwned(tx, 'client', gone.id, keep.id);
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
		`update contact k set last_told_on = greatest(k.last_told_on, g.last_told_on), last_chased_on = greatest(k.last_chased_on, g.last_chased_on),
			no_reminder_before = greatest(k.no_reminder_before, g.no_reminder_before),
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
