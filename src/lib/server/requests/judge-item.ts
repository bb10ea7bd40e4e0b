import { DomainError } from '$lib/core/errors/domain-error';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { dateWords } from '$lib/words/dates';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { loadFirm } from '../firms/firm';
import { planMessage } from '../messages/plan-message';
import type { Tx } from '../platform/db/database';
import { lockItem, moveItem, requireUnchanged } from './change-item';

/** Accepts what was handed in. */
export async function acceptItem(tx: Tx, actor: Actor, input: { itemId: string; version: number }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	if (item.kind === 'letter') throw new DomainError('invalid', 'A letter is finished by countersigning it.');
	await moveItem(tx, actor, await loadFirm(tx), item, 'accept');
}

/** Sends an item back with a reason, which the client gets by e-mail and sees first on their page. */
export async function sendItemBack(tx: Tx, actor: Actor, input: { itemId: string; version: number; reason: string }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	if (item.kind === 'letter') throw new DomainError('invalid', 'A signed letter cannot be sent back. Waive it and send a new one.');
	const firm = await loadFirm(tx);
	await moveItem(tx, actor, firm, item, 'send_back', { reason: input.reason });
	const to = await tx.first<{ email: string; message_id: string | null; client_name: string }>(
		`select c.email::text, (select message_id from message where request_id = $2 and kind = 'request' limit 1) message_id, (select name from client where id = $3) client_name
		from contact c where c.id = $1`,
		[item.contact_id, item.request_id, item.client_id]
	);
	await planMessage(tx, actor, {
		kind: 'sent_back',
		uniqueKey: `sent back ${item.id} ${item.version + 1}`,
		to: { address: to!.email, contactId: item.contact_id },
		clientId: item.client_id,
		threadId: to!.message_id,
		content: { itemTitle: item.title, reason: input.reason, itemId: item.id, signedBy: actor.name, clientName: to!.client_name },
		items: [{ itemId: item.id, step: null }]
	});
}

/** Waives an item: the firm does not need it any more. */
export async function waiveItem(tx: Tx, actor: Actor, input: { itemId: string; version: number }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	if (item.kind === 'letter') await tx.rows(`update letter set state = 'withdrawn' where item_id = $1 and state in ('sent', 'signed')`, [item.id]);
	await moveItem(tx, actor, await loadFirm(tx), item, 'waive');
}

/** Asks again for an item that was accepted or waived. */
export async function reopenItem(tx: Tx, actor: Actor, input: { itemId: string; version: number }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	if (item.kind === 'letter') throw new DomainError('invalid', 'A letter is not asked for again; send a new one.');
	await moveItem(tx, actor, await loadFirm(tx), item, 'reopen');
}

/** Moves the due date; the chase plan starts anew around it, from tomorrow on. */
export async function moveDueDate(tx: Tx, actor: Actor, input: { itemId: string; version: number; dueOn: string }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	const firm = await loadFirm(tx);
	const today = localDate(actor.now, firm.calendar);
	if (input.dueOn < today) throw new DomainError('invalid', 'Choose a date from today on.', { dueOn: 'Choose a date from today on.' });
	await tx.rows('update item set due_on = $2, chased_through = $3, version = version + 1 where id = $1', [item.id, input.dueOn, today]);
	await refreshChaseDays(tx, [item.id], firm);
	await recordEvent(tx, actor, {
		verb: 'item_due_moved',
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, from: item.due_on ? dateWords('en', item.due_on) : 'no date', to: dateWords('en', input.dueOn) }
	});
}

/**
 * Asks somebody else of the client for an item; reminders go to them from then on.
 * @throws DomainError not_found if they do not belong to the client, invalid for a letter, which names who signs
 */
export async function changeItemPerson(tx: Tx, actor: Actor, input: { itemId: string; version: number; contactId: string }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	if (item.kind === 'letter') throw new DomainError('invalid', 'A letter names who signs it. Waive it and send a new one.');
	if (item.contact_id === input.contactId) return;
	const people = await tx.rows<{ id: string; name: string }>(
		`select c.id, c.name from contact c where c.id = $1 or c.id = (select contact_id from client_contact where client_id = $2 and contact_id = $3)`,
		[item.contact_id, item.client_id, input.contactId]
	);
	const to = people.find((person) => person.id === input.contactId);
	if (!to) throw new DomainError('not_found', 'This person does not belong to the client.');
	await tx.rows('update item set contact_id = $2, version = version + 1 where id = $1', [item.id, to.id]);
	const firm = await loadFirm(tx);
	await refreshChaseDays(tx, [item.id], firm);
	await recordEvent(tx, actor, {
		verb: 'item_person_changed',
		clientId: item.client_id,
		contactId: to.id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, from: people.find((person) => person.id === item.contact_id)?.name ?? '', to: to.name }
	});
}
