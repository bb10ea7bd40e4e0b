import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { optionalText } from '$lib/core/people/plain-fields';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../../actor';
import { loadFirm } from '../../firms/firm';
import type { Tx } from '../../platform/db/database';
import { moveItem } from '../../items/change-item';
import type { ServerItemKind } from '../item-kind';
import { lockOwnItem, requireKind } from '../../items/own-item';

/** Agrees with what was shown, or wants it changed and says how; remarks pinned to its pages count as saying how. */
export async function approveItem(tx: Tx, actor: Actor, input: { itemId: string; agrees: boolean; words: string | null }): Promise<void> {
	const item = requireKind(await lockOwnItem(tx, actor, input.itemId), 'approve');
	if (
		!input.agrees &&
		!input.words &&
		!(await tx.first(
			'select 1 from remark where item_id = $1 and contact_id is not null and (attachment_id is null or attachment_id <> all ($2)) limit 1',
			[item.id, item.spec.earlier]
		))
	)
		throw new DomainError('invalid', saying('wrong.approve.how'), { words: saying('wrong.approve.how') });
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', {
		answer: input.agrees ? 'agrees' : `wants a change${input.words ? `: ${input.words}` : ''}`,
		data: { agrees: input.agrees, words: input.words },
		look: !input.agrees
	});
}

const verdictForm = z.object({
	agrees: z.enum(['yes', 'no']).transform((text) => text === 'yes'),
	words: optionalText('the words', 4000).catch(null)
});

export const approve: ServerItemKind<'approve'> = {
	handIn: (tx, actor, itemId, form) => approveItem(tx, actor, { itemId, ...verdictForm.parse(form) })
};
