import { DomainError } from '$lib/core/errors/domain-error';
import type { ContactForm } from '$lib/core/clients/record-forms';
import type { Channels } from '$lib/core/messages/ways';
import type { Language } from '$lib/core/people/languages';
import { requireStaff, type Actor } from '../actor';
import { recordEvent, recordOfPerson } from '../audit/record-event';
import { signOutEverywhere } from '../people/devices';
import { clearSecondSteps } from '../people/second-step';
import { endAllSessions } from '../people/sessions';
import type { Tx } from '../platform/db/database';
import { findContactByEmail, insertContact, mendAddress } from './add-client';

/** Locks a contact of a client for a change. @throws DomainError not_found, also for another client's contact */
async function lockContact(tx: Tx, clientId: string, contactId: string) {
	const row = await tx.first<{
		name: string;
		email: string | null;
		phone: string | null;
		role: string;
		rank: number;
		suspended_at: string | null;
		channels: Channels;
		locale: Language;
		chase_plan: string | null;
	}>(
		`select c.name, c.email::text, c.phone, c.channels, c.locale, c.chase_plan, c.suspended_at, cc.role, cc.rank from client_contact cc join contact c on c.id = cc.contact_id
		where cc.client_id = $1 and cc.contact_id = $2 for update`,
		[clientId, contactId]
	);
	if (!row) throw new DomainError('not_found', 'This contact does not belong to the client.');
	return row;
}

/**
 * Adds a person to a client. An address that is known already is only taken when the known contact was chosen, as
 * `known` names them: one person keeps one sign-in for all their businesses.
 */
export async function addContact(tx: Tx, actor: Actor, input: { clientId: string; knownId: string | null } & ContactForm): Promise<string> {
	requireStaff(actor, 'invite');
	if (!(await tx.first('select 1 from client where id = $1 for update', [input.clientId])))
		throw new DomainError('not_found', 'There is no such client.');
	requirePhone(input);
	const known = input.email ? await findContactByEmail(tx, input.email) : null;
	if (known && known.id !== input.knownId)
		throw new DomainError('invalid', `${input.email} belongs to ${known.name}, whom you know already.`, { known: JSON.stringify(known) });
	if (known && (await tx.first('select 1 from client_contact where client_id = $1 and contact_id = $2', [input.clientId, known.id])))
		throw new DomainError('invalid', `${known.name} belongs to this client already.`, { email: `This is ${known.name}’s address.` });
	const id = known?.id ?? (await insertContact(tx, actor, input));
	await tx.rows(
		`insert into client_contact (firm_id, client_id, contact_id, role, rank)
		select $1, $2, $3, $4, coalesce(max(rank), 0) + 1 from client_contact where client_id = $2`,
		[tx.firmId, input.clientId, id, input.role ?? '']
	);
	await recordEvent(tx, actor, { verb: 'contact_added', clientId: input.clientId, contactId: id, details: { contact: known?.name ?? input.name } });
	return id;
}

/** Changes what the firm keeps about a contact. A new address is taken as `mendAddress` does. */
export async function changeContact(tx: Tx, actor: Actor, input: { clientId: string; contactId: string } & ContactForm): Promise<void> {
	requireStaff(actor, 'invite');
	const before = await lockContact(tx, input.clientId, input.contactId);
	if (input.email && before.email?.toLowerCase() !== input.email.toLowerCase()) await mendAddress(tx, actor, input.contactId, input.email);
	if (!input.email && before.email) await takeAddressAway(tx, actor, input, before);
	requirePhone(input);
	const locale = input.locale ?? before.locale;
	const plan = input.chasePlan === undefined ? before.chase_plan : input.chasePlan;
	await tx.rows(
		`update contact set name = $2, phone = $3, channels = $4, locale = $5, chase_plan = $6,
			-- what is known of a number does not hold for another one
			text_problem = case when phone is not distinct from $3 then text_problem end,
			text_problem_detail = case when phone is not distinct from $3 then text_problem_detail end
		where id = $1`,
		[input.contactId, input.name, input.phone, input.channels, locale, plan]
	);
	await tx.rows('update client_contact set role = $3 where client_id = $1 and contact_id = $2', [input.clientId, input.contactId, input.role ?? '']);
	const event = {
		verb: 'contact_changed' as const,
		details: {
			contact: input.name,
			before: {
				name: before.name,
				phone: before.phone,
				role: before.role,
				channels: before.channels,
				locale: before.locale,
				chasePlan: before.chase_plan
			}
		}
	};
	if (
		before.name !== input.name ||
		before.phone !== input.phone ||
		before.channels !== input.channels ||
		before.locale !== locale ||
		before.chase_plan !== plan
	)
		await recordOfPerson(tx, actor, input.contactId, event);
	// what they are at one client is no business of the others
	else if (before.role !== (input.role ?? '')) await recordEvent(tx, actor, { ...event, clientId: input.clientId, contactId: input.contactId });
}

/** @throws DomainError invalid if text messages are wished without a number for them */
function requirePhone(input: Pick<ContactForm, 'phone' | 'channels'>): void {
	if (input.channels !== 'email' && !input.phone)
		throw new DomainError('invalid', 'Text messages need a number.', { phone: 'Write the mobile number, or choose e-mail only.' });
}

/** Leaves a contact without an address. @throws DomainError invalid while they need it */
async function takeAddressAway(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; contactId: string },
	before: { name: string; email: string | null }
): Promise<void> {
	const needs = await tx.first(
		`select 1 from contact c where id = $1 and (password_hash is not null
			or exists (select from item where contact_id = c.id and phase <> 'settled'))`,
		[input.contactId]
	);
	if (needs)
		throw new DomainError('invalid', `${before.name} needs an address: they sign in with it, or something is asked of them.`, {
			email: 'Write the new address instead.'
		});
	await tx.rows(`update contact set email = null, mail_problem = 'no_address', mail_problem_detail = null where id = $1`, [input.contactId]);
	await tx.rows('update invitation set replaced_at = $2 where contact_id = $1 and waits', [input.contactId, actor.now]);
	await recordOfPerson(tx, actor, input.contactId, {
		verb: 'contact_address_changed',
		details: { contact: before.name, from: before.email, to: 'none' }
	});
}

/** Puts a contact first: the first in rank is who letters are for. */
export async function putContactFirst(tx: Tx, actor: Actor, input: { clientId: string; contactId: string }): Promise<void> {
	requireStaff(actor, 'invite');
	const contact = await lockContact(tx, input.clientId, input.contactId);
	await tx.rows(
		`update client_contact cc set rank = r.place from (
			select contact_id, row_number() over (order by contact_id <> $2, rank) place from client_contact where client_id = $1
		) r where cc.client_id = $1 and cc.contact_id = r.contact_id`,
		[input.clientId, input.contactId]
	);
	await recordEvent(tx, actor, {
		verb: 'contact_put_first',
		clientId: input.clientId,
		contactId: input.contactId,
		details: { contact: contact.name }
	});
}

/**
 * Takes a contact off a client. They keep their sign-in for their other businesses.
 * @throws DomainError invalid if they are the last, or if something is still asked of them here
 */
export async function takeContactOff(tx: Tx, actor: Actor, input: { clientId: string; contactId: string }): Promise<void> {
	requireStaff(actor, 'invite');
	await tx.rows('select 1 from client where id = $1 for update', [input.clientId]);
	const contact = await lockContact(tx, input.clientId, input.contactId);
	const recurring = await tx.first<{ people: number; open: number }>(
		`select (select count(*) from client_contact where client_id = $1) people,
			(select count(*) from item where client_id = $1 and contact_id = $2 and phase <> 'settled') open`,
		[input.clientId, input.contactId]
	);
	if (recurring!.people === 1) throw new DomainError('invalid', `${contact.name} is the only person of this client. Add another one first.`);
	if (recurring!.open > 0)
		throw new DomainError(
			'invalid',
			`${recurring!.open === 1 ? 'One thing is' : `${recurring!.open} things are`} still asked of ${contact.name} here. Accept or waive ${recurring!.open === 1 ? 'it' : 'them'} first.`
		);
	const letter = await tx.first<{ title: string }>(
		`select i.title from letter_signer s join letter l on l.id = s.letter_id join item i on i.id = l.item_id
		where s.client_id = $1 and s.contact_id = $2 and s.state in ('waits', 'asked') and l.state in ('sent', 'signed') limit 1`,
		[input.clientId, input.contactId]
	);
	if (letter) throw new DomainError('invalid', `${contact.name} is still to sign “${letter.title}”. Waive it first.`);
	await tx.rows('delete from client_contact where client_id = $1 and contact_id = $2', [input.clientId, input.contactId]);
	await recordEvent(tx, actor, {
		verb: 'contact_taken_off',
		clientId: input.clientId,
		contactId: input.contactId,
		details: { contact: contact.name }
	});
}

/** Signs a contact out on every device, and lets no device pass without the second step any more: for a phone that was lost. */
export async function signOutContact(tx: Tx, actor: Actor, input: { clientId: string; contactId: string }): Promise<void> {
	requireStaff(actor, 'close_client');
	const contact = await lockContact(tx, input.clientId, input.contactId);
	await signOutEverywhere(tx, { kind: 'contact', id: input.contactId }, actor.now);
	await recordOfPerson(tx, actor, input.contactId, { verb: 'contact_signed_out', details: { contact: contact.name } });
}

/** Takes the second step of a contact away who has lost it; see `clearSecondSteps`. */
export async function clearContactSecondStep(tx: Tx, actor: Actor, input: { clientId: string; contactId: string }): Promise<void> {
	requireStaff(actor, 'close_client');
	const contact = await lockContact(tx, input.clientId, input.contactId);
	await clearSecondSteps(tx, actor, { kind: 'contact', id: input.contactId, email: contact.email });
	await recordOfPerson(tx, actor, input.contactId, { verb: 'contact_second_step_cleared', details: { contact: contact.name } });
}

/** Suspends a contact, which ends their sessions at once, or lets them in again. Doing it twice changes nothing. */
export async function suspendContact(tx: Tx, actor: Actor, input: { clientId: string; contactId: string; suspend: boolean }): Promise<void> {
	requireStaff(actor, 'close_client');
	const contact = await lockContact(tx, input.clientId, input.contactId);
	if ((contact.suspended_at !== null) === input.suspend) return;
	await tx.rows('update contact set suspended_at = $2 where id = $1', [input.contactId, input.suspend ? actor.now : null]);
	if (input.suspend) await endAllSessions(tx, { kind: 'contact', id: input.contactId }, actor.now);
	await recordOfPerson(tx, actor, input.contactId, {
		verb: input.suspend ? 'contact_suspended' : 'contact_restored',
		details: { contact: contact.name }
	});
}
