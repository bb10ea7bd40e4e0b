import { DomainError } from '$lib/core/errors/domain-error';
import type { ItemKind } from '$lib/core/items/item-kinds';
import { saying } from '$lib/words/sayings';
import { requireContact, type Actor } from '../actor';
import { loadFirm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { lockItem, moveItem, type LockedItem, type LockedOf } from './change-item';

/**
 * Whether an item `i` is there for somebody of its client: a letter that others alone sign, such as whoever was put in their place, is not.
 * @param contact the parameter with whoever reads
 */
export const IS_THEIRS_TO_READ = (contact: '$2') => `(i.kind <> 'letter' or not i.own or i.contact_id = ${contact} or exists (
	select from letter_signer s join letter_signer o on o.letter_id = s.letter_id where s.item_id = i.id and o.contact_id = ${contact}))`;

/** Locks an item that is asked of this contact, to note that they look at it. Another client's item does not exist for them. */
export async function lockOwnItemToRead(tx: Tx, actor: Actor, itemId: string): Promise<LockedItem> {
	requireContact(actor);
	return lockItem(tx, itemId);
}

/** The same for doing something with it. @throws DomainError changed_meanwhile if the firm does not work for the client just now */
export async function lockOwnItem(tx: Tx, actor: Actor, itemId: string): Promise<LockedItem> {
	const item = await lockOwnItemToRead(tx, actor, itemId);
	const client = await tx.first<{ name: string; state: string }>('select name, state from client where id = $1', [item.client_id]);
	requireWorkedFor(client);
	return item;
}

/** @throws DomainError changed_meanwhile if the firm does not work for the client just now */
export function requireWorkedFor(client: { name: string; state: string } | null): void {
	if (client?.state !== 'active') throw new DomainError('changed_meanwhile', saying('wrong.client.closed', { client: client?.name ?? '' }));
}

/** Notes that the contact has begun, if nothing was begun before. */
export async function startItem(tx: Tx, actor: Actor, item: LockedItem): Promise<void> {
	if (item.state === 'asked' || item.state === 'seen') await moveItem(tx, actor, await loadFirm(tx), item, 'start');
}

/** The same item as one of a kind. @throws DomainError invalid, if it is of another kind */
export function requireKind<Kind extends ItemKind>(item: LockedItem, kind: Kind): LockedOf<Kind> {
	if (item.kind !== kind) throw new DomainError('invalid', saying('wrong.item.otherKind'));
	return item as LockedOf<Kind>;
}
