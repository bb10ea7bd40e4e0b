import { addToInstant, compareInstants } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { MAIL_WAITS_SECONDS } from '$lib/core/talk/take-back';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { takeUpReplyHold } from '../chasing/holds';
import { loadFirm } from '../firms/firm';
import { holdReminders } from '../items/remarks';
import type { Tx } from '../platform/db/database';
import { OF_PLACE, requirePlaceOfWords, type WordsOf } from './place-of-words';

/**
 * Takes back what somebody of the firm has just written to a client, themselves: its mail does not go, and what it answered waits again as it
 * did before. The history keeps that there was something.
 * @throws DomainError not_found for what is not theirs, changed_meanwhile where it was read, or is on its way
 */
export async function takeBack(tx: Tx, actor: Actor, of: WordsOf, remarkId: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const place = await requirePlaceOfWords(tx, of);
	const written = await tx.first<{ writtenAt: string; seenAt: string | null }>(
		`select m.written_at "writtenAt", m.seen_at "seenAt" from remark m where m.id = $4 and m.staff_id = $5 and m.attachment_id is null and ${OF_PLACE} for update`,
		[...place.ids, remarkId, actor.id]
	);
	if (!written) throw new DomainError('not_found', 'This was taken back, or is not yours.');
	if (written.seenAt) throw new DomainError('changed_meanwhile', 'They have read it on their page by now. Write to them again instead.');
	const mails = await tx.rows<{ id: string; state: string }>(
		// planned with it, at the same instant: by that they are found
		`select id, state from message where firm_id = $2 and planned_at = $3 and kind = 'remark' and content ->> 'remarkId' = $1 for update`,
		[remarkId, tx.firmId, written.writtenAt]
	);
	const late = compareInstants(actor.now, addToInstant(written.writtenAt, { seconds: MAIL_WAITS_SECONDS })) > 0;
	if (late || mails.some(({ state }) => state !== 'planned'))
		throw new DomainError('changed_meanwhile', 'It has gone by now. Write to them again instead.');
	await tx.rows(`update message set state = 'held_back', reason = 'taken back by whoever wrote it', settled_at = $2 where id = any ($1)`, [
		mails.map(({ id }) => id),
		actor.now
	]);
	await tx.rows('delete from remark where id = $1', [remarkId]);
	// what was read by answering it waits again, and holds what it held
	const again = await tx.rows<{ contactId: string | null }>(
		`update remark m set seen_at = null where m.contact_id is not null and m.seen_at = $4 and ${OF_PLACE} returning m.contact_id "contactId"`,
		[...place.ids, written.writtenAt]
	);
	if (place.event.itemId) await holdReminders(tx, actor, place.event.itemId);
	const firm = await loadFirm(tx);
	for (const contactId of new Set(again.flatMap((one) => one.contactId ?? []))) await takeUpReplyHold(tx, firm, contactId, written.writtenAt);
	await recordEvent(tx, actor, { verb: 'words_taken_back', ...place.event, details: { what: place.what } });
}
