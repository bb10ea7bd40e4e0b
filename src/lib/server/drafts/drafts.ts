import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import type { AwaitedLetter } from '$lib/core/requests/after-letters';
import type { DraftStands } from '$lib/core/requests/many-acts';
import { draftContentSchema, type DraftContent } from '$lib/core/requests/request-list';
import { requireStaff, type Actor } from '../actor';
import { recordEvent, recordEvents } from '../audit/record-event';
import { searchPattern } from '../clients/find-clients';
import { requireActiveClient } from '../clients/client-record';
import type { Tx } from '../platform/db/database';

export interface DraftRow {
	id: string;
	clientId: string;
	clientName: string;
	title: string;
	lines: number;
	listName: string | null;
	/** made for many, and waits for a person */
	waits: boolean;
	changedAt: string;
	changedBy: string;
	version: number;
	/** why it did not go by itself */
	problem: string | null;
	contactName: string | null;
	hasAccess: boolean;
	/** the day on which something was announced to them last */
	lastToldOn: string | null;
	/** the letters that all have to sign before it goes by itself */
	after: AwaitedLetter[];
	/** why it cannot go as it is, as far as can be told without looking at its lines */
	stands: DraftStands | null;
}
export interface Draft extends DraftRow {
	listId: string | null;
	listVersion: number | null;
	content: DraftContent;
}

const ROW = `d.id, d.client_id as "clientId", cl.name as "clientName", d.title, d.lines, l.name as "listName", d.waits, d.changed_at as "changedAt", s.name as "changedBy",
	d.version, d.problem, c.name as "contactName", c.password_hash is not null as "hasAccess", c.last_told_on as "lastToldOn",
	case when d.after_letters = '{}' then '[]' else awaited_letters(d.after_letters) end as after,
	case when cl.state <> 'active' then 'closed' when c.id is null then 'no_contact' when c.not_asked is not null then c.not_asked
		when d.after_letters <> '{}' and d.problem is null then 'waits' end as stands`;
const SOURCE = `from request_draft d join client cl on cl.id = d.client_id join staff s on s.id = d.changed_by_id left join request_list l on l.id = d.list_id
	left join lateral (select * from contact where id = (d.content ->> 'contactId')::uuid limit 1) c on true`;

/** Rows of one page of drafts. */
export const DRAFTS_PAGE = 300;

/**
 * Every draft of the firm, or of one client, those that wait and the newest first, those made together by their clients' names.
 * @param of.mine only of clients whom the person looks after
 * @param of.words only with this in the title, the client's or the list's name
 * @param after how many come before the page
 * @returns a page of them, and one more if there is a next one
 */
export function readDrafts(
	tx: Tx,
	actor: Actor,
	of: { clientId?: string; mine?: boolean; words?: string | null } = {},
	after = 0
): Promise<DraftRow[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		// the page is chosen by its index before anything is joined to it
		`with page as materialized (
			select d.id from request_draft d where d.firm_id = $1 and d.removed_at is null and ($2::uuid is null or d.client_id = $2)
				and exists (select from client cl where cl.id = d.client_id and ($3::uuid is null or cl.responsible_id = $3))
				and ($4::text is null or d.id in (select id from worded_drafts($4) id))
			order by d.waits desc, d.changed_at desc, d.place offset $6 limit $5
		)
		select ${ROW} ${SOURCE} where d.id = any (array(select id from page)) order by d.waits desc, d.changed_at desc, d.place`,
		[tx.firmId, of.clientId ?? null, of.mine ? actor.id : null, of.words ? searchPattern(of.words) : null, DRAFTS_PAGE + 1, after]
	);
}

const gone = () => new DomainError('not_found', 'This draft is not there any more: it was sent, or thrown away.');

/** Lets keeping a draft and sending it wait for each other. A request is sent under the id of its draft. */
export async function lockDraft(tx: Tx, id: string): Promise<void> {
	await tx.rows('select pg_advisory_xact_lock(hashtext($1))', [`draft ${id}`]);
}

/** One draft with everything written. @throws DomainError not_found */
export async function readDraft(tx: Tx, actor: Actor, id: string): Promise<Draft> {
	requireStaff(actor, 'look');
	const row = await tx.first<Draft>(
		`select ${ROW}, d.list_id as "listId", d.list_version as "listVersion", d.content ${SOURCE} where d.id = $1 and d.removed_at is null`,
		[id]
	);
	if (!row) throw gone();
	return { ...row, content: draftContentSchema.parse(row.content) };
}

/** How a draft is called that is not there any more. */
export const GONE_DRAFT = { title: 'A draft that was sent or thrown away meanwhile', clientName: '' };

/** How drafts are called, by id. */
export async function readDraftNames(tx: Tx, ids: readonly string[]): Promise<Map<string, { title: string; clientName: string }>> {
	const rows = await tx.rows<{ id: string; title: string; clientName: string }>(
		`select d.id, coalesce(nullif(d.title, ''), 'Untitled request') title, cl.name as "clientName" from request_draft d join client cl on cl.id = d.client_id where d.id = any ($1)`,
		[ids]
	);
	return new Map(rows.map(({ id, ...name }) => [id, name]));
}

/** The versions that drafts have now; those that are not there any more are left out. */
export function readDraftVersions(tx: Tx, actor: Actor, ids: readonly string[]): Promise<{ id: string; version: number; lines: number }[]> {
	requireStaff(actor, 'look');
	return tx.rows('select id, version, lines from request_draft where id = any ($1) and removed_at is null', [ids]);
}

/**
 * Keeps what is written of a request, as it is typed.
 * @param input.version the one that was looked at; null for a new draft
 * @returns the new version
 * @throws DomainError changed_meanwhile if somebody else has changed it
 */
export async function saveDraft(
	tx: Tx,
	actor: Actor,
	input: { id: string; version: number | null; clientId: string; list: { id: string; version: number } | null; content: DraftContent }
): Promise<number> {
	requireStaff(actor, 'send_request');
	await requireActiveClient(tx, input.clientId);
	await lockDraft(tx, input.id);
	// what was typed last may arrive after the request has gone: it must not come back as a draft
	if (await tx.first('select 1 from request where firm_id = $1 and idempotency_key = $2', [tx.firmId, input.id])) throw gone();
	const title = input.content.title.trim();
	const lines = input.content.lines.filter((line) => !line.out).length;
	if (input.version === null) {
		const made = await tx.first<{ version: number }>(
			`insert into request_draft (id, firm_id, client_id, list_id, list_version, title, content, lines, made_by_id, made_at, changed_by_id, changed_at)
			values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $9, $10) on conflict (id) do nothing returning version`,
			[
				input.id,
				tx.firmId,
				input.clientId,
				input.list?.id ?? null,
				input.list?.version ?? null,
				title,
				JSON.stringify(input.content),
				lines,
				actor.id,
				actor.now
			]
		);
		if (made) {
			await recordEvent(tx, actor, { verb: 'draft_begun', clientId: input.clientId, details: { title: title || 'Untitled request' } });
			return made.version;
		}
	}
	const before = await tx.first<{ changedBy: string }>(
		'select changed_by_id as "changedBy" from request_draft where id = $1 and removed_at is null',
		[input.id]
	);
	const saved = await tx.first<{ version: number }>(
		`update request_draft set title = $3, content = $4, lines = $5, changed_by_id = $6, changed_at = $7, version = version + 1, before = null
		where id = $1 and removed_at is null and ($2::int is null or version = $2 or changed_by_id = $6) and client_id = $8 returning version`,
		[input.id, input.version, title, JSON.stringify(input.content), lines, actor.id, actor.now, input.clientId]
	);
	if (saved) {
		// one's own writing is one act, however often it is kept
		if (before && before.changedBy !== actor.id)
			await recordEvent(tx, actor, {
				verb: 'draft_gone_on_with',
				clientId: input.clientId,
				details: { title: title || 'Untitled request' }
			});
		return saved.version;
	}
	const other = await readDraft(tx, actor, input.id);
	throw new DomainError('changed_meanwhile', `${other.changedBy} works on this draft too, and was faster. Copy what you wrote, then load it again.`);
}

/** Throws drafts away; for a while they can be fetched back, and then wait for no letter any more. @returns what there was */
export async function removeDrafts(
	tx: Tx,
	actor: Actor,
	ids: readonly string[]
): Promise<{ id: string; version: number; title: string; clientName: string }[]> {
	requireStaff(actor, 'send_request');
	const removed = await tx.rows<{ id: string; version: number; clientId: string; clientName: string; title: string }>(
		`update request_draft d set removed_at = $2, after_letters = '{}', version = d.version + 1 from client cl where cl.id = d.client_id and d.id = any ($1) and d.removed_at is null
		returning d.id, d.version, d.title, d.client_id as "clientId", cl.name as "clientName"`,
		[ids, actor.now]
	);
	if (removed.length === 0) throw gone();
	await recordEvents(
		tx,
		actor,
		removed.map((draft) => ({ verb: 'draft_removed', clientId: draft.clientId, details: { title: draft.title || 'Untitled request' } }))
	);
	return removed;
}

/** Days for which a draft that was thrown away can be fetched back. */
const REMOVED_KEPT_DAYS = 30;

/** Removes for good what was thrown away long ago. */
export async function forgetRemovedDrafts(tx: Tx, now: string): Promise<void> {
	await tx.rows('delete from request_draft where firm_id = $1 and removed_at < $2::timestamptz - make_interval(days => $3)', [
		tx.firmId,
		now,
		REMOVED_KEPT_DAYS
	]);
}

/** The draft is put away once its request is sent, in the same transaction; it comes back if the sending is taken back. */
export async function dropSentDraft(tx: Tx, actor: Actor, id: string): Promise<void> {
	await tx.rows(`update request_draft set removed_at = $2, after_letters = '{}', version = version + 1 where id = $1 and removed_at is null`, [
		id,
		actor.now
	]);
}

/** Writes drafts that a list was made to fit for many clients, in one statement. @returns their ids, in order */
export async function writeDrafts(
	tx: Tx,
	actor: Actor,
	drafts: readonly { clientId: string; content: DraftContent; /** the row of the file it is made from */ line?: number }[],
	from: { list: { id: string; version: number }; runId: string | null }
): Promise<string[]> {
	const rows = drafts.map(({ clientId, content, line }) => ({
		id: randomUUID(),
		client_id: clientId,
		sheet_line: line ?? null,
		title: content.title,
		content,
		lines: content.lines.filter((line) => !line.out).length
	}));
	await tx.rows(
		`with made as (
			insert into request_draft (id, firm_id, client_id, list_id, list_version, title, content, lines, waits, run_id, sheet_line, made_by_id, made_at, changed_by_id, changed_at)
			select d.id, $1, d.client_id, $2, $3, d.title, d.content, d.lines, true, $4, d.sheet_line, $5, $6, $5, $6
			from jsonb_to_recordset($7) as d (id uuid, client_id uuid, title text, content jsonb, lines int, sheet_line int) returning client_id, title, lines
		)
		insert into event (firm_id, at, actor_kind, actor_id, actor_name, ip, verb, client_id, details)
		select $1, $6, $8, $5, $9, $10, 'request_prepared', client_id, jsonb_build_object('title', title, 'count', lines) from made`,
		[tx.firmId, from.list.id, from.list.version, from.runId, actor.id, actor.now, JSON.stringify(rows), actor.kind, actor.name, actor.ip || null]
	);
	return rows.map((row) => row.id);
}
