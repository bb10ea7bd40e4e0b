import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import type { NewClient } from '$lib/core/clients/client-form';
import type { Channels } from '$lib/core/messages/ways';
import type { Language } from '$lib/core/people/languages';
import { requireStaff, type Actor } from '../actor';
import { recordEvent, recordOfPerson } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { announceAnew } from '../outbox/announce-later';
import { planMessage } from '../outbox/plan-message';
import { signOutEverywhere } from '../people/devices';
import { endOpenProofs } from '../people/change-password';
import type { Tx } from '../platform/db/database';

export interface KnownContact {
	id: string;
	name: string;
	email: string | null;
	clients: string[];
}

/** The contact who has an address already, with the clients they belong to, or null. */
export function findContactByEmail(tx: Tx, email: string): Promise<KnownContact | null> {
	return tx.first<KnownContact>(
		`select c.id, c.name, c.email::text, array(select cl.name from client_contact cc join client cl on cl.id = cc.client_id where cc.contact_id = c.id order by cl.name) clients
		from contact c where c.email = $1::citext`,
		[email]
	);
}

/**
 * Refuses an address that is known already, also of somebody who may not be seen.
 * @throws DomainError invalid
 */
async function requireFreeAddress(tx: Tx, email: string): Promise<void> {
	const [{ taken }] = await tx.rows<{ taken: boolean }>('select address_is_taken($1::citext) taken', [email]);
	if (taken)
		throw new DomainError('invalid', `${email} belongs to somebody you may not see. An administrator of your firm can add them here.`, {
			email: 'This address belongs to somebody you may not see.'
		});
}

/**
 * Writes down a person nobody knew before, in the language of the firm's clients unless told otherwise.
 * @throws DomainError invalid if the address is taken
 */
export async function insertContact(
	tx: Tx,
	actor: Actor,
	contact: { name: string; email: string | null; phone: string | null; channels?: Channels; locale?: Language }
): Promise<string> {
	const id = randomUUID();
	if (contact.email) await requireFreeAddress(tx, contact.email);
	await tx.rows(
		`insert into contact (id, firm_id, name, email, phone, locale, created_at, channels, mail_problem)
		values ($1, $2, $3, $4::citext, $5, $6, $7, $8, case when $4::citext is null then 'no_address' end)`,
		[
			id,
			tx.firmId,
			contact.name,
			contact.email,
			contact.phone,
			contact.locale ?? (await loadFirm(tx)).clientLanguage,
			actor.now,
			contact.channels ?? 'email'
		]
	);
	return id;
}

/**
 * Adds a client with one or two contacts. An address that is known already is only taken when the person
 * chose the known contact; otherwise they are asked, with `contacts.N.known` naming them.
 * @throws DomainError invalid, not_allowed
 */
export async function addClient(tx: Tx, actor: Actor, input: NewClient): Promise<string> {
	requireStaff(actor, 'add_client');
	const responsible = await tx.first('select id from staff where id = $1 and suspended_at is null', [input.responsibleId]);
	if (!responsible) throw new DomainError('invalid', 'Choose who is responsible.', { responsibleId: 'Choose who is responsible.' });

	const clientId = randomUUID();
	await tx.rows('insert into client (id, firm_id, name, kind, responsible_id, created_at) values ($1, $2, $3, $4, $5, $6)', [
		clientId,
		tx.firmId,
		input.name,
		input.kind,
		input.responsibleId,
		actor.now
	]);
	for (const [index, contact] of input.contacts.entries()) {
		const known = contact.email ? await findContactByEmail(tx, contact.email) : null;
		if (known && known.id !== contact.id)
			throw new DomainError('invalid', `${contact.email} belongs to ${known.name}, whom you know already.`, {
				[`contacts.${index}.known`]: JSON.stringify(known)
			});
		const contactId = known?.id ?? (await insertContact(tx, actor, { ...contact, phone: null }));
		await tx.rows('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, $4)', [
			tx.firmId,
			clientId,
			contactId,
			index + 1
		]);
	}
	await recordEvent(tx, actor, { verb: 'client_added', clientId });
	return clientId;
}

/** The links by which somebody signs went to an address that is not theirs: they go out anew, with the next message. */
async function sendLinksAgain(tx: Tx, contactId: string): Promise<void> {
	const requests = await tx.rows<{ id: string }>(
		`select distinct i.request_id id from letter_signer s join item i on i.id = s.item_id and i.phase = 'open'
		where s.contact_id = $1 and s.state = 'asked' and s.signs_by <> 'portal'`,
		[contactId]
	);
	await announceAnew(
		tx,
		requests.map(({ id }) => id),
		contactId
	);
}

/**
 * Gives a contact a new e-mail address and lets messages go to it again. Whoever signs in does so anew, with the new one: whoever has the
 * old mailbox is out, and told.
 * @throws DomainError invalid if the address belongs to somebody else
 */
export async function mendAddress(tx: Tx, actor: Actor, contactId: string, email: string): Promise<void> {
	requireStaff(actor, 'invite');
	const known = await findContactByEmail(tx, email);
	if (known && known.id !== contactId)
		throw new DomainError('invalid', `This address belongs to ${known.name}.`, { email: `This address belongs to ${known.name}.` });
	if (!known) await requireFreeAddress(tx, email);
	const before = await tx.first<{ name: string; email: string | null; signs_in: boolean; arrives: boolean }>(
		`select name, email::text, password_hash is not null signs_in, mail_problem is null or mail_problem = 'opted_out' arrives from contact where id = $1 for update`,
		[contactId]
	);
	if (!before) throw new DomainError('not_found', 'There is no such contact.');
	await tx.rows(
		// whoever wants no reminders wants none at another address either, also where the old one had come back meanwhile
		`update contact set email = $2, mail_problem = case when stopped_at is not null then 'opted_out' end, mail_problem_detail = null where id = $1`,
		[contactId, email]
	);
	await tx.rows(`update message set seen_by_staff_at = $2 where contact_id = $1 and state in ('failed', 'unclear') and seen_by_staff_at is null`, [
		contactId,
		actor.now
	]);
	await tx.rows('update invitation set replaced_at = $2 where contact_id = $1 and waits', [contactId, actor.now]);
	await sendLinksAgain(tx, contactId);
	if (before.signs_in && before.email && before.email.toLowerCase() !== email.toLowerCase()) {
		const person = { kind: 'contact' as const, id: contactId };
		await endOpenProofs(tx, person, actor.now);
		await signOutEverywhere(tx, person, actor.now);
		if (before.arrives)
			await planMessage(tx, actor, {
				kind: 'second_step_changed',
				idempotencyKey: `address of ${contactId} ${actor.now}`,
				to: { contactId, address: before.email },
				content: { change: 'address_changed' }
			});
	}
	await recordOfPerson(tx, actor, contactId, {
		verb: 'contact_address_changed',
		details: { contact: before.name, from: before.email ?? 'none', to: email }
	});
}
