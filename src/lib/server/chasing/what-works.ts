import { addDays, localDate, localInstant } from '$lib/core/calendar/firm-calendar';
import { chasePlanOf, CHASE_BY_WORDS, chaseWhenInWords, WEEKDAYS } from '$lib/core/chasing/chase-plan';
import { ANSWERED, HANDED_IN, WITHIN_DAYS, type Works } from '$lib/core/chasing/what-works';
import { standsOut, WAY_WORDS, worksWithInWords, type Tried } from '$lib/core/chasing/works-with';
import { requireStaff, type Actor } from '../actor';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

/** How far back reminders count, in days. */
export const WORKS_SINCE_DAYS = 365;

/** What whoever got a sent message `m` did around it, as `a`. The verbs are $1 (answers) and $2 (what hands something in), the days that count $3. */
const CAME_OF = `cross join lateral (
	select coalesce(bool_or(e.at > m.sent_at), false) came,
		coalesce(bool_or(e.at > m.sent_at and e.verb = any ($1)), false) answered,
		coalesce(bool_or(e.at > m.sent_at and e.verb = any ($2)), false) handed_in,
		coalesce(bool_or(e.at > m.sent_at and e.verb in ('reminders_stopped', 'texts_stopped', 'mail_unwanted')), false) stopped,
		coalesce(bool_or(e.at <= m.sent_at and e.verb = any ($1)), false) before
	from event e where e.actor_kind = 'contact' and e.actor_id = m.contact_id
		and e.at between m.sent_at - make_interval(days => $3) and m.sent_at + make_interval(days => $3)
) a`;

/** By what reminders are told apart. */
export const WORKS_BY = ['step', 'channel', 'weekday', 'hour'] as const;
export type WorksBy = (typeof WORKS_BY)[number];

/** What came of the reminders of one group. */
export interface WorksGroup extends Works {
	by: WorksBy;
	/** which step of which plan, where it is one */
	plan: string | null;
	step: number | null;
	/** the group in words, the plan first for a step */
	name: string;
}

/**
 * What came of the reminders of the last year, by step, way, weekday and hour, in the firm's time zone. A reminder counts once its two days
 * have passed, and once for each step that made it go.
 */
export async function readWhatWorks(tx: Tx, actor: Actor, firm: Firm): Promise<WorksGroup[]> {
	requireStaff(actor, 'look');
	const since = addDays(localDate(actor.now, firm.calendar), -WORKS_SINCE_DAYS);
	const rows = await tx.rows<Works & { by: WorksBy; plan: string | null; step: number | null; key: string | null }>(
		`with sent as materialized (
			select m.id, m.channel, m.sent_at at time zone $6 as at, a.came, a.answered, a.handed_in, a.stopped, a.before from message m ${CAME_OF}
			where m.firm_id = $4 and m.kind = 'chase' and m.state = 'sent' and m.sent_at >= $5 and m.sent_at < $7::timestamptz - make_interval(days => $3)
		), steps as (
			select distinct mi.message_id, mi.plan, mi.step from message_item mi join sent on sent.id = mi.message_id where mi.step is not null and mi.plan is not null
		), told as (
			select 'step' as by, s.plan, s.step, null as key, sent.* from sent join steps s on s.message_id = sent.id
			union all select 'channel', null, null, sent.channel, sent.* from sent
			union all select 'weekday', null, null, extract(isodow from sent.at)::text, sent.* from sent
			union all select 'hour', null, null, extract(hour from sent.at)::text, sent.* from sent
		)
		select t.by, t.plan, t.step, t.key, count(*) sent, count(*) filter (where t.came) came, count(*) filter (where t.answered) answered,
			count(*) filter (where t.handed_in) "handedIn", count(*) filter (where t.stopped) stopped, count(*) filter (where t.before) before
		from told t group by 1, 2, 3, 4 order by 1, 2, 3, length(t.key), 4`,
		[ANSWERED, HANDED_IN, WITHIN_DAYS, tx.firmId, localInstant(since, '00:00', firm.calendar), firm.calendar.timeZone, actor.now]
	);
	return rows.map(({ key, ...group }) => ({ ...group, name: nameOf(firm, group.by, group.plan, group.step, key ?? '') }));
}

/** A reminder that somebody got, and what came of it. */
export interface TriedReminder extends Tried {
	/** instant */ at: string;
	/** its two days are not over */ fresh: boolean;
}
/** What was tried with somebody, the last first, and what it tells. */
export interface TriedWith {
	contactId: string;
	name: string;
	reminders: TriedReminder[];
	/** how calls went, the last first */ calls: { at: string; outcome: string; note: string; by: string }[];
	/** what works with them, in a sentence */ works: string;
	/** that sentence proposes a day or a way */ proposes: boolean;
}

/** What was tried in the last year with people of a client, and what works with each, as far as that tells. */
export async function readTriedWith(tx: Tx, actor: Actor, firm: Firm, clientId: string, contactIds: readonly string[]): Promise<TriedWith[]> {
	requireStaff(actor, 'look');
	const since = localInstant(addDays(localDate(actor.now, firm.calendar), -WORKS_SINCE_DAYS), '00:00', firm.calendar);
	const people = await tx.rows<Pick<TriedWith, 'contactId' | 'name' | 'calls'>>(
		`select c.id "contactId", c.name,
			(select coalesce(json_agg(json_build_object('at', to_iso(k.done_at), 'outcome', k.outcome, 'note', k.note, 'by', s.name) order by k.done_at desc), '[]')
				from (select * from chase_call k where k.contact_id = c.id and k.client_id = $1 and k.outcome <> 'seen' and k.done_at >= $3 order by k.done_at desc limit 10) k
					join staff s on s.id = k.done_by_id) calls
		from contact c where c.id = any ($2) order by lower(c.name), c.id`,
		[clientId, contactIds, since]
	);
	const reminders = await tx.rows<TriedReminder & { contactId: string | null }>(
		`select m.contact_id "contactId", coalesce(m.sent_at, m.planned_at) as at, extract(isodow from m.sent_at at time zone $6)::int as weekday, extract(hour from m.sent_at at time zone $6)::int as hour,
			m.channel way, a.came, a.answered, m.sent_at >= $7::timestamptz - make_interval(days => $3) fresh
		from message m ${CAME_OF}
		where m.contact_id = any ($4) and m.kind = 'chase' and m.state = 'sent' and m.sent_at >= $5 order by m.sent_at desc limit 400`,
		[ANSWERED, HANDED_IN, WITHIN_DAYS, contactIds, since, firm.calendar.timeZone, actor.now]
	);
	return people.map((person) => {
		const theirs = reminders.flatMap(({ contactId, ...one }) => (contactId === person.contactId ? one : []));
		const settled = theirs.filter(({ fresh, answered }) => !fresh || answered);
		return { ...person, reminders: theirs, works: worksWithInWords(person.name.split(' ')[0], settled), proposes: standsOut(settled) };
	});
}

function nameOf(firm: Firm, by: WorksBy, plan: string | null, step: number | null, key: string): string {
	if (by === 'channel') return WAY_WORDS[key as keyof typeof WAY_WORDS];
	if (by === 'weekday') return WEEKDAYS[Number(key) - 1];
	if (by === 'hour') return `${key.padStart(2, '0')}:00`;
	const known = plan === 'usual' || firm.furtherPlans.some((one) => one.key === plan);
	const of = chasePlanOf(firm, plan);
	const is = known && step !== null ? of.steps[step - 1] : undefined;
	return is
		? `${of.name}: ${chaseWhenInWords(is.when)}${is.by === 'usual' ? '' : `, ${CHASE_BY_WORDS[is.by]}`}${is.firmer ? ', firmer' : ''}`
		: `step ${step} of a plan that is no more`;
}
