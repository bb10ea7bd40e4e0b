import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../../actor';
import { loadFirm } from '../../firms/firm';
import type { Tx } from '../../platform/db/database';
import { moveItem } from '../../items/change-item';
import type { ServerItemKind } from '../item-kind';
import { lockOwnItem } from '../../items/own-item';

const SAID = { read: 'read', do: 'done' } as const;

/** Confirms that something was read, or is done. */
export async function confirmItem(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const item = await lockOwnItem(tx, actor, itemId);
	if (item.kind !== 'read' && item.kind !== 'do') throw new DomainError('invalid', saying('wrong.item.otherKind'));
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', { answer: SAID[item.kind] });
}

/** What is confirmed with one press: that it was read, or is done. */
const confirmed = <Kind extends keyof typeof SAID>(kind: Kind): ServerItemKind<Kind> => ({
	handIn: (tx, actor, itemId) => confirmItem(tx, actor, itemId),
	fillIn: async () => ({ answer: SAID[kind] })
});
export const read = confirmed('read');
export const toDo = confirmed('do');
