import type { Actor } from '../actor';
import type { Tx } from '../platform/db/database';
import { planMessage, threadOf, type PlannedMessage } from './plan-message';

/**
 * Plans a mail about an item to whom it is asked of, or to somebody else who was told of it, in the thread in which it was first named to
 * them. Whoever has no address at all is not written to: the portal shows them what was written, and Rounds names them. An address that
 * bounces and a suspended person are found when the mail is to go, and it is held back with the reason.
 * @param message what the mail is and says; `content` is given the name of the client
 * @param contactId to whom, if not to whom the item is asked of
 */
export async function writeAboutItem(
	tx: Tx,
	actor: Actor,
	item: { id: string; client_id: string; contact_id: string },
	message: Pick<PlannedMessage, 'kind' | 'idempotencyKey' | 'items' | 'waitSeconds'> & {
		content: Omit<PlannedMessage['content'], 'clientName' | 'itemId' | 'signedBy'>;
	},
	contactId = item.contact_id
): Promise<void> {
	const to = await tx.first<{ email: string | null; client: string }>(
		'select c.email::text, cl.name client from contact c, client cl where c.id = $1 and cl.id = $2',
		[contactId, item.client_id]
	);
	if (!to?.email) return;
	await planMessage(tx, actor, {
		...message,
		to: { address: to.email, contactId },
		clientId: item.client_id,
		threadId: await threadOf(tx, item.id, contactId),
		// what a client or the product itself brings about is signed by the firm
		content: { ...message.content, itemId: item.id, ...(actor.kind === 'staff' ? { signedBy: actor.name } : {}), clientName: to.client }
	});
}
