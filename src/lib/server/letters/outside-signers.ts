import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import type { outsideSignerSchema } from '$lib/core/clients/record-forms';
import { DomainError } from '$lib/core/errors/domain-error';
import type { Nameable } from '$lib/core/signing/signers';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { findContactByEmail, insertContact } from '../clients/add-client';
import { requireActiveClient } from '../clients/client-record';
import type { Tx } from '../platform/db/database';
import { readOutsidePeople, SIGNS_FROM_OUTSIDE } from './letter-signers';

/**
 * Names somebody who signs letters of a client without being of it. Whoever is known by their address already stays one person: they are
 * only taken when they were chosen, as `known` names them. Done twice it changes nothing.
 * @throws DomainError not_found; invalid if they are of the client, or the address is known by another name
 */
export async function nameOutsideSigner(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; knownId: string | null } & z.output<ReturnType<typeof outsideSignerSchema>>
): Promise<Nameable> {
	requireStaff(actor, 'send_request');
	await requireActiveClient(tx, input.clientId);
	const known = await findContactByEmail(tx, input.email);
	if (known && (await tx.first('select 1 from client_contact where client_id = $1 and contact_id = $2', [input.clientId, known.id])))
		throw new DomainError('invalid', `${known.name} is of this client: choose them among its people.`, { email: `This is ${known.name}’s address.` });
	if (known && known.id !== input.knownId && known.name.toLowerCase() !== input.name.toLowerCase())
		throw new DomainError('invalid', `${input.email} belongs to ${known.name}, whom you know already.`, { known: JSON.stringify(known) });
	const contactId = known?.id ?? (await insertContact(tx, actor, input));
	const added = await tx.first(
		`insert into outside_signer (id, firm_id, client_id, contact_id, named_at) select $1, $2, $3, $4, $5
		where not exists (select from outside_signer where client_id = $3 and contact_id = $4) returning id`,
		[randomUUID(), tx.firmId, input.clientId, contactId, actor.now]
	);
	const person = (await readOutsidePeople(tx, input.clientId)).find(({ id }) => id === contactId)!;
	if (added) await recordEvent(tx, actor, { verb: 'outside_signer_named', clientId: input.clientId, contactId, details: { contact: person.name } });
	return person;
}

/** Somebody outside a client who signs for it, as the client's record lists them. */
export interface OutsideSigner extends Omit<Nameable, 'phone'> {
	/** letters that they have signed, or are still to sign */
	signed: number;
	open: number;
}

/** Who signs for a client without being of it, by name. */
export function readOutsideSigners(tx: Tx, actor: Actor, clientId: string): Promise<OutsideSigner[]> {
	requireStaff(actor, 'look');
	return tx.rows<OutsideSigner>(
		`select c.id, c.name, c.email::text,
			(select count(*) from letter_signer s where s.client_id = $1 and s.contact_id = c.id and s.state = 'signed') signed,
			(select count(*) from letter_signer s join letter l on l.id = s.letter_id
				where s.client_id = $1 and s.contact_id = c.id and not s.copy and s.state in ('waits', 'asked') and l.state in ('sent', 'signed')) open
		from contact c where ${SIGNS_FROM_OUTSIDE} order by lower(c.name), c.id`,
		[clientId]
	);
}

/** Takes somebody outside off a client: they are offered no more where a letter is written. @throws DomainError not_found, invalid while they are to sign */
export async function takeOutsideSignerOff(tx: Tx, actor: Actor, input: { clientId: string; contactId: string }): Promise<void> {
	requireStaff(actor, 'send_request');
	const person = (await readOutsideSigners(tx, actor, input.clientId)).find(({ id }) => id === input.contactId);
	if (!person) throw new DomainError('not_found', 'This person does not sign for the client.');
	if (person.open > 0)
		throw new DomainError('invalid', `${person.name} is still to sign a letter. Withdraw it first, or put somebody else in their place.`);
	await tx.rows('delete from outside_signer where client_id = $1 and contact_id = $2', [input.clientId, input.contactId]);
	await recordEvent(tx, actor, {
		verb: 'outside_signer_taken_off',
		clientId: input.clientId,
		contactId: input.contactId,
		details: { contact: person.name }
	});
}
