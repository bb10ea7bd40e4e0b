import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { loadFirm } from '../firms/firm';
import type { TypedForm } from '../item-kinds/item-kind';
import { serverKindOf } from '../item-kinds/item-kinds';
import type { Tx } from '../platform/db/database';
import { lockItem, moveItem, requireUnchanged } from '../items/change-item';

/**
 * Writes down what a client says by phone. It is recorded as filled in by whoever was on the phone; the client's page shows it like their own.
 * @throws DomainError invalid with what is missing; changed_meanwhile if somebody was faster
 */
export async function fillInByPhone(tx: Tx, actor: Actor, input: { itemId: string; version: number; typed: TypedForm }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	const { fillIn } = serverKindOf(item.kind);
	if (!fillIn) throw new DomainError('invalid', 'This cannot be said by phone. Waive it, or ask for it in another way.');
	const contact = await tx.first<{ name: string }>('select name from contact where id = $1', [item.contact_id]);
	const given = await fillIn(tx, actor, item, input.typed);
	await moveItem(tx, actor, await loadFirm(tx), item, 'fill_in', { ...given, details: { contact: contact?.name ?? '' } });
}
