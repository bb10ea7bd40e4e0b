import { randomUUID } from 'node:crypto';
import { TELLS, type MessageKind } from '$lib/core/messages/message-states';
import type { Channel } from '$lib/core/messages/ways';
import type { Actor } from '../actor';
import type { Tx } from '../platform/db/database';
import type { MessageContent } from './message-content';

export interface PlannedMessage {
	kind: MessageKind;
	/** by mail unless told otherwise; then the address is a phone number (E.164) */
	channel?: Channel;
	/** the same key is planned only once, whoever plans it and how often */
	idempotencyKey: string;
	to: {
		address: string;
		contactId?: string;
		staffId?: string;
		/** somebody who answered on a public page and is nobody we know */ publicAnswerId?: string;
	};
	clientId?: string;
	requestId?: string;
	/** Message-ID of the thread's first message; null begins a thread of its own */
	threadId?: string | null;
	content: MessageContent;
	/** seconds until it goes, in which it can be taken back */
	waitSeconds?: number;
	/** with the step of which chase plan made it go, if one did */
	items?: { itemId: string; step: number | null; plan?: string | null }[];
}

/** Message-ID of a message of ours (RFC 5322), without angle brackets. */
const messageIdOf = (id: string, firmId: string) => `${id}@humble-lantern.${firmId.slice(0, 8)}`;

/**
 * Plans messages and puts their sending into the queue, in the caller's transaction, with a few statements however many
 * there are.
 * @param perSecond how many of them may leave in a second; 0 for no limit
 * @returns for each, in order, its ids, or null if a message with its key was planned before
 */
export async function planMessages(
	tx: Tx,
	actor: Actor,
	messages: readonly PlannedMessage[],
	perSecond = 0
): Promise<({ id: string; messageId: string } | null)[]> {
	if (messages.length === 0) return [];
	const rows = messages.map((message) => ({ id: randomUUID(), message }));
	const inserted = await tx.rows<{ id: string }>(
		`insert into message (id, firm_id, idempotency_key, kind, channel, contact_id, staff_id, client_id, request_id, to_address, content, message_id, thread_id, state, planned_at, public_answer_id)
		select m.id, $1, m.idempotency_key, m.kind, m.channel, m.contact_id, m.staff_id, m.client_id, m.request_id, m.to_address, m.content, m.message_id, m.thread_id, 'planned', $3, m.public_answer_id
		from jsonb_to_recordset($2) as m (id uuid, idempotency_key text, kind text, channel text, contact_id uuid, staff_id uuid, client_id uuid, request_id uuid,
			to_address text, content jsonb, message_id text, thread_id text, public_answer_id uuid)
		on conflict (firm_id, idempotency_key) do nothing returning id`,
		[
			tx.firmId,
			JSON.stringify(
				rows.map(({ id, message }) => ({
					id,
					idempotency_key: message.idempotencyKey,
					kind: message.kind,
					channel: message.channel ?? 'email',
					contact_id: message.to.contactId,
					staff_id: message.to.staffId,
					client_id: message.clientId,
					request_id: message.requestId,
					to_address: message.to.address,
					content: message.content,
					message_id: messageIdOf(id, tx.firmId),
					thread_id: message.threadId,
					public_answer_id: message.to.publicAnswerId
				}))
			),
			actor.now
		]
	);
	const isNew = new Set(inserted.map((row) => row.id));
	const told = rows.flatMap(({ id, message }) => (isNew.has(id) && TELLS[message.kind] && message.to.contactId ? [message.to.contactId] : []));
	if (told.length > 0) await tx.rows('select note_told($1, $2)', [told, actor.now]);
	const items = rows.flatMap(({ id, message }) =>
		isNew.has(id) ? (message.items ?? []).map((item) => ({ message_id: id, item_id: item.itemId, step: item.step, plan: item.plan ?? null })) : []
	);
	if (items.length > 0)
		await tx.rows(
			`insert into message_item (firm_id, message_id, item_id, step, plan)
			select $1, i.message_id, i.item_id, i.step, i.plan from jsonb_to_recordset($2) as i (message_id uuid, item_id uuid, step int, plan text)`,
			[tx.firmId, JSON.stringify(items)]
		);
	for (const wait of new Set(messages.map(({ waitSeconds }) => waitSeconds ?? 0))) {
		const ids = rows.flatMap(({ id, message }) => (isNew.has(id) && (message.waitSeconds ?? 0) === wait ? [id] : []));
		if (ids.length > 0) await tx.rows('select enqueue_sending($1, $2, $3, $4)', [tx.firmId, ids, perSecond, wait]);
	}
	return rows.map(({ id }) => (isNew.has(id) ? { id, messageId: messageIdOf(id, tx.firmId) } : null));
}

/** One message by each of several ways, under one key: a person is told once a way, however often it is planned. */
export function byWays(
	ways: readonly Channel[],
	to: { contactId: string; email: string; phone: string | null },
	message: Omit<PlannedMessage, 'channel' | 'to'>
): PlannedMessage[] {
	return ways.map((channel) =>
		channel === 'text'
			? {
					...message,
					channel,
					idempotencyKey: `${message.idempotencyKey} text`,
					to: { address: to.phone!, contactId: to.contactId },
					threadId: null
				}
			: { ...message, channel, to: { address: to.email, contactId: to.contactId } }
	);
}

/** Plans one message; see `planMessages`. */
export async function planMessage(tx: Tx, actor: Actor, message: PlannedMessage): Promise<{ id: string; messageId: string } | null> {
	return (await planMessages(tx, actor, [message]))[0];
}

/** Message-ID of the first mail in which an item was named to somebody, for what is written about it later; null without one. */
export async function threadOf(tx: Tx, itemId: string, contactId: string): Promise<string | null> {
	const row = await tx.first<{ message_id: string }>(
		`select m.message_id from message_item mi join message m on m.id = mi.message_id
		where mi.item_id = $1 and m.contact_id = $2 and m.channel = 'email' and m.state <> 'held_back' order by m.planned_at, m.id limit 1`,
		[itemId, contactId]
	);
	return row?.message_id ?? null;
}
