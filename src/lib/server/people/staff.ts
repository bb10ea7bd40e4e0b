import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { emailField, oneLine } from '$lib/core/people/plain-fields';
import { ROLES, type Role } from '$lib/core/people/roles';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { planMessage } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';
import { signOutEverywhere } from './devices';
import { clearSecondSteps } from './second-step';
import { endAllSessions } from './sessions';

export const staffSchema = z.object({
	name: oneLine('the name', 120),
	email: emailField,
	role: z.enum(ROLES, 'Choose a role.')
});

export interface StaffRow {
	id: string;
	name: string;
	email: string;
	role: Role;
	suspendedAt: string | null;
	/** has chosen a password */
	hasAccess: boolean;
	secondStep: boolean;
	clients: number;
	lastUsedAt: string | null;
}

/** The people of the firm, with what an administrator has to know about their sign-in. */
export async function readPeopleOfFirm(tx: Tx, actor: Actor): Promise<StaffRow[]> {
	requireStaff(actor, 'look');
	return tx.rows<StaffRow>(
		`select s.id, s.name, s.email::text, s.role, s.suspended_at as "suspendedAt", s.password_hash is not null as "hasAccess",
			exists (select from authenticator a where a.staff_id = s.id and a.confirmed_at is not null) or exists (select from passkey p where p.staff_id = s.id)
				or exists (select from text_factor t where t.staff_id = s.id and t.confirmed_at is not null) as "secondStep",
			(select count(*)::int from client c where c.responsible_id = s.id and c.state <> 'ended') clients,
			(select max(last_used_at) from session where staff_id = s.id) as "lastUsedAt"
		from staff s order by s.suspended_at is not null, lower(s.name), s.id`
	);
}

/**
 * Adds somebody to the firm and sends them a link with which they choose a password.
 * @throws DomainError invalid if the address belongs to somebody already
 */
export async function addStaff(tx: Tx, actor: Actor, input: z.output<typeof staffSchema>): Promise<string> {
	requireStaff(actor, 'set_up_firm');
	// an address signs in to one firm: it is asked over all of them
	if ((await tx.rows('select 1 from find_staff_by_email($1)', [input.email])).length > 0)
		throw new DomainError('invalid', 'Somebody signs in with this address already.', { email: 'Somebody signs in with this address already.' });
	const id = randomUUID();
	await tx.rows('insert into staff (id, firm_id, name, email, role, created_at) values ($1, $2, $3, $4, $5, $6)', [
		id,
		tx.firmId,
		input.name,
		input.email,
		input.role,
		actor.now
	]);
	await recordEvent(tx, actor, { verb: 'staff_added', details: { person: input.name, role: input.role } });
	await sendLink(tx, actor, { id, email: input.email });
	return id;
}

async function sendLink(tx: Tx, actor: Actor, person: { id: string; email: string }): Promise<void> {
	await planMessage(tx, actor, {
		kind: 'staff_invitation',
		idempotencyKey: `staff invitation ${person.id} ${actor.now}`,
		to: { address: person.email, staffId: person.id },
		content: { signedBy: actor.name }
	});
}

interface LockedStaff {
	id: string;
	name: string;
	email: string;
	role: Role;
	password_hash: string | null;
	suspended_at: string | null;
}

async function lockStaff(tx: Tx, staffId: string): Promise<LockedStaff> {
	// all of them, so that two administrators cannot take each other's role at the same moment
	const everybody = await tx.rows<LockedStaff>('select id, name, email::text, role, password_hash, suspended_at from staff order by id for update');
	const found = everybody.find((person) => person.id === staffId);
	if (!found) throw new DomainError('not_found', 'There is no such person in the firm.');
	return found;
}

/** @throws DomainError invalid if the firm would be left without an administrator */
async function requireAnotherAdministrator(tx: Tx, staffId: string): Promise<void> {
	const other = await tx.first(
		`select 1 from staff where role = 'administrator' and suspended_at is null and password_hash is not null and id <> $1 limit 1`,
		[staffId]
	);
	if (!other) throw new DomainError('invalid', 'Somebody has to be administrator. Give another person that role first.');
}

/** Sends the link for choosing a password again. */
export async function inviteStaffAgain(tx: Tx, actor: Actor, staffId: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const person = await lockStaff(tx, staffId);
	if (person.password_hash) throw new DomainError('changed_meanwhile', `${person.name} has chosen a password already.`);
	await sendLink(tx, actor, person);
	await recordEvent(tx, actor, { verb: 'staff_invited_again', details: { person: person.name } });
}

/** Gives somebody another role; what they may do changes with their next click. */
export async function changeRole(tx: Tx, actor: Actor, input: { staffId: string; role: Role }): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const person = await lockStaff(tx, input.staffId);
	if (person.role === input.role) return;
	if (person.role === 'administrator') await requireAnotherAdministrator(tx, person.id);
	await tx.rows('update staff set role = $2 where id = $1', [person.id, input.role]);
	await recordEvent(tx, actor, { verb: 'role_changed', details: { person: person.name, from: person.role, to: input.role } });
}

/**
 * Suspends somebody of the firm, which ends their sessions at once, or lets them in again. Doing it twice changes nothing.
 * @throws DomainError invalid for oneself, and for the last administrator
 */
export async function suspendStaff(tx: Tx, actor: Actor, input: { staffId: string; suspend: boolean }): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const person = await lockStaff(tx, input.staffId);
	if ((person.suspended_at !== null) === input.suspend) return;
	if (input.suspend && person.id === actor.id) throw new DomainError('invalid', 'You cannot suspend yourself.');
	if (input.suspend && person.role === 'administrator') await requireAnotherAdministrator(tx, person.id);
	await tx.rows('update staff set suspended_at = $2 where id = $1', [person.id, input.suspend ? actor.now : null]);
	if (input.suspend) await endAllSessions(tx, { kind: 'staff', id: person.id }, actor.now);
	await recordEvent(tx, actor, { verb: input.suspend ? 'staff_suspended' : 'staff_restored', details: { person: person.name } });
}

/**
 * Signs somebody of the firm out on every device, and lets no device pass without the second step any more: for a laptop that was lost.
 * @throws DomainError invalid for oneself, who would have nothing left to sign in from
 */
export async function signOutStaff(tx: Tx, actor: Actor, staffId: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const person = await lockStaff(tx, staffId);
	if (person.id === actor.id) throw new DomainError('invalid', 'Sign your own devices out under “How you sign in”.');
	await signOutEverywhere(tx, { kind: 'staff', id: person.id }, actor.now);
	await recordEvent(tx, actor, { verb: 'staff_signed_out', details: { person: person.name } });
}

/** Takes the second step of somebody of the firm away who has lost it; see `clearSecondSteps`. @throws DomainError invalid for oneself */
export async function clearStaffSecondStep(tx: Tx, actor: Actor, staffId: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const person = await lockStaff(tx, staffId);
	if (person.id === actor.id) throw new DomainError('invalid', 'Change your own second step under “How you sign in”.');
	await clearSecondSteps(tx, actor, { kind: 'staff', id: person.id, email: person.email });
	await recordEvent(tx, actor, { verb: 'staff_second_step_cleared', details: { person: person.name } });
}

/** Says of whom the firm asks a second step at sign-in. It holds from their next sign-in on. */
export async function changeSecondStepRule(tx: Tx, actor: Actor, input: { staff: boolean; contacts: boolean }): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows('update firm set second_step_staff = $2, second_step_contacts = $3 where id = $1', [tx.firmId, input.staff, input.contacts]);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'rule for the second step' } });
}

/** Of whom the firm asks a second step. */
export async function readSecondStepRule(tx: Tx): Promise<{ staff: boolean; contacts: boolean }> {
	const row = await tx.first<{ staff: boolean; contacts: boolean }>(
		'select second_step_staff staff, second_step_contacts contacts from firm where id = $1',
		[tx.firmId]
	);
	return row!;
}
