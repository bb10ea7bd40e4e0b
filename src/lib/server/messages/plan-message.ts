import { randomUUID } from 'node:crypto';
import type { MessageKind } from '$lib/core/messages/message-states';
import type { Actor } from '../actor';
import type { Tx } from '../platform/db/database';
import type { MessageContent } from './message-content';

export interface PlannedMessage {
	kind: MessageKind;
	/** the same key is planned only once, whoever plans it and how often */
	uniqueKey: string;
	to: { address: string; contactId?: string; staffId?: string };
	clientId?: string;
	requestId?: string;
	/** Message-ID of the thread's first message; null begins a thread of its own */
	threadId?: string | null;
	content: MessageContent;
	items?: { itemId: string; step: number | null }[];
}

/**
 * Plans a message and puts its sending into the queue, in the caller's transaction.
 * @returns its ids, or null if a message with this key was planned before
 */
export async function planMessage(tx: Tx, actor: Actor, message: PlannedMessage): Promise<{ id: string; messageId: string } | null> {
	const id = randomUUID();
	const messageId = `${id}@humble-lantern.${tx.firmId.slice(0, 8)}`;
	const inserted = await tx.first<{ id: string }>(
		`insert into message (id, firm_id, unique_key, kind, contact_id, staff_id, client_id, request_id, to_address, content, message_id, thread_id, state, planned_at)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, 'planned', $13)
		on conflict (firm_id, unique_key) do nothing returning id`,
		[
			id,
			tx.firmId,
			message.uniqueKey,
			message.kind,
			message.to.contactId ?? null,
			message.to.staffId ?? null,
			message.clientId ?? null,
			message.requestId ?? null,
			message.to.address,
			JSON.stringify(message.content),
			messageId,
			message.threadId ?? null,
			actor.now
		]
	);
	if (!inserted) return null;
	if (message.items?.length)
		await tx.rows(
			`insert into message_item (firm_id, message_id, item_id, step)
			select $1, $2, i.item_id, i.step from jsonb_to_recordset($3) as i (item_id uuid, step int)`,
			[tx.firmId, id, JSON.stringify(message.items.map((i) => ({ item_id: i.itemId, step: i.step })))]
		);
	await tx.rows(`select enqueue_job('send_message', $1)`, [JSON.stringify({ firmId: tx.firmId, messageId: id })]);
	return { id, messageId };
}
