import { addDays, localDate, localInstant } from '$lib/core/calendar/firm-calendar';
import { chasePlanOf, CHASE_BY_WORDS, chaseWhenInWords, WEEKDAYS } from '$lib/core/chasing/chase-plan';
import { ANSWERED, HANDED_IN, WITHIN_DAYS, type Works } from '$lib/core/chasing/what-works';
import { requireStaff, type Actor } from '../actor';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

/** How far back reminders count, in days. */
export const WORKS_SINCE_DAYS = 365;

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

const WAY = { email: 'by e-mail', text: 'by text message' } as const;

/**
 * What came of the reminders of the last year, by step, way, weekday and hour, in the firm's time zone. A reminder counts once its two days
 * have passed, and once for each step that made it go.
 */
export async function readWhatWorks(tx: Tx, actor: Actor, firm: Firm): Promise<WorksGroup[]> {
	requireStaff(actor, 'look');
	const since = addDays(localDate(actor.now, firm.calendar), -WORKS_SINCE_DAYS);
	const rows = await tx.rows<Works & { by: WorksBy; plan: string | null; step: number | null; key: string | null }>(
		`with sent as materialized (
			select m.id, m.channel, m.sent_at at time zone $3 as at, a.came, a.answered, a.handed_in, a.stopped, a.before
			from message m cross join lateral (
				select coalesce(bool_or(e.at > m.sent_at), false) came,
					coalesce(bool_or(e.at > m.sent_at and e.verb = any ($5)), false) answered,
					coalesce(bool_or(e.at > m.sent_at and e.verb = any ($6)), false) handed_in,
					coalesce(bool_or(e.at > m.sent_at and e.verb in ('reminders_stopped', 'texts_stopped')), false) stopped,
					coalesce(bool_or(e.at <= m.sent_at and e.verb = any ($5)), false) before
				from event e where e.actor_kind = 'contact' and e.actor_id = m.contact_id
					and e.at between m.sent_at - make_interval(days => $7) and m.sent_at + make_interval(days => $7)
			) a
			where m.firm_id = $1 and m.kind = 'chase' and m.state = 'sent' and m.sent_at >= $2 and m.sent_at < $4::timestamptz - make_interval(days => $7)
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
		[tx.firmId, localInstant(since, '00:00', firm.calendar), firm.calendar.timeZone, actor.now, ANSWERED, HANDED_IN, WITHIN_DAYS]
	);
	return rows.map(({ key, ...group }) => ({ ...group, name: nameOf(firm, group.by, group.plan, group.step, key ?? '') }));
}

function nameOf(firm: Firm, by: WorksBy, plan: string | null, step: number | null, key: string): string {
	if (by === 'channel') return WAY[key as keyof typeof WAY];
	if (by === 'weekday') return WEEKDAYS[Number(key) - 1];
	if (by === 'hour') return `${key.padStart(2, '0')}:00`;
	const known = plan === 'usual' || firm.furtherPlans.some((one) => one.key === plan);
	const of = chasePlanOf(firm, plan);
	const is = known && step !== null ? of.steps[step - 1] : undefined;
	return is
		? `${of.name}: ${chaseWhenInWords(is.when)}${is.by === 'usual' ? '' : `, ${CHASE_BY_WORDS[is.by]}`}${is.firmer ? ', firmer' : ''}`
		: `step ${step} of a plan that is no more`;
}
