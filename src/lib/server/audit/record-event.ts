import type { EventVerb } from '$lib/core/audit/event-words';
import { requireContact, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';

export interface NewEvent {
	verb: EventVerb;
	clientId?: string | null;
	contactId?: string | null;
	requestId?: string | null;
	itemId?: string | null;
	paperId?: string | null;
	messageId?: string | null;
	details?: Record<string, unknown>;
}

/** Writes who did what when and from where, in the transaction that does it. Screens hear of it on commit. */
export async function recordEvent(tx: Tx, actor: Actor, event: NewEvent): Promise<void> {
	await recordEvents(tx, actor, [event]);
}

/** Writes several events with one statement, in order. */
export async function recordEvents(tx: Tx, actor: Actor, events: readonly NewEvent[]): Promise<void> {
	if (events.length === 0) return;
	await tx.rows(
		`insert into event (firm_id, at, actor_kind, actor_id, actor_name, ip, verb, client_id, contact_id, request_id, item_id, paper_id, message_id, details, user_agent)
		select $1, $2, $3, $4, $5, $6, e.verb, e.client_id, e.contact_id, e.request_id, e.item_id, e.paper_id, e.message_id, coalesce(e.details, '{}'), case when starts_with(e.verb, 'letter_') then $8 end
		from jsonb_to_recordset($7) as e (verb text, client_id uuid, contact_id uuid, request_id uuid, item_id uuid, paper_id uuid, message_id uuid, details jsonb)`,
		[
			tx.firmId,
			actor.now,
			actor.kind,
			actor.id,
			actor.name,
			actor.ip || null,
			JSON.stringify(
				events.map((e) => ({
					verb: e.verb,
					client_id: e.clientId,
					contact_id: e.contactId,
					request_id: e.requestId,
					item_id: e.itemId,
					paper_id: e.paperId,
					message_id: e.messageId,
					details: e.details
				}))
			),
			actor.userAgent.slice(0, 300) || null
		]
	);
}

/** Writes what was done about a person into the history of each of their clients; of somebody without a client it stands by itself. */
export async function recordOfPerson(tx: Tx, actor: Actor, contactId: string, event: Omit<NewEvent, 'clientId' | 'contactId'>): Promise<void> {
	const clients = await tx.rows<{ client_id: string | null }>('select distinct client_id from tied_person where contact_id = $1 order by client_id', [
		contactId
	]);
	await recordEvents(
		tx,
		actor,
		(clients.length > 0 ? clients : [{ client_id: null }]).map(({ client_id }) => ({ ...event, contactId, clientId: client_id }))
	);
}

/** Writes into the history of each of a contact's clients what they did about themselves. */
export async function recordOfOneself(tx: Tx, actor: Actor, event: Omit<NewEvent, 'clientId' | 'contactId'>): Promise<void> {
	requireContact(actor);
	const clients = await tx.rows<{ id: string | null }>('select unnest(my_clients()) id');
	await recordEvents(
		tx,
		actor,
		clients.map(({ id }) => ({ ...event, contactId: actor.id, clientId: id }))
	);
}

/** How many of the newest events tell one state from another: more than ever commit out of order. */
const MARKED = 50;

/**
 * The id of the firm's newest event, 0 if there is none, and a mark that differs whenever an event was added. Ids are
 * given before the commit, so that an event may turn up behind a newer one; the mark tells that too.
 * @returns also which clients are closed to whoever asks, as one text: what they see of the firm is told apart by it
 */
export async function newestEvents(tx: Tx): Promise<{ id: number; mark: string; unseen: string }> {
	const row = await tx.first<{ id: number; mark: string | null; unseen: string | null }>(
		`select coalesce(max(id), 0) id, sum(id)::text mark, nullif(current_setting('app.unseen', true), '{}') unseen from (select id from event where firm_id = $1 order by id desc limit $2) newest`,
		[tx.firmId, MARKED]
	);
	return { id: row!.id, mark: row!.mark ?? '', unseen: row!.unseen ?? '' };
}

/** The firm's newest event, with id 0 if there is none. @returns also whether it happened within the last seconds */
export async function latestEvent(tx: Tx, now: string): Promise<{ id: number; justNow: boolean }> {
	const row = await tx.first<{ id: number; justNow: boolean }>(
		`select id, at > $2::timestamptz - interval '15 seconds' as "justNow" from event where firm_id = $1 order by id desc limit 1`,
		[tx.firmId, now]
	);
	return row ?? { id: 0, justNow: false };
}
