import { z } from 'zod';
import { addDays, addToInstant, compareInstants, daysBetween, localDate } from '$lib/core/calendar/firm-calendar';
import type { FactName } from '$lib/core/clients/facts';
import { DomainError } from '$lib/core/errors/domain-error';
import { answerInWords, type Answer } from '$lib/core/requests/answers';
import { answerOf, answersOf, factOf, ITEM_SPECS, type ItemKind } from '$lib/core/requests/item-kinds';
import { isOpen, mayGoOnWith, OPEN_STATES } from '$lib/core/requests/item-states';
import { ANSWER, keepTypedFields, typedNames, type TypedFields, type TypedKept, type TypedNow } from '$lib/core/requests/typed';
import { answerReader } from '$lib/words/answers';
import { dateWords, timeWords } from '$lib/words/dates';
import { saying } from '$lib/words/sayings';
import type { WordKey } from '$lib/words/words';
import { requireContact, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { noteAnsweredFact } from '../clients/client-record';
import { loadFirm } from '../firms/firm';
import { encrypt } from '../platform/tokens';
import type { Tx } from '../platform/db/database';
import { lockItem, moveItem, type LockedItem } from './change-item';

/** Locks an item that is asked of this contact, to note that they look at it. Another client's item does not exist for them. */
export async function lockOwnItemToRead(tx: Tx, actor: Actor, itemId: string): Promise<LockedItem> {
	requireContact(actor);
	return lockItem(tx, itemId);
}

/** The same for doing something with it. @throws DomainError changed_meanwhile if the firm does not work for the client just now */
export async function lockOwnItem(tx: Tx, actor: Actor, itemId: string): Promise<LockedItem> {
	const item = await lockOwnItemToRead(tx, actor, itemId);
	const client = await tx.first<{ name: string; state: string }>('select name, state from client where id = $1', [item.client_id]);
	if (client?.state !== 'active') throw new DomainError('changed_meanwhile', saying('wrong.client.closed', { client: client?.name ?? '' }));
	return item;
}

/** Notes that the contact has opened an item for the first time. */
export async function seeItem(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const item = await lockOwnItemToRead(tx, actor, itemId);
	if (item.state === 'asked') await moveItem(tx, actor, await loadFirm(tx), item, 'see');
}

/** Notes that the contact has begun, if nothing was begun before. */
export async function startItem(tx: Tx, actor: Actor, item: LockedItem): Promise<void> {
	if (item.state === 'asked' || item.state === 'seen') await moveItem(tx, actor, await loadFirm(tx), item, 'start');
}

/** @throws DomainError invalid, if the item is of another kind */
function requireKind(item: LockedItem, kind: ItemKind): void {
	if (item.kind !== kind) throw new DomainError('invalid', saying('wrong.item.otherKind'));
}

/** An answer that is also a fact is kept as one, said by whoever answered: it is never asked again. */
async function keepFact(tx: Tx, actor: Actor, item: LockedItem, name: FactName | null, answer: Answer): Promise<void> {
	const value = name && factOf(name, answer);
	if (name && value !== null) await noteAnsweredFact(tx, actor, { clientId: item.client_id, name, value });
}

/**
 * Hands in the answer to a question, in the way it is answered.
 * @param input.answer as typed in the form; several values for several of several
 * @throws through Zod, with keys of the catalogue, what is wrong with it
 */
export async function answerItem(tx: Tx, actor: Actor, input: { itemId: string; answer: unknown }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	requireKind(item, 'question');
	const { answer: how, fact } = ITEM_SPECS.question.parse(item.spec);
	const given = z.object({ answer: answerOf(how) }).parse({ answer: input.answer }).answer;
	await keepFact(tx, actor, item, fact, given);
	const firm = await loadFirm(tx);
	await moveItem(tx, actor, firm, item, 'hand_in', {
		answer: answerInWords(how, given, answerReader('en')),
		data: given
	});
}

/**
 * Keeps what is typed about an item, field by field, so that nothing is lost and it can be gone on with elsewhere; nobody at the firm is
 * bothered, and nobody there sees it.
 * @returns how it all stands now; null once the item is answered
 */
export async function keepTyped(tx: Tx, actor: Actor, input: TypedNow & { itemId: string }): Promise<TypedKept | null> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	if (!isOpen(item.state) && item.state !== 'answered_no') return null;
	const before = await tx.first<{ typed: TypedFields }>('select typed from item where id = $1', [item.id]);
	const kept = keepTypedFields(before!.typed, input, typedNames(item.kind, ITEM_SPECS[item.kind].parse(item.spec)), actor.now);
	await tx.rows('update item set typed = $2 where id = $1', [item.id, JSON.stringify(kept.fields)]);
	if (Object.keys(input.fields).some((name) => name.startsWith(ANSWER))) await startItem(tx, actor, item);
	return kept;
}

/** What a questionnaire's form holds: one value a question, or several. */
export type TypedAnswers = Readonly<Record<string, unknown>>;

/**
 * Hands in the answers of a questionnaire, all at once.
 * @throws DomainError invalid with a saying for each question that lacks its answer
 */
export async function answerQuestionnaire(tx: Tx, actor: Actor, input: { itemId: string; typed: TypedAnswers }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	requireKind(item, 'questionnaire');
	const { questions } = ITEM_SPECS.questionnaire.parse(item.spec);
	const { answers, problems } = answersOf(questions, input.typed, true);
	if (Object.keys(problems).length > 0)
		throw new DomainError(
			'invalid',
			saying('wrong.answers.open', { count: Object.keys(problems).length }),
			Object.fromEntries(Object.entries(problems).map(([key, what]) => [key, saying(what as WordKey, { max: 10_000 })]))
		);
	for (const question of questions) if (question.key in answers) await keepFact(tx, actor, item, question.fact, answers[question.key]);
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', { data: answers });
}

/** Confirms that something was read, or is done. */
export async function confirmItem(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const item = await lockOwnItem(tx, actor, itemId);
	if (item.kind !== 'read' && item.kind !== 'do') throw new DomainError('invalid', saying('wrong.item.otherKind'));
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', { answer: item.kind === 'read' ? 'read' : 'done' });
}

/** Agrees with what was shown, or wants it changed and says how; remarks pinned to its pages count as saying how. */
export async function approveItem(tx: Tx, actor: Actor, input: { itemId: string; agrees: boolean; words: string | null }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	requireKind(item, 'approve');
	if (
		!input.agrees &&
		!input.words &&
		!(await tx.first(
			'select 1 from item_remark where item_id = $1 and by_contact is not null and (attachment_id is null or attachment_id <> all ($2)) limit 1',
			[item.id, ITEM_SPECS.approve.parse(item.spec).earlier]
		))
	)
		throw new DomainError('invalid', saying('wrong.approve.how'), { words: saying('wrong.approve.how') });
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', {
		answer: input.agrees ? 'agrees' : `wants a change${input.words ? `: ${input.words}` : ''}`,
		data: { agrees: input.agrees, words: input.words },
		look: !input.agrees
	});
}

/** Chooses one of the times that are offered, or says that one was booked on the linked page. */
export async function bookItem(tx: Tx, actor: Actor, input: { itemId: string; time: string | null }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	requireKind(item, 'book');
	const spec = ITEM_SPECS.book.parse(item.spec);
	const firm = await loadFirm(tx);
	if (input.time === null) {
		if (!spec.link) throw new DomainError('invalid', saying('wrong.book.choose'));
		return moveItem(tx, actor, firm, item, 'hand_in', { answer: 'booked on the page' });
	}
	if (!spec.times.includes(input.time)) throw new DomainError('invalid', saying('wrong.book.choose'));
	if (compareInstants(input.time, actor.now) <= 0) throw new DomainError('invalid', saying('wrong.book.past'));
	// the same time may be offered to several: whoever comes first has it
	const taken = await tx.first<{ taken: boolean }>('select is_time_taken($1, $2) taken', [item.id, input.time]);
	if (taken?.taken) throw new DomainError('changed_meanwhile', saying('wrong.book.taken'));
	await moveItem(tx, actor, firm, item, 'hand_in', {
		answer: timeWords(firm.locale, input.time, firm.calendar.timeZone),
		data: { time: input.time }
	});
}

/** How long a secret that a client gave is kept. */
export const SECRET_DAYS = 14;

/** Says that we were let in, or gives what is needed to get in; a secret is kept apart, encrypted. */
export async function giveAccess(tx: Tx, actor: Actor, secretKey: string, input: { itemId: string; secret: string | null }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	requireKind(item, 'access');
	const spec = ITEM_SPECS.access.parse(item.spec);
	if (input.secret) {
		if (!spec.secret) throw new DomainError('invalid', saying('wrong.item.otherKind'));
		await tx.rows(
			`insert into item_secret (item_id, firm_id, client_id, encrypted, given_by, given_at, expires_at) values ($1, $2, $3, $4, $5, $6, $7)
			on conflict (item_id) do update set encrypted = excluded.encrypted, given_by = excluded.given_by, given_at = excluded.given_at, expires_at = excluded.expires_at`,
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

/** Says that it was sent already, by another way; the firm looks for it. */
export async function sayAlreadySent(tx: Tx, actor: Actor, input: { itemId: string; reason: string }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	if (item.kind === 'letter') throw new DomainError('invalid', saying('wrong.item.signOrDecline'));
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
	await tx.rows('update item set due_on = $2, asked_time_until = $3, chased_through = $4, version = version + 1 where id = $1', [
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
 * Hands in the papers that were added.
 * @param input.without the client knows that files which are asked for by name are missing
 * @throws DomainError invalid, naming the files that are missing
 */
export async function handInPapers(tx: Tx, actor: Actor, input: { itemId: string; without: boolean }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	requireKind(item, 'paper');
	const { slots } = (await tx.first<{ slots: (string | null)[] }>(
		'select array(select slot from paper where item_id = $1 and removed_at is null) slots',
		[item.id]
	))!;
	if (slots.length === 0) throw new DomainError('invalid', saying('wrong.item.noFile'));
	const missing = ITEM_SPECS.paper.parse(item.spec).slots.filter((slot) => !slots.includes(slot.name));
	if (missing.length > 0 && !input.without) {
		const words = saying('wrong.item.slotsOpen', { names: missing.map((slot) => slot.name).join(', ') });
		throw new DomainError('invalid', words, { without: words });
	}
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in');
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
	if (item.kind === 'letter') throw new DomainError('invalid', saying('wrong.item.signOrDecline'));
	await moveItem(tx, actor, await loadFirm(tx), item, 'say_no', { reason: input.reason });
}

/** The states in which a contact may add or take out papers. */
export function mayChangePapers(item: LockedItem): boolean {
	const takesFiles =
		item.kind === 'paper' || item.kind === 'transactions' || (item.kind === 'questionnaire' && ITEM_SPECS.questionnaire.parse(item.spec).files);
	return takesFiles && ((OPEN_STATES as readonly string[]).includes(item.state) || item.state === 'answered_no');
}
