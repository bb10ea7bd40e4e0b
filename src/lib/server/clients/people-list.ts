import type { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import type { personSchema } from '$lib/core/clients/record-forms';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import { findContactByEmail, insertContact, mendAddress } from './add-client';
import { searchPattern } from './find-clients';

export interface ListedPerson {
	id: string;
	name: string;
	email: string | null;
	phone: string | null;
	hasAccess: boolean;
	clients: { id: string; name: string }[];
	/** clients for which they sign letters without being of them */
	signsFor: { id: string; name: string }[];
}

/** Rows of the list of people shown at once. */
export const PEOPLE_ROWS = 100;

/**
 * Everybody the firm knows, by name, with their clients; also those who belong to none.
 * @param filter `nowhere` for those without a client; `after` is the last row of the page before
 */
export async function readPeopleList(
	tx: Tx,
	actor: Actor,
	filter: { nowhere: boolean; search: string; after: { name: string; id: string } | null }
): Promise<ListedPerson[]> {
	requireStaff(actor, 'look');
	const pattern = searchPattern(filter.search);
	return tx.rows<ListedPerson>(
		`select c.id, c.name, c.email::text, c.phone, c.password_hash is not null "hasAccess", coalesce(at.clients, '[]') clients,
			coalesce((select json_agg(json_build_object('id', cl.id, 'name', cl.name) order by lower(cl.name)) from client cl
				where cl.id in (select o.client_id from outside_signer o where o.contact_id = c.id)
					and not exists (select from client_contact cc where cc.client_id = cl.id and cc.contact_id = c.id)), '[]') "signsFor"
		from contact c left join lateral (
			select json_agg(json_build_object('id', cl.id, 'name', cl.name) order by lower(cl.name)) clients
			from client_contact cc join client cl on cl.id = cc.client_id where cc.contact_id = c.id
		) at on true
		where c.firm_id = $1 and c.id <> all ((select unseen_people())::uuid[]) and (not $2::boolean or not exists (select from client_contact cc where cc.contact_id = c.id))
			and ($3::text = '' or lower(c.name) like $4 or lower(c.email::text) like $4)
			and ($5::text is null or (lower(c.name), c.id) > ($5, $6::uuid))
		order by lower(c.name), c.id limit $7`,
		[tx.firmId, filter.nowhere, filter.search.trim(), pattern, filter.after?.name ?? null, filter.after?.id ?? null, PEOPLE_ROWS]
	);
}

/** Writes down somebody who belongs to no client, or not yet. @throws DomainError invalid if the address is somebody's */
export async function addPerson(tx: Tx, actor: Actor, input: z.output<ReturnType<typeof personSchema>>): Promise<string> {
	requireStaff(actor, 'invite');
	const known = input.email ? await findContactByEmail(tx, input.email) : null;
	if (known) throw new DomainError('invalid', `This address belongs to ${known.name}.`, { email: `This address belongs to ${known.name}.` });
	const id = await insertContact(tx, actor, input);
	await recordEvent(tx, actor, { verb: 'contact_added', contactId: id, details: { contact: input.name } });
	return id;
}

async function lockPerson(tx: Tx, id: string): Promise<{ name: string; email: string | null; clients: number }> {
	const person = await tx.first<{ name: string; email: string | null; clients: number }>(
		'select name, email::text, (select count(*) from client_contact where contact_id = c.id) clients from contact c where id = $1 and id <> all (unseen_people()) for update of c',
		[id]
	);
	if (!person) throw new DomainError('not_found', 'There is no such person.');
	return person;
}

/** Changes somebody who belongs to no client; others are changed in a client's record. */
export async function changePerson(tx: Tx, actor: Actor, id: string, input: z.output<ReturnType<typeof personSchema>>): Promise<void> {
	requireStaff(actor, 'invite');
	const before = await lockPerson(tx, id);
	if (before.clients > 0) throw new DomainError('changed_meanwhile', `${before.name} belongs to a client by now: change them there.`);
	if (input.email && input.email.toLowerCase() !== before.email?.toLowerCase()) await mendAddress(tx, actor, id, input.email);
	await tx.rows('update contact set name = $2, phone = $3 where id = $1', [id, input.name, input.phone]);
	await recordEvent(tx, actor, { verb: 'contact_changed', contactId: id, details: { contact: input.name } });
}

/** Adds somebody who is known to a client. @throws DomainError invalid if they belong to it already */
export async function joinClient(tx: Tx, actor: Actor, input: { contactId: string; clientId: string }): Promise<void> {
	requireStaff(actor, 'invite');
	const client = await tx.first<{ name: string }>('select name from client where id = $1 for update', [input.clientId]);
	if (!client) throw new DomainError('not_found', 'There is no such client.');
	const person = await lockPerson(tx, input.contactId);
	const joined = await tx.first(
		`insert into client_contact (firm_id, client_id, contact_id, role, rank)
		select $1, $2, $3, '', coalesce(max(rank), 0) + 1 from client_contact where client_id = $2 on conflict do nothing returning rank`,
		[tx.firmId, input.clientId, input.contactId]
	);
	if (!joined) throw new DomainError('invalid', `${person.name} belongs to ${client.name} already.`);
	await recordEvent(tx, actor, { verb: 'contact_added', clientId: input.clientId, contactId: input.contactId, details: { contact: person.name } });
}
