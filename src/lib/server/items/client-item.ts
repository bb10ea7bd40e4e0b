import { addDays, daysBetween, localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { mayGoOnWith } from '$lib/core/items/go-on';
import { kindOf, type ItemKind, type ItemSpec } from '$lib/core/items/item-kinds';
import { typedNames } from '$lib/core/items/typed-names';
import { isOpen, type ItemState } from '$lib/core/requests/item-states';
import { ANSWER, keepTypedFields, type TypedFields, type TypedKept, type TypedNow } from '$lib/core/requests/typed';
import { dateWords } from '$lib/words/dates';
import { saying } from '$lib/words/sayings';
import { requireContact, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { loadFirm } from '../firms/firm';
import { IS_THEIRS_TO_READ, lockOwnItem, lockOwnItemToRead, requireWorkedFor, startItem } from './own-item';
import type { Tx } from '../platform/db/database';
import { moveItem, type LockedItem } from './change-item';

/** Notes that the contact has opened an item for the first time. */
export async function seeItem(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	requireContact(actor);
	const row = await tx.first<{ state: ItemState }>(`select i.state from item i where i.id = $1 and ${IS_THEIRS_TO_READ('$2')}`, [itemId, actor.id]);
	if (!row) throw new DomainError('not_found', saying('wrong.item.unknown'));
	// it is opened far more often than for the first time
	if (row.state !== 'asked') return;
	const item = await lockOwnItemToRead(tx, actor, itemId);
	if (item.state === 'asked') await moveItem(tx, actor, await loadFirm(tx), item, 'see');
}

/**
 * Keeps what is typed about an item, field by field, so that nothing is lost and it can be gone on with elsewhere; nobody at the firm is
 * bothered, and nobody there sees it.
 * @returns how it all stands now; null once the item is answered
 */
export async function keepTyped(tx: Tx, actor: Actor, input: TypedNow & { itemId: string }): Promise<TypedKept | null> {
	requireContact(actor);
	const item = await tx.first<{ kind: ItemKind; state: ItemState; typed: TypedFields; spec: unknown; client: string; client_state: string }>(
		// a word is kept many times a minute: of a long questionnaire no more is read than the keys of its questions
		`select i.kind, i.state, i.typed, c.name client, c.state client_state, case when i.kind = 'questionnaire'
				then jsonb_build_object('questions', coalesce((select jsonb_agg(jsonb_build_object('key', q -> 'key')) from jsonb_array_elements(i.spec -> 'questions') q), '[]'))
				else i.spec end spec
		from item i join client c on c.id = i.client_id where i.id = $1 for update of i`,
		[input.itemId]
	);
	if (!item) throw new DomainError('not_found', saying('wrong.item.unknown'));
	requireWorkedFor({ name: item.client, state: item.client_state });
	if (!isOpen(item.state) && item.state !== 'answered_no') return null;
	const spec = (item.kind === 'questionnaire' ? item.spec : kindOf(item.kind).spec.parse(item.spec)) as ItemSpec<ItemKind>;
	const kept = keepTypedFields(item.typed, input, typedNames(item.kind, spec), actor.now);
	await tx.rows('update item set typed = $2 where id = $1', [input.itemId, JSON.stringify(kept.fields)]);
	const begins = item.state === 'asked' || item.state === 'seen';
	if (begins && Object.keys(input.fields).some((name) => name.startsWith(ANSWER)))
		await startItem(tx, actor, await lockOwnItem(tx, actor, input.itemId));
	return kept;
}

/** Says that it was sent already, by another way; the firm looks for it. */
export async function sayAlreadySent(tx: Tx, actor: Actor, input: { itemId: string; reason: string }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	if (!kindOf(item.kind).judged) throw new DomainError('invalid', saying('wrong.item.signOrDecline'));
	// kept as a reason too: the client reads their own words again
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', { answer: `sent already: ${input.reason}`, reason: input.reason, look: true });
}

/** Longest time a client may ask for, in days. */
export const LATER_DAYS = 60;

/**
 * Asks for time until a day: the due date moves there, and reminders with it; one that is later stays, and nobody reminds of it before
 * that day. The firm sees it, and may move it back.
 */
export async function askForTime(tx: Tx, actor: Actor, input: { itemId: string; until: string }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	if (!isOpen(item.state)) throw new DomainError('changed_meanwhile', saying('wrong.item.moved', { title: item.title, state: item.state }));
	const firm = await loadFirm(tx);
	const today = localDate(actor.now, firm.calendar);
	if (input.until <= today || daysBetween(today, input.until) > LATER_DAYS)
		throw new DomainError('invalid', saying('wrong.later.range', { days: LATER_DAYS }), { until: saying('wrong.later.range', { days: LATER_DAYS }) });
	const staysDue = item.due_on !== null && item.due_on > input.until;
	await tx.rows('update item set due_on = $2, asked_time_until = $3, chased_through = $4, chased_turn = 0, version = version + 1 where id = $1', [
		item.id,
		staysDue ? item.due_on : input.until,
		input.until,
		staysDue ? addDays(input.until, -1) : today
	]);
	await refreshChaseDays(tx, [item.id], firm);
	await recordEvent(tx, actor, {
		verb: 'item_asked_for_time',
		clientId: item.client_id,
		contactId: actor.id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, until: dateWords('en', input.until), from: item.due_on }
	});
}

/**
 * Goes on with what was handed in, to add to it or put it right, as long as nobody of the firm has looked at it. It is not reminded of
 * on the same day.
 * @throws DomainError changed_meanwhile once somebody has looked
 */
export async function goOnWith(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const item = await lockOwnItem(tx, actor, itemId);
	const row = await tx.first<{ looked: boolean }>('select looked_at is not null looked from item where id = $1', [item.id]);
	if (!mayGoOnWith({ ...item, looked: row!.looked })) throw new DomainError('changed_meanwhile', saying('wrong.item.looked'));
	await moveItem(tx, actor, await loadFirm(tx), item, 'go_on');
}

/** Says that an item does not apply, with a reason that the firm reads. */
export async function sayDoesNotApply(tx: Tx, actor: Actor, input: { itemId: string; reason: string }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	if (!kindOf(item.kind).judged) throw new DomainError('invalid', saying('wrong.item.signOrDecline'));
	await moveItem(tx, actor, await loadFirm(tx), item, 'say_no', { reason: input.reason });
}

/** Whether a contact may add or take out papers now. */
export function mayChangePapers(item: LockedItem): boolean {
	return kindOf(item.kind).filesMost(item.spec) > 0 && (isOpen(item.state) || item.state === 'answered_no');
}
