import { z } from 'zod';
import { localDate, type FirmCalendar } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { draftsActInWords, DRAFT_STANDS, type DraftOutcome } from '$lib/core/requests/many-acts';
import { fillText } from '$lib/core/letters/merge-fields';
import { asRequestLine, newRequestSchema, type LineInHand, type NewRequest } from '$lib/core/requests/request-list';
import { dueDate, dueRuleSchema } from '$lib/core/schedules/due-rule';
import { dateWords } from '$lib/words/dates';
import { issueInWords } from '$lib/words/sayings';
import { say } from '$lib/words/words';
import { requireStaff, type Actor } from '../actor';
import { loadFirm, type Firm } from '../firms/firm';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import type { Foreseen } from './act-on-many';
import type { DraftResult } from './many-drafts';
import { recordValues } from '../letters/record-values';
import { dropSentDraft, GONE_DRAFT, readDraft, readDraftNames, type Draft } from '../drafts/drafts';
import { announceTogether } from '../announcements/announce-requests';
import { readUnsendable } from './undo-sending';
import { requireReady } from './ready-to-send';
import { sendRequest, type RequestOrigin } from './send-request';

/** When a line of a draft is due if it is sent on a day: by its rule if it follows one, or if its own day has passed. */
export function dueIfSentOn(line: Pick<LineInHand, 'due' | 'dueOn' | 'dueBy'>, day: string, calendar: FirmCalendar): string {
	const rule = dueRuleSchema.safeParse(line.due);
	if (!rule.success || (line.dueBy !== 'rule' && line.dueOn >= day)) return line.dueOn;
	return dueDate(rule.data, { askedOn: day, periodEnd: null }, calendar);
}

/**
 * The request that a draft becomes when it is sent now. Lines that are due by a rule, and those whose day has passed while it waited,
 * are due by their rule from today on. The draft's own id makes sure that it goes once.
 * @throws DomainError or through Zod, what stands in the way
 */
export async function requestOfDraft(tx: Tx, actor: Actor, firm: Firm, draftId: string): Promise<{ draft: Draft; input: NewRequest }> {
	const draft = await readDraft(tx, actor, draftId);
	const { content } = draft;
	if (!content.contactId) throw new DomainError('invalid', `Nobody is chosen to get “${draft.title}” for ${draft.clientName}. Open it and choose.`);
	const contact = await tx.first<{ locale: string }>('select locale from contact where id = $1', [content.contactId]);
	const today = localDate(actor.now, firm.calendar);
	// what nobody wrote for this copy is as the record has it; what was written stands also in the words around the letters
	const going = (content.lines as unknown as LineInHand[]).filter((line) => !line.out);
	const known = going.some(({ kind }) => kind === 'letter')
		? await recordValues(tx, actor, draft.clientId, contact?.locale ?? firm.clientLanguage)
		: {};
	const values = { ...known, ...content.values };
	const lines = going.map((line) =>
		asRequestLine({ ...line, title: fillText(line.title, content.values), dueOn: dueIfSentOn(line, today, firm.calendar) }, values)
	);
	const input = newRequestSchema.parse({
		...content,
		title: fillText(content.title, content.values),
		message: fillText(content.message.trim(), content.values) || say(contact?.locale ?? 'en', 'mail.request.body', { client: draft.clientName }),
		clientId: draft.clientId,
		lines,
		idempotencyKey: draft.id,
		list: draft.listId && draft.listVersion ? { id: draft.listId, version: draft.listVersion } : null
	});
	return { draft, input };
}

/**
 * Sends a draft as it is kept.
 * @param how.done in the transaction that sends it
 * @returns the request's id
 * @throws DomainError or through Zod, what stands in the way
 */
export async function sendDraft(
	place: { db: Database; pdf: PdfWork; papers: PaperStore },
	firmId: string,
	actor: Actor,
	draftId: string,
	how: { tell?: RequestOrigin['tell']; done?: (tx: Tx, requestId: string, draft: Draft) => Promise<void> } = {}
): Promise<string> {
	requireStaff(actor, 'send_request');
	const { draft, input } = await place.db.inFirm(firmId, async (tx) => requestOfDraft(tx, actor, await loadFirm(tx), draftId));
	return sendRequest(place, firmId, actor, input, {
		tell: how.tell,
		lettersFirst: draft.content.lettersFirst ? draft.content : undefined,
		done: async (tx, requestId) => {
			await dropSentDraft(tx, actor, draft.id);
			await how.done?.(tx, requestId, draft);
		}
	});
}

/** What stands in the way of a draft, in words. Anything but a refusal is thrown on. */
export function refusalOf(cause: unknown): string {
	if (cause instanceof DomainError) return cause.message;
	if (cause instanceof z.ZodError) return issueInWords('en', cause.issues[0]);
	throw cause;
}

/**
 * Sends many drafts one after another; what cannot go stays and says why. Whoever gets several of them is told of all in one message.
 * @param perSecond how many may leave in a second; 0 for no limit
 */
export async function sendDrafts(
	place: { db: Database; pdf: PdfWork; papers: PaperStore },
	firmId: string,
	actor: Actor,
	ids: readonly string[],
	perSecond = 0
): Promise<DraftResult[]> {
	requireStaff(actor, 'send_request');
	const { named, several } = await place.db.inFirm(firmId, async (tx) => ({
		named: await readDraftNames(tx, ids),
		several: await readToldTogether(tx, ids)
	}));
	const results: DraftResult[] = [];
	for (const id of ids) {
		const name = named.get(id) ?? GONE_DRAFT;
		try {
			await sendDraft(place, firmId, actor, id, { tell: several.has(id) ? 'together' : 'now' });
			results.push({ id, ...name, problem: null, undo: null });
			if (perSecond > 0) await new Promise((resolve) => setTimeout(resolve, 1000 / perSecond));
		} catch (cause) {
			results.push({ id, ...name, problem: refusalOf(cause), undo: null });
		}
	}
	await announceTogether(place.db, firmId, [...new Set(several.values())], actor.now);
	const sent = results.filter((one) => !one.problem).map((one) => one.id);
	const unsendable = await place.db.inFirm(firmId, (tx) => readUnsendable(tx, sent));
	return results.map((one) => (unsendable.has(one.id) ? { ...one, undo: { id: one.id, version: 0 } } : one));
}

/** Drafts whose people have a way in and get another one of these too. @returns the contact by draft */
async function readToldTogether(tx: Tx, ids: readonly string[]): Promise<Map<string, string>> {
	const rows = await tx.rows<{ id: string; contactId: string }>(
		`select id, "contactId" from (
			select d.id, c.id as "contactId", count(*) over (partition by c.id) n from request_draft d join contact c on c.id = (d.content ->> 'contactId')::uuid
			where d.id = any ($1) and d.removed_at is null and c.password_hash is not null and not coalesce((d.content ->> 'quiet')::boolean, false)
				and not coalesce((d.content ->> 'tellNow')::boolean, false)
		) drafts where n > 1`,
		[ids]
	);
	return new Map(rows.map((row) => [row.id, row.contactId]));
}

/** What sending drafts would do, and what stands in the way of which. */
export async function foreseeSending(tx: Tx, actor: Actor, ids: readonly string[]): Promise<Foreseen> {
	requireStaff(actor, 'send_request');
	const firm = await loadFirm(tx);
	const today = localDate(actor.now, firm.calendar);
	const named = await readDraftNames(tx, ids);
	const foreseen: Foreseen = { items: [], words: [], stays: [] };
	const outcomes: DraftOutcome[] = [];
	for (const id of ids) {
		try {
			const { draft, input } = await requestOfDraft(tx, actor, firm, id);
			if (draft.stands) throw new DomainError('invalid', DRAFT_STANDS[draft.stands]);
			await requireReady(tx, actor, firm, input);
			foreseen.items.push({ id, version: draft.version });
			outcomes.push({
				contactName: draft.contactName,
				lines: input.lines.length,
				quiet: input.quiet,
				invited: input.withInvitation && !draft.hasAccess,
				later: !input.tellNow && draft.lastToldOn === today,
				problem: null
			});
		} catch (cause) {
			foreseen.stays.push({ ...(named.get(id) ?? GONE_DRAFT), problem: refusalOf(cause) });
		}
	}
	foreseen.words = draftsActInWords('send', outcomes, { dueOn: null, planName: null }, (date) => dateWords(firm.locale, date));
	return foreseen;
}
