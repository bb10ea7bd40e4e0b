import { DomainError } from '$lib/core/errors/domain-error';
import { fillText, firstName, mergeFieldsInText, mergeFieldWords, personValues } from '$lib/core/letters/merge-fields';
import { requireStaff, type Actor, type Staff } from '../actor';
import { withBrandOf } from '../firms/brands';
import { loadFirm } from '../firms/firm';
import type { MessageToWrite } from '../messages/message-kind';
import { writeMail, writeText } from '../messages/write-message';
import type { Tx } from '../platform/db/database';
import { contactToInvite, type InvitedContact } from './invite';

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

export async function fillInvitation(
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
