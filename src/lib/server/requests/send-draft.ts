import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { asRequestLine, newRequestSchema, type LineInHand } from '$lib/core/requests/request-list';
import { dueDate, dueRuleSchema } from '$lib/core/schedules/due-rule';
import { say } from '$lib/words/words';
import { requireStaff, type Actor } from '../actor';
import { loadFirm } from '../firms/firm';
import type { Database } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { dropSentDraft, readDraft } from './drafts';
import { sendRequest } from './send-request';

/**
 * Sends a draft as it is kept. Lines whose day has passed while it waited are due anew, by their rule from today on. The draft's own
 * id makes sure that it goes once.
 * @returns the request's id
 * @throws DomainError or through Zod, what stands in the way
 */
export async function sendDraft(
	place: { db: Database; pdf: PdfWork; papers: PaperStore },
	firmId: string,
	actor: Actor,
	draftId: string
): Promise<string> {
	requireStaff(actor, 'send_request');
	const { draft, firm, usualWords } = await place.db.inFirm(firmId, async (tx) => {
		const draft = await readDraft(tx, actor, draftId);
		const contact = await tx.first<{ locale: string }>('select locale from contact where id = $1', [draft.content.contactId]);
		return { draft, firm: await loadFirm(tx), usualWords: say(contact?.locale ?? 'en', 'mail.request.body', { client: draft.clientName }) };
	});
	const { content } = draft;
	if (!content.contactId) throw new DomainError('invalid', `Nobody is chosen to get “${draft.title}” for ${draft.clientName}. Open it and choose.`);
	const today = localDate(actor.now, firm.calendar);
	const lines = (content.lines as unknown as LineInHand[])
		.filter((line) => !line.out)
		.map((line) => {
			const rule = dueRuleSchema.safeParse(line.due);
			const dueOn = line.dueOn >= today || !rule.success ? line.dueOn : dueDate(rule.data, { askedOn: today, periodEnd: null }, firm.calendar);
			return asRequestLine({ ...line, dueOn }, content.values);
		});
	const input = newRequestSchema.parse({
		...content,
		message: content.message.trim() || usualWords,
		clientId: draft.clientId,
		lines,
		onceKey: draft.id,
		list: draft.listId && draft.listVersion ? { id: draft.listId, version: draft.listVersion } : null
	});
	return sendRequest(place, firmId, actor, input, (tx) => dropSentDraft(tx, draft.id));
}
