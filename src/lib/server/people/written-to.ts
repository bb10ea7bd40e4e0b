import { mayText, type Channels, type Reachable } from '$lib/core/messages/ways';
import type { TheirTimes } from '$lib/core/calendar/their-times';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';
import { requireContact, type Actor } from '../actor';
import { recordOfOneself } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

/** How and when a contact is written to. */
export interface WrittenTo extends Reachable {
	times: TheirTimes | null;
}

/** How and when a contact is written to, for themselves. */
export async function readWrittenTo(tx: Tx, actor: Actor): Promise<WrittenTo> {
	requireContact(actor);
	return (await tx.first<WrittenTo>(
		`select email::text, phone, channels, mail_problem "mailProblem", text_problem "textProblem", times from contact where id = $1`,
		[actor.id]
	))!;
}

/** A contact chooses by which way they are written to. @throws DomainError invalid for text messages where none can go */
export async function chooseOwnWay(tx: Tx, actor: Actor, channels: Channels): Promise<void> {
	requireContact(actor);
	const before = (await tx.first<{ phone: string | null; channels: Channels; textProblem: string | null }>(
		'select phone, channels, text_problem "textProblem" from contact where id = $1 for update',
		[actor.id]
	))!;
	if (before.channels === channels) return;
	if (channels !== 'email' && !mayText(before))
		throw new DomainError('invalid', saying('wrong.writing.text'), { channels: saying('wrong.writing.text') });
	await tx.rows('update contact set channels = $2 where id = $1', [actor.id, channels]);
	await recordOfOneself(tx, actor, { verb: 'way_chosen', details: { way: WAYS[channels] } });
}
const WAYS: Record<Channels, string> = { email: 'e-mail', text: 'text message', both: 'e-mail and text message' };
