import type { Actor } from '../actor';
import type { Tx } from '../platform/db/database';
import type { TypedForm } from './item-kind';
import { serverKindOf } from './item-kinds';
import { lockOwnItemToRead } from '../items/own-item';

/**
 * Hands in what a client gives for an item, by its kind.
 * @param form as it was sent
 * @param place.secretKey with which secrets are encrypted
 * @throws through Zod, with keys of the catalogue, or as DomainError what is wrong with it
 */
export async function handIn(tx: Tx, actor: Actor, itemId: string, form: TypedForm, place: { secretKey: string }): Promise<void> {
	// its kind is asked here; whether it may be handed in now, by the kind itself
	const { kind } = await lockOwnItemToRead(tx, actor, itemId);
	await serverKindOf(kind).handIn(tx, actor, itemId, form, place);
}
