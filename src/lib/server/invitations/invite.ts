import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { nextInvitationChase } from '$lib/core/invitations/invitation-chasing';
import { invitationExpiry } from '$lib/core/invitations/invitation-states';
import { TEXT_MESSAGE_MAX } from '$lib/core/messages/text-message';
import { mayText, type Reachable } from '$lib/core/messages/ways';
import { longText, oneLine, optionalText } from '$lib/core/people/plain-fields';
import { requireStaff, type Actor, type Staff } from '../actor';
import { recordEvent } from '../audit/record-event';
import { requireActiveClient } from '../clients/client-record';
import { loadFirm } from '../firms/firm';
import { invitationLink } from '../messages/links';
import type { MessageContent } from '../outbox/message-content';
import { planMessage } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';
import { newToken } from '../platform/tokens';
import { fillInvitation } from './invitation-words';

/** The words of a text message, or nothing for none. */
export const textMessageBodySchema = optionalText('the words of the text message', TEXT_MESSAGE_MAX).optional();

export const inviteSchema = z.object({
	/** whoever is ticked, each with a message of their own */
	contactIds: z.array(z.uuid()).min(1, 'Tick at least one person.').max(50),
	clientId: z.uuid(),
	subject: oneLine('a subject', 160),
	body: longText('the words of the message', 4000),
	idempotencyKey: z.uuid(),
	/** also by text, to those whose number is known; with these words */
	textBody: textMessageBodySchema
});

export interface InvitedContact {
	id: string;
	name: string;
	email: string | null;
	has_access: boolean;
	mail_problem: string | null;
	phone: string | null;
	locale: string;
	textProblem: Reachable['textProblem'];
}

export async function contactToInvite(tx: Tx, contactId: string, clientId: string): Promise<InvitedContact & { email: string }> {
	const contact = await tx.first<InvitedContact>(
		`select c.id, c.name, c.email::text, c.password_hash is not null has_access, c.mail_problem, c.phone, c.locale, c.text_problem as "textProblem"
		from contact c join client_contact cc on cc.contact_id = c.id and cc.client_id = $2 where c.id = $1 for update of c`,
		[contactId, clientId]
	);
	if (!contact) throw new DomainError('not_found', 'This contact does not belong to the client.');
	await requireActiveClient(tx, clientId);
	if (contact.has_access) throw new DomainError('changed_meanwhile', `${contact.name} has access already. Nothing was sent.`);
	if (!contact.email) throw new DomainError('invalid', `${contact.name} has no e-mail address yet. Add one first.`);
	if (contact.mail_problem === 'bounced') throw new DomainError('invalid', `Mail to ${contact.email} came back. Put the address right first.`);
	return { ...contact, email: contact.email };
}

/** Begins an invitation whose link goes out with a message, or is handed over without one; an earlier one stops working. */
export async function beginInvitation(
	tx: Tx,
	actor: Staff,
	contact: { id: string },
	clientId: string,
	plan: ((invitationId: string) => Promise<{ id: string } | null>) | null
): Promise<{ id: string; again: boolean } | null> {
	const invitationId = randomUUID();
	const message = plan && (await plan(invitationId));
	if (plan && !message) return null;
	const expiresAt = invitationExpiry(actor.now);
	const { calendar, invitationSteps } = await loadFirm(tx);
	const chase = nextInvitationChase({ sentAt: actor.now, expiresAt, chased: 0 }, calendar, invitationSteps);
	const replaced = await tx.rows(`update invitation set replaced_at = $2 where contact_id = $1 and waits returning id`, [contact.id, actor.now]);
	await tx.rows(
		`insert into invitation (id, firm_id, contact_id, client_id, message_id, token_hash, sent_by_id, sent_at, expires_at, next_chase_on) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
		[invitationId, tx.firmId, contact.id, clientId, message?.id ?? null, newToken().hash, actor.id, actor.now, expiresAt, chase?.on ?? null]
	);
	return { id: invitationId, again: replaced.length > 0 };
}

/**
 * Invites people of a client, or invites them again. The same once-key sends once.
 * @throws DomainError not_found, changed_meanwhile if they have access already
 */
export async function inviteContacts(tx: Tx, actor: Actor, input: z.infer<typeof inviteSchema>): Promise<void> {
	requireStaff(actor, 'invite');
	for (const contactId of [...new Set(input.contactIds)].sort()) await inviteOne(tx, actor, contactId, input);
}

async function inviteOne(tx: Tx, actor: Staff, contactId: string, input: z.infer<typeof inviteSchema>): Promise<void> {
	const idempotencyKey = `invitation ${input.idempotencyKey} ${contactId}`;
	if (await tx.first('select id from message where idempotency_key = $1', [idempotencyKey])) return;
	const contact = await contactToInvite(tx, contactId, input.clientId);
	const { words, clientName } = await fillInvitation(tx, actor, contact, input);
	const content: MessageContent = { subject: words.subject, body: words.body, signedBy: actor.name, clientName };
	const begun = await beginInvitation(tx, actor, contact, input.clientId, (invitationId) =>
		planMessage(tx, actor, {
			kind: 'invitation',
			idempotencyKey,
			to: { address: contact.email, contactId: contact.id },
			clientId: input.clientId,
			content: { ...content, invitationId }
		})
	);
	if (begun && words.textBody && mayText(contact))
		await planMessage(tx, actor, {
			kind: 'invitation',
			channel: 'text',
			idempotencyKey: `${idempotencyKey} text`,
			to: { address: contact.phone!, contactId: contact.id },
			clientId: input.clientId,
			content: { body: words.textBody, clientName, invitationId: begun.id }
		});
	if (begun)
		await recordEvent(tx, actor, {
			verb: begun.again ? 'invitation_sent_again' : 'invitation_sent',
			clientId: input.clientId,
			contactId: contact.id,
			details: { contact: contact.name, email: contact.email }
		});
}

/**
 * The link of a contact's invitation, for handing over in another way than by mail. One that waits is used as it is;
 * without one, one is begun.
 */
export async function linkForContact(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; contactId: string },
	place: { origin: string; secretKey: string }
): Promise<string> {
	requireStaff(actor, 'invite');
	const contact = await contactToInvite(tx, input.contactId, input.clientId);
	const waiting = await tx.first<{ id: string }>(`select id from invitation where contact_id = $1 and waits and expires_at > $2`, [
		contact.id,
		actor.now
	]);
	const { id } = waiting ?? (await beginInvitation(tx, actor, contact, input.clientId, null))!;
	await recordEvent(tx, actor, {
		verb: 'invitation_link_copied',
		clientId: input.clientId,
		contactId: contact.id,
		details: { contact: contact.name }
	});
	return invitationLink(tx, id, `${place.origin}/portal/${(await loadFirm(tx)).slug}`, place.secretKey);
}

/** Withdraws an invitation that has not been taken up; its link then says so. */
export async function withdrawInvitation(tx: Tx, actor: Actor, invitationId: string): Promise<void> {
	requireStaff(actor, 'invite');
	const row = await tx.first<{ contact_id: string; client_id: string; name: string }>(
		`update invitation i set withdrawn_at = $2 from contact c where c.id = i.contact_id and i.id = $1 and i.taken_up_at is null and i.withdrawn_at is null
		returning i.contact_id, i.client_id, c.name`,
		[invitationId, actor.now]
	);
	if (!row) throw new DomainError('changed_meanwhile', 'This invitation was taken up or withdrawn in the meantime.');
	await recordEvent(tx, actor, { verb: 'invitation_withdrawn', contactId: row.contact_id, clientId: row.client_id, details: { contact: row.name } });
}

/** Takes an invitation out of Rounds until it is sent again. */
export async function putInvitationAside(tx: Tx, actor: Actor, invitationId: string): Promise<void> {
	requireStaff(actor, 'invite');
	const row = await tx.first<{ contact_id: string; client_id: string; name: string }>(
		`update invitation i set put_aside_at = $2 from contact c where c.id = i.contact_id and i.id = $1 and i.put_aside_at is null returning i.contact_id, i.client_id, c.name`,
		[invitationId, actor.now]
	);
	if (!row) throw new DomainError('changed_meanwhile', 'This invitation was put aside already, or is none of yours.');
	await recordEvent(tx, actor, {
		verb: 'invitation_put_aside',
		contactId: row.contact_id,
		clientId: row.client_id,
		details: { contact: row.name }
	});
}
