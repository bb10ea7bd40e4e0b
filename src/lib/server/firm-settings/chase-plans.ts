import { createHash, randomUUID } from 'node:crypto';
import type { z } from 'zod';
import { addDays, localDate, type IsoDate } from '$lib/core/calendar/firm-calendar';
import { chasePlanSchema, type ChasePlan, type chasePlanForm, type FurtherChasePlan } from '$lib/core/chasing/chase-plan';
import { forecastChases, type Chase } from '$lib/core/chasing/forecast';
import { byChangedPlan, compareForecasts, doingsOf, type ForecastChange } from '$lib/core/chasing/look-ahead';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { asChasedPerson, readPeople } from '../chasing/chase-people';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { loadFirm, type Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

/** Which plan: the firm's usual one or a further one by its key, as somebody has seen it, or one that is not there yet. */
export type WhichPlan = { key: string; seen: string } | { key: null };

/** A mark that differs whenever a plan does. */
export const stampOfPlan = ({ name, steps }: ChasePlan): string =>
	createHash('sha256')
		.update(JSON.stringify(chasePlanSchema.parse({ name, steps })))
		.digest('hex')
		.slice(0, 16);

/** What is chased by a plan: the usual one holds for whatever names none. @param plan the parameter with its key */
const BY_PLAN = (plan: string) => `(i.chase_plan = ${plan} or (${plan} = 'usual' and i.chase_plan is null))`;

/** The usual plan or a further one. @throws DomainError not_found for a plan that is no more */
export function planOf(firm: Firm, key: string): ChasePlan {
	const plan = key === 'usual' ? firm.chasePlan : firm.furtherPlans.find((one) => one.key === key);
	if (!plan) throw new DomainError('not_found', 'This plan is not here any more.');
	return plan;
}

/** @throws DomainError invalid for a name that another plan has */
function requireOwnName(firm: Firm, key: string | null, name: string): void {
	const others = [{ key: 'usual', name: firm.chasePlan.name }, ...firm.furtherPlans].filter((plan) => plan.key !== key);
	if (others.some((plan) => plan.name.toLowerCase() === name.toLowerCase()))
		throw new DomainError('invalid', `There is a plan “${name}” already.`, { name: 'Another plan is called so.' });
}

/** How a plan is used. */
export interface PlanUse {
	key: string;
	/** things that are open and chased by it */
	things: number;
	people: number;
	lists: number;
	/** clients it is chosen for */
	clients: number;
	/** services and people it is chosen for */
	others: number;
}

/** How each plan of the firm is used, by its key; one that is not used at all is left out. */
export async function readPlanUse(tx: Tx, actor: Actor): Promise<PlanUse[]> {
	requireStaff(actor, 'look');
	return tx.rows<PlanUse>(
		`with things as (
			select coalesce(chase_plan, 'usual') "key", count(*) things, count(distinct contact_id) people from item where firm_id = $1 and phase = 'open' group by 1
		), lists as (
			select chase_plan "key", count(*) n from request_list where firm_id = $1 and chase_plan is not null and ended_at is null group by 1
		), clients as (
			select chase_plan "key", count(*) n from client where firm_id = $1 and chase_plan is not null and state <> 'ended' group by 1
		), others as (
			select chase_plan "key", count(*) n from (select chase_plan from service where firm_id = $1 and ended_at is null union all select chase_plan from contact where firm_id = $1
				union all select chase_plan from questionnaire where firm_id = $1 and ended_at is null) o
			where chase_plan is not null group by 1
		)
		select coalesce(things.key, lists.key, clients.key, others.key) "key", coalesce(things.things, 0) things, coalesce(things.people, 0) people, coalesce(lists.n, 0) lists, coalesce(clients.n, 0) clients, coalesce(others.n, 0) others
		from things full join lists using (key) full join clients using (key) full join others using (key)`,
		[tx.firmId]
	);
}

/**
 * Adds a plan, or changes one. What has gone out counts, and what a changed plan would have sent before today does not go any more;
 * every reminder that is still to come is placed anew.
 * @returns its key
 * @throws DomainError not_found, changed_meanwhile, invalid for a name that is taken, too_many
 */
export async function saveChasePlan(tx: Tx, actor: Actor, which: WhichPlan, input: z.output<typeof chasePlanForm>): Promise<string> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows('select 1 from firm where id = $1 for update', [tx.firmId]);
	const firm = await loadFirm(tx);
	const { key } = which;
	if (which.key !== null && stampOfPlan(planOf(firm, which.key)) !== which.seen)
		throw new DomainError('changed_meanwhile', 'Nothing was saved: somebody has changed this plan meanwhile. Look at it as it is now.');
	if (which.key !== null && stampOfPlan(input) === which.seen) return which.key;
	requireOwnName(firm, key, input.name);
	if (key === null && firm.furtherPlans.length >= 12) throw new DomainError('too_many', 'Twelve further plans are enough. Take one away first.');
	const plan: FurtherChasePlan = { key: key ?? randomUUID().slice(0, 8), ...input };
	if (key === 'usual')
		await tx.rows('update firm set chase_plan_name = $2, chase_steps = $3 where id = $1', [tx.firmId, input.name, JSON.stringify(input.steps)]);
	else
		await tx.rows('update firm set further_chase_plans = $2 where id = $1', [
			tx.firmId,
			JSON.stringify(key === null ? [...firm.furtherPlans, plan] : firm.furtherPlans.map((one) => (one.key === key ? plan : one)))
		]);
	if (key !== null) {
		const today = localDate(actor.now, firm.calendar);
		const items = await tx.rows<{ id: string }>(
			`select i.id from item i where i.firm_id = $1 and i.phase = 'open' and ${BY_PLAN('$2')} order by i.id for update`,
			[tx.firmId, key]
		);
		const ids = items.map(({ id }) => id);
		// core's `byChangedPlan` says the same of one item
		await tx.rows(
			`update item i set chased_turn = 0, chased_through = case when exists (select from item_hold h where h.item_id = i.id and h.until > $3::date)
				or i.next_chase_on < $3::date
				then chased_through else greatest(chased_through, $2::date) end where i.id = any ($1)`,
			[ids, addDays(today, -1), today]
		);
		await refreshChaseDays(tx, ids, await loadFirm(tx));
	}
	await recordEvent(tx, actor, { verb: key === null ? 'chase_plan_added' : 'chase_plan_changed', details: { name: plan.name } });
	return plan.key;
}

/** Takes a further plan away: what was chased by it is chased by the usual one from now on. */
export async function removeChasePlan(tx: Tx, actor: Actor, key: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows('select 1 from firm where id = $1 for update', [tx.firmId]);
	const firm = await loadFirm(tx);
	const gone = firm.furtherPlans.find((plan) => plan.key === key);
	if (!gone) return;
	await tx.rows('update firm set further_chase_plans = $2 where id = $1', [
		tx.firmId,
		JSON.stringify(firm.furtherPlans.filter((plan) => plan.key !== key))
	]);
	const items = await tx.rows<{ id: string }>(
		`update item set chase_plan = null, chase_plan_from = null, chase_plan_named = null, chased_turn = 0, chased_through = greatest(chased_through, $3::date) where firm_id = $1 and chase_plan = $2 returning id`,
		[tx.firmId, key, addDays(localDate(actor.now, firm.calendar), -1)]
	);
	await tx.rows('update request_list set chase_plan = null where firm_id = $1 and chase_plan = $2', [tx.firmId, key]);
	await tx.rows('update client set chase_plan = null where firm_id = $1 and chase_plan = $2', [tx.firmId, key]);
	await tx.rows('update contact set chase_plan = null where firm_id = $1 and chase_plan = $2', [tx.firmId, key]);
	await tx.rows('update service set chase_plan = null where firm_id = $1 and chase_plan = $2', [tx.firmId, key]);
	await tx.rows('update questionnaire set chase_plan = null where firm_id = $1 and chase_plan = $2', [tx.firmId, key]);
	await refreshChaseDays(
		tx,
		items.map(({ id }) => id),
		await loadFirm(tx)
	);
	await recordEvent(tx, actor, { verb: 'chase_plan_removed', details: { name: gone.name } });
}

/** How far a changed plan looks ahead, in days. */
export const LOOK_AHEAD_DAYS = 28;
/** People who are listed with what changes for them. */
const LISTED = 40;
/** People read and placed at a time, so that nothing else waits for long. */
const AT_A_TIME = 200;

/** What would be different in the next four weeks if a plan were changed. */
export interface PlanLookAhead {
	through: IsoDate;
	/** messages that go to people, counted by way */
	messages: { before: number; after: number };
	people: { before: number; after: number };
	calls: { before: number; after: number };
	told: { before: number; after: number };
	/** the day with the most calls, if there are several on it */
	busiest: { day: IsoDate; calls: number } | null;
	changes: { contactId: string; name: string; clients: string[]; days: ForecastChange[] }[];
	/** people for whom something changes, and those for whom nothing does */
	changed: number;
	same: number;
}

/**
 * What would change if a plan were changed: who gets what, and when, in the next four weeks, as the worker would send it.
 * @throws DomainError not_found, invalid for a name that is taken
 */
export async function lookAhead(tx: Tx, actor: Actor, key: string, input: z.output<typeof chasePlanForm>): Promise<PlanLookAhead> {
	requireStaff(actor, 'look');
	const firm = await loadFirm(tx);
	planOf(firm, key);
	requireOwnName(firm, key, input.name);
	const today = localDate(actor.now, firm.calendar);
	const through = addDays(today, LOOK_AHEAD_DAYS);
	const people = await tx.rows<{ id: string }>(
		`select distinct i.contact_id id from item i where i.firm_id = $1 and i.phase = 'open' and ${BY_PLAN('$2')} order by 1`,
		[tx.firmId, key]
	);
	const ahead: PlanLookAhead = {
		through,
		messages: { before: 0, after: 0 },
		people: { before: 0, after: 0 },
		calls: { before: 0, after: 0 },
		told: { before: 0, after: 0 },
		busiest: null,
		changes: [],
		changed: 0,
		same: 0
	};
	const callsOn = new Map<IsoDate, number>();
	const count = (side: 'before' | 'after', chases: readonly Chase[]) => {
		let wrote = false;
		for (const chase of chases) {
			ahead.messages[side] += chase.by.length;
			wrote ||= chase.by.length > 0;
			const does = doingsOf(chase);
			if (does.includes('call')) {
				ahead.calls[side]++;
				if (side === 'after') callsOn.set(chase.localDay, (callsOn.get(chase.localDay) ?? 0) + 1);
			}
			if (does.includes('partner')) ahead.told[side]++;
		}
		if (wrote) ahead.people[side]++;
	};
	const goes = (chases: readonly Chase[]) => chases.filter((chase) => !chase.leftOut && !chase.heldBack);
	for (let from = 0; from < people.length; from += AT_A_TIME)
		for (const row of await readPeople(
			tx,
			people.slice(from, from + AT_A_TIME).map(({ id }) => id)
		)) {
			const person = asChasedPerson(row, firm);
			const changed = {
				...person,
				items: person.items.map((item, at) =>
					(row.items[at].chase_plan ?? 'usual') === key ? byChangedPlan(item, input, today, firm.calendar) : item
				)
			};
			const before = goes(forecastChases(person, firm.calendar, actor.now, through));
			const after = goes(forecastChases(changed, firm.calendar, actor.now, through));
			count('before', before);
			count('after', after);
			const days = compareForecasts(before, after);
			if (days.every(({ is }) => is === 'stays')) {
				ahead.same++;
				continue;
			}
			ahead.changed++;
			if (ahead.changes.length < LISTED)
				ahead.changes.push({ contactId: row.id, name: row.name, clients: [...new Set(row.items.map((item) => item.client_name))], days });
		}
	for (const [day, calls] of callsOn) if (calls > 1 && calls > (ahead.busiest?.calls ?? 0)) ahead.busiest = { day, calls };
	return ahead;
}
