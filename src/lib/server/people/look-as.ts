import { randomUUID } from 'node:crypto';
import { addToInstant, compareInstants } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { recordEvents } from '../audit/record-event';
import type { Database, Tx } from '../platform/db/database';
import { hashToken, newToken } from '../platform/tokens';
import type { SignedIn } from './sessions';

/** A look at the portal as somebody sees it lasts at most this long. */
export const PORTAL_LOOK_MINUTES = 30;

/**
 * Begins a look at the portal as a contact sees it. It shows and does nothing; that somebody looked stands in the
 * history of each of their clients.
 * @param sessionId the looker's own session, with which the look ends
 * @returns the token of the look
 */
export async function beginPortalLook(tx: Tx, actor: Actor, contactId: string, sessionId: string): Promise<string> {
	requireStaff(actor, 'see_as');
	const contact = await tx.first<{ name: string }>('select name from contact where id = $1', [contactId]);
	if (!contact) throw new DomainError('not_found', 'There is no such contact.');
	const clients = await tx.rows<{ client_id: string }>('select client_id from client_contact where contact_id = $1', [contactId]);
	const { token, hash } = newToken();
	await tx.rows(
		'insert into portal_look (id, firm_id, staff_id, contact_id, token_hash, begun_at, expires_at, session_id) values ($1, $2, $3, $4, $5, $6, $7, $8)',
		[randomUUID(), tx.firmId, actor.id, contactId, hash, actor.now, addToInstant(actor.now, { minutes: PORTAL_LOOK_MINUTES }), sessionId]
	);
	await recordEvents(
		tx,
		actor,
		clients.map((row) => ({ verb: 'looked_as' as const, clientId: row.client_id, contactId, details: { contact: contact.name } }))
	);
	return token;
}

/** Ends every look of the person. Doing it twice changes nothing. */
export async function endPortalLooks(tx: Tx, actor: Actor): Promise<void> {
	requireStaff(actor, 'look');
	await tx.rows('update portal_look set ended_at = $2 where staff_id = $1 and ended_at is null', [actor.id, actor.now]);
}

/** Whose portal a look shows, or null if it is unknown, over, or of somebody who was suspended. */
export async function resumePortalLook(db: Database, token: string, now: string): Promise<SignedIn | null> {
	const [row] = await db.queryOutsideFirm<{
		look_id: string;
		firm_id: string;
		slug: string;
		contact_id: string;
		contact_name: string;
		email: string | null;
		locale: string;
		staff_id: string;
		staff_name: string;
		expires_at: string;
	}>('select * from look_of_token($1)', [hashToken(token)]);
	if (!row || compareInstants(row.expires_at, now) <= 0) return null;
	return {
		sessionId: row.look_id,
		firmId: row.firm_id,
		firmSlug: row.slug,
		kind: 'contact',
		personId: row.contact_id,
		name: row.contact_name,
		email: row.email ?? '',
		role: null,
		locale: row.locale,
		mustSetUp: false,
		lookedAtBy: row.staff_name,
		lookerId: row.staff_id,
		practiceOf: null,
		newToken: null,
		expiresAt: row.expires_at
	};
}
