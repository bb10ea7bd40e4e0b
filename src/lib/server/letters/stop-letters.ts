import { LETTER_OPEN } from '$lib/core/signing/letter-states';
import type { Tx } from '../platform/db/database';
import { enqueue } from '../platform/queue';

/** Nobody can sign the letters of these items any more; what the others of them were asked goes with it. */
export async function stopLetters(tx: Tx, itemIds: readonly string[]): Promise<void> {
	const stopped = await tx.rows<{ id: string }>(
		`update letter set state = 'withdrawn' where state = any ($2) and id in (select letter_id from letter_signer where item_id = any ($1)) returning id`,
		[itemIds, LETTER_OPEN]
	);
	await stopSigners(
		tx,
		stopped.map(({ id }) => id)
	);
}

/** Nobody who has not signed these letters is asked any more; what follows from it is done by a job. */
export async function stopSigners(tx: Tx, letterIds: readonly string[]): Promise<void> {
	await tx.rows(`update letter_signer set state = 'stopped' where letter_id = any ($1) and state in ('waits', 'asked')`, [letterIds]);
	for (const letterId of letterIds) await enqueue(tx, 'letter_goes_on', { firmId: tx.firmId, letterId });
}
