import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { addBusinessDays, localDate } from '$lib/core/calendar/firm-calendar';
import { nextStep } from '$lib/core/chasing/chase-plan';
import { mergeFieldWords, mergeFieldsInText, fillText, unfilledFields } from '$lib/core/letters/merge-fields';
import type { NewRequest } from '$lib/core/requests/request-form';
import { announcedBy, type Channels, type Reachable } from '$lib/core/messages/ways';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { requireActiveClient } from '../clients/client-record';
import { asSeenBy } from '../firms/brands';
import { readPicture } from '../firms/pictures';
import { loadFirm, type Firm } from '../firms/firm';
import { beginInvitation } from '../invitations/invite';
import { automaticValues, prepareLetter, type LetterParties, type PreparedLetter } from '../letters/prepare-letter';
import { planMessages } from '../messages/plan-message';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';

interface Recipient extends LetterParties {
	hasAccess: boolean;
	mailProblem: Reachable['mailProblem'];
	phone: string | null;
	channels: Channels;
	textProblem: Reachable['textProblem'];
}

/** Who gets a request, with everything that merge fields need. @throws DomainError not_found */
export async function readRecipient(tx: Tx, clientId: string, contactId: string): Promise<Recipient> {
	const row = await tx.first<Recipient>(
		`select cl.name as "clientName", c.name as "contactName", c.email::text as "contactEmail", c.locale, s.name as "responsibleName",
			c.password_hash is not null as "hasAccess", c.mail_problem as "mailProblem", c.phone, c.channels, c.text_problem as "textProblem"
		from client_contact cc join client cl on cl.id = cc.client_id join contact c on c.id = cc.contact_id join staff s on s.id = cl.responsible_id
		where cc.client_id = $1 and cc.contact_id = $2`,
		[clientId, contactId]
	);
	if (!row) throw new DomainError('not_found', 'This contact does not belong to the client.');
	return row;
}

/**
 * Sends a request: renders its letters, then writes everything and plans the message in one transaction.
 * The same once-key sends once, however often it is clicked.
 * @returns the request's id
 * @throws DomainError invalid, unfilled_fields, not_found
 */
export async function sendRequest(
	place: { db: Database; pdf: PdfWork; papers: PaperStore },
	firmId: string,
	actor: Actor,
	input: NewRequest
): Promise<string> {
	requireStaff(actor, 'send_request');
	const known = await place.db.inFirm(firmId, async (tx) => {
		const sent = await tx.first<{ id: string }>('select id from request where firm_id = $1 and once_key = $2', [firmId, input.onceKey]);
		const firm = await asSeenBy(tx, await loadFirm(tx), { clientId: input.clientId });
		const recipient = await readRecipient(tx, input.clientId, input.contactId);
		if (!sent) await requireActiveClient(tx, input.clientId);
		return { sent: sent?.id, firm, recipient, logo: await readPicture(tx, firm.logoVersion) };
	});
	if (known.sent) return known.sent;
	const { firm, recipient, logo } = known;
	const today = localDate(actor.now, firm.calendar);
	const past = input.lines.findIndex((line) => line.dueOn < today);
	if (past >= 0)
		throw new DomainError('invalid', `“${input.lines[past].title}” would be due in the past. Choose a later date.`, {
			[`lines.${past}.dueOn`]: 'Choose a date from today on.'
		});
	if (recipient.mailProblem === 'no_address')
		throw new DomainError('invalid', `${recipient.contactName} has no e-mail address yet. Add one first; what you wrote here stays.`);
	if (recipient.mailProblem === 'bounced')
		throw new DomainError('invalid', `Mail to ${recipient.contactEmail} came back. Put the address right first; what you wrote here stays.`);

	const values = automaticValues(firm, recipient, actor.now);
	const unfilled = unfilledFields([...mergeFieldsInText(input.title), ...mergeFieldsInText(input.message)], values);
	if (unfilled.length > 0)
		throw new DomainError(
			'unfilled_fields',
			`The message cannot go yet. There is nothing to put in for: ${unfilled.map(mergeFieldWords).join(', ')}.`
		);

	const letters = new Map<number, PreparedLetter>();
	try {
		for (const [index, line] of input.lines.entries())
			if (line.kind === 'letter')
				letters.set(
					index,
					await prepareLetter(place, firm, recipient, logo && `data:image/png;base64,${logo.bytes.toString('base64')}`, line, actor.now)
				);
		return await place.db.inFirm(firmId, (tx) =>
			writeRequest(tx, actor, firm, recipient, { ...input, title: fillText(input.title, values), message: fillText(input.message, values) }, letters)
		);
	} catch (error) {
		for (const letter of letters.values()) await place.papers.remove(letter.storageKey);
		if ((error as { constraint?: string }).constraint === 'request_firm_id_once_key_key')
			return place.db.inFirm(
				firmId,
				async (tx) => (await tx.first<{ id: string }>('select id from request where once_key = $1', [input.onceKey]))!.id
			);
		throw error;
	}
}

async function writeRequest(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	recipient: Recipient,
	input: NewRequest,
	letters: Map<number, PreparedLetter>
): Promise<string> {
	requireStaff(actor, 'send_request');
	const today = localDate(actor.now, firm.calendar);
	const contact = await tx.first<{ id: string; has_access: boolean; open_invitation: string | null }>(
		`select c.id, c.password_hash is not null has_access,
			(select id from invitation where contact_id = c.id and taken_up_at is null and withdrawn_at is null and replaced_at is null and expires_at > $2 limit 1) open_invitation
		from contact c where c.id = $1 for update`,
		[input.contactId, actor.now]
	);
	const requestId = randomUUID();
	await tx.rows(
		'insert into request (id, firm_id, client_id, contact_id, title, once_key, created_by, sent_at) values ($1, $2, $3, $4, $5, $6, $7, $8)',
		[requestId, tx.firmId, input.clientId, input.contactId, input.title, input.onceKey, actor.id, actor.now]
	);
	const items = input.lines.map((line, position) => ({
		id: randomUUID(),
		position,
		kind: line.kind,
		title: line.title,
		why: line.why,
		required: line.required,
		due_on: line.dueOn,
		next_chase_on: nextStep({ dueOn: line.dueOn, chasedThrough: today }, firm.chasePlan, firm.calendar)?.on ?? null
	}));
	await tx.rows(
		`insert into item (id, firm_id, client_id, request_id, contact_id, position, kind, title, why, required, due_on, state, state_at, chased_through, next_chase_on)
		select i.id, $1, $2, $3, $4, i.position, i.kind, i.title, i.why, i.required, i.due_on, 'asked', $5, $6, i.next_chase_on
		from jsonb_to_recordset($7) as i (id uuid, position int, kind text, title text, why text, required boolean, due_on date, next_chase_on date)`,
		[tx.firmId, input.clientId, requestId, input.contactId, actor.now, today, JSON.stringify(items)]
	);
	for (const [index, letter] of letters)
		await tx.rows(
			`insert into letter (id, firm_id, client_id, item_id, document, state, storage_key, sha256, pages, signature_page, signature_top)
			values ($1, $2, $3, $4, $5, 'sent', $6, $7, $8, $9, $10)`,
			[
				randomUUID(),
				tx.firmId,
				input.clientId,
				items[index].id,
				JSON.stringify(letter.document),
				letter.storageKey,
				letter.sha256,
				letter.pages,
				letter.signaturePage,
				letter.signatureTop
			]
		);

	const plan = async (invitationId?: string) => {
		const planned = await planMessages(
			tx,
			actor,
			announcedBy(recipient).map((channel) => ({
				kind: 'request',
				channel,
				uniqueKey: `request ${requestId}${channel === 'text' ? ' text' : ''}`,
				to: { address: channel === 'text' ? recipient.phone! : recipient.contactEmail, contactId: input.contactId },
				clientId: input.clientId,
				requestId,
				content: {
					subject: input.title,
					body: input.message,
					signedBy: actor.name,
					clientName: recipient.clientName,
					...(invitationId ? { invitationId } : {})
				},
				items: items.map((i) => ({ itemId: i.id, step: null }))
			}))
		);
		return planned[0];
	};
	if (contact && !contact.has_access && input.withInvitation) {
		const begun = await beginInvitation(tx, actor, contact, input.clientId, plan);
		await recordEvent(tx, actor, {
			verb: begun?.again ? 'invitation_sent_again' : 'invitation_sent',
			clientId: input.clientId,
			contactId: input.contactId,
			details: { contact: recipient.contactName, email: recipient.contactEmail }
		});
	} else {
		if (contact && !contact.has_access && !contact.open_invitation)
			throw new DomainError(
				'invalid',
				`${recipient.contactName} has no access yet. Send the invitation along with this request, or invite them first.`,
				{ withInvitation: 'Needed: there is no other way in.' }
			);
		await plan();
	}
	await recordEvent(tx, actor, {
		verb: 'request_sent',
		clientId: input.clientId,
		contactId: input.contactId,
		requestId,
		details: { title: input.title, count: items.length, contact: recipient.contactName }
	});
	return requestId;
}

/** The due date that lies some business days after today, for lines of a ready-made list. */
export function dueAfterBusinessDays(firm: Pick<Firm, 'calendar'>, now: string, days: number): string {
	return addBusinessDays(localDate(now, firm.calendar), days, firm.calendar);
}
