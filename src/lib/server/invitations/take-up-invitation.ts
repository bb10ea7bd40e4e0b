import { DomainError } from '$lib/core/errors/domain-error';
import { invitationStateAt, type InvitationState } from '$lib/core/invitations/invitation-states';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { readPerson } from '../people/person';
import { passFirstStep, type Browser, type SignInOutcome } from '../people/sign-in';
import { requireGoodPassword } from '../people/change-password';
import type { Database, Tx } from '../platform/db/database';
import { hashPassword } from '../platform/passwords';
import { hashToken } from '../platform/tokens';

export interface InvitationSeen {
	firmId: string;
	firmSlug: string;
	id: string;
	contactId: string;
	clientId: string;
	name: string;
	email: string;
	locale: string;
	state: InvitationState;
}

/** The invitation behind a link, or null; notes the first opening. */
export async function openInvitation(db: Database, from: Actor, token: string): Promise<InvitationSeen | null> {
	const hash = hashToken(token);
	const firmId = (await db.queryOutsideFirm<{ firm_id: string | null }>('select find_firm_of_invitation($1) as firm_id', [hash]))[0]?.firm_id;
	if (!firmId) return null;
	return db.inFirm(firmId, async (tx) => {
		const seen = await readInvitation(tx, hash, from.now);
		if (seen?.state === 'sent') {
			const first = await tx.first('update invitation set opened_at = $2 where id = $1 and opened_at is null returning id', [seen.id, from.now]);
			if (first)
				await recordEvent(
					tx,
					{ ...from, kind: 'contact', id: seen.contactId, name: seen.name },
					{ verb: 'invitation_opened', contactId: seen.contactId, clientId: seen.clientId }
				);
		}
		return seen;
	});
}

/** Notes that somebody whose link does not work any more asks for another one: the firm finds it in Rounds. */
export async function askForInvitation(db: Database, from: Actor, token: string): Promise<void> {
	const hash = hashToken(token);
	const firmId = (await db.queryOutsideFirm<{ firm_id: string | null }>('select find_firm_of_invitation($1) as firm_id', [hash]))[0]?.firm_id;
	if (!firmId) return;
	await db.inFirm(firmId, async (tx) => {
		const seen = await readInvitation(tx, hash, from.now);
		if (seen?.state !== 'expired' && seen?.state !== 'withdrawn') return;
		const first = await tx.first(
			'update invitation set asked_again_at = $2, put_aside_at = null where id = $1 and asked_again_at is null returning id',
			[seen.id, from.now]
		);
		if (first)
			await recordEvent(
				tx,
				{ ...from, kind: 'contact', id: seen.contactId, name: seen.name },
				{ verb: 'invitation_asked_for', contactId: seen.contactId, clientId: seen.clientId }
			);
	});
}

/** Which client an invitation with this link is for, and the language of whoever is invited, or null. */
export function inviteeOf(tx: Tx, token: string): Promise<{ clientId: string; locale: string } | null> {
	return tx.first('select i.client_id as "clientId", c.locale from invitation i join contact c on c.id = i.contact_id where i.token_hash = $1', [
		hashToken(token)
	]);
}

async function readInvitation(tx: Tx, hash: Buffer, now: string): Promise<InvitationSeen | null> {
	const row = await tx.first<
		Omit<InvitationSeen, 'state'> & { expiresAt: string; takenUpAt: string | null; withdrawnAt: string | null; replacedAt: string | null }
	>(
		`select i.firm_id as "firmId", f.slug as "firmSlug", i.id, i.contact_id as "contactId", i.client_id as "clientId", c.name, c.email::text, c.locale,
			i.expires_at as "expiresAt", i.taken_up_at as "takenUpAt", i.withdrawn_at as "withdrawnAt", i.replaced_at as "replacedAt"
		from invitation i join contact c on c.id = i.contact_id join firm f on f.id = i.firm_id where i.token_hash = $1 for update of i`,
		[hash]
	);
	return row && { ...row, state: invitationStateAt(row, now) };
}

/**
 * Takes an invitation up: sets the password and signs the contact in. The link works once.
 * @throws DomainError link_unusable, PasswordRefused
 */
export async function takeUpInvitation(
	db: Database,
	from: Actor,
	token: string,
	password: string,
	browser: Browser = { device: undefined }
): Promise<{ outcome: SignInOutcome; firmSlug: string }> {
	const seen = await openInvitation(db, from, token);
	if (!seen || seen.state !== 'sent') throw new DomainError('link_unusable', saying('wrong.link.invitation'));
	const { name: firmName } = await db.inFirm(seen.firmId, loadFirm);
	requireGoodPassword(password, [seen.name, seen.email, firmName]);
	const passwordHash = await hashPassword(password);
	return db.inFirm(seen.firmId, async (tx) => {
		const current = await readInvitation(tx, hashToken(token), from.now);
		if (current?.state !== 'sent') throw new DomainError('link_unusable', saying('wrong.link.invitation'));
		const actor: Actor = { ...from, kind: 'contact', id: seen.contactId, name: seen.name };
		await tx.rows('update invitation set taken_up_at = $2 where id = $1', [seen.id, from.now]);
		await tx.rows('update contact set password_hash = $2, last_seen_at = $3 where id = $1', [seen.contactId, passwordHash, from.now]);
		await recordEvent(tx, actor, { verb: 'invitation_taken_up', contactId: seen.contactId, clientId: seen.clientId });
		const person = (await readPerson(tx, { kind: 'contact', id: seen.contactId }))!;
		return { outcome: await passFirstStep(tx, actor, person, browser), firmSlug: seen.firmSlug };
	});
}
