import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { decrypt } from '../platform/tokens';
import type { Tx } from '../platform/db/database';
import { lockItem } from './change-item';

/**
 * What a client gave to get into a system, for one look; every look is in the history.
 * @throws DomainError link_unusable once its time is over
 */
export async function showSecret(tx: Tx, actor: Actor, secretKey: string, itemId: string): Promise<string> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, itemId);
	const kept = await tx.first<{ encrypted: Buffer }>('select encrypted from item_secret where item_id = $1 and expires_at > $2', [itemId, actor.now]);
	if (!kept) throw new DomainError('link_unusable', 'It is not kept any more. Ask the client again if it is still needed.');
	await recordEvent(tx, actor, {
		verb: 'secret_shown',
		clientId: item.client_id,
		requestId: item.request_id,
		itemId,
		details: { title: item.title }
	});
	return decrypt(kept.encrypted, secretKey).toString();
}

/** Removes what a client gave, before its time is over. */
export async function endSecret(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, itemId);
	const gone = await tx.first('delete from item_secret where item_id = $1 returning item_id', [itemId]);
	if (gone)
		await recordEvent(tx, actor, {
			verb: 'secret_ended',
			clientId: item.client_id,
			requestId: item.request_id,
			itemId,
			details: { title: item.title }
		});
}

/** Until when what was given for an item is kept, or null. */
export async function secretKeptUntil(tx: Tx, itemId: string, now: string): Promise<string | null> {
	const kept = await tx.first<{ until: string }>('select expires_at until from item_secret where item_id = $1 and expires_at > $2', [itemId, now]);
	return kept && kept.until;
}

/** Removes every secret whose time is over. @returns how many there were */
export async function removeExpiredSecrets(tx: Tx, now: string): Promise<number> {
	return (await tx.rows('delete from item_secret where firm_id = $1 and expires_at <= $2 returning item_id', [tx.firmId, now])).length;
}
