import type { IsoDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { dateWords } from '$lib/words/dates';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Firm } from '../firms/firm';
import { lockItem } from '../items/change-item';
import type { Tx } from '../platform/db/database';
import { requireTalk, type Talk } from './words';

/**
 * Puts off the answer to what a client wrote, about one thing or about nothing in particular: until that day it does not stand in Rounds,
 * unless they write again. Their reminders are held by what they wrote no longer than otherwise.
 * @throws DomainError not_found, changed_meanwhile where nothing waits for an answer any more
 */
export async function putOffAnswer(tx: Tx, actor: Actor, firm: Pick<Firm, 'locale'>, of: { itemId: string } | Talk, until: IsoDate): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = 'itemId' in of ? await lockItem(tx, of.itemId) : null;
	const talk = 'itemId' in of ? null : await requireTalk(tx, of);
	const put = await tx.rows(
		`update remark set later_until = $4, later_by = $5
		where contact_id is not null and seen_at is null and (item_id = $1 or item_id is null and client_id = $2 and with_contact_id = $3) returning id`,
		[item?.id ?? null, talk?.clientId ?? null, talk?.contactId ?? null, until, actor.name]
	);
	if (put.length === 0) throw new DomainError('changed_meanwhile', 'Somebody has answered this, or read it, by now.');
	await recordEvent(tx, actor, {
		verb: 'answer_put_off',
		clientId: item?.client_id ?? talk?.clientId,
		contactId: talk?.contactId,
		requestId: item?.request_id,
		itemId: item?.id,
		details: { what: item ? `“${item.title}”` : talk?.contactName, until: dateWords(firm.locale, until) }
	});
}
