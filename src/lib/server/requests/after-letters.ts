import { onceSigned, stoppedWaiting, type AwaitedLetter } from '$lib/core/requests/after-letters';
import { machine, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { asSender } from './letter-goes-on';
import { requireReady } from './ready-to-send';
import { refusalOf, requestOfDraft, sendDraft } from './send-draft';
import { waitForLetters } from './wait-for-letters';

/**
 * Lets a draft wait for letters: it goes by itself once all have signed them.
 * @throws DomainError what stands in the way of sending it, or changed_meanwhile if a letter can be waited for no more
 */
export async function holdForLetters(tx: Tx, actor: Actor, draftId: string, letterIds: readonly string[]): Promise<void> {
	requireStaff(actor, 'send_request');
	const firm = await loadFirm(tx);
	const { draft, input } = await requestOfDraft(tx, actor, firm, draftId);
	await requireReady(tx, actor, firm, input);
	await waitForLetters(tx, actor, draft.id, draft.clientId, letterIds);
}

/**
 * Sends what waited for letters that all have signed by now, in the name of whoever wrote it; people are told with the next message of
 * the day, within sending hours. What cannot go, or waits for a letter that was stopped, is left to a person in Rounds, with why.
 * @returns how many went
 */
export async function goOnAfterLetters(place: { db: Database; pdf: PdfWork; papers: PaperStore }, firmId: string, now: string): Promise<number> {
	const ready = await place.db.inFirm(firmId, (tx) =>
		tx.rows<{ id: string; clientId: string; byId: string; letters: AwaitedLetter[]; signed: boolean }>(
			`select d.id, d.client_id as "clientId", d.changed_by_id as "byId", awaited_letters(d.after_letters) letters, letters_say(d.after_letters) = 'signed' signed
			from request_draft d join client cl on cl.id = d.client_id and cl.state = 'active'
			where d.firm_id = $1 and d.after_letters <> '{}' and d.removed_at is null and d.problem is null and letters_say(d.after_letters) <> 'open'
			order by d.made_at, d.place`,
			[firmId]
		)
	);
	let went = 0;
	for (const draft of ready) {
		const problem = draft.signed ? await sendOne(place, firmId, draft, now) : (stoppedWaiting(draft.letters) ?? 'Its letter is not there any more.');
		if (problem === null) went++;
		else
			await place.db.inFirm(firmId, (tx) =>
				tx.rows('update request_draft set problem = $2, waits = true, version = version + 1 where id = $1 and removed_at is null', [
					draft.id,
					problem.slice(0, 500)
				])
			);
	}
	return went;
}

/** @returns why it did not go; null if it did */
async function sendOne(
	place: { db: Database; pdf: PdfWork; papers: PaperStore },
	firmId: string,
	draft: { id: string; clientId: string; byId: string; letters: AwaitedLetter[] },
	now: string
): Promise<string | null> {
	const sender = await place.db.inFirm(firmId, (tx) => asSender(tx, draft.clientId, draft.byId, now));
	if (!sender) return 'Nobody of the firm may send requests just now.';
	try {
		await sendDraft(place, firmId, sender, draft.id, {
			tell: 'together',
			done: async (tx, requestId, { title }) =>
				recordEvent(tx, machine(now), {
					verb: 'draft_went',
					clientId: draft.clientId,
					requestId,
					details: { title, when: onceSigned(draft.letters) }
				})
		});
		return null;
	} catch (cause) {
		return refusalOf(cause);
	}
}
