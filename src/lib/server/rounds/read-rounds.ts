import { invitationStateAt } from '$lib/core/invitations/invitation-states';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { daysLate } from '$lib/core/requests/lateness';
import type { ItemState } from '$lib/core/requests/item-states';
import type { ItemKind } from '$lib/core/requests/request-form';
import { ROUNDS_SECTIONS } from '$lib/core/rounds/sections';
import { requireStaff, type Actor } from '../actor';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

/** An invitation is shown in Rounds when nobody took it up for this many days, or when it has lapsed. */
export const INVITATION_WAIT_DAYS = 5;

export type RoundsRow = {
	/** what opens its leaf */
	key: string;
	clientId: string | null;
	clientName: string;
	since: string;
	words: string;
	aside: string;
	isNew: boolean;
} & (
	| { section: 'answers' | 'handed_in' | 'to_countersign'; itemId: string; kind: ItemKind; state: ItemState }
	| { section: 'ran_out' }
	| { section: 'mail_trouble'; messageId: string }
	| { section: 'not_taken_up'; invitationId: string }
);

/** What needs a person of the firm now, section by section, oldest first within each. */
export async function readRounds(tx: Tx, actor: Actor, firm: Pick<Firm, 'calendar'>, dates: { due(date: string): string }): Promise<RoundsRow[]> {
	requireStaff(actor, 'look');
	const today = localDate(actor.now, firm.calendar);
	const looked = (await tx.first<{ at: string | null }>('select last_looked_at as at from staff where id = $1', [actor.id]))?.at ?? null;
	const isNew = (at: string) => looked !== null && at > looked;

	const items = await tx.rows<{
		id: string;
		kind: ItemKind;
		title: string;
		state: ItemState;
		state_at: string;
		due_on: string | null;
		reason: string | null;
		client_id: string;
		client_name: string;
		contact_name: string;
		papers: number;
		letter_state: string | null;
		chases_sent: number;
	}>(
		`select i.id, i.kind, i.title, i.state, i.state_at, i.due_on, i.reason, i.client_id, cl.name client_name, c.name contact_name, i.chases_sent,
			(select count(*) from paper p where p.item_id = i.id and p.removed_at is null) papers, l.state letter_state
		from item i join client cl on cl.id = i.client_id join contact c on c.id = i.contact_id left join letter l on l.item_id = i.id
		where i.firm_id = $1 and i.state in ('handed_in', 'answered_no', 'declined') order by i.state_at, i.id limit 300`,
		[tx.firmId]
	);
	const rows: RoundsRow[] = items.map((item) => {
		const late =
			item.due_on && item.due_on < item.state_at.slice(0, 10)
				? daysLate({ state: 'asked', dueOn: item.due_on }, localDate(item.state_at, firm.calendar))
				: 0;
		const section = item.state === 'handed_in' ? (item.letter_state === 'signed' ? 'to_countersign' : 'handed_in') : 'answers';
		return {
			section,
			key: `item-${item.id}`,
			itemId: item.id,
			kind: item.kind,
			state: item.state,
			clientId: item.client_id,
			clientName: item.client_name,
			since: item.state_at,
			words:
				item.state === 'answered_no'
					? `“${item.title}” does not apply: “${item.reason}”`
					: item.state === 'declined'
						? `does not want to sign “${item.title}”: “${item.reason}”`
						: item.kind === 'letter'
							? `${item.title}, signed by ${item.contact_name}`
							: item.kind === 'paper' && item.papers > 1
								? `${item.title}, ${item.papers} files`
								: item.title,
			aside:
				late > 0
					? `came ${late} ${late === 1 ? 'day' : 'days'} late`
					: section === 'answers'
						? item.contact_name
						: item.due_on
							? `due ${dates.due(item.due_on)}`
							: '',
			isNew: isNew(item.state_at)
		};
	});

	const ranOut = await tx.rows<{ client_id: string; client_name: string; n: number; contact: string; since: string; due_on: string }>(
		`select i.client_id, cl.name client_name, count(*) n, min(c.name) contact, min(i.due_on)::text due_on,
			coalesce(max(e.at), max(i.state_at)) since
		from item i join client cl on cl.id = i.client_id join contact c on c.id = i.contact_id
			left join lateral (select max(at) at from event e where e.item_id = i.id and e.verb = 'chasing_ran_out') e on true
		where i.firm_id = $1 and i.state in ('asked', 'seen', 'started', 'sent_back') and i.next_chase_on is null and i.due_on is not null and c.mail_problem is null
		group by i.client_id, cl.name order by min(i.due_on), i.client_id limit 200`,
		[tx.firmId]
	);
	for (const r of ranOut) {
		const late = daysLate({ state: 'asked', dueOn: r.due_on }, today);
		rows.push({
			section: 'ran_out',
			key: `ran-out-${r.client_id}`,
			clientId: r.client_id,
			clientName: r.client_name,
			since: r.since,
			words: `${r.n === 1 ? 'one thing is' : `${r.n} things are`} still open after the last reminder`,
			aside: late > 0 ? `${late} days late, call ${r.contact}` : `call ${r.contact}`,
			isNew: isNew(r.since)
		});
	}

	const trouble = await tx.rows<{
		id: string;
		kind: string;
		subject: string | null;
		state: string;
		reason: string | null;
		since: string;
		client_id: string | null;
		client_name: string | null;
		contact_name: string;
		address: string;
		opted_out: boolean;
	}>(
		`select distinct on (coalesce(m.contact_id, m.staff_id), m.state = 'unclear') m.id, m.kind, m.subject, m.state, m.reason, coalesce(m.settled_at, m.planned_at) since, m.to_address address,
			coalesce(m.client_id, cc.client_id) client_id, coalesce(cl.name, ccl.name) client_name, coalesce(c.name, s.name) contact_name, false opted_out
		from message m left join contact c on c.id = m.contact_id left join staff s on s.id = m.staff_id left join client cl on cl.id = m.client_id
			left join lateral (select client_id from client_contact where contact_id = c.id order by rank limit 1) cc on true left join client ccl on ccl.id = cc.client_id
		where m.firm_id = $1 and m.state in ('failed', 'unclear') and m.seen_by_staff_at is null
		order by coalesce(m.contact_id, m.staff_id), m.state = 'unclear', m.planned_at desc`,
		[tx.firmId]
	);
	for (const m of trouble.sort((a, b) => a.since.localeCompare(b.since)))
		rows.push({
			section: 'mail_trouble',
			key: `message-${m.id}`,
			messageId: m.id,
			clientId: m.client_id,
			clientName: m.client_name ?? m.contact_name,
			since: m.since,
			words:
				m.state === 'unclear' ? `nobody knows whether “${m.subject ?? m.kind}” reached ${m.contact_name}` : `mail to ${m.address} did not arrive`,
			aside: m.state === 'unclear' ? 'ask them' : 'find a new address',
			isNew: isNew(m.since)
		});

	const invitations = await tx.rows<{
		id: string;
		sentAt: string;
		expiresAt: string;
		openedAt: string | null;
		client_id: string;
		client_name: string;
		contact_name: string;
	}>(
		`select i.id, i.sent_at as "sentAt", i.expires_at as "expiresAt", i.opened_at as "openedAt", i.client_id, cl.name client_name, c.name contact_name
		from invitation i join client cl on cl.id = i.client_id join contact c on c.id = i.contact_id
		where i.firm_id = $1 and i.taken_up_at is null and i.withdrawn_at is null and i.replaced_at is null and i.put_aside_at is null and c.mail_problem is null
			and (i.sent_at <= $2::timestamptz - make_interval(days => $3) or i.expires_at <= $2) order by i.sent_at limit 200`,
		[tx.firmId, actor.now, INVITATION_WAIT_DAYS]
	);
	for (const i of invitations) {
		const state = invitationStateAt({ expiresAt: i.expiresAt, takenUpAt: null, withdrawnAt: null, replacedAt: null }, actor.now);
		const lapses = localDate(i.expiresAt, firm.calendar);
		rows.push({
			section: 'not_taken_up',
			key: `invitation-${i.id}`,
			invitationId: i.id,
			clientId: i.client_id,
			clientName: i.client_name,
			since: i.sentAt,
			words: `${i.contact_name} ${i.openedAt ? 'opened the link but chose no password' : 'has not opened the invitation'}`,
			aside: state === 'expired' ? `lapsed ${dates.due(lapses)}` : lapses <= addDays(today, 1) ? 'lapses soon' : `lapses ${dates.due(lapses)}`,
			isNew: isNew(i.sentAt)
		});
	}
	const order: string[] = ROUNDS_SECTIONS.map((s) => s.section);
	return rows.sort((a, b) => order.indexOf(a.section) - order.indexOf(b.section));
}

/** How many things are in Rounds; for the head of every desk page. */
export async function countRounds(tx: Tx, now: string): Promise<number> {
	const row = await tx.first<{ n: number }>(
		// the items first, by their index: the planner cannot see through row-level security how few they are
		`with ran_out as materialized (
			select client_id, contact_id from item where firm_id = $1 and state in ('asked', 'seen', 'started', 'sent_back') and next_chase_on is null and due_on is not null
		)
		select (select count(*) from item where firm_id = $1 and state in ('handed_in', 'answered_no', 'declined'))
			+ (select count(distinct o.client_id) from ran_out o join contact c on c.id = o.contact_id where c.mail_problem is null)
			+ (select count(distinct (coalesce(contact_id, staff_id), state = 'unclear')) from message where firm_id = $1 and state in ('failed', 'unclear') and seen_by_staff_at is null)
			+ (select count(*) from invitation i join contact c on c.id = i.contact_id where i.firm_id = $1 and taken_up_at is null and withdrawn_at is null and replaced_at is null and put_aside_at is null and c.mail_problem is null
				and (sent_at <= $2::timestamptz - make_interval(days => $3) or expires_at <= $2)) n`,
		[tx.firmId, now, INVITATION_WAIT_DAYS]
	);
	return row?.n ?? 0;
}

/** Notes when this person last looked at Rounds, for what is new since. */
export async function noteLooked(tx: Tx, actor: Actor): Promise<void> {
	await tx.rows('update staff set last_looked_at = $2 where id = $1', [actor.id, actor.now]);
}
