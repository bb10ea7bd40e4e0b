import { randomUUID } from 'node:crypto';
import { localDate, type IsoDate } from '$lib/core/calendar/firm-calendar';
import type { ChasingFirm } from '$lib/core/chasing/chase-plan';
import type { Hold, HoldWhy } from '$lib/core/chasing/hold';
import { DomainError } from '$lib/core/errors/domain-error';
import { dateWords } from '$lib/words/dates';
import { requireContact, requireStaff, type Actor } from '../actor';
import { recordEvent, recordEvents, recordOfPerson } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import { refreshChaseDays } from './refresh-schedule';

/** Of whom reminders are held. */
export type HeldOf = { contactId: string; /** by which client they are known */ ofClient: string } | { clientId: string };
/** The same where nobody's right is asked. */
type Whose = { contactId: string } | { clientId: string };

type HoldingFirm = ChasingFirm & { locale: string; calendar: { timeZone: string } };

/** A person and a client as two parameters, of which one is null: nothing equals null, so that one condition serves both. */
const idsOf = (of: Whose): [contactId: string | null, clientId: string | null] => ('contactId' in of ? [of.contactId, null] : [null, of.clientId]);

/** Places the reminders of everything open of a person or a client anew. */
async function placeAnew(tx: Tx, of: Whose, firm: ChasingFirm): Promise<void> {
	const items = await tx.rows<{ id: string }>(
		`select id from item where (contact_id = $1 or client_id = $2) and phase = 'open' order by id`,
		idsOf(of)
	);
	await refreshChaseDays(
		tx,
		items.map((item) => item.id),
		firm
	);
}

/** Holds the reminders of a person or a client until a day; what held them for the same reason before is replaced. */
export async function setHold(tx: Tx, actor: Actor, firm: ChasingFirm, of: Whose, hold: Hold & { reason?: string }): Promise<void> {
	await tx.rows(`update chase_hold set ended_at = $4 where (contact_id = $1 or client_id = $2) and why = $3 and ended_at is null`, [
		...idsOf(of),
		hold.why,
		actor.now
	]);
	await tx.rows(
		`insert into chase_hold (id, firm_id, contact_id, client_id, until, why, reason, set_at, set_by) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
		[randomUUID(), tx.firmId, ...idsOf(of), hold.until, hold.why, hold.reason ?? '', actor.now, actor.name]
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
		await tx.rows(`update item set chased_through = greatest(chased_through, $2) where contact_id = $1 and phase = 'open'`, [
			contactId,
			localDate(actor.now, firm.calendar)
		]);
	await placeAnew(tx, { contactId }, firm);
}

/** @throws DomainError not_found for a client or a person that is not there for the reader */
async function requireHeldOf(tx: Tx, of: HeldOf): Promise<void> {
	const there =
		'contactId' in of
			? await tx.first('select 1 from client_contact where client_id = $1 and contact_id = $2', [of.ofClient, of.contactId])
			: await tx.first('select 1 from client where id = $1', [of.clientId]);
	if (!there) throw new DomainError('not_found', 'This client is not here any more.');
}

/** Writes into the history of a person or a client that reminders were held or let go on. */
async function record(
	tx: Tx,
	actor: Actor,
	of: HeldOf,
	verb: 'reminders_held' | 'reminders_let_go_on',
	details: Record<string, string>
): Promise<void> {
	if ('contactId' in of) {
		const person = await tx.first<{ name: string }>('select name from contact where id = $1', [of.contactId]);
		await recordOfPerson(tx, actor, of.contactId, { verb, details: { ...details, whom: person?.name ?? '' } });
	} else await recordEvent(tx, actor, { verb, clientId: of.clientId, details: { ...details, whom: 'everybody' } });
}

/**
 * Pauses the reminders of a person or of a whole client: until a day nobody is reminded, then one message brings what fell due.
 * @param pause the first day on which reminders go again, and why, for the firm's own people
 * @throws DomainError not_allowed
 */
export async function pauseReminders(
	tx: Tx,
	actor: Actor,
	firm: HoldingFirm,
	of: HeldOf,
	pause: { until: IsoDate; reason: string; why?: HoldWhy }
): Promise<void> {
	requireStaff(actor, 'judge_item');
	await requireHeldOf(tx, of);
	await setHold(tx, actor, firm, of, { until: pause.until, why: pause.why ?? 'paused', reason: pause.reason });
	await record(tx, actor, of, 'reminders_held', { until: dateWords(firm.locale, pause.until), reason: pause.reason });
}

/** Lets the reminders of a person or a client go on at once: what fell due meanwhile goes with the next opening of sending hours. */
export async function letRemindersGoOn(tx: Tx, actor: Actor, firm: HoldingFirm, of: HeldOf): Promise<void> {
	requireStaff(actor, 'judge_item');
	await requireHeldOf(tx, of);
	const ended = await tx.rows('update chase_hold set ended_at = $3 where (contact_id = $1 or client_id = $2) and ended_at is null returning id', [
		...idsOf(of),
		actor.now
	]);
	if (ended.length === 0) return;
	await placeAnew(tx, of, firm);
	await record(tx, actor, of, 'reminders_let_go_on', {});
}

/** What holds somebody's reminders today. */
export interface HeldReminders extends Hold {
	/** null for the whole client */
	contactId: string | null;
	reason: string;
	by: string;
}

/** What holds the reminders of a client or of its people, the longest first. */
export function readHolds(tx: Tx, actor: Actor, clientId: string, today: IsoDate): Promise<HeldReminders[]> {
	requireStaff(actor, 'look');
	return tx.rows<HeldReminders>(
		`select h.contact_id "contactId", h.until, h.why, h.reason, h.set_by by from chase_hold h
		where h.ended_at is null and h.until > $2 and (h.client_id = $1 or h.contact_id in (select contact_id from client_contact where client_id = $1))
		order by h.until desc, h.id`,
		[clientId, today]
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
	const clients = await tx.rows<{ id: string }>('select unnest(my_clients()) id');
	await recordEvents(
		tx,
		actor,
		clients.map(({ id }) => ({
			clientId: id,
			contactId: actor.id,
			...(until ? { verb: 'said_away', details: { until: dateWords(firm.locale, until) } } : { verb: 'said_back' })
		}))
	);
}
