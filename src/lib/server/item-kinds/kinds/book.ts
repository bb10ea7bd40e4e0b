import { z } from 'zod';
import { compareInstants } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { timeWords } from '$lib/words/dates';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../../actor';
import { loadFirm } from '../../firms/firm';
import type { Tx } from '../../platform/db/database';
import { moveItem } from '../../items/change-item';
import type { ServerItemKind } from '../item-kind';
import { lockOwnItem, requireKind } from '../../items/own-item';

/** Chooses one of the times that are offered, or says that one was booked on the linked page. */
export async function bookItem(tx: Tx, actor: Actor, input: { itemId: string; time: string | null }): Promise<void> {
	const item = requireKind(await lockOwnItem(tx, actor, input.itemId), 'book');
	const { spec } = item;
	const firm = await loadFirm(tx);
	if (input.time === null) {
		if (!spec.link) throw new DomainError('invalid', saying('wrong.book.choose'));
		return moveItem(tx, actor, firm, item, 'hand_in', { answer: 'booked on the page' });
	}
	if (!spec.times.includes(input.time)) throw new DomainError('invalid', saying('wrong.book.choose'));
	if (compareInstants(input.time, actor.now) <= 0) throw new DomainError('invalid', saying('wrong.book.past'));
	// the same time may be offered to several: whoever comes first has it
	const taken = await tx.first<{ taken: boolean }>('select is_time_taken($1, $2) taken', [item.id, input.time]);
	if (taken?.taken) throw new DomainError('changed_meanwhile', saying('wrong.book.taken'));
	await moveItem(tx, actor, firm, item, 'hand_in', {
		answer: timeWords(firm.locale, input.time, firm.calendar.timeZone),
		data: { time: input.time }
	});
}

const timeForm = z.iso.datetime().nullable().catch(null);

export const book: ServerItemKind<'book'> = {
	handIn: (tx, actor, itemId, { time }) => bookItem(tx, actor, { itemId, time: timeForm.parse(time ?? null) })
};
