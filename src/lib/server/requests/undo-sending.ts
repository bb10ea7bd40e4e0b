import { serverKindOf } from '../item-kinds/item-kinds';
import type { ItemKind } from '$lib/core/items/item-kinds';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import type { Database, Tx } from '../platform/db/database';
import { lockItem, moveItem } from '../items/change-item';
import { lockDraft } from '../drafts/drafts';

/** Nothing of a request `r` has reached anybody: nobody was told of it or is about to be, and nobody has opened it. */
const NOTHING_LEFT = `r.withdrawn_at is null and not exists (select from item i where i.request_id = r.id and i.state <> 'asked')
	and not exists (select from item i join message_item mi on mi.item_id = i.id join message m on m.id = mi.message_id where i.request_id = r.id and m.state <> 'held_back')`;

/** Which of these drafts, which were sent just now, can still be taken back. */
export async function readUnsendable(tx: Tx, draftIds: readonly string[]): Promise<Set<string>> {
	const rows = await tx.rows<{ id: string }>(
		`select r.idempotency_key id from request r where r.firm_id = $1 and r.idempotency_key = any ($2) and ${NOTHING_LEFT}`,
		[tx.firmId, draftIds]
	);
	return new Set(rows.map((row) => row.id));
}

/**
 * Takes back that drafts were sent, of each of which nothing has reached anybody: their requests are withdrawn, and the drafts are
 * there again as they were.
 * @returns how many were taken back
 */
export async function undoSending(db: Database, firmId: string, actor: Actor, draftIds: readonly string[]): Promise<number> {
	requireStaff(actor, 'send_request');
	let count = 0;
	for (const id of draftIds) if (await db.inFirm(firmId, (tx) => undoOne(tx, actor, id))) count++;
	return count;
}

async function undoOne(tx: Tx, actor: Actor, draftId: string): Promise<boolean> {
	await lockDraft(tx, draftId);
	const request = await tx.first<{ id: string; client_id: string; title: string }>(
		`select r.id, r.client_id, r.title from request r where r.firm_id = $1 and r.idempotency_key = $2 and ${NOTHING_LEFT} for update`,
		[tx.firmId, draftId]
	);
	if (!request) return false;
	const firm = await loadFirm(tx);
	const items = await tx.rows<{ id: string; kind: ItemKind }>('select id, kind from item where request_id = $1 order by id', [request.id]);
	for (const { id } of items) await moveItem(tx, actor, firm, await lockItem(tx, id), 'waive');
	for (const kind of new Set(items.map((item) => item.kind)))
		await serverKindOf(kind).onUndoSending?.(
			tx,
			items.filter((item) => item.kind === kind).map((item) => item.id)
		);
	// what was to go once its letters are signed is in the draft again
	await tx.rows(
		`delete from request_draft d using request r where r.id = $1 and d.made_at = r.sent_at and d.client_id = r.client_id
			and d.after_letters && array(select l.id from letter l join item i on i.id = l.item_id where i.request_id = r.id)`,
		[request.id]
	);
	await tx.rows('delete from request_announcement where request_id = $1', [request.id]);
	// the draft may be sent again under its own id
	await tx.rows('update request set withdrawn_at = $2, idempotency_key = gen_random_uuid() where id = $1', [request.id, actor.now]);
	await tx.rows('update request_draft set removed_at = null, version = version + 1 where id = $1', [draftId]);
	await recordEvent(tx, actor, {
		verb: 'draft_restored',
		clientId: request.client_id,
		requestId: request.id,
		details: { title: request.title }
	});
	return true;
}
