import type { Role } from '$lib/core/people/roles';
import type { Actor } from '../actor';
import type { Tx } from '../platform/db/database';

/** Somebody who can sign in. */
export interface PersonRef {
	kind: 'staff' | 'contact';
	id: string;
}

export interface Person extends PersonRef {
	name: string;
	email: string;
	role: Role | null;
	passwordHash: string | null;
	suspended: boolean;
}

/** Who is behind an id, or null. */
export async function readPerson(tx: Tx, { kind, id }: PersonRef): Promise<Person | null> {
	return personWhere(tx, kind, 'id = $1', id);
}

/** Who has an address, or null. */
export async function findPerson(tx: Tx, kind: PersonRef['kind'], email: string): Promise<Person | null> {
	return personWhere(tx, kind, 'email = $1::citext', email);
}

async function personWhere(tx: Tx, kind: PersonRef['kind'], condition: string, value: string): Promise<Person | null> {
	const row = await tx.first<Omit<Person, 'kind'>>(
		`select id, name, email::text, ${kind === 'staff' ? 'role' : 'null as role'}, password_hash as "passwordHash", suspended_at is not null suspended from ${kind} where ${condition}`,
		[value]
	);
	return row && { kind, ...row };
}

/** The two columns that say whose a row is: staff's and contact's id. */
export function ownerColumns({ kind, id }: PersonRef): [staffId: string | null, contactId: string | null] {
	return [kind === 'staff' ? id : null, kind === 'contact' ? id : null];
}

export function personAsActor(from: Actor, person: Person): Actor {
	return { ...from, kind: person.kind, id: person.id, name: person.name, role: person.role };
}

/** To whom a message about somebody's sign-in goes. */
export function ownAddress(person: PersonRef & { email: string }): { address: string; staffId?: string; contactId?: string } {
	return { address: person.email, ...(person.kind === 'staff' ? { staffId: person.id } : { contactId: person.id }) };
}
