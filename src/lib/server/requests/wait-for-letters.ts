import { randomUUID } from 'node:crypto';
import { onceSigned } from '$lib/core/requests/after-letters';
import { draftContentSchema, type DraftContent } from '$lib/core/requests/request-list';
import { say } from '$lib/words/words';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { readDraft, saveDraft } from '../drafts/drafts';
import { requireOpenLetters } from '../letters/open-letters';
import type { Tx } from '../platform/db/database';

/** Lets a draft wait for letters. @throws DomainError changed_meanwhile if one of them can be waited for no more */
export async function waitForLetters(tx: Tx, actor: Actor, draftId: string, clientId: string, letterIds: readonly string[]): Promise<void> {
	requireStaff(actor, 'send_request');
	await requireOpenLetters(tx, clientId, letterIds);
	await tx.rows('update request_draft set after_letters = $2, problem = null, waits = run_id is not null, version = version + 1 where id = $1', [
		draftId,
		letterIds
	]);
	const { title, after } = await readDraft(tx, actor, draftId);
	await recordEvent(tx, actor, { verb: 'draft_waits', clientId, details: { title: title || 'Untitled request', when: onceSigned(after) } });
}

/**
 * Keeps what of a request goes only once its letters are signed, as a draft that waits for them.
 * @param requestId the request that the letters went with, in the same transaction
 * @param content the whole of what was written
 */
export async function keepRest(
	tx: Tx,
	actor: Actor,
	of: { requestId: string; clientId: string; list: { id: string; version: number } | null; content: DraftContent }
): Promise<void> {
	requireStaff(actor, 'send_request');
	const letters = await tx.rows<{ id: string; locale: string }>(
		`select l.id, c.locale from item i join letter l on l.item_id = i.id join contact c on c.id = i.contact_id
		where i.request_id = $1 order by i.position, l.id`,
		[of.requestId]
	);
	const lines = of.content.lines.filter((line) => line.kind !== 'letter');
	const content = draftContentSchema.parse({
		...of.content,
		lines,
		lettersFirst: false,
		tellNow: false,
		message: say(letters[0].locale, 'mail.request.afterLetter', { count: letters.length })
	});
	const id = randomUUID();
	await saveDraft(tx, actor, { id, version: null, clientId: of.clientId, list: of.list, content });
	await waitForLetters(
		tx,
		actor,
		id,
		of.clientId,
		letters.map((letter) => letter.id)
	);
}
