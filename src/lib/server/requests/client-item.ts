import { DomainError } from '$lib/core/errors/domain-error';
import { isOpen, OPEN_STATES } from '$lib/core/requests/item-states';
import { saying } from '$lib/words/sayings';
import { requireContact, type Actor } from '../actor';
import { loadFirm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { lockItem, moveItem, type LockedItem } from './change-item';

/** Locks an item that is asked of this contact, to note that they look at it. Another client's item does not exist for them. */
export async function lockOwnItemToRead(tx: Tx, actor: Actor, itemId: string): Promise<LockedItem> {
	requireContact(actor);
	return lockItem(tx, itemId);
}

/** The same for doing something with it. @throws DomainError changed_meanwhile if the firm does not work for the client just now */
export async function lockOwnItem(tx: Tx, actor: Actor, itemId: string): Promise<LockedItem> {
	const item = await lockOwnItemToRead(tx, actor, itemId);
	const client = await tx.first<{ name: string; state: string }>('select name, state from client where id = $1', [item.client_id]);
	if (client?.state !== 'active') throw new DomainError('changed_meanwhile', saying('wrong.client.closed', { client: client?.name ?? '' }));
	return item;
}

/** Notes that the contact has opened an item for the first time. */
export async function seeItem(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const item = await lockOwnItemToRead(tx, actor, itemId);
	if (item.state === 'asked') await moveItem(tx, actor, await loadFirm(tx), item, 'see');
}

/** Notes that the contact has begun, if nothing was begun before. */
export async function startItem(tx: Tx, actor: Actor, item: LockedItem): Promise<void> {
	if (item.state === 'asked' || item.state === 'seen') await moveItem(tx, actor, await loadFirm(tx), item, 'start');
}

/** Hands in an answer in words. */
export async function answerItem(tx: Tx, actor: Actor, input: { itemId: string; answer: string }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	if (item.kind !== 'question') throw new DomainError('invalid', saying('wrong.item.notQuestion'));
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', { answer: input.answer });
}

/** Keeps an answer as it is typed, so that nothing is lost; nobody at the firm is bothered. */
export async function keepDraftAnswer(tx: Tx, actor: Actor, input: { itemId: string; answer: string }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	if (item.kind !== 'question' || !isOpen(item.state)) return;
	await startItem(tx, actor, item);
	await tx.rows('update item set answer = $2 where id = $1', [item.id, input.answer]);
}

/** Hands in the papers that were added. */
export async function handInPapers(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const item = await lockOwnItem(tx, actor, itemId);
	if (item.kind !== 'paper') throw new DomainError('invalid', saying('wrong.item.notPaper'));
	const papers = await tx.first('select 1 from paper where item_id = $1 and removed_at is null limit 1', [itemId]);
	if (!papers) throw new DomainError('invalid', saying('wrong.item.noFile'));
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in');
}

/** Says that an item does not apply, with a reason that the firm reads. */
export async function sayDoesNotApply(tx: Tx, actor: Actor, input: { itemId: string; reason: string }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	if (item.kind === 'letter') throw new DomainError('invalid', saying('wrong.item.signOrDecline'));
	await moveItem(tx, actor, await loadFirm(tx), item, 'say_no', { reason: input.reason });
}

/** The states in which a contact may add or take out papers. */
export function mayChangePapers(item: LockedItem): boolean {
	return item.kind === 'paper' && ((OPEN_STATES as readonly string[]).includes(item.state) || item.state === 'answered_no');
}
