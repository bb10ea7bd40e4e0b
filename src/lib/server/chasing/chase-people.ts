import { chaseDueNow, afterChase, stepToCome, writes, wroteTo, type Chase, type ChasedPerson } from '$lib/core/chasing/forecast';
import type { Hold } from '$lib/core/chasing/hold';
import { chasePlanOf, type ChasingFirm } from '$lib/core/chasing/chase-plan';
import { firstDayAllowed, paceFor, withReminder, type ReminderPace } from '$lib/core/chasing/pace';
import { isSendingTime, localDate } from '$lib/core/calendar/firm-calendar';
import { isTimeFor, type TheirTimes } from '$lib/core/calendar/their-times';
import type { ItemState } from '$lib/core/requests/item-states';
import { waysOfColumn } from '$lib/core/messages/ways';
import { machine, type Actor } from '../actor';
import { recordEvents } from '../audit/record-event';
import { loadFirm, type Firm } from '../firms/firm';
import { planCalls } from './calls';
import { refreshChaseDays } from './refresh-schedule';
import { takePapersToTell } from '../outbox/papers-to-tell';
import { byWays, planMessages, threadOf } from '../outbox/plan-message';
import type { Database, Tx } from '../platform/db/database';

export interface PersonRow {
	id: string;
	name: string;
	email: string;
	phone: string | null;
	reminded_by: Parameters<typeof waysOfColumn>[0];
	mail_problem: 'bounced' | 'opted_out' | 'no_address' | null;
	suspended: boolean;
	reminded_on: string[];
	last_told_on: string | null;
	times: TheirTimes | null;
	left_out: string[];
	/** when anything was heard from them last */
	heard_at: string | null;
	items: {
		id: string;
		state: ItemState;
		due_on: string | null;
		asked_on: string;
		chased_through: string;
		chased_turn: number;
		chase_plan: string | null;
		asked_time_until: string | null;
		asks_us: boolean;
		signable_until: string | null;
		hold: Hold | null;
		request_id: string;
		client_id: string;
		title: string;
		client_name: string;
	}[];
}

/** Reads people with their open items as chasing sees them, in one statement. */
export async function readPeople(tx: Tx, contactIds: readonly string[], lock = false): Promise<PersonRow[]> {
	if (lock) await tx.rows('select 1 from contact where id = any ($1) order by id for update', [contactIds]);
	return tx.rows<PersonRow>(
		`select c.id, c.name, c.email::text, c.phone, c.reminded_by, c.mail_problem, c.suspended_at is not null suspended, c.reminded_on, c.last_told_on, c.times,
			array(select x.on_day from chase_change x where x.contact_id = c.id and x.left_out order by x.on_day) left_out, (select l.at from contact_heard l where l.contact_id = c.id) heard_at,
			json_agg(json_build_object('id', i.id, 'state', i.state, 'due_on', i.due_on, 'asked_on', i.asked_on, 'chased_through', i.chased_through, 'chased_turn', i.chased_turn, 'chase_plan', i.chase_plan, 'asked_time_until', i.asked_time_until, 'asks_us', i.asks_us, 'signable_until', case when i.kind = 'letter' then signable_until(i.id) end,
				'hold', (select json_build_object('until', h.until, 'why', h.why, 'sooner', case when h.ends_with is not null
					then json_build_object('endsWith', h.ends_with, 'title', (select e.title from item e where e.id = h.ends_item_id), 'letter', (select e.kind = 'letter' from item e where e.id = h.ends_item_id)) end) from held_by(i.id, i.request_id, i.contact_id, i.client_id) h),
				'request_id', i.request_id, 'client_id', i.client_id, 'title', i.title, 'client_name', cl.name) order by i.due_on nulls last, i.position, i.id) items
		from contact c join item i on i.contact_id = c.id and i.phase = 'open' join client cl on cl.id = i.client_id and cl.state = 'active'
		where c.id = any ($1) group by c.id`,
		[contactIds]
	);
}

export function asChasedPerson(row: PersonRow, firm: ChasingFirm): ChasedPerson {
	const heardOn = row.heard_at && localDate(row.heard_at, firm.calendar);
	return {
		remindedOn: row.reminded_on,
		toldOn: row.last_told_on,
		leftOut: row.left_out,
		pace: paceFor(firm.pace, row.times),
		times: row.times,
		heldBack: row.suspended ? 'suspended' : row.reminded_by === 'none' ? row.mail_problem : null,
		by: waysOfColumn(row.reminded_by),
		items: row.items.map((item) => ({
			id: item.id,
			state: item.state,
			dueOn: item.due_on,
			askedOn: item.asked_on,
			heardOn,
			chasedThrough: item.chased_through,
			chasedTurn: item.chased_turn,
			plan: chasePlanOf(firm, item.chase_plan),
			putOffUntil: item.asked_time_until,
			asksUs: item.asks_us,
			endsOn: item.signable_until,
			hold: item.hold
		}))
	};
}

/** The people with a chase step on or before a day, who can be written to, and to whom nothing has gone on it; with times of their own. */
export function readPeopleDue(tx: Tx, day: string): Promise<{ contact_id: string; times: TheirTimes | null }[]> {
	return tx.rows(
		// the items first, by their index alone; then each person once
		`with due as materialized (select distinct contact_id from item where firm_id = $1 and next_chase_on <= $2)
		select d.contact_id, c.times from due d join contact c on c.id = d.contact_id
		where c.reminded_by <> 'none' and c.suspended_at is null and (c.last_told_on is null or c.last_told_on < $2)
			and (c.no_reminder_before is null or c.no_reminder_before <= $2)`,
		[tx.firmId, day]
	);
}

/**
 * Plans every chase of one firm that is due at an instant: one message a person, in a transaction a
 * person. Safe to run at any time, by several workers at once.
 * @returns how many messages were planned
 */
export async function chasePeople(db: Database, firmId: string, now: string): Promise<number> {
	const due = await db.inFirm(firmId, async (tx) => {
		const { calendar } = await loadFirm(tx);
		if (!isSendingTime(now, calendar)) return [];
		return (await readPeopleDue(tx, localDate(now, calendar))).filter(({ times }) => isTimeFor(now, times, calendar));
	});
	let planned = 0;
	for (const { contact_id } of due) if (await db.inFirm(firmId, (tx) => chasePerson(tx, contact_id, now))) planned++;
	return planned;
}

/** Notes the days of somebody's reminders, the last one now, and from when on the pace allows another. */
export async function noteReminded(tx: Tx, contactId: string, remindedOn: readonly string[], pace: ReminderPace): Promise<void> {
	await tx.rows('update contact set last_chased_on = $2, reminded_on = $3, no_reminder_before = $4 where id = $1', [
		contactId,
		remindedOn.at(-1),
		remindedOn,
		firstDayAllowed(remindedOn, pace)
	]);
}

async function chasePerson(tx: Tx, contactId: string, now: string): Promise<boolean> {
	// read with each person: plan and holidays may be changed while the morning's people are gone through
	const firm = await loadFirm(tx);
	const [row] = await readPeople(tx, [contactId], true);
	if (!row || row.suspended || row.reminded_by === 'none') return false;
	const person = asChasedPerson(row, firm);
	const chase = chaseDueNow(person, firm.calendar, now);
	if (!chase) {
		// somebody was heard from meanwhile, and a step that waits for silence has moved on
		await refreshChaseDays(
			tx,
			row.items.map((item) => item.id),
			firm
		);
		return false;
	}
	return carryOut(tx, machine(now), firm, row, person, chase, now);
}

/**
 * Carries out one reminder of a person, who is locked: plans its messages, unless it is left out, and puts its steps behind us.
 * @param by the machine, or whoever of the firm sends it before its day
 * @returns whether anything was planned
 */
export async function carryOut(tx: Tx, by: Actor, firm: Firm, row: PersonRow, person: ChasedPerson, chase: Chase, now: string): Promise<boolean> {
	const contactId = row.id;
	const because = new Map(chase.because.map((b) => [b.itemId, b]));
	const plans = new Map(row.items.map((item) => [item.id, item.chase_plan]));
	const first = row.items.find((item) => because.has(item.id)) ?? row.items[0];
	const named = new Set(chase.itemIds);
	const clients = new Set(row.items.filter((item) => named.has(item.id)).map((item) => item.client_id));
	const changed = await tx.first<{ subject: string | null; body: string | null }>(
		`select subject, body from chase_change where contact_id = $1 and body is not null and on_day <= $2 order by on_day desc limit 1`,
		[contactId, chase.localDay]
	);
	await tx.rows('delete from chase_change where contact_id = $1 and on_day <= $2', [contactId, chase.localDay]);
	// what was put up for them meanwhile is told along, where anything is written: one message a day
	const news = !wroteTo(chase)
		? []
		: await tx.rows(
				`update request_announcement a set told_at = $2 from item i
		where a.contact_id = $1 and a.told_at is null and i.request_id = a.request_id and i.contact_id = $1 and i.id = any ($3) returning i.id`,
				[contactId, now, chase.itemIds]
			);
	const papers = wroteTo(chase) ? await takePapersToTell(tx, contactId, now) : [];
	const messages = await planMessages(
		tx,
		by,
		byWays(
			chase.leftOut ? [] : chase.by,
			{ contactId, email: row.email, phone: row.phone },
			{
				kind: 'chase',
				idempotencyKey: `chase ${contactId} ${chase.localDay}`,
				clientId: clients.size === 1 ? first.client_id : undefined,
				threadId: await threadOf(tx, first.id, contactId),
				content: {
					...(chase.firmer ? { firmer: true } : {}),
					...(by.kind === 'staff' ? { byHand: true } : {}),
					...(changed?.body ? { subject: changed.subject ?? undefined, body: changed.body } : {}),
					...(clients.size === 1 ? { clientName: first.client_name } : {}),
					...(news.length > 0 ? { news: news.length } : {}),
					...(papers.length > 0 ? { paperIds: papers.map(({ id }) => id) } : {})
				},
				items: chase.itemIds.map((itemId) => {
					const step = because.get(itemId);
					return step && writes(step.by) ? { itemId, step: step.step, plan: plans.get(itemId) ?? 'usual' } : { itemId, step: null };
				})
			}
		)
	);
	const planned = messages.some((message) => message !== null);

	const after = afterChase(person, chase);
	const next = after.items.map((item) => ({
		id: item.id,
		chased_through: item.chasedThrough,
		chased_turn: item.chasedTurn,
		next_chase_on: stepToCome(item, firm.calendar)?.on ?? null,
		sent: because.has(item.id) && planned ? 1 : 0
	}));
	await tx.rows(
		`update item set chased_through = n.chased_through, chased_turn = n.chased_turn, next_chase_on = n.next_chase_on, chases_sent = chases_sent + n.sent
		from jsonb_to_recordset($1) as n (id uuid, chased_through date, chased_turn int, next_chase_on date, sent int) where item.id = n.id`,
		[JSON.stringify(next)]
	);
	if (!chase.leftOut) await planCalls(tx, firm, row, chase, now);
	if (wroteTo(chase)) await noteReminded(tx, contactId, withReminder(person.remindedOn, localDate(now, firm.calendar)), person.pace);
	const ranOut = new Set(next.filter((n) => because.has(n.id) && !chase.leftOut && n.next_chase_on === null).map((n) => n.id));
	if (chase.leftOut)
		await recordEvents(
			tx,
			machine(now),
			[...clients].map((clientId) => ({ verb: 'chase_was_left_out' as const, clientId, contactId, details: { contact: row.name } }))
		);
	await recordEvents(
		tx,
		machine(now),
		row.items
			.filter((item) => ranOut.has(item.id))
			.map((item) => ({ verb: 'chasing_ran_out' as const, clientId: item.client_id, contactId, itemId: item.id, requestId: item.request_id }))
	);
	return planned;
}
