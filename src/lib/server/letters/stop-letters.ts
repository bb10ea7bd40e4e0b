import { LETTER_OPEN } from '$lib/core/signing/letter-states';
import type { Tx } from '../platform/db/database';
import { enqueue } from '../platform/queue';

/** Nobody can sign the letters of these items any more; what the others of them were asked goes with it. */
export async function stopLetters(tx: Tx, itemIds: readonly string[]): Promise<void> {
	const stopped = await tx.rows<{ id: string }>(
		`update letter set state = 'withdrawn' where state = any ($2) and id in (select letter_id from letter_signer where item_id = any ($1)) returning id`,
		[itemIds, LETTER_OPEN]
	);
	const ids = stopped.map(({ id }) => id);
	await tx.rows(`update letter_signer set state = 'stopped' where letter_id = any ($1) and state in ('waits', 'asked')`, [ids]);
	for (const letterId of ids) await enqueue(tx, 'letter_goes_on', { firmId: tx.firmId, letterId });
}
