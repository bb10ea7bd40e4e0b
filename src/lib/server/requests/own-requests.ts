import { randomUUID } from 'node:crypto';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import type { ClientForm } from '$lib/core/requests/client-forms';
import { saying } from '$lib/words/sayings';
import { requireContact, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { clientsWithArea, FORM_OF_CLIENT } from '../firms/portal-areas';
import type { Tx } from '../platform/db/database';
import { moveItem } from '../items/change-item';
import { lockOwnItem } from '../items/own-item';

export interface OfferedForm {
	id: string;
	name: string;
	about: string;
}

/** The forms of a contact's clients, by client: those for all, and those for services that the client has. */
export async function readOfferedForms(tx: Tx, actor: Actor): Promise<{ clientId: string; clientName: string; forms: OfferedForm[] }[]> {
	const clients = (await clientsWithArea(tx, actor, 'forms')).filter((client) => client.state === 'active');
	const rows = await tx.rows<OfferedForm & { clientId: string }>(
		`select f.id, f.name, f.about, c.id "clientId" from client_form f, client c
		where c.id = any ($1) and ${FORM_OF_CLIENT}
		order by lower(f.name), f.id`,
		[clients.map((client) => client.id)]
	);
	return clients
		.map((client) => ({
			clientId: client.id,
			clientName: client.name,
			forms: rows.filter((row) => row.clientId === client.id).map(({ id, name, about }) => ({ id, name, about }))
		}))
		.filter((client) => client.forms.length > 0);
}

/** Most requests of one contact that are begun and not handed in: more is a mistake, or no person. */
const BEGUN_MOST = 20;

/**
 * Begins a request of a client's own with a form: one thing with its questions, which is answered, gone on with elsewhere and
 * handed in like any other. It is not chased.
 * @returns the item's id
 * @throws DomainError not_found for a form that is not offered to this client; too_many
 */
export async function raiseRequest(tx: Tx, actor: Actor, input: { clientId: string; formId: string }): Promise<string> {
	requireContact(actor);
	const offered = (await readOfferedForms(tx, actor)).find((client) => client.clientId === input.clientId);
	if (!offered?.forms.some((form) => form.id === input.formId)) throw new DomainError('not_found', saying('wrong.form.unknown'));
	const begun = await tx.first<{ n: number }>(
		`select count(*) n from request r join item i on i.request_id = r.id where r.raised_by_id = $1 and i.state in ('asked', 'seen', 'started')`,
		[actor.id]
	);
	if (begun!.n >= BEGUN_MOST) throw new DomainError('too_many', saying('wrong.form.many'));
	const form = (await tx.first<Omit<ClientForm, 'services'>>('select name, about, questions, files from client_form where id = $1', [input.formId]))!;
	const firm = await loadFirm(tx);
	const [requestId, itemId] = [randomUUID(), randomUUID()];
	await tx.rows(
		`insert into request (id, firm_id, client_id, contact_id, title, message, idempotency_key, created_by_id, sent_at, quiet, raised_by_id)
		values ($1, $2, $3, $4, $5, '', $6, null, $7, true, $4)`,
		[requestId, tx.firmId, input.clientId, actor.id, form.name, randomUUID(), actor.now]
	);
	await tx.rows(
		`insert into item (id, firm_id, client_id, request_id, contact_id, position, kind, title, why, required, due_on, spec, state, state_at, asked_on, chased_through)
		values ($1, $2, $3, $4, $5, 0, 'questionnaire', $6, $7, false, null, $8, 'started', $9, $10, $10)`,
		[
			itemId,
			tx.firmId,
			input.clientId,
			requestId,
			actor.id,
			form.name,
			form.about || null,
			JSON.stringify({ questions: form.questions, files: form.files, signed: false, ends: [] }),
			actor.now,
			localDate(actor.now, firm.calendar)
		]
	);
	await recordEvent(tx, actor, {
		verb: 'request_raised',
		clientId: input.clientId,
		contactId: actor.id,
		requestId,
		itemId,
		details: { title: form.name }
	});
	return itemId;
}

/** Takes back a request of one's own that was not handed in yet. @throws DomainError invalid if it is the firm's */
export async function takeBackRequest(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const item = await lockOwnItem(tx, actor, itemId);
	const own = await tx.first('select 1 from request where id = $1 and raised_by_id = $2', [item.request_id, actor.id]);
	if (!own) throw new DomainError('invalid', saying('wrong.item.otherKind'));
	await moveItem(tx, actor, await loadFirm(tx), item, 'take_back');
}
