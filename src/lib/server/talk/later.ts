import type { IsoDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { dateWords } from '$lib/words/dates';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { OF_PLACE, requirePlaceOfWords, type WordsOf } from './place-of-words';

/**
 * Puts off the answer to what a client wrote, about one thing or about nothing in particular: until that day it does not stand in Rounds,
 * unless they write again. Their reminders are held by what they wrote no longer than otherwise.
 * @throws DomainError not_found, changed_meanwhile where nothing waits for an answer any more
 */
export async function putOffAnswer(tx: Tx, actor: Actor, firm: Pick<Firm, 'locale'>, of: WordsOf, until: IsoDate): Promise<void> {
	requireStaff(actor, 'judge_item');
	const place = await requirePlaceOfWords(tx, of);
	const put = await tx.rows(
		`update remark m set later_until = $4, later_by = $5
		where m.contact_id is not null and m.seen_at is null and ${OF_PLACE} returning m.id`,
		[...place.ids, until, actor.name]
	);
	if (put.length === 0) throw new DomainError('changed_meanwhile', 'Somebody has answered this, or read it, by now.');
	await recordEvent(tx, actor, {
		verb: 'answer_put_off',
		...place.event,
		details: { what: place.what, until: dateWords(firm.locale, until) }
	});
}
