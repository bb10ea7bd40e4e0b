import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { invitationExpiry, invitationStateAt, type InvitationState } from '$lib/core/invitations/invitation-states';
import { nextInvitationChase } from '$lib/core/invitations/invitation-chasing';
import { fillText, firstName, personValues, mergeFieldsInText, mergeFieldWords } from '$lib/core/letters/merge-fields';
import { mayText, type Reachable } from '$lib/core/messages/ways';
import { TEXT_WORDS_MAX } from '$lib/core/messages/text-message';
import { longText, oneLine, optionalText } from '$lib/core/people/plain-fields';
import { saying } from '$lib/words/sayings';
import { requireStaff, type Actor, type Staff } from '../actor';
import { recordEvent } from '../audit/record-event';
import { requireActiveClient } from '../clients/client-record';
import { withBrandOf } from '../firms/brands';
import { loadFirm } from '../firms/firm';
import { planMessage } from '../outbox/plan-message';
import { invitationLink } from '../messages/links';
import type { MessageToWrite } from '../messages/message-kind';
import { writeMail, writeText } from '../messages/write-message';
import type { MessageContent } from '../outbox/message-content';
import type { Database, Tx } from '../platform/db/database';
import { hashPassword } from '../platform/passwords';
import { hashToken, newToken } from '../platform/tokens';
import { readPerson } from '../people/person';
import { passFirstStep, requireGoodPassword, type Browser, type SignInOutcome } from '../people/sign-in';

/** The words of a text message, or nothing for none. */
export const textBodySchema = optionalText('the words of the text message', TEXT_WORDS_MAX).optional();

export const inviteSchema = z.object({
	/** whoever is ticked, each with a message of their own */
	contactIds: z.array(z.uuid()).min(1, 'Tick at least one person.').max(50),
	clientId: z.uuid(),
	subject: oneLine('a subject', 160),
	body: longText('the words of the message', 4000),
	idempotencyKey: z.uuid(),
	/** also by text, to those whose number is known; with these words */
	textBody: textBodySchema
});

interface InvitedContact {
	id: string;
	name: string;
	email: string | null;
	has_access: boolean;
	mail_problem: string | null;
	phone: string | null;
	locale: string;
	textProblem: Reachable['textProblem'];
}

async function contactToInvite(tx: Tx, contactId: string, clientId: string): Promise<InvitedContact & { email: string }> {
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

interface InvitationWords {
	subject: string;
	body: string;
	textBody?: string | null;
}

/** @throws DomainError unfilled_fields naming what cannot be filled for everybody */
export function requireFillable({ subject, body, textBody }: InvitationWords): void {
	const known = Object.keys(personValues({ clientName: '', contactName: '', firmName: '', responsible: '' }));
	const unknown = mergeFieldsInText([subject, body, textBody ?? ''].join('\n')).filter((field) => !known.includes(field));
	if (unknown.length > 0)
		throw new DomainError('unfilled_fields', `Nothing was sent. There is nothing to put in for: ${unknown.map(mergeFieldWords).join(', ')}.`);
}

export function fillInvitationWords<Words extends InvitationWords>(words: Words, values: ReturnType<typeof personValues>): Words {
	return {
		...words,
		subject: fillText(words.subject, values),
		body: fillText(words.body, values),
		textBody: words.textBody && fillText(words.textBody, values)
	};
}

async function fillInvitation(
	tx: Tx,
	actor: Staff,
	contact: InvitedContact,
	input: { clientId: string } & InvitationWords
): Promise<{ words: InvitationWords; clientName: string }> {
	requireFillable(input);
	const client = await tx.first<{ name: string; responsible: string }>(
		'select c.name, s.name responsible from client c join staff s on s.id = c.responsible_id where c.id = $1',
		[input.clientId]
	);
	const { name: firmName } = await withBrandOf(tx, await loadFirm(tx), { clientId: input.clientId });
	const { subject, body, textBody } = input;
	const values = personValues({ clientName: client!.name, contactName: contact.name, firmName, responsible: client!.responsible });
	return { words: fillInvitationWords({ subject, body, textBody }, values), clientName: client!.name };
}

/** The invitation as one person would get it, with a link that leads nowhere. */
export async function previewInvitation(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; contactId: string } & InvitationWords,
	place: { origin: string; secretKey: string }
): Promise<{ subject: string; html: string; to: string; text: string | null }> {
	requireStaff(actor, 'invite');
	const contact = await contactToInvite(tx, input.contactId, input.clientId);
	const { words, clientName } = await fillInvitation(tx, actor, contact, input);
	const firm = await withBrandOf(tx, await loadFirm(tx), { clientId: input.clientId });
	const message: MessageToWrite = {
		id: contact.id,
		content: { subject: words.subject, body: words.body, signedBy: actor.name, clientName },
		toAddress: contact.email,
		recipient: { id: contact.id, kind: 'contact', name: firstName(contact.name), locale: contact.locale },
		items: []
	};
	const written = await writeMail(tx, firm, 'invitation', message, { ...place, now: actor.now, preview: true });
	const text = words.textBody
		? (await writeText(tx, firm, 'invitation', { ...message, content: { body: words.textBody } }, { ...place, now: actor.now, preview: true })).text
		: null;
	return { subject: written.subject, html: written.html, to: `${contact.name} <${contact.email}>`, text };
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

export interface InvitationSeen {
	firmId: string;
	firmSlug: string;
	id: string;
	contactId: string;
	clientId: string;
	name: string;
	email: string;
	locale: string;
	state: InvitationState;
}

/** The invitation behind a link, or null; notes the first opening. */
export async function openInvitation(db: Database, from: Actor, token: string): Promise<InvitationSeen | null> {
	const hash = hashToken(token);
	const firmId = (await db.queryOutsideFirm<{ firm_id: string | null }>('select find_firm_of_invitation($1) as firm_id', [hash]))[0]?.firm_id;
	if (!firmId) return null;
	return db.inFirm(firmId, async (tx) => {
		const seen = await readInvitation(tx, hash, from.now);
		if (seen?.state === 'sent') {
			const first = await tx.first('update invitation set opened_at = $2 where id = $1 and opened_at is null returning id', [seen.id, from.now]);
			if (first)
				await recordEvent(
					tx,
					{ ...from, kind: 'contact', id: seen.contactId, name: seen.name },
					{ verb: 'invitation_opened', contactId: seen.contactId, clientId: seen.clientId }
				);
		}
		return seen;
	});
}

/** Notes that somebody whose link does not work any more asks for another one: the firm finds it in Rounds. */
export async function askForInvitation(db: Database, from: Actor, token: string): Promise<void> {
	const hash = hashToken(token);
	const firmId = (await db.queryOutsideFirm<{ firm_id: string | null }>('select find_firm_of_invitation($1) as firm_id', [hash]))[0]?.firm_id;
	if (!firmId) return;
	await db.inFirm(firmId, async (tx) => {
		const seen = await readInvitation(tx, hash, from.now);
		if (seen?.state !== 'expired' && seen?.state !== 'withdrawn') return;
		const first = await tx.first(
			'update invitation set asked_again_at = $2, put_aside_at = null where id = $1 and asked_again_at is null returning id',
			[seen.id, from.now]
		);
		if (first)
			await recordEvent(
				tx,
				{ ...from, kind: 'contact', id: seen.contactId, name: seen.name },
				{ verb: 'invitation_asked_for', contactId: seen.contactId, clientId: seen.clientId }
			);
	});
}

/** Which client an invitation with this link is for, and the language of whoever is invited, or null. */
export function inviteeOf(tx: Tx, token: string): Promise<{ clientId: string; locale: string } | null> {
	return tx.first('select i.client_id as "clientId", c.locale from invitation i join contact c on c.id = i.contact_id where i.token_hash = $1', [
		hashToken(token)
	]);
}

async function readInvitation(tx: Tx, hash: Buffer, now: string): Promise<InvitationSeen | null> {
	const row = await tx.first<
		Omit<InvitationSeen, 'state'> & { expiresAt: string; takenUpAt: string | null; withdrawnAt: string | null; replacedAt: string | null }
	>(
		`select i.firm_id as "firmId", f.slug as "firmSlug", i.id, i.contact_id as "contactId", i.client_id as "clientId", c.name, c.email::text, c.locale,
			i.expires_at as "expiresAt", i.taken_up_at as "takenUpAt", i.withdrawn_at as "withdrawnAt", i.replaced_at as "replacedAt"
		from invitation i join contact c on c.id = i.contact_id join firm f on f.id = i.firm_id where i.token_hash = $1 for update of i`,
		[hash]
	);
	return row && { ...row, state: invitationStateAt(row, now) };
}

/**
 * Takes an invitation up: sets the password and signs the contact in. The link works once.
 * @throws DomainError link_unusable, PasswordRefused
 */
export async function takeUpInvitation(
	db: Database,
	from: Actor,
	token: string,
	password: string,
	browser: Browser = { device: undefined }
): Promise<{ outcome: SignInOutcome; firmSlug: string }> {
	const seen = await openInvitation(db, from, token);
	if (!seen || seen.state !== 'sent') throw new DomainError('link_unusable', saying('wrong.link.invitation'));
	const { name: firmName } = await db.inFirm(seen.firmId, loadFirm);
	requireGoodPassword(password, [seen.name, seen.email, firmName]);
	const passwordHash = await hashPassword(password);
	return db.inFirm(seen.firmId, async (tx) => {
		const current = await readInvitation(tx, hashToken(token), from.now);
		if (current?.state !== 'sent') throw new DomainError('link_unusable', saying('wrong.link.invitation'));
		const actor: Actor = { ...from, kind: 'contact', id: seen.contactId, name: seen.name };
		await tx.rows('update invitation set taken_up_at = $2 where id = $1', [seen.id, from.now]);
		await tx.rows('update contact set password_hash = $2, last_seen_at = $3 where id = $1', [seen.contactId, passwordHash, from.now]);
		await recordEvent(tx, actor, { verb: 'invitation_taken_up', contactId: seen.contactId, clientId: seen.clientId });
		const person = (await readPerson(tx, { kind: 'contact', id: seen.contactId }))!;
		return { outcome: await passFirstStep(tx, actor, person, browser), firmSlug: seen.firmSlug };
	});
}
