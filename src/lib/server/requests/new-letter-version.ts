import { randomUUID } from 'node:crypto';
import { addBusinessDays, localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import type { LetterDocument } from '$lib/core/letters/letter-document';
import { draftContentSchema, newLine } from '$lib/core/requests/request-list';
import { LETTER_STOPPED, type LetterState } from '$lib/core/signing/letter-states';
import { requireStaff, type Actor } from '../actor';
import { saveDraft } from '../drafts/drafts';
import { loadFirm } from '../firms/firm';
import { withSpec } from '../items/change-item';
import type { ItemSpec } from '$lib/core/items/item-kinds';
import type { Tx } from '../platform/db/database';

/** Business days in which a new version is due. */
const DUE_DAYS = 5;

/**
 * Begins a draft with the letter as it was, to be changed and sent as its new version.
 * @returns the draft's id, and the client's
 * @throws DomainError not_found; changed_meanwhile if it can still be signed, is signed, or has a new version already
 */
export async function draftNewVersion(tx: Tx, actor: Actor, itemId: string): Promise<{ draftId: string; clientId: string }> {
	requireStaff(actor, 'send_request');
	const letter = await tx.first<{
		id: string;
		state: LetterState;
		client_id: string;
		document: LetterDocument;
		kind: 'letter';
		title: string;
		why: string | null;
		heading: string;
		spec: ItemSpec<'letter'>;
		attachments: string[];
		contact_id: string;
		replaced: boolean;
	}>(
		`select l.id, l.state, l.client_id, l.document, i.kind, i.title, i.why, i.heading, i.spec, i.attachments, i.contact_id,
			exists (select from letter n where n.replaces_id = l.id) replaced
		from letter_signer s join letter l on l.id = s.letter_id join item i on i.id = l.item_id where s.item_id = $1`,
		[itemId]
	);
	if (!letter) throw new DomainError('not_found', 'This letter is not there.');
	if (letter.replaced) throw new DomainError('changed_meanwhile', `A new version of “${letter.title}” was sent already.`);
	if (!LETTER_STOPPED.includes(letter.state))
		throw new DomainError('changed_meanwhile', `“${letter.title}” can still be signed, or is signed. Withdraw it first if it is not to be.`);
	const { calendar } = await loadFirm(tx);
	const { spec } = withSpec(letter);
	const draftId = randomUUID();
	const line = newLine({
		key: randomUUID(),
		kind: 'letter',
		title: letter.title,
		heading: letter.heading,
		why: letter.why ?? '',
		attachments: letter.attachments,
		due: { from: 'asked', offset: DUE_DAYS, unit: 'business_days', roll: 'none' },
		dueOn: addBusinessDays(localDate(actor.now, calendar), DUE_DAYS, calendar),
		document: letter.document,
		spec: { ...spec, replaces: letter.id }
	});
	const content = draftContentSchema.parse({ contactId: letter.contact_id, title: `${letter.title}, new version`, lines: [line] });
	await saveDraft(tx, actor, { id: draftId, version: null, clientId: letter.client_id, list: null, content });
	return { draftId, clientId: letter.client_id };
}
