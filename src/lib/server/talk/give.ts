import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { may, type Role } from '$lib/core/people/roles';
import type { Giving } from '$lib/core/talk/give';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { planMessage } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';
import { OF_PLACE, requirePlaceOfWords, type WordsOf } from './place-of-words';

/**
 * Gives what a client wrote, about one thing or about nothing in particular, to one of the firm to answer: it stands in their Rounds whoever
 * looks after the client, with what is written after it, until it is answered or read. They are told by mail, unless they took it themselves.
 * @throws DomainError not_found, invalid for who cannot answer it, changed_meanwhile where it was answered, or given to somebody else
 */
export async function giveAnswer(tx: Tx, actor: Actor, of: WordsOf, giving: Giving): Promise<void> {
	requireStaff(actor, 'judge_item');
	const place = await requirePlaceOfWords(tx, of);
	const waiting = await tx.rows<{ id: string; words: string; clientId: string; clientName: string; has: string | null; hasName: string | null }>(
		`select m.id, m.words, m.client_id "clientId", cl.name "clientName", h.id has, h.name "hasName"
		from remark m join client cl on cl.id = m.client_id left join staff h on h.id = who_answers(m)
		where m.contact_id is not null and m.seen_at is null and ${OF_PLACE}
		order by m.number for update of m`,
		[...place.ids]
	);
	const last = waiting.at(-1);
	if (!last) throw new DomainError('changed_meanwhile', 'Somebody has answered this, or read it, by now.');
	if (last.has === (giving.to || null)) return;
	if (last.has !== (giving.had || null))
		throw new DomainError('changed_meanwhile', last.hasName ? `It was given to ${last.hasName} by now.` : 'Nobody in particular has it any more.');
	const to = giving.to
		? await tx.first<{ id: string; name: string; email: string; role: Role }>(
				'select o.id, o.name, o.email, s.role from colleagues_who_see($1) o join staff s on s.id = o.id where o.id = $2',
				[last.clientId, giving.to]
			)
		: null;
	if (giving.to && (!to || !may(to.role, 'judge_item')))
		throw new DomainError('invalid', 'Please choose somebody who may see this client and answer.', { to: 'They cannot answer it.' });
	await tx.rows('update remark set given_to = $2, given_by = $3 where id = any ($1)', [
		waiting.map(({ id }) => id),
		to?.id ?? null,
		to ? actor.name : null
	]);
	await recordEvent(tx, actor, {
		verb: to ? 'answer_given' : 'answer_let_go',
		...place.event,
		details: to ? { what: place.what, to: to.name } : { what: place.what }
	});
	if (!to || to.id === actor.id) return;
	await planMessage(tx, actor, {
		kind: 'given_to_answer',
		idempotencyKey: `given ${randomUUID()}`,
		to: { address: to.email, staffId: to.id },
		clientId: last.clientId,
		content: {
			remarkId: waiting[0].id,
			...(place.event.itemId ? { itemId: place.event.itemId } : {}),
			clientName: last.clientName,
			itemTitle: place.about,
			signedBy: actor.name,
			reason: waiting.map(({ words }) => words).join('\n\n')
		}
	});
}
