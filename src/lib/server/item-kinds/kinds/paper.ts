import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../../actor';
import { loadFirm } from '../../firms/firm';
import type { Tx } from '../../platform/db/database';
import { moveItem } from '../../items/change-item';
import type { ServerItemKind } from '../item-kind';
import { lockOwnItem, requireKind } from '../../items/own-item';

/**
 * Hands in the papers that were added.
 * @param input.without the client knows that files which are asked for by name are missing
 * @throws DomainError invalid, naming the files that are missing
 */
export async function handInPapers(tx: Tx, actor: Actor, input: { itemId: string; without: boolean }): Promise<void> {
	const item = requireKind(await lockOwnItem(tx, actor, input.itemId), 'paper');
	const { slots } = (await tx.first<{ slots: (string | null)[] }>(
		'select array(select slot from paper where item_id = $1 and removed_at is null) slots',
		[item.id]
	))!;
	if (slots.length === 0) throw new DomainError('invalid', saying('wrong.item.noFile'));
	const missing = item.spec.slots.filter((slot) => !slots.includes(slot.name));
	if (missing.length > 0 && !input.without) {
		const words = saying('wrong.item.slotsOpen', { names: missing.map((slot) => slot.name).join(', ') });
		throw new DomainError('invalid', words, { without: words });
	}
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in');
}

export const paper: ServerItemKind<'paper'> = {
	handIn: (tx, actor, itemId, { without }) => handInPapers(tx, actor, { itemId, without: without === 'yes' })
};
