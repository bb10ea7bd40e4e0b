import { DomainError } from '$lib/core/errors/domain-error';
import type { Channels, Reachable } from '$lib/core/messages/ways';
import type { NotAsked } from '$lib/core/requests/who-may-be-asked';
import { requireStaff, type Actor } from '../actor';
import type { LetterParties } from '../letters/prepare-letter';
import type { Tx } from '../platform/db/database';

export interface Recipient extends LetterParties {
	hasAccess: boolean;
	notAsked: NotAsked | null;
	mailProblem: Reachable['mailProblem'];
	phone: string | null;
	channels: Channels;
	textProblem: Reachable['textProblem'];
}

/**
 * Who gets a request, with everything that merge fields need.
 * @param ofClient they have to be of the client; else also somebody outside who signs for it
 * @throws DomainError not_found
 */
export async function readRecipient(tx: Tx, clientId: string, contactId: string, ofClient = true): Promise<Recipient> {
	const row = await tx.first<Recipient>(
		`select cl.name as "clientName", c.name as "contactName", c.email::text as "contactEmail", c.locale, s.name as "responsibleName",
			c.password_hash is not null as "hasAccess", c.not_asked as "notAsked", c.mail_problem as "mailProblem", c.phone, c.channels, c.text_problem as "textProblem"
		from client cl join contact c on c.id = $2 join staff s on s.id = cl.responsible_id
		where cl.id = $1 and (exists (select from client_contact where client_id = $1 and contact_id = $2)
			or not $3 and exists (select from outside_signer where client_id = $1 and contact_id = $2))`,
		[clientId, contactId, ofClient]
	);
	if (!row) throw new DomainError('not_found', 'This contact does not belong to the client.');
	return row;
}

/** The people of a client, in their order, with the language and the day on which each was told of something last. */
export function readWhoCanBeAsked(tx: Tx, actor: Actor, clientId: string): Promise<{ id: string; locale: string; lastToldOn: string | null }[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		'select cc.contact_id id, c.locale, c.last_told_on as "lastToldOn" from client_contact cc join contact c on c.id = cc.contact_id where cc.client_id = $1 order by cc.rank',
		[clientId]
	);
}
