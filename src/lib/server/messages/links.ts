import { createHmac, randomUUID, timingSafeEqual } from 'node:crypto';
import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { RESET_HOURS } from '$lib/core/people/sign-in';
import { readReplyAddress, replyAddress } from '$lib/core/talk/reply-address';
import type { Tx } from '../platform/db/database';
import { derivedToken, hashToken, keysOf, newCode, newToken } from '../platform/tokens';

/** The address under which one person's reminders are stopped, with proof that it came from us. */
export function stopUrl(origin: string, messageId: string, secretKey: string): string {
	return `${origin}/mail/stop/${messageId}.${stopProof(messageId, keysOf(secretKey)[0])}`;
}

function stopProof(messageId: string, key: Buffer): string {
	return createHmac('sha256', key).update(`stop ${messageId}`).digest('base64url').slice(0, 32);
}

/** The message id in a stop link, or null if the link is not ours. */
export function readStopLink(link: string, secretKey: string): string | null {
	const [id, proof] = link.split('.');
	if (!/^[0-9a-f-]{36}$/.test(id ?? '') || !proof) return null;
	const given = Buffer.from(proof);
	const isOurs = keysOf(secretKey).some((key) => {
		const expected = Buffer.from(stopProof(id, key));
		return expected.length === given.length && timingSafeEqual(expected, given);
	});
	return isOurs ? id : null;
}

const replySignature = (messageId: string, key: Buffer): string => createHmac('sha256', key).update(`reply ${messageId}`).digest('hex').slice(0, 16);

/** The address to which somebody answers a message of ours, with proof that it came from us. */
export const replyTo = (messageId: string, domain: string, secretKey: string): string =>
	replyAddress(messageId, replySignature(messageId, keysOf(secretKey)[0]), domain);

/** The id of the message that a mail to an address answers, or null if it is no address that we gave out. */
export function readReplyTo(address: string, domain: string, secretKey: string): string | null {
	const read = readReplyAddress(address, domain);
	if (!read) return null;
	const isOurs = keysOf(secretKey).some((key) => timingSafeEqual(Buffer.from(replySignature(read.messageId, key)), Buffer.from(read.signature)));
	return isOurs ? read.messageId : null;
}

/** The link of an invitation, the same in every message that holds it; only its hash is kept. */
export async function invitationLink(tx: Tx, invitationId: string, portal: string, secretKey: string): Promise<string> {
	const kept = await tx.first<{ token_hash: Buffer }>('select token_hash from invitation where id = $1', [invitationId]);
	const links = keysOf(secretKey).map((key) => derivedToken('invitation', invitationId, key));
	// while the key is changed, a link that is out already goes on leading in
	const { token, hash } = links.find((link) => kept?.token_hash.equals(link.hash)) ?? links[0];
	await tx.rows('update invitation set token_hash = $2 where id = $1 and token_hash <> $2', [invitationId, hash]);
	return `${portal}/join/${token}`;
}

/**
 * The links by which somebody signs letters without signing in, by item: the same in every message, and another one for another address.
 * Only their hashes are kept.
 * @param itemIds of letters and other things; what is not signed by a link is left out
 */
export async function letterLinks(
	tx: Tx,
	contactId: string,
	itemIds: readonly string[],
	portal: string,
	secretKey: string
): Promise<ReadonlyMap<string, string>> {
	if (itemIds.length === 0) return new Map();
	const signers = await tx.rows<{ id: string; item_id: string; email: string | null; link_hash: Buffer | null }>(
		`select s.id, i.id item_id, c.email::text, s.link_hash from letter_signer s join item i on i.id = s.item_id join contact c on c.id = s.contact_id
		where s.item_id = any ($1) and s.contact_id = $2 and s.signs_by <> 'portal'`,
		[itemIds, contactId]
	);
	const links = new Map<string, string>();
	for (const { id, item_id, email, link_hash } of signers) {
		const made = keysOf(secretKey).map((key) => derivedToken('letter', `${id} ${contactId} ${email?.toLowerCase() ?? ''}`, key));
		// while the key is changed, a link that is out already goes on leading in
		const { token, hash } = made.find((link) => link_hash?.equals(link.hash)) ?? made[0];
		if (!link_hash?.equals(hash)) await tx.rows('update letter_signer set link_hash = $2 where id = $1', [id, hash]);
		links.set(item_id, `${portal}/sign/${token}`);
	}
	return links;
}

/** Makes the code that opens a letter to the visit that waits for it; only its hash is kept. */
export async function makeLetterCode(tx: Tx, visitId: string): Promise<string> {
	const code = newCode();
	await tx.rows('update letter_visit set code_hash = $2 where id = $1', [visitId, hashToken(`${visitId} ${code}`)]);
	return code;
}

/** When an invitation expires, an instant. */
export async function invitationEnd(tx: Tx, invitationId: string): Promise<string> {
	const row = await tx.first<{ expires_at: string }>('select expires_at from invitation where id = $1', [invitationId]);
	return row!.expires_at;
}

/** Makes the link by which somebody sets a password; only its hash is kept. @param hours for which it leads somewhere */
export async function makeResetLink(
	tx: Tx,
	recipient: { id: string; kind: 'contact' | 'staff' | 'visitor' },
	portal: string,
	place: { origin: string; now: string },
	hours = RESET_HOURS
): Promise<string> {
	const { token, hash } = newToken();
	const { id, kind } = recipient;
	if (kind === 'visitor') throw new Error('a visitor has no password');
	await tx.rows(
		`insert into password_reset (id, firm_id, contact_id, staff_id, token_hash, created_at, expires_at) values ($1, $2, $3, $4, $5, $6, $7)`,
		[randomUUID(), tx.firmId, kind === 'contact' ? id : null, kind === 'staff' ? id : null, hash, place.now, addToInstant(place.now, { hours })]
	);
	return kind === 'staff' ? `${place.origin}/desk/reset/${token}` : `${portal}/reset/${token}`;
}
