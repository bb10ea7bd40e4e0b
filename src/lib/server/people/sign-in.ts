import { DomainError } from '$lib/core/errors/domain-error';
import { compareInstants } from '$lib/core/calendar/firm-calendar';
import { passwordProblem, type PasswordProblem } from '$lib/core/people/passwords';
import type { Role } from '$lib/core/people/roles';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { planMessage } from '../messages/plan-message';
import type { Database, Tx } from '../platform/db/database';
import { hashPassword, isCommonPassword, verifyPassword } from '../platform/passwords';
import type { RateLimits } from '../platform/sessions/rate-limits';
import { hashToken } from '../platform/tokens';
import { beginSession, endAllSessions } from './sessions';

interface Person {
	id: string;
	name: string;
	role: Role | null;
	password_hash: string | null;
	suspended_at: string | null;
}

interface SignInPlace {
	db: Database;
	limits: RateLimits;
}

/**
 * Signs a person of a firm in. A wrong password, an unknown address and a suspended person get the same
 * answer, after the same work.
 * @param firmId for contacts, whose addresses are known per firm; staff are known by address alone
 * @returns null if address and password do not belong together
 * @throws DomainError too_many
 */
export async function signIn(
	place: SignInPlace,
	from: Actor,
	kind: 'staff' | 'contact',
	input: { email: string; password: string },
	firmId: string | null
): Promise<{ token: string; expiresAt: string } | null> {
	const account = `${kind} ${firmId ?? ''} ${input.email.toLowerCase()}`;
	await place.limits.signInTry(account, from.ip);
	const firm =
		kind === 'staff'
			? ((await place.db.ask<{ firm_id: string }>('select firm_id from find_staff_by_email($1)', [input.email]))[0]?.firm_id ?? null)
			: firmId;
	const person = firm && (await place.db.inFirm(firm, (tx) => findPerson(tx, kind, input.email)));
	const right = await verifyPassword(person ? person.password_hash : null, input.password);
	if (!firm || !person) return null;
	return place.db.inFirm(firm, async (tx) => {
		const actor: Actor = { ...from, kind, id: person.id, name: person.name, role: person.role };
		const contactId = kind === 'contact' ? person.id : null;
		if (!right || person.suspended_at) {
			await recordEvent(tx, actor, { verb: 'sign_in_refused', contactId });
			return null;
		}
		await recordEvent(tx, actor, { verb: 'signed_in', contactId });
		if (contactId) await tx.rows('update contact set last_seen_at = $2 where id = $1', [contactId, from.now]);
		await place.limits.signInSucceeded(account);
		return beginSession(tx, actor, { kind, id: person.id });
	});
}

function findPerson(tx: Tx, kind: 'staff' | 'contact', email: string): Promise<Person | null> {
	return tx.first<Person>(
		kind === 'staff'
			? 'select id, name, role, password_hash, suspended_at from staff where email = $1::citext'
			: 'select id, name, null as role, password_hash, suspended_at from contact where email = $1::citext',
		[email]
	);
}

/**
 * Puts a message with a link for a new password on its way, if the address is known. The caller learns
 * nothing about that, and the work done while they wait is the same.
 * @throws DomainError too_many
 */
export async function askForReset(place: SignInPlace, from: Actor, kind: 'staff' | 'contact', email: string, firmId: string | null): Promise<void> {
	await place.limits.resetTry(`${kind} ${firmId ?? ''} ${email.toLowerCase()}`, from.ip);
	const firm =
		kind === 'staff'
			? ((await place.db.ask<{ firm_id: string }>('select firm_id from find_staff_by_email($1)', [email]))[0]?.firm_id ?? null)
			: firmId;
	if (!firm) return;
	await place.db.inFirm(firm, async (tx) => {
		const person = await findPerson(tx, kind, email);
		if (!person || !person.password_hash || person.suspended_at) return;
		await recordEvent(
			tx,
			{ ...from, kind, id: person.id, name: person.name },
			{ verb: 'reset_asked', contactId: kind === 'contact' ? person.id : null }
		);
		await planMessage(tx, from, {
			kind: 'password_reset',
			uniqueKey: `reset ${person.id} ${from.now}`,
			to: { address: email, ...(kind === 'staff' ? { staffId: person.id } : { contactId: person.id }) },
			content: {}
		});
	});
}

interface ResetRow {
	id: string;
	expires_at: string;
	used_at: string | null;
	person_id: string;
	kind: 'staff' | 'contact';
	name: string;
	email: string;
	role: Role | null;
}

/** The reset behind a link, or null if it is unknown, used or too old. */
export async function findReset(
	db: Database,
	token: string,
	kind: 'staff' | 'contact',
	now: string
): Promise<{ firmId: string; name: string; email: string } | null> {
	const hash = hashToken(token);
	const firmId = (await db.ask<{ firm_id: string | null }>('select find_firm_of_reset($1) as firm_id', [hash]))[0]?.firm_id;
	if (!firmId) return null;
	const row = await db.inFirm(firmId, (tx) => readReset(tx, hash));
	return row && row.kind === kind && !row.used_at && compareInstants(row.expires_at, now) > 0 ? { firmId, name: row.name, email: row.email } : null;
}

function readReset(tx: Tx, hash: Buffer): Promise<ResetRow | null> {
	return tx.first<ResetRow>(
		`select r.id, r.expires_at, r.used_at, coalesce(s.id, c.id) person_id, case when s.id is null then 'contact' else 'staff' end kind,
			coalesce(s.name, c.name) as name, coalesce(s.email, c.email)::text email, s.role
		from password_reset r left join staff s on s.id = r.staff_id left join contact c on c.id = r.contact_id
		where r.token_hash = $1 for update of r`,
		[hash]
	);
}

export class PasswordRefused extends Error {
	constructor(readonly problem: PasswordProblem) {
		super(problem);
	}
}

/** @throws PasswordRefused */
export function requireGoodPassword(password: string, ownWords: readonly string[]): void {
	const problem = passwordProblem(password, isCommonPassword, ownWords);
	if (problem) throw new PasswordRefused(problem);
}

/**
 * Sets a new password by a reset link, ends every session of the person and signs them in here.
 * @throws DomainError link_unusable, PasswordRefused
 */
export async function resetPassword(
	db: Database,
	from: Actor,
	kind: 'staff' | 'contact',
	token: string,
	password: string
): Promise<{ token: string; expiresAt: string; firmId: string }> {
	const reset = await findReset(db, token, kind, from.now);
	if (!reset) throw new DomainError('link_unusable', saying('wrong.link.reset'));
	requireGoodPassword(password, [reset.name, reset.email]);
	const passwordHash = await hashPassword(password);
	return db.inFirm(reset.firmId, async (tx) => {
		const row = await readReset(tx, hashToken(token));
		if (!row || row.used_at) throw new DomainError('link_unusable', saying('wrong.link.reset'));
		const actor: Actor = { ...from, kind, id: row.person_id, name: row.name, role: row.role };
		await tx.rows('update password_reset set used_at = $2 where id = $1', [row.id, from.now]);
		await tx.rows(`update ${kind} set password_hash = $2 where id = $1`, [row.person_id, passwordHash]);
		await endAllSessions(tx, { kind, id: row.person_id }, from.now);
		await recordEvent(tx, actor, { verb: 'password_changed', contactId: kind === 'contact' ? row.person_id : null });
		await planMessage(tx, actor, {
			kind: 'password_changed',
			uniqueKey: `password changed ${row.id}`,
			to: { address: row.email, ...(kind === 'staff' ? { staffId: row.person_id } : { contactId: row.person_id }) },
			content: {}
		});
		return { ...(await beginSession(tx, actor, { kind, id: row.person_id })), firmId: reset.firmId };
	});
}

/** Stops reminders for the person a message went to. Doing it twice changes nothing. */
export async function stopReminders(db: Database, from: Actor, messageId: string): Promise<void> {
	const firmId = (await db.ask<{ firm_id: string | null }>('select find_firm_of_message($1) as firm_id', [messageId]))[0]?.firm_id;
	if (!firmId) return;
	await db.inFirm(firmId, async (tx) => {
		const row = await tx.first<{ id: string; name: string; client_id: string | null }>(
			`update contact c set mail_problem = 'opted_out', mail_problem_detail = 'stopped by the link in a reminder'
			from message m where m.id = $1 and c.id = m.contact_id and c.mail_problem is null
			returning c.id, c.name, (select client_id from client_contact where contact_id = c.id order by rank limit 1) client_id`,
			[messageId]
		);
		if (row)
			await recordEvent(
				tx,
				{ ...from, kind: 'contact', id: row.id, name: row.name },
				{ verb: 'reminders_stopped', contactId: row.id, clientId: row.client_id }
			);
	});
}
