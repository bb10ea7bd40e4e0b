import { DomainError } from '$lib/core/errors/domain-error';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { kindOf } from '$lib/core/items/item-kinds';
import { notAskedWords, type NotAsked } from '$lib/core/requests/who-may-be-asked';
import { isOpen, ITEM_STATE_WORDS } from '$lib/core/requests/item-states';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { loadFirm, type Firm } from '../firms/firm';
import { serverKindOf } from '../item-kinds/item-kinds';
import { writeAboutItem } from '../outbox/write-about-item';
import type { Tx } from '../platform/db/database';
import { readAttachments } from '../attachments/attachments';
import { lockItem, moveItem, requireUnchanged, setDue, type LockedItem } from '../items/change-item';
import { writeRemark } from '../items/remarks';

/**
 * Notes that somebody of the firm looks at what was handed in: from now on the client cannot go on with it by themselves. Whoever may only
 * see the client leaves no trace.
 */
export async function noteLooked(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	requireStaff(actor, 'look');
	const item = await lockItem(tx, itemId);
	if (item.state === 'handed_in')
		await tx.rows('update item set looked_at = $2 where id = $1 and looked_at is null and client_id <> all (not_worked_clients())', [
			item.id,
			actor.now
		]);
}

/** Accepts what was handed in. */
export async function acceptItem(tx: Tx, actor: Actor, input: { itemId: string; version: number }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	await acceptLocked(tx, actor, await loadFirm(tx), item);
}

/** Accepts an item that is locked already. @throws DomainError invalid for a letter, changed_meanwhile if nothing was handed in */
export async function acceptLocked(tx: Tx, actor: Actor, firm: Firm, item: LockedItem): Promise<void> {
	if (!kindOf(item.kind).judged) throw new DomainError('invalid', 'A letter is finished by countersigning it.');
	await moveItem(tx, actor, firm, item, 'accept');
}

/**
 * Sends an item back with a reason, which the client gets by e-mail and sees first on their page.
 * @param input.renewed there is a new version to look at: nothing is to be put right
 */
export async function sendItemBack(
	tx: Tx,
	actor: Actor,
	input: { itemId: string; version: number; reason: string; renewed?: boolean }
): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	if (!kindOf(item.kind).judged) throw new DomainError('invalid', 'A signed letter cannot be sent back. Waive it and send a new one.');
	const firm = await loadFirm(tx);
	await moveItem(tx, actor, firm, item, 'send_back', { reason: input.reason });
	await writeAboutItem(tx, actor, item, {
		kind: 'sent_back',
		idempotencyKey: `sent back ${item.id} ${item.version + 1}`,
		content: { itemTitle: item.title, reason: input.reason, renewed: input.renewed },
		items: [{ itemId: item.id, step: null }]
	});
}

/**
 * Puts a new version in the place of a file that is shown for approval. The one before can still be read, with what was pinned to it.
 * Who has answered already is asked again; who has not is told by a remark.
 * @throws DomainError invalid if it is not shown for approval, not_found if the firm has no such file, changed_meanwhile if it is settled
 */
export async function putUpNewVersion(
	tx: Tx,
	actor: Actor,
	input: { itemId: string; version: number; replaces: string; attachmentId: string; reason: string }
): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	if (item.kind !== 'approve' || !item.attachments.includes(input.replaces) || item.spec.earlier.includes(input.replaces))
		throw new DomainError('invalid', 'This file is not shown for approval.');
	const { earlier } = item.spec;
	if (item.attachments.includes(input.attachmentId)) throw new DomainError('invalid', 'This is the file that is shown already.');
	const answered = item.state === 'handed_in' || item.state === 'answered_no';
	if (!answered && !isOpen(item.state))
		throw new DomainError(
			'changed_meanwhile',
			`“${item.title}” is ${ITEM_STATE_WORDS[item.state]}. Ask for it again first, then put up the new version.`
		);
	const file = (await readAttachments(tx, [input.attachmentId]))[input.attachmentId];
	if (!file) throw new DomainError('not_found', 'The new file is not there any more. Choose it again.');
	const current = item.attachments.filter((id) => !earlier.includes(id));
	const attachments = [
		...current.map((id) => (id === input.replaces ? file.id : id)),
		input.replaces,
		...item.attachments.filter((id) => earlier.includes(id))
	];
	await tx.rows('update item set attachments = $2, spec = $3, version = version + 1 where id = $1', [
		item.id,
		attachments,
		JSON.stringify({ earlier: [...earlier, input.replaces] })
	]);
	await recordEvent(tx, actor, {
		verb: 'item_renewed',
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, name: file.name }
	});
	if (answered) await sendItemBack(tx, actor, { itemId: item.id, version: item.version + 1, reason: input.reason, renewed: true });
	else await writeRemark(tx, actor, { itemId: item.id, words: input.reason, pinned: null });
}

/** Waives an item: the firm does not need it any more. */
export async function waiveItem(tx: Tx, actor: Actor, input: { itemId: string; version: number }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	await waiveLocked(tx, actor, await loadFirm(tx), item);
}

/** Waives an item that is locked already. @throws DomainError changed_meanwhile if it is settled */
export async function waiveLocked(tx: Tx, actor: Actor, firm: Firm, item: LockedItem): Promise<void> {
	await serverKindOf(item.kind).onWaiving?.(tx, [item.id]);
	await moveItem(tx, actor, firm, item, 'waive');
}

/** Asks again for an item that was accepted or waived. */
export async function reopenItem(tx: Tx, actor: Actor, input: { itemId: string; version: number }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	if (!kindOf(item.kind).judged) throw new DomainError('invalid', 'A letter is not asked for again; send a new one.');
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
	await setDue(tx, actor, firm, item, input.dueOn);
}

/**
 * Asks somebody else of the client for an item; reminders go to them from then on.
 * @throws DomainError not_found if they do not belong to the client, invalid for a letter, which names who signs
 */
export async function changeItemPerson(tx: Tx, actor: Actor, input: { itemId: string; version: number; contactId: string }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	if (!kindOf(item.kind).judged) throw new DomainError('invalid', 'A letter names who signs it. Waive it and send a new one.');
	if (item.contact_id === input.contactId) return;
	const people = await tx.rows<{ id: string; name: string; email: string | null; notAsked: NotAsked | null }>(
		`select c.id, c.name, c.email::text, c.not_asked as "notAsked" from contact c where c.id = $1 or c.id = (select contact_id from client_contact where client_id = $2 and contact_id = $3)`,
		[item.contact_id, item.client_id, input.contactId]
	);
	const to = people.find((person) => person.id === input.contactId);
	if (!to) throw new DomainError('not_found', 'This person does not belong to the client.');
	if (to.notAsked) throw new DomainError('invalid', `${notAskedWords(to.notAsked, to)}.`);
	await tx.rows('update item set contact_id = $2, own = true, version = version + 1 where id = $1', [item.id, to.id]);
	// what the one was still to be told of is told to the other
	await tx.rows(
		`insert into request_announcement (firm_id, request_id, contact_id) select firm_id, request_id, $3 from request_announcement
		where request_id = $1 and contact_id = $2 and told_at is null on conflict do nothing`,
		[item.request_id, item.contact_id, to.id]
	);
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
