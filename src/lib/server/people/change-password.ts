import { randomUUID } from 'node:crypto';
import { compareInstants } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { passwordProblem, type PasswordProblem } from '$lib/core/people/passwords';
import type { Role } from '$lib/core/people/roles';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { planMessage } from '../outbox/plan-message';
import type { Database, Tx } from '../platform/db/database';
import { hashPassword, isCommonPassword, isSoonGuessed, verifyPassword } from '../platform/passwords';
import { hashToken } from '../platform/tokens';
import { endSessions, signOutEverywhere } from './devices';
import { queueDoorMail } from './door-mail';
import { ownAddress, personAsActor, readPerson, type Person, type PersonRef } from './person';
import { passFirstStep, type Browser, type SignInOutcome, type SignInPlace } from './sign-in';

/** @throws DomainError invalid unless this is the person's password; for what is only done by oneself */
export async function requirePassword(place: SignInPlace, tx: Tx, from: Actor, ref: PersonRef, password: string): Promise<Person> {
	const person = await readPerson(tx, ref);
	if (!person) throw new DomainError('not_found', saying('wrong.signedOut'));
	await place.limits.codeTry(`password ${ref.id}`, from.ip);
	if (!(await verifyPassword(person.passwordHash, password)))
		throw new DomainError('invalid', saying('wrong.password.own'), { ownPassword: saying('wrong.password.own') });
	await place.limits.codeSucceeded(`password ${ref.id}`, from.ip);
	return person;
}

/**
 * Puts a message with a link for a new password on its way, if the address is known. The caller learns
 * nothing about that, and the work done while they wait is the same.
 * @throws DomainError too_many
 */
export async function askForReset(place: SignInPlace, from: Actor, kind: PersonRef['kind'], email: string, firmId: string | null): Promise<void> {
	await place.limits.resetTry(`${kind} ${firmId ?? ''} ${email.toLowerCase()}`, from.ip);
	await queueDoorMail(place.db, from, { what: 'reset', kind, email, firmId, tokenHash: null });
}

/**
 * Ends what is on its way to prove who somebody is: links for a new password, and sign-ins that wait for their second step or a code.
 * Who asked for them may be somebody else.
 */
export async function endOpenProofs(tx: Tx, person: PersonRef, now: string): Promise<void> {
	await tx.rows('update password_reset set used_at = $2 where coalesce(staff_id, contact_id) = $1 and used_at is null', [person.id, now]);
	await tx.rows('update sign_in_step set done_at = $2 where coalesce(staff_id, contact_id) = $1 and done_at is null', [person.id, now]);
}

interface ResetRow {
	id: string;
	suspended: boolean;
	expires_at: string;
	used_at: string | null;
	person_id: string;
	kind: PersonRef['kind'];
	name: string;
	email: string;
	role: Role | null;
}

/** The reset behind a link, or null if it is unknown, used, too old, or of somebody who is suspended. */
export async function findReset(
	db: Database,
	token: string,
	kind: PersonRef['kind'],
	now: string
): Promise<{ firmId: string; name: string; email: string } | null> {
	const hash = hashToken(token);
	const firmId = (await db.queryOutsideFirm<{ firm_id: string | null }>('select find_firm_of_reset($1) as firm_id', [hash]))[0]?.firm_id;
	if (!firmId) return null;
	const row = await db.inFirm(firmId, (tx) => readReset(tx, hash));
	return row && row.kind === kind && !row.used_at && !row.suspended && compareInstants(row.expires_at, now) > 0
		? { firmId, name: row.name, email: row.email }
		: null;
}

function readReset(tx: Tx, hash: Buffer): Promise<ResetRow | null> {
	return tx.first<ResetRow>(
		`select r.id, r.expires_at, r.used_at, coalesce(s.id, c.id) person_id, case when s.id is null then 'contact' else 'staff' end kind,
			coalesce(s.name, c.name) as name, coalesce(s.email, c.email)::text email, s.role, coalesce(s.suspended_at, c.suspended_at) is not null suspended
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

/** @param ownWords names and addresses of the person and the firm @throws PasswordRefused */
export function requireGoodPassword(password: string, ownWords: readonly string[]): void {
	const problem = passwordProblem(password, isCommonPassword, ownWords);
	if (problem) throw new PasswordRefused(problem);
	// knowing more only makes guessing easier: whatever stands this stands the other
	if (isSoonGuessed(password, ownWords)) throw new PasswordRefused(isSoonGuessed(password, []) ? 'common' : 'own_words');
}

/**
 * Sets a new password by a reset link, ends every session of the person, trusts none of their devices any more, and takes the first
 * step of signing in here.
 * @throws DomainError link_unusable, PasswordRefused
 */
export async function resetPassword(
	db: Database,
	from: Actor,
	kind: PersonRef['kind'],
	token: string,
	password: string,
	browser: Browser = { device: undefined }
): Promise<SignInOutcome> {
	const reset = await findReset(db, token, kind, from.now);
	if (!reset) throw new DomainError('link_unusable', saying('wrong.link.reset'));
	const { name: firmName } = await db.inFirm(reset.firmId, loadFirm);
	requireGoodPassword(password, [reset.name, reset.email, firmName]);
	const passwordHash = await hashPassword(password);
	return db.inFirm(reset.firmId, async (tx) => {
		const row = await readReset(tx, hashToken(token));
		if (!row || row.used_at || row.suspended) throw new DomainError('link_unusable', saying('wrong.link.reset'));
		const person: Person = {
			kind,
			id: row.person_id,
			name: row.name,
			email: row.email,
			role: row.role,
			passwordHash,
			suspended: false
		};
		const actor = personAsActor(from, person);
		await endOpenProofs(tx, person, from.now);
		await tx.rows(`update ${kind} set password_hash = $2 where id = $1`, [row.person_id, passwordHash]);
		await signOutEverywhere(tx, person, from.now);
		await recordEvent(tx, actor, { verb: 'password_changed', contactId: kind === 'contact' ? row.person_id : null });
		await planMessage(tx, actor, {
			kind: 'password_changed',
			idempotencyKey: `password changed ${row.id}`,
			to: ownAddress(person),
			content: {}
		});
		return passFirstStep(tx, actor, person, browser);
	});
}

/**
 * Changes the password of somebody who is signed in and writes the one they have. They stay signed in here, and nowhere else; links for a new
 * password and sign-ins under way end with it.
 * @throws DomainError invalid if the present one is wrong or the same; too_many; changed_meanwhile; PasswordRefused
 */
export async function changeOwnPassword(
	place: SignInPlace,
	from: Actor,
	here: { firmId: string; sessionId: string; person: PersonRef },
	input: { ownPassword: string; password: string }
): Promise<void> {
	const { person, firmName } = await place.db.inFirm(here.firmId, async (tx) => ({
		person: await requirePassword(place, tx, from, here.person, input.ownPassword),
		firmName: (await loadFirm(tx)).name
	}));
	if (input.password === input.ownPassword)
		throw new DomainError('invalid', saying('wrong.password.same'), { password: saying('wrong.password.same') });
	requireGoodPassword(input.password, [person.name, person.email, firmName]);
	const passwordHash = await hashPassword(input.password);
	await place.db.inFirm(here.firmId, async (tx) => {
		const changed = await tx.rows(`update ${person.kind} set password_hash = $2 where id = $1 and password_hash = $3 returning id`, [
			person.id,
			passwordHash,
			person.passwordHash
		]);
		if (changed.length === 0) throw new DomainError('changed_meanwhile', saying('wrong.password.changed'));
		await endOpenProofs(tx, person, from.now);
		await endSessions(tx, person, from.now, null, here.sessionId);
		await recordEvent(tx, from, { verb: 'password_changed', contactId: person.kind === 'contact' ? person.id : null });
		await planMessage(tx, from, {
			kind: 'password_changed',
			idempotencyKey: `password changed ${randomUUID()}`,
			to: ownAddress(person),
			content: {}
		});
	});
}
