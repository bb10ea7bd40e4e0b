import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { draftContentSchema, type DraftContent } from '$lib/core/requests/request-list';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
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
	/** why it cannot go as it is, as far as can be told without looking at its lines */
	stands: 'no_contact' | 'no_address' | 'bounced' | 'closed' | null;
}
export interface Draft extends DraftRow {
	listId: string | null;
	listVersion: number | null;
	content: DraftContent;
}

const ROW = `d.id, d.client_id as "clientId", cl.name as "clientName", d.title, d.lines, l.name as "listName", d.waits, d.changed_at as "changedAt", s.name as "changedBy",
	d.version, d.problem, c.name as "contactName",
	case when cl.state <> 'active' then 'closed' when c.id is null then 'no_contact' when c.mail_problem in ('no_address', 'bounced') then c.mail_problem end as stands`;
const SOURCE = `from request_draft d join client cl on cl.id = d.client_id join staff s on s.id = d.changed_by left join request_list l on l.id = d.list_id
	left join contact c on c.id = (d.content ->> 'contactId')::uuid`;

/** Every draft of the firm, or of one client, the newest first. */
export function readDrafts(tx: Tx, actor: Actor, of: { clientId?: string; waiting?: boolean } = {}, most = 500): Promise<DraftRow[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select ${ROW} ${SOURCE} where d.firm_id = $1 and ($2::uuid is null or d.client_id = $2) and (not $3 or d.waits) order by d.waits desc, d.changed_at desc, d.id limit $4`,
		[tx.firmId, of.clientId ?? null, of.waiting ?? false, most]
	);
}

/** One draft with everything written. @throws DomainError not_found */
export async function readDraft(tx: Tx, actor: Actor, id: string): Promise<Draft> {
	requireStaff(actor, 'look');
	const row = await tx.first<Draft>(`select ${ROW}, d.list_id as "listId", d.list_version as "listVersion", d.content ${SOURCE} where d.id = $1`, [
		id
	]);
	if (!row) throw new DomainError('not_found', 'This draft is not there any more: it was sent, or thrown away.');
	return { ...row, content: draftContentSchema.parse(row.content) };
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
	const title = input.content.title.trim();
	const lines = input.content.lines.filter((line) => !line.out).length;
	if (input.version === null) {
		const made = await tx.first<{ version: number }>(
			`insert into request_draft (id, firm_id, client_id, list_id, list_version, title, content, lines, made_by, made_at, changed_by, changed_at)
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
		if (made) return made.version;
	}
	const saved = await tx.first<{ version: number }>(
		`update request_draft set title = $3, content = $4, lines = $5, changed_by = $6, changed_at = $7, version = version + 1
		where id = $1 and ($2::int is null or version = $2 or changed_by = $6) and client_id = $8 returning version`,
		[input.id, input.version, title, JSON.stringify(input.content), lines, actor.id, actor.now, input.clientId]
	);
	if (saved) return saved.version;
	const other = await readDraft(tx, actor, input.id);
	throw new DomainError('changed_meanwhile', `${other.changedBy} works on this draft too, and was faster. Copy what you wrote, then load it again.`);
}

/** Throws drafts away. @returns how many there were */
export async function removeDrafts(tx: Tx, actor: Actor, ids: readonly string[]): Promise<number> {
	requireStaff(actor, 'send_request');
	const gone = await tx.rows<{ client_id: string; title: string }>('delete from request_draft where id = any ($1) returning client_id, title', [ids]);
	if (gone.length === 0) throw new DomainError('not_found', 'This draft is not there any more: it was sent, or thrown away.');
	for (const draft of gone)
		await recordEvent(tx, actor, { verb: 'draft_removed', clientId: draft.client_id, details: { title: draft.title || 'Untitled request' } });
	return gone.length;
}

/** The draft is not needed any more once its request is sent, in the same transaction. */
export async function dropSentDraft(tx: Tx, id: string): Promise<void> {
	await tx.rows('delete from request_draft where id = $1', [id]);
}

/** Writes drafts that a list was made to fit for many clients, in one statement. @returns their ids, in order */
export async function writeDrafts(
	tx: Tx,
	actor: Actor,
	drafts: readonly { clientId: string; content: DraftContent }[],
	from: { list: { id: string; version: number }; runId: string | null }
): Promise<string[]> {
	const rows = drafts.map(({ clientId, content }) => ({
		id: randomUUID(),
		client_id: clientId,
		title: content.title,
		content,
		lines: content.lines.filter((line) => !line.out).length
	}));
	await tx.rows(
		`with made as (
			insert into request_draft (id, firm_id, client_id, list_id, list_version, title, content, lines, waits, run_id, made_by, made_at, changed_by, changed_at)
			select d.id, $1, d.client_id, $2, $3, d.title, d.content, d.lines, true, $4, $5, $6, $5, $6
			from jsonb_to_recordset($7) as d (id uuid, client_id uuid, title text, content jsonb, lines int) returning client_id, title, lines
		)
		insert into event (firm_id, at, actor_kind, actor_id, actor_name, ip, verb, client_id, details)
		select $1, $6, $8, $5, $9, $10, 'request_prepared', client_id, jsonb_build_object('title', title, 'count', lines) from made`,
		[tx.firmId, from.list.id, from.list.version, from.runId, actor.id, actor.now, JSON.stringify(rows), actor.kind, actor.name, actor.ip || null]
	);
	return rows.map((row) => row.id);
}
