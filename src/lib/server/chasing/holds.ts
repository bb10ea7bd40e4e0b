import { randomUUID } from 'node:crypto';
import { localDate, type IsoDate } from '$lib/core/calendar/firm-calendar';
import type { ChasingFirm } from '$lib/core/chasing/chase-plan';
import { goesOnAfter, type Hold, type HoldWhy } from '$lib/core/chasing/hold';
import type { PauseEnd, Sooner } from '$lib/core/chasing/sooner';
import { DomainError } from '$lib/core/errors/domain-error';
import { dateWords } from '$lib/words/dates';
import { machine, requireContact, requireStaff, type Actor } from '../actor';
import { recordEvent, recordOfOneself, recordOfPerson } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { refreshChaseDays } from './refresh-schedule';

/** One thing that was asked, or all that one request asks. */
export type HeldThing = { itemId: string } | { requestId: string };
/** Of whom, or of what, reminders are held. */
export type HeldOf = { contactId: string; /** by which client they are known */ ofClient: string } | { clientId: string } | HeldThing;
/** The same where nobody's right is asked. */
type Whose = { contactId: string } | { clientId: string } | HeldThing;

type HoldingFirm = ChasingFirm & { locale: string; calendar: { timeZone: string } };

/** A person, a client, an item and a request as four parameters, of which all but one are null: nothing equals null, so that one condition serves all. */
const idsOf = (of: Whose): (string | null)[] => [
	'contactId' in of ? of.contactId : null,
	'clientId' in of ? of.clientId : null,
	'itemId' in of ? of.itemId : null,
	'requestId' in of ? of.requestId : null
];
/** The holds that `idsOf` names. */
const THEIRS = '(contact_id = $1 or client_id = $2 or item_id = $3 or request_id = $4) and ended_at is null';

/** Places the reminders of everything open that a hold is about anew. */
async function placeAnew(tx: Tx, of: Whose, firm: ChasingFirm): Promise<void> {
	const items = await tx.rows<{ id: string }>(
		`select id from item where (contact_id = $1 or client_id = $2 or id = $3 or request_id = $4) and phase = 'open' order by id`,
		idsOf(of)
	);
	await refreshChaseDays(
		tx,
		items.map((item) => item.id),
		firm
	);
}

/** Holds reminders until a day; what held them for the same reason before is replaced. */
export async function setHold(
	tx: Tx,
	actor: Actor,
	firm: ChasingFirm,
	of: Whose,
	hold: Hold & { reason?: string; ends?: PauseEnd | null }
): Promise<void> {
	await tx.rows(`update chase_hold set ended_at = $6 where ${THEIRS} and why = $5`, [...idsOf(of), hold.why, actor.now]);
	await tx.rows(
		`insert into chase_hold (contact_id, client_id, item_id, request_id, id, firm_id, until, why, reason, set_at, set_by, ends_with, ends_item_id)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)`,
		[
			...idsOf(of),
			randomUUID(),
			tx.firmId,
			hold.until,
			hold.why,
			hold.reason ?? '',
			actor.now,
			actor.name,
			hold.ends?.endsWith ?? null,
			hold.ends?.endsWith === 'done' ? hold.ends.itemId : null
		]
	);
	await placeAnew(tx, of, firm);
}

/**
 * Ends what an answer holds, once the firm has seen all that they wrote: reminders go on with the step that comes next, for those that passed meanwhile
 * are not made up for.
 */
export async function endReplyHold(tx: Tx, actor: Actor, firm: ChasingFirm & { calendar: { timeZone: string } }, contactId: string): Promise<void> {
	const ended = await tx.first<{ held: boolean }>(
		`update chase_hold set ended_at = $2 where contact_id = $1 and why = 'replied' and ended_at is null
			and not exists (select from remark m where m.contact_id = $1 and m.seen_at is null and m.attachment_id is null)
		returning until > $3::date held`,
		[contactId, actor.now, localDate(actor.now, firm.calendar)]
	);
	if (ended) await goOnAfter(tx, actor, firm, contactId, ended.held);
}

/** Lets what an answer held hold again, as if the firm had not seen it. @param endedAt when that had ended it */
export async function takeUpReplyHold(tx: Tx, firm: ChasingFirm, contactId: string, endedAt: string): Promise<void> {
	const again = await tx.first(`update chase_hold set ended_at = null where contact_id = $1 and why = 'replied' and ended_at = $2 returning id`, [
		contactId,
		endedAt
	]);
	if (again) await placeAnew(tx, { contactId }, firm);
}

/** Ends what held the reminders of a person: they go on with the step that comes next, for those that passed meanwhile are not made up for. */
export async function endHold(
	tx: Tx,
	actor: Actor,
	firm: ChasingFirm & { calendar: { timeZone: string } },
	contactId: string,
	why: HoldWhy
): Promise<void> {
	const ended = await tx.first<{ held: boolean }>(
		'update chase_hold set ended_at = $2 where contact_id = $1 and why = $4 and ended_at is null returning until > $3::date held',
		[contactId, actor.now, localDate(actor.now, firm.calendar), why]
	);
	if (ended) await goOnAfter(tx, actor, firm, contactId, ended.held);
}

async function goOnAfter(tx: Tx, actor: Actor, firm: ChasingFirm, contactId: string, held: boolean): Promise<void> {
	if (held)
		// what something else still holds comes when that ends
		await tx.rows(
			`update item i set chased_through = greatest(chased_through, $2) where contact_id = $1 and phase = 'open'
				and not exists (select from item_hold h where h.item_id = i.id and h.until > $2)`,
			[contactId, localDate(actor.now, firm.calendar)]
		);
	await placeAnew(tx, { contactId }, firm);
}

/** Whom reminders go to that are held, as history names them. @throws DomainError not_found for what is not there for the reader */
async function requireHeldOf(
	tx: Tx,
	of: HeldOf
): Promise<{ whom: string; clientId?: string; contactId?: string; requestId?: string; itemId?: string }> {
	const there =
		'itemId' in of
			? await tx.first<{ whom: string; clientId: string; contactId: string; requestId: string; itemId: string }>(
					`select '“' || title || '”' whom, client_id "clientId", contact_id "contactId", request_id "requestId", id "itemId" from item where id = $1`,
					[of.itemId]
				)
			: 'requestId' in of
				? await tx.first<{ whom: string; clientId: string; contactId: string; requestId: string }>(
						`select 'all of “' || title || '”' whom, client_id "clientId", contact_id "contactId", id "requestId" from request where id = $1`,
						[of.requestId]
					)
				: 'contactId' in of
					? await tx.first<{ whom: string }>(
							'select c.name whom from client_contact cc join contact c on c.id = cc.contact_id where cc.client_id = $1 and cc.contact_id = $2',
							[of.ofClient, of.contactId]
						)
					: await tx.first<{ whom: string; clientId: string }>(`select 'everybody' whom, id "clientId" from client where id = $1`, [of.clientId]);
	if (!there) throw new DomainError('not_found', 'This is not here any more.');
	return there;
}

/** Writes into the history of a person, a client or a thing that reminders were held or let go on. */
async function record(
	tx: Tx,
	actor: Actor,
	of: HeldOf,
	{ whom, ...about }: Awaited<ReturnType<typeof requireHeldOf>>,
	event: { verb: 'reminders_held' | 'reminders_let_go_on' | 'reminders_go_on'; details: Record<string, string> }
): Promise<void> {
	const told = { verb: event.verb, details: { ...event.details, whom } };
	if ('contactId' in of) await recordOfPerson(tx, actor, of.contactId, told);
	else await recordEvent(tx, actor, { ...told, ...about });
}

/**
 * Pauses the reminders of a person, of a whole client, of one thing, or of all that one request asks: until a day, or until something happens before it, nobody is reminded;
 * then one message brings what fell due. What has to be done first is itself reminded of.
 * @param pause the first day on which reminders go again, why, for the firm's own people, and what lets them go again sooner
 * @throws DomainError not_allowed; invalid if what it waits for is not open at this client, or is itself what is paused
 */
export async function pauseReminders(
	tx: Tx,
	actor: Actor,
	firm: HoldingFirm,
	of: HeldOf,
	pause: { until: IsoDate; reason: string; why?: HoldWhy; sooner?: PauseEnd | null }
): Promise<void> {
	requireStaff(actor, 'judge_item');
	const held = await requireHeldOf(tx, of);
	const ends = pause.sooner ?? null;
	if (ends?.endsWith === 'done') await requireAwaitable(tx, of, 'ofClient' in of ? of.ofClient : held.clientId!, ends.itemId);
	await setHold(tx, actor, firm, of, { until: pause.until, why: pause.why ?? 'paused', reason: pause.reason, ends });
	await record(tx, actor, of, held, { verb: 'reminders_held', details: { until: dateWords(firm.locale, pause.until), reason: pause.reason } });
}

/** @throws DomainError invalid where a pause cannot wait for this */
async function requireAwaitable(tx: Tx, of: HeldOf, clientId: string, itemId: string): Promise<void> {
	const waited = await tx.first<{ itself: boolean }>(
		`select coalesce(is_awaited(i.id, $3), false) itself from item i where i.id = $1 and i.client_id = $2 and i.phase = 'open'`,
		[itemId, clientId, 'itemId' in of ? of.itemId : null]
	);
	if (!waited) throw new DomainError('invalid', 'What you chose is not open any more. Choose something else, or only the day.');
	if (waited.itself) throw new DomainError('invalid', 'This is what you pause. Choose something else that has to be done first, or only the day.');
}

/**
 * Sees which pauses have come to their end because their person was heard from, or what they waited for is done: reminders go again from the next
 * business day. Safe to run at any time, by several workers at once.
 */
export async function endPausesThatHappened(tx: Tx, firmId: string, now: string): Promise<void> {
	const firm = await loadFirm(tx);
	const today = localDate(now, firm.calendar);
	const happened = await tx.rows<{
		id: string;
		until: IsoDate;
		contactId: string | null;
		clientId: string | null;
		itemId: string | null;
		requestId: string | null;
		anyClient: string | null;
		title: string | null;
		phase: string | null;
		letter: string | null;
		endsWith: PauseEnd['endsWith'] | null;
	}>(
		`select h.id, h.until, h.contact_id "contactId", h.client_id "clientId", h.item_id "itemId", h.request_id "requestId",
			(select cc.client_id from client_contact cc where cc.contact_id = h.contact_id order by cc.client_id limit 1) "anyClient",
			e.title, e.phase, case when s.letter_id is not null then letters_say(array[s.letter_id]) end letter, h.ends_with "endsWith"
		from chase_hold h left join item e on e.id = h.ends_item_id left join letter_signer s on s.item_id = e.id
		where h.firm_id = $1 and h.ends_with is not null and h.happened_at is null and h.ended_at is null and h.until > $2
			and (h.contact_id is null or exists (select from client_contact cc where cc.contact_id = h.contact_id))
			and case when h.ends_with = 'done' then e.id is null or (case when s.letter_id is null then e.phase <> 'open' else letters_say(array[s.letter_id]) <> 'open' end)
				when h.client_id is not null then exists (select from client_summary c where c.client_id = h.client_id and c.last_sign_of_life > h.set_at)
				else exists (select from contact_heard p where p.at > h.set_at and p.contact_id = coalesce(h.contact_id,
					(select i.contact_id from item i where i.id = h.item_id), (select r.contact_id from request r where r.id = h.request_id))) end
		order by h.id for update of h skip locked`,
		[firmId, today]
	);
	for (const { id, until, title, ...pause } of happened) {
		const day = goesOnAfter(today, until, firm.calendar);
		const of: HeldOf = pause.itemId
			? { itemId: pause.itemId }
			: pause.requestId
				? { requestId: pause.requestId }
				: pause.contactId
					? { contactId: pause.contactId, ofClient: pause.anyClient! }
					: { clientId: pause.clientId! };
		await tx.rows('update chase_hold set until = $2, happened_at = $3 where id = $1', [id, day, now]);
		await placeAnew(tx, of, firm);
		await record(tx, machine(now), of, await requireHeldOf(tx, of), {
			verb: 'reminders_go_on',
			details: { day: dateWords(firm.locale, day), because: becauseOf({ ...pause, title }) }
		});
	}
}

/** What has happened, for history. */
function becauseOf(pause: { endsWith: PauseEnd['endsWith'] | null; title: string | null; phase: string | null; letter: string | null }): string {
	if (pause.endsWith === 'heard') return 'they were heard from';
	if (pause.title === null) return 'what it waited for is not there any more';
	if (pause.letter) return pause.letter === 'signed' ? `“${pause.title}” is signed by all` : `“${pause.title}” cannot be signed any more`;
	return pause.phase === 'settled' ? `“${pause.title}” is settled` : `“${pause.title}” is handed in`;
}

/** Lets reminders that were held go on at once: what fell due meanwhile goes with the next opening of sending hours. */
export async function letRemindersGoOn(tx: Tx, actor: Actor, firm: HoldingFirm, of: HeldOf): Promise<void> {
	requireStaff(actor, 'judge_item');
	const held = await requireHeldOf(tx, of);
	const ended = await tx.rows(`update chase_hold set ended_at = $5 where ${THEIRS} returning id`, [...idsOf(of), actor.now]);
	if (ended.length === 0) return;
	await placeAnew(tx, of, firm);
	await record(tx, actor, of, held, { verb: 'reminders_let_go_on', details: {} });
}

/** Something of a client that a pause could wait for. */
export interface AwaitableThing {
	id: string;
	title: string;
	letter: boolean;
	dueOn: IsoDate | null;
}

/** What holds somebody's reminders today. */
export interface HeldReminders extends Hold {
	/** whose; null for the whole client, or where it is about a thing */
	contactId: string | null;
	/** the one thing it is about */ itemId: string | null;
	/** the request all of whose things it is about */ requestId: string | null;
	/** its title */ title: string | null;
	reason: string;
	by: string;
	/** what would have ended it sooner has happened, and the day is the business day after that */ happened: boolean;
}

type HeldRow = Omit<HeldReminders, 'sooner'> & { endsWith: PauseEnd['endsWith'] | null; awaited: string | null; letter: boolean };
/** What `HeldRow` reads of a hold `h`. */
const HELD_COLUMNS = `h.contact_id "contactId", h.item_id "itemId", h.request_id "requestId", coalesce(i.title, r.title) title, h.until, h.why, h.reason, h.set_by by,
	h.happened_at is not null happened, h.ends_with "endsWith", e.title awaited, coalesce(e.kind = 'letter', false) letter`;
const HELD_FROM =
	'chase_hold h left join item i on i.id = h.item_id left join request r on r.id = h.request_id left join item e on e.id = h.ends_item_id';

/** What ends a hold sooner, from the columns that say it. */
function soonerOf(row: { endsWith: PauseEnd['endsWith'] | null; awaited: string | null; letter: boolean }): Sooner | null {
	if (row.endsWith === null) return null;
	return row.endsWith === 'heard' ? { endsWith: 'heard' } : { endsWith: 'done', title: row.awaited, letter: row.letter };
}
const asHeld = ({ endsWith, awaited, letter, ...hold }: HeldRow): HeldReminders => ({ ...hold, sooner: soonerOf({ endsWith, awaited, letter }) });

/** What holds the reminders of a client or of its people, the longest first. */
export async function readHolds(tx: Tx, actor: Actor, clientId: string, today: IsoDate): Promise<HeldReminders[]> {
	requireStaff(actor, 'look');
	const holds = await tx.rows<HeldRow>(
		`select ${HELD_COLUMNS} from ${HELD_FROM}
		where h.firm_id = $3 and h.ended_at is null and h.until > $2 and (h.client_id = $1 or h.contact_id in (select contact_id from client_contact where client_id = $1)
			or (i.client_id = $1 and i.phase = 'open') or (r.client_id = $1 and exists (select from item o where o.request_id = r.id and o.phase = 'open')))
		order by h.until desc, h.id`,
		[clientId, today, tx.firmId]
	);
	return holds.map(asHeld);
}

/** What holds the reminders of one thing in particular, or of its request. */
export async function readHoldsOfThing(tx: Tx, actor: Actor, item: { id: string; requestId: string }, today: IsoDate): Promise<HeldReminders[]> {
	requireStaff(actor, 'look');
	const holds = await tx.rows<HeldRow>(
		`select ${HELD_COLUMNS} from ${HELD_FROM}
		where h.ended_at is null and h.until > $3 and (h.item_id = $1 or h.request_id = $2) order by h.until desc, h.id`,
		[item.id, item.requestId, today]
	);
	return holds.map(asHeld);
}

/** What a pause could wait for: the open things of a client, the first due first. */
export function readAwaitable(tx: Tx, actor: Actor, clientId: string): Promise<AwaitableThing[]> {
	requireStaff(actor, 'look');
	return tx.rows<AwaitableThing>(
		`select id, title, kind = 'letter' letter, due_on "dueOn" from item where client_id = $1 and phase = 'open' order by due_on nulls last, position, id limit 100`,
		[clientId]
	);
}

/** Until when a contact has said that they are away; null if they have not, or are back. */
export async function readOwnAway(tx: Tx, actor: Actor, today: IsoDate): Promise<IsoDate | null> {
	requireContact(actor);
	const row = await tx.first<{ until: IsoDate }>(
		`select until from chase_hold where contact_id = $1 and why = 'away' and ended_at is null and until > $2`,
		[actor.id, today]
	);
	return row?.until ?? null;
}

/** A contact says until when they are away, or that they are back: until then nobody reminds them. @param until the day on which they are back; null for now */
export async function sayAway(tx: Tx, actor: Actor, firm: HoldingFirm, until: IsoDate | null): Promise<void> {
	requireContact(actor);
	const of = { contactId: actor.id };
	if (until) await setHold(tx, actor, firm, of, { until, why: 'away' });
	else {
		await tx.rows(`update chase_hold set ended_at = $2 where contact_id = $1 and why = 'away' and ended_at is null`, [actor.id, actor.now]);
		await placeAnew(tx, of, firm);
	}
	await recordOfOneself(tx, actor, until ? { verb: 'said_away', details: { until: dateWords(firm.locale, until) } } : { verb: 'said_back' });
}
