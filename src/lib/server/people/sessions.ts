import { randomUUID } from 'node:crypto';
import { addToInstant, compareInstants } from '$lib/core/calendar/firm-calendar';
import type { Role } from '$lib/core/people/roles';
import { SESSION_GRACE_SECONDS, SESSION_IDLE_HOURS, SESSION_MOST_DAYS, SESSION_ROTATE_MINUTES } from '$lib/core/people/sign-in';
import type { Actor } from '../actor';
import type { Database, Tx } from '../platform/db/database';
import { hashToken, newToken } from '../platform/tokens';

export interface SignedIn {
	sessionId: string;
	firmId: string;
	firmSlug: string;
	kind: 'staff' | 'contact';
	personId: string;
	name: string;
	email: string;
	role: Role | null;
	locale: string;
	/** has to set up a second step before anything else */
	mustSetUp: boolean;
	/** the person of the firm who looks at the portal as this contact sees it; null for the contact themselves */
	lookedAtBy: string | null;
	/** the id of whoever of the firm only looks */
	lookerId: string | null;
	/** in a practice workspace, whom they are in the real one */
	practiceOf: string | null;
	/** set when the token was replaced: the cookie must be too */
	newToken: string | null;
	expiresAt: string;
}

/** Begins a session for a person who has proved who they are. */
export async function beginSession(
	tx: Tx,
	actor: Actor,
	person: { kind: 'staff' | 'contact'; id: string },
	more: { deviceId: string | null; mustSetUp: boolean } = { deviceId: null, mustSetUp: false }
): Promise<{ token: string; expiresAt: string }> {
	const { token, hash } = newToken();
	const expiresAt = addToInstant(actor.now, { hours: SESSION_IDLE_HOURS[person.kind] });
	await tx.rows(
		`insert into session (id, firm_id, staff_id, contact_id, token_hash, rotated_at, created_at, last_used_at, expires_at, ip, user_agent, device_id, must_set_up)
		values ($1, $2, $3, $4, $5, $6, $6, $6, $7, $8, $9, $10, $11)`,
		[
			randomUUID(),
			tx.firmId,
			person.kind === 'staff' ? person.id : null,
			person.kind === 'contact' ? person.id : null,
			hash,
			actor.now,
			expiresAt,
			actor.ip,
			actor.userAgent.slice(0, 300),
			more.deviceId,
			more.mustSetUp
		]
	);
	return { token, expiresAt };
}

/** How a session is prolonged: by its idle time, up to its greatest age. */
const PROLONGED = (to: string, days: string) => `expires_at = least(${to}::timestamptz, created_at + ${days}::int * interval '1 day')`;

interface SessionRow {
	session_id: string;
	firm_id: string;
	slug: string;
	/** false for the token before the newest, which works for a moment longer */
	is_current: boolean;
	rotated_at: string;
	last_used_at: string;
	expires_at: string;
	ended_at: string | null;
	kind: 'staff' | 'contact';
	person_id: string;
	name: string;
	email: string;
	role: Role | null;
	locale: string;
	suspended_at: string | null;
	must_set_up: boolean;
	practice_of_id: string | null;
}

/**
 * The person behind a session token, or null if it is unknown, ended, too old, or of the other kind. An old
 * token is replaced; the one before still works for a moment, for requests already under way.
 */
export async function resumeSession(db: Database, token: string, kind: 'staff' | 'contact', now: string): Promise<SignedIn | null> {
	const hash = hashToken(token);
	const [row] = await db.queryOutsideFirm<SessionRow>('select s.*, s.practice_of as practice_of_id from session_of_token($1) s', [hash]);
	if (!row || row.kind !== kind || row.ended_at || row.suspended_at || compareInstants(row.expires_at, now) <= 0) return null;
	const isOlderThan = (at: string, age: { minutes?: number; seconds?: number }) => compareInstants(addToInstant(at, age), now) < 0;
	if (!row.is_current && isOlderThan(row.rotated_at, { seconds: SESSION_GRACE_SECONDS })) return null;

	const session: SignedIn = {
		sessionId: row.session_id,
		firmId: row.firm_id,
		firmSlug: row.slug,
		kind,
		personId: row.person_id,
		name: row.name,
		email: row.email,
		role: row.role,
		locale: row.locale,
		mustSetUp: row.must_set_up,
		lookedAtBy: null,
		lookerId: null,
		practiceOf: row.practice_of_id,
		newToken: null,
		expiresAt: row.expires_at
	};
	const prolonged = addToInstant(now, { hours: SESSION_IDLE_HOURS[kind] });
	if (row.is_current && isOlderThan(row.rotated_at, { minutes: SESSION_ROTATE_MINUTES })) {
		const next = newToken();
		const won = await db.inFirm(row.firm_id, (tx) =>
			tx.first<{ expires_at: string }>(
				`update session set previous_token_hash = token_hash, token_hash = $2, rotated_at = $3, last_used_at = $3, ${PROLONGED('$4', '$6')}
				where id = $1 and token_hash = $5 returning expires_at`,
				[row.session_id, next.hash, now, prolonged, hash, SESSION_MOST_DAYS[kind]]
			)
		);
		return { ...session, newToken: won ? next.token : null, expiresAt: won?.expires_at ?? row.expires_at };
	}
	if (isOlderThan(row.last_used_at, { minutes: 5 })) {
		const [used] = await db.inFirm(row.firm_id, (tx) =>
			tx.rows<{ expires_at: string }>(`update session set last_used_at = $2, ${PROLONGED('$3', '$4')} where id = $1 returning expires_at`, [
				row.session_id,
				now,
				prolonged,
				SESSION_MOST_DAYS[kind]
			])
		);
		return { ...session, expiresAt: used?.expires_at ?? row.expires_at };
	}
	return session;
}

export async function endSession(tx: Tx, sessionId: string, now: string): Promise<void> {
	await tx.rows('update session set ended_at = $2 where id = $1 and ended_at is null', [sessionId, now]);
}

/** Ends every session of a person. */
export async function endAllSessions(tx: Tx, person: { kind: 'staff' | 'contact'; id: string }, now: string): Promise<void> {
	await tx.rows(`update session set ended_at = $2 where ended_at is null and ${person.kind === 'staff' ? 'staff_id' : 'contact_id'} = $1`, [
		person.id,
		now
	]);
}
