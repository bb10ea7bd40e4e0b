import type { Tx } from '../platform/db/database';

/**
 * People are told of requests with the next message of the day; see `announceRequests`. Whoever was told of one before is told of it
 * again.
 * @param message what they are told, if it is not what everybody is
 */
export async function announceLater(
	tx: Tx,
	requestIds: readonly string[],
	contactIds: readonly string[],
	message: string | null = null
): Promise<void> {
	await tx.rows(
		`insert into request_announcement (firm_id, request_id, contact_id, message) select $1, r.id, c.id, $4 from unnest($2::uuid[]) r (id), unnest($3::uuid[]) c (id)
		on conflict (request_id, contact_id) do update set told_at = null, message = excluded.message`,
		[tx.firmId, requestIds, contactIds, message]
	);
}

/** The same for what has gone out to somebody already and leads them nowhere: they are told anew today, though they were told of something. */
export async function announceAnew(tx: Tx, requestIds: readonly string[], contactId: string): Promise<void> {
	if (requestIds.length === 0) return;
	await announceLater(tx, requestIds, [contactId]);
	await tx.rows('update contact set last_told_on = null where id = $1', [contactId]);
}
