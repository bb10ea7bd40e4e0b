import { forecastChases, nextChase, type Chase } from '$lib/core/chasing/forecast';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { OPEN_STATES } from '$lib/core/requests/item-states';
import { requireStaff, type Actor } from '../actor';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { asChasedPerson, readPeople, type PersonRow } from './chase-people';

export interface ForecastChase extends Chase {
	contactId: string;
	contactName: string;
	email: string;
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
		.flatMap((person) =>
			forecastChases(asChasedPerson(person, firm.chasePlan), firm.calendar, actor.now, through).map((chase) => describe(person, chase))
		)
		.sort((a, b) => a.at.localeCompare(b.at) || a.contactName.localeCompare(b.contactName));
}

function describe(person: PersonRow, chase: Chase): ForecastChase {
	const named = new Set(chase.itemIds);
	return {
		...chase,
		contactId: person.id,
		contactName: person.name,
		email: person.email,
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

/** Items looked at for the head of the desk: those whose next step is nearest. */
const NEAREST = 5000;
/** People asked for the exact time; those of one day go out at the same opening. */
const SAMPLE = 20;

/** How many people the next chases go to, and when; for the desk's head. */
export async function nextChases(tx: Tx, firm: Firm, now: string): Promise<{ at: string; people: number } | null> {
	const next = await tx.first<{ people: number; sample: string[] | null }>(
		`with nearest as materialized (
			select contact_id, next_chase_on from item where firm_id = $1 and next_chase_on is not null order by next_chase_on limit $2
		), reachable as materialized (
			select distinct n.contact_id, n.next_chase_on from nearest n join contact c on c.id = n.contact_id
			where c.mail_problem is null and c.suspended_at is null
		), first as (
			select contact_id from reachable where next_chase_on = (select min(next_chase_on) from reachable)
		)
		select (select count(*) from first) people, array(select contact_id from first order by contact_id limit $3) sample`,
		[tx.firmId, NEAREST, SAMPLE]
	);
	if (!next?.sample?.length) return null;
	const people = await readPeople(tx, next.sample);
	const first = people
		.flatMap((person) => nextChase(asChasedPerson(person, firm.chasePlan), firm.calendar, now) ?? [])
		.sort((a, b) => a.at.localeCompare(b.at))[0];
	return first ? { at: first.at, people: next.people } : null;
}

/** The ids of the people who have open items with a client. */
export async function peopleOfClient(tx: Tx, clientId: string): Promise<string[]> {
	const rows = await tx.rows<{ contact_id: string }>('select distinct contact_id from item where client_id = $1 and state = any ($2)', [
		clientId,
		OPEN_STATES
	]);
	return rows.map((r) => r.contact_id);
}
