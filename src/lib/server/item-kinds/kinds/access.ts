import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { secretSchema } from '$lib/core/requests/request-form';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../../actor';
import { recordEvent } from '../../audit/record-event';
import { loadFirm } from '../../firms/firm';
import type { Tx } from '../../platform/db/database';
import { encrypt } from '../../platform/tokens';
import { moveItem } from '../../items/change-item';
import type { ServerItemKind } from '../item-kind';
import { lockOwnItem, requireKind } from '../../items/own-item';

/** How long a secret that a client gave is kept. */
export const SECRET_DAYS = 14;

/** Says that we were let in, or gives what is needed to get in; a secret is kept apart, encrypted. */
export async function giveAccess(tx: Tx, actor: Actor, secretKey: string, input: { itemId: string; secret: string | null }): Promise<void> {
	const item = requireKind(await lockOwnItem(tx, actor, input.itemId), 'access');
	if (input.secret) {
		if (!item.spec.secret) throw new DomainError('invalid', saying('wrong.item.otherKind'));
		await tx.rows(
			`insert into item_secret (item_id, firm_id, client_id, encrypted, given_by_id, given_at, expires_at) values ($1, $2, $3, $4, $5, $6, $7)
			on conflict (item_id) do update set encrypted = excluded.encrypted, given_by_id = excluded.given_by_id, given_at = excluded.given_at, expires_at = excluded.expires_at`,
			[
				item.id,
				tx.firmId,
				item.client_id,
				encrypt(Buffer.from(input.secret), secretKey),
				actor.id,
				actor.now,
				addToInstant(actor.now, { hours: 24 * SECRET_DAYS })
			]
		);
		await recordEvent(tx, actor, {
			verb: 'secret_given',
			clientId: item.client_id,
			contactId: actor.id,
			requestId: item.request_id,
			itemId: item.id,
			details: { title: item.title }
		});
	}
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', { answer: input.secret ? 'gave what is needed' : 'has added us' });
}

export const access: ServerItemKind<'access'> = {
	handIn: (tx, actor, itemId, form, { secretKey }) =>
		giveAccess(tx, actor, secretKey, { itemId, secret: 'secret' in form ? secretSchema.parse(form).secret : null })
};
