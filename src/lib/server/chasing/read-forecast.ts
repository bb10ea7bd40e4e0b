import { forecastChases, remindingOn, sendingOn, type Chase } from '$lib/core/chasing/forecast';
import { paceFor } from '$lib/core/chasing/pace';
import { addDays, compareInstants, localDate } from '$lib/core/calendar/firm-calendar';
import type { TheirTimes } from '$lib/core/calendar/their-times';
import { requireStaff, type Actor } from '../actor';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { asChasedPerson, readPeople, type PersonRow } from './chase-people';

export interface ForecastChase extends Chase {
	contactId: string;
	contactName: string;
	email: string;
	/** when they may be written to besides the firm's hours */ times: TheirTimes | null;
	items: { id: string; title: string; clientId: string; clientName: string }[];
}

/**
 * Every chase that will go out to some people in the coming days if nothing changes. The worker follows
 * the same rule of core.
 */
export async function readForecast(tx: Tx, actor: Actor, firm: Firm, contactIds: readonly string[], days: number): Promise<ForecastChase[]> {
	requireStaff(actor, 'look');
	const through = addDays(localDate(actor.now, firm.calendar), days);
	const people = await readPeople(tx, contactIds);
	return people
		.flatMap((person) => forecastChases(asChasedPerson(person, firm), firm.calendar, actor.now, through).map((chase) => describe(person, chase)))
		.sort((a, b) => a.at.localeCompare(b.at) || a.contactName.localeCompare(b.contactName));
}

function describe(person: PersonRow, chase: Chase): ForecastChase {
	const named = new Set(chase.itemIds);
	return {
		...chase,
		contactId: person.id,
		contactName: person.name,
		email: person.email,
		times: person.times,
		items: person.items.filter((i) => named.has(i.id)).map((i) => ({ id: i.id, title: i.title, clientId: i.client_id, clientName: i.client_name }))
	};
}

/** The people of the firm who may be chased within some days: those with a step in that time. */
export async function peopleToForecast(tx: Tx, firm: Firm, now: string, days: number): Promise<string[]> {
	const through = addDays(localDate(now, firm.calendar), days);
	const rows = await tx.rows<{ contact_id: string }>('select distinct contact_id from item where firm_id = $1 and next_chase_on <= $2', [
		tx.firmId,
		through
	]);
	return rows.map((r) => r.contact_id);
}

/** The people of the firm with something open of which reminders are held on a day. */
export async function peopleHeld(tx: Tx, today: string): Promise<string[]> {
	const rows = await tx.rows<{ contact_id: string }>(
		`select distinct i.contact_id from chase_hold h join item i on i.phase = 'open' and (i.contact_id = h.contact_id or i.client_id = h.client_id or i.id = h.item_id or i.request_id = h.request_id)
		where h.firm_id = $1 and h.ended_at is null and h.until > $2 and i.firm_id = $1`,
		[tx.firmId, today]
	);
	return rows.map((r) => r.contact_id);
}

/** How many people the next chases go to, and when; for the desk's head. */
export async function nextChases(tx: Tx, firm: Firm, now: string): Promise<{ at: string; people: number } | null> {
	const opensOn = sendingOn(localDate(now, firm.calendar), firm.calendar, now).localDay;
	// whoever cannot be written to, or not yet, is rare: they are read first and looked at apart, so that the rest needs the index of items only
	const next = await tx.first<{ day: string | null; people: number }>(
		`with unreachable as materialized (
			select id from contact where firm_id = $1 and (reminded_by = 'none' or suspended_at is not null)
			-- who has times of their own: core places them
			union select id from contact where firm_id = $1 and times is not null
			-- whose next reminder somebody has left out
			union select x.contact_id from chase_change x where x.firm_id = $1 and x.left_out
				and x.on_day = (select greatest(min(i.next_chase_on), $2::date) from item i where i.contact_id = x.contact_id and i.next_chase_on is not null)
		), later as materialized (
			select c.id, greatest(c.last_told_on + 1, c.no_reminder_before) as earliest from contact c
			where c.firm_id = $1 and greatest(c.last_told_on, c.no_reminder_before) >= $2 and c.id not in (select id from unreachable)
		), ready as (
			select greatest(next_chase_on, $2::date) as day from item
			where firm_id = $1 and next_chase_on is not null and contact_id not in (select id from unreachable) and contact_id not in (select id from later)
			order by next_chase_on limit 1
		), waiting as (
			select greatest(min(i.next_chase_on), l.earliest, $2::date) as day, l.id contact_id from later l join item i on i.contact_id = l.id and i.next_chase_on is not null group by l.id, l.earliest
		), first as (select least((select day from ready), (select min(day) from waiting)) as day)
		select (select day from first) as day,
			(select count(distinct contact_id) from item where firm_id = $1 and next_chase_on <= (select day from first)
				and contact_id not in (select id from unreachable) and contact_id not in (select id from later))
			+ (select count(*) from waiting where day <= (select day from first)) people`,
		[tx.firmId, opensOn]
	);
	const times = await timesOfNext(tx, firm, now, opensOn);
	const rest = next?.day ? { at: sendingOn(next.day, firm.calendar, now).at, people: next.people } : null;
	const first = [...times, ...(rest ? [rest.at] : [])].sort(compareInstants).at(0);
	if (first === undefined) return null;
	return { at: first, people: times.filter((at) => at === first).length + (rest?.at === first ? rest.people : 0) };
}

/** When the next chase goes to each of those who have times of their own. @param opensOn the firm's next sending day */
async function timesOfNext(tx: Tx, firm: Firm, now: string, opensOn: string): Promise<string[]> {
	const rows = await tx.rows<{ day: string | null; remindedOn: string[]; toldOn: string | null; times: TheirTimes | null }>(
		`select greatest(min(i.next_chase_on), $2::date) "day", c.reminded_on "remindedOn", c.last_told_on "toldOn", c.times
		from contact c join item i on i.contact_id = c.id and i.next_chase_on is not null
		where c.firm_id = $1 and c.times is not null and c.reminded_by <> 'none' and c.suspended_at is null
		group by c.id having not exists (select from chase_change x where x.contact_id = c.id and x.left_out and x.on_day = greatest(min(i.next_chase_on), $2::date))`,
		[tx.firmId, opensOn]
	);
	return rows.flatMap(({ day, ...person }) =>
		day === null ? [] : [remindingOn({ ...person, pace: paceFor(firm.pace, person.times) }, day, firm.calendar, now).at]
	);
}

/** The ids of the people who have open items with a client. */
export async function peopleOfClient(tx: Tx, clientId: string): Promise<string[]> {
	const rows = await tx.rows<{ contact_id: string }>(`select distinct contact_id from item where client_id = $1 and phase = 'open'`, [clientId]);
	return rows.map((r) => r.contact_id);
}
