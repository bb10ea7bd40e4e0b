import { DomainError } from '$lib/core/errors/domain-error';
import { ITEM_STATE_WORDS, itemStateAfter, mayRestore, type ItemMove, type ItemState } from '$lib/core/requests/item-states';
import { kindOf, type ItemKind, type OfAnyKind, type OfKind } from '$lib/core/items/item-kinds';
import type { AnswerReview } from '$lib/core/items/answer-review';
import { bringsAnything } from '$lib/core/items/brings';
import type { EventVerb } from '$lib/core/audit/event-words';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { fillText, personValues } from '$lib/core/letters/merge-fields';
import { dateWords } from '$lib/words/dates';
import { saying } from '$lib/words/sayings';
import { machine, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import type { Firm } from '../firms/firm';
import { messageTextInUse } from '../library/message-texts';
import { planMessage } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';
import { enqueue } from '../platform/queue';

interface LockedBase {
	id: string;
	title: string;
	state: ItemState;
	version: number;
	due_on: string | null;
	client_id: string;
	request_id: string;
	contact_id: string;
	attachments: string[];
	accepts_itself: boolean;
}
/** An item that nobody else changes meanwhile, of some kind. */
export type LockedItem = OfAnyKind<LockedBase>;
export type LockedOf<Kind extends ItemKind> = OfKind<Kind, LockedBase>;

/** A row of `item` with what it asks for as its kind has it. @throws if the row does not fit its kind, which no act writes */
export function withSpec<Row extends { kind: ItemKind; spec: unknown }>(row: Row): Row {
	return { ...row, spec: kindOf(row.kind).spec.parse(row.spec) };
}

/** Locks an item for a change. @throws DomainError not_found (also for somebody else's item) */
export async function lockItem(tx: Tx, itemId: string): Promise<LockedItem> {
	const item = await tx.first<LockedItem>(
		'select id, kind, title, state, version, due_on, client_id, request_id, contact_id, spec, attachments, accepts_itself from item where id = $1 for update',
		[itemId]
	);
	if (!item) throw new DomainError('not_found', saying('wrong.item.unknown'));
	return withSpec(item);
}

/**
 * Refuses a change to an item that somebody else changed meanwhile, and says who.
 * @throws DomainError changed_meanwhile if the item is not the version the person looked at
 */
export async function requireUnchanged(tx: Tx, item: LockedItem, seenVersion: number): Promise<void> {
	if (item.version === seenVersion) return;
	const last = await tx.first<{ actor_name: string }>(
		`select actor_name from event where item_id = $1 and verb like 'item\\_%' order by id desc limit 1`,
		[item.id]
	);
	throw new DomainError(
		'changed_meanwhile',
		`Nothing was changed: ${last?.actor_name ?? 'somebody'} was faster. “${item.title}” is now ${ITEM_STATE_WORDS[item.state]}. Please look at it again.`
	);
}

/** What an event says it is about. */
export function eventAbout(item: LockedItem) {
	return { clientId: item.client_id, contactId: item.contact_id, requestId: item.request_id, itemId: item.id };
}

const MOVE_EVENTS: Record<Exclude<ItemMove, 'send'>, EventVerb> = {
	see: 'item_seen',
	start: 'item_started',
	hand_in: 'item_handed_in',
	fill_in: 'item_filled_in',
	file: 'item_filed',
	unfile: 'item_unfiled',
	say_no: 'item_answered_no',
	decline: 'item_declined',
	lapse: 'item_lapsed',
	accept: 'item_accepted',
	send_back: 'item_sent_back',
	waive: 'item_waived',
	reopen: 'item_reopened',
	take_back: 'item_taken_back',
	go_on: 'item_gone_on_with'
};

/**
 * Makes one move of an item by core's table: state, event and chase days in one go.
 * @throws DomainError changed_meanwhile if the table does not allow it from here
 */
export async function moveItem(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	item: LockedItem,
	move: Exclude<ItemMove, 'send'>,
	extra: {
		reason?: string;
		answer?: string;
		data?: unknown;
		/** a person has to look, whatever the request says */ look?: boolean;
		details?: Record<string, string>;
		/** what is said of single answers from now on */ review?: AnswerReview;
	} = {}
): Promise<void> {
	const by = actor.kind === 'staff' ? 'firm' : actor.kind === 'contact' ? 'contact' : 'machine';
	const to = itemStateAfter(item.state, move, by);
	if (!to) throw new DomainError('changed_meanwhile', saying('wrong.item.moved', { title: item.title, state: item.state }));
	await tx.rows(
		// what was typed and not sent has gone with the answer, or is not needed any more; a question that is being written goes on
		`update item set state = $2, state_at = $3, version = version + 1, reason = $4, answer = coalesce($5, answer), answer_data = coalesce($6, answer_data),
			looked_at = case when $7 then looked_at end,
			-- what is asked once more is not reminded of on the same day, whatever steps have passed meanwhile
			chased_through = case when $8 then greatest(chased_through, $9::date) else chased_through end,
			answer_review = coalesce($10, case when $2 = 'sent_back' then (answer_review - 'askedBack') || jsonb_build_object('seen', answer_data) else answer_review end),
			typed = case when $7 then typed else coalesce((select jsonb_object_agg(key, value) from jsonb_each(typed) where key = 'talk.words'), '{}') end
		where id = $1`,
		[
			item.id,
			to,
			actor.now,
			extra.reason ?? null,
			extra.answer ?? null,
			extra.data === undefined ? null : JSON.stringify(extra.data),
			move === 'see' || move === 'start',
			move === 'send_back' || move === 'reopen' || move === 'go_on' || move === 'unfile',
			localDate(actor.now, firm.calendar),
			extra.review ? JSON.stringify(extra.review) : null
		]
	);
	await refreshChaseDays(tx, [item.id], firm);
	await recordEvent(tx, actor, {
		verb: MOVE_EVENTS[move],
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, before: item.state, after: to, ...extra.details, ...(extra.reason ? { reason: extra.reason } : {}) }
	});
	// what is pinned to a file was seen with it
	if (by === 'firm' && item.kind === 'approve')
		await tx.rows('update remark set seen_at = $2 where item_id = $1 and contact_id is not null and attachment_id is not null and seen_at is null', [
			item.id,
			actor.now
		]);
	if (to === 'accepted' && item.kind === 'questionnaire' && bringsAnything(item.spec))
		await enqueue(tx, 'bring_about', { firmId: tx.firmId, itemId: item.id });
	if (to === 'accepted' || to === 'waived') await thankIfFinished(tx, actor, firm, item);
	if (to === 'handed_in' && item.accepts_itself && !extra.look) await moveItem(tx, machine(actor.now), firm, { ...item, state: to }, 'accept');
}

/** A letter does not lapse before a day on which one of its items is due. @returns the items of all who sign it, if it lapses later now */
export async function keepSignable(tx: Tx, itemId: string, dueOn: string): Promise<string[]> {
	const items = await tx.rows<{ id: string }>(
		`with later as (
			update letter set lapses_on = $2 where id = (select letter_id from letter_signer where item_id = $1) and lapses_on < $2 returning id
		)
		select i.id from later join letter_signer s on s.letter_id = later.id join item i on i.id = s.item_id`,
		[itemId, dueOn]
	);
	return items.map(({ id }) => id);
}

/** Sets the due date; the chase plan starts anew around it, from tomorrow on. */
export async function setDue(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	item: Pick<LockedItem, 'id' | 'title' | 'client_id' | 'contact_id' | 'request_id' | 'due_on'>,
	dueOn: string | null
): Promise<void> {
	await tx.rows('update item set due_on = $2, chased_through = $3, chased_turn = 0, version = version + 1 where id = $1', [
		item.id,
		dueOn,
		localDate(actor.now, firm.calendar)
	]);
	await refreshChaseDays(tx, [item.id, ...(dueOn ? await keepSignable(tx, item.id, dueOn) : [])], firm);
	const words = (day: string | null) => (day ? dateWords('en', day) : 'no date');
	await recordEvent(tx, actor, {
		verb: 'item_due_moved',
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, from: words(item.due_on), to: words(dueOn) }
	});
}

/**
 * Takes back that an item was accepted or waived: it is again what it was, with the reason it had.
 * @param to the state it was in; see core's `mayRestore`
 */
export async function restoreItem(tx: Tx, actor: Actor, firm: Firm, item: LockedItem, to: ItemState): Promise<void> {
	if (!mayRestore(item.state, to)) throw new DomainError('changed_meanwhile', saying('wrong.item.moved', { title: item.title, state: item.state }));
	await tx.rows(
		`update item set state = $2, state_at = $3, version = version + 1, reason =
			(select details ->> 'reason' from event where item_id = $1 and details ->> 'after' = $2 order by id desc limit 1) where id = $1`,
		[item.id, to, actor.now]
	);
	await refreshChaseDays(tx, [item.id], firm);
	await recordEvent(tx, actor, {
		verb: 'item_restored',
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, before: item.state, after: to, was: ITEM_STATE_WORDS[item.state] }
	});
}

/** Thanks, with the firm's own words, once everything that is needed of a request is settled and something was handed in; of two that are finished on one day, once. */
async function thankIfFinished(tx: Tx, actor: Actor, firm: Firm, item: LockedItem): Promise<void> {
	const about = await tx.first<{ name: string; email: string; client: string; responsible: string; locale: string }>(
		`select c.name, c.locale, c.email::text, cl.name client, s.name responsible from contact c, client cl join staff s on s.id = cl.responsible_id
		where c.id = $1 and cl.id = $2 and c.mail_problem is null
			and not exists (select from item where request_id = $3 and required and phase <> 'settled')
			and exists (select from item where request_id = $3 and state = 'accepted')`,
		[item.contact_id, item.client_id, item.request_id]
	);
	const text = about && (await messageTextInUse(tx, 'thanks', about.locale));
	if (!text) return;
	const before = await tx.first<{ at: string }>(
		`select planned_at at from message where contact_id = $1 and kind = 'thanks' order by planned_at desc limit 1`,
		[item.contact_id]
	);
	if (before && localDate(before.at, firm.calendar) === localDate(actor.now, firm.calendar)) return;
	const values = personValues({ clientName: about.client, contactName: about.name, firmName: firm.name, responsible: about.responsible });
	await planMessage(tx, actor, {
		kind: 'thanks',
		idempotencyKey: `thanks ${item.request_id}`,
		to: { address: about.email, contactId: item.contact_id },
		clientId: item.client_id,
		requestId: item.request_id,
		content: { subject: fillText(text.subject, values), body: fillText(text.body, values), signedBy: about.responsible, clientName: about.client }
	});
}
