import { invitationStateAt } from '$lib/core/invitations/invitation-states';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { daysLate } from '$lib/core/requests/lateness';
import type { ItemState } from '$lib/core/requests/item-states';
import type { ItemKind } from '$lib/core/items/item-kinds';
import { ROUNDS_SECTION_ROWS, ROUNDS_SECTIONS, type RoundsSection } from '$lib/core/rounds/sections';
import { requireStaff, type Actor } from '../actor';
import { ofMine, ofMyPeople } from '../clients/mine';
import type { Firm } from '../firms/firm';
import { readTexts } from '../messages/incoming-texts';
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
	| { section: 'no_address'; contactId: string }
	| { section: 'texts'; textId: string }
	| { section: 'talk'; itemId: string }
	| { section: 'drafts'; draftId: string }
);

/** A remark `m` of a client that nobody saw yet; what is pinned to a file belongs to what they say of it, once that has come in. */
const UNANSWERED = `m.seen_at is null and m.by_contact is not null and not (m.attachment_id is not null and i.state in ('handed_in', 'answered_no'))`;

/**
 * Open items that go on without anybody being reminded of them: no reminder is left, or they are late and their person gets none. Each half
 * is found by its index; as one condition it would read everything that is open. @param today the parameter that holds the local day
 */
const RAN_OUT = (
	today: string
) => `unreached as materialized (select id from contact where firm_id = $1 and (reminded_by = 'none' or suspended_at is not null)),
	closed as materialized (select id from client where firm_id = $1 and state <> 'active'),
	ran_out_items as (
		select halves.* from (
			select id, client_id, contact_id, due_on, state_at, chases_sent, chase_plan from item
			where firm_id = $1 and state in ('asked', 'seen', 'started', 'sent_back') and next_chase_on is null and due_on is not null
				and contact_id not in (select id from unreached)
			union all
			select id, client_id, contact_id, due_on, state_at, chases_sent, chase_plan from item
			where contact_id = any (array(select id from unreached)) and state in ('asked', 'seen', 'started', 'sent_back') and due_on < ${today}
		) halves where chase_plan is distinct from 'none' and client_id not in (select id from closed)
	)`;
const WHY_UNREACHED = {
	bounced: 'mail to them came back',
	opted_out: 'they have stopped reminders',
	no_address: 'they have no address',
	suspended: 'they are suspended'
} as const;

/** An invitation `i` of a contact `c` that nobody took up, at `$2`, for `$3` days. */
const NOT_TAKEN_UP = `i.taken_up_at is null and (i.withdrawn_at is null or i.asked_again_at is not null) and i.replaced_at is null and i.put_aside_at is null
	and c.mail_problem is null and c.password_hash is null and (i.asked_again_at is not null or i.sent_at <= $2::timestamptz - make_interval(days => $3) or i.expires_at <= $2)`;

/**
 * What needs a person of the firm now, section by section, the oldest of each first; what came in of one client stands together,
 * where the client's oldest stands. See `countRounds` for how many there are.
 * @param mineOf whose clients it is about; null for everybody's
 */
export async function readRounds(
	tx: Tx,
	actor: Actor,
	firm: Pick<Firm, 'calendar'>,
	dates: { due(date: string): string },
	mineOf: string | null = null
): Promise<{ rows: RoundsRow[]; lastLooked: string | null }> {
	requireStaff(actor, 'look');
	const today = localDate(actor.now, firm.calendar);
	const lastLooked = (await tx.first<{ at: string | null }>('select last_looked_at as at from staff where id = $1', [actor.id]))?.at ?? null;
	const isNew = (at: string) => lastLooked !== null && at > lastLooked;

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
	}>(
		// each section's oldest are chosen before anything is joined to them
		`with waiting as (
			select i.id, i.client_id, case when i.state <> 'handed_in' then 'answers' when l.state = 'signed' then 'to_countersign' else 'handed_in' end section, i.state_at
			from item i left join letter l on l.item_id = i.id and i.kind = 'letter'
			where i.firm_id = $1 and i.state in ('handed_in', 'answered_no', 'declined') and ${ofMine('i.client_id', 3)}
		), by_client as (
			select *, min(state_at) over (partition by section, client_id) client_since from waiting
		), oldest as materialized (
			select id, client_since
			from (select id, client_since, row_number() over (partition by section order by client_since, client_id, state_at, id) place from by_client) placed
			where place <= $2
		)
		select i.id, i.kind, i.title, i.state, i.state_at, i.due_on, i.reason, i.client_id, cl.name client_name, c.name contact_name,
			(select count(*) from paper p where p.item_id = i.id and p.removed_at is null) papers, l.state letter_state
		from oldest o join item i on i.id = o.id join client cl on cl.id = i.client_id join contact c on c.id = i.contact_id
			left join letter l on l.item_id = i.id and i.kind = 'letter'
		order by o.client_since, i.client_id, i.state_at, i.id`,
		[tx.firmId, ROUNDS_SECTION_ROWS, mineOf]
	);
	const rows: RoundsRow[] = items.map((item) => {
		const late = daysLate({ state: 'asked', dueOn: item.due_on }, localDate(item.state_at, firm.calendar));
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

	const ranOut = await tx.rows<{
		client_id: string;
		client_name: string;
		n: number;
		sent: number;
		contact: string;
		why: keyof typeof WHY_UNREACHED | null;
		since: string;
		due_on: string;
	}>(
		// grouped and limited before anything is joined: the planner cannot tell that hardly any open item has no chase left
		`with ${RAN_OUT('$3')},
		ran_out as materialized (
			select client_id, count(*) n, min(due_on) due_on, max(state_at) state_at, array_agg(id) items, sum(chases_sent) sent, (array_agg(contact_id order by due_on, id))[1] contact_id
			from ran_out_items where ${ofMine('client_id', 4)}
			group by client_id order by min(due_on), client_id limit $2
		)
		select r.client_id, cl.name client_name, r.n, r.sent, c.name contact, case when c.suspended_at is not null then 'suspended' when c.reminded_by = 'none' then c.mail_problem end why, r.due_on, coalesce(e.at, r.state_at) since
		from ran_out r join client cl on cl.id = r.client_id join contact c on c.id = r.contact_id
			left join lateral (select max(at) at from event where item_id = any (r.items) and verb = 'chasing_ran_out') e on true
		order by r.due_on, r.client_id`,
		[tx.firmId, ROUNDS_SECTION_ROWS, today, mineOf]
	);
	for (const r of ranOut) {
		const late = daysLate({ state: 'asked', dueOn: r.due_on }, today);
		rows.push({
			section: 'ran_out',
			key: `ran-out-${r.client_id}`,
			clientId: r.client_id,
			clientName: r.client_name,
			since: r.since,
			words: r.why
				? `${r.n === 1 ? 'one thing is' : `${r.n} things are`} late, and ${r.contact} is not reminded: ${WHY_UNREACHED[r.why]}`
				: `${r.n === 1 ? 'one thing is' : `${r.n} things are`} still open ${r.sent > 0 ? 'after the last reminder' : 'and too late for any reminder of the plan'}`,
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
		channel: 'email' | 'text';
		/** the address or number is to blame */
		bad: boolean | null;
	}>(
		`select distinct on (coalesce(m.contact_id, m.staff_id), m.state = 'unclear') m.id, m.kind, m.subject, m.state, m.reason, coalesce(m.settled_at, m.planned_at) since, m.to_address address, m.channel,
			coalesce(m.client_id, cc.client_id) client_id, coalesce(cl.name, ccl.name) client_name, coalesce(c.name, s.name) contact_name, case when m.channel = 'text' then c.text_problem is not null else c.mail_problem = 'bounced' end bad
		from message m left join contact c on c.id = m.contact_id left join staff s on s.id = m.staff_id left join client cl on cl.id = m.client_id
			left join lateral (select client_id from client_contact where contact_id = c.id order by rank limit 1) cc on true left join client ccl on ccl.id = cc.client_id
		where m.firm_id = $1 and m.state in ('failed', 'unclear') and m.seen_by_staff_at is null and (m.staff_id = $2 or ${ofMyPeople('m.contact_id', 2)})
		order by coalesce(m.contact_id, m.staff_id), m.state = 'unclear', m.planned_at desc`,
		[tx.firmId, mineOf]
	);
	for (const m of trouble.sort((a, b) => a.since.localeCompare(b.since)).slice(0, ROUNDS_SECTION_ROWS))
		rows.push({
			section: 'mail_trouble',
			key: `message-${m.id}`,
			messageId: m.id,
			clientId: m.client_id,
			clientName: m.client_name ?? m.contact_name,
			since: m.since,
			words:
				m.state === 'unclear'
					? `nobody knows whether “${m.subject ?? m.kind}” reached ${m.contact_name}`
					: `${m.channel === 'text' ? 'the text' : 'mail'} to ${m.address} ${m.bad === false ? 'could not be handed over' : 'did not arrive'}`,
			aside:
				m.state === 'unclear'
					? 'ask them'
					: m.bad === false
						? 'the mail server was away'
						: m.channel === 'text'
							? 'check the number'
							: 'find a new address',
			isNew: isNew(m.since)
		});

	const invitations = await tx.rows<{
		id: string;
		sentAt: string;
		expiresAt: string;
		openedAt: string | null;
		again: boolean;
		client_id: string;
		client_name: string;
		contact_name: string;
	}>(
		`select i.id, i.sent_at as "sentAt", i.expires_at as "expiresAt", i.opened_at as "openedAt", i.asked_again_at is not null again, i.client_id, cl.name client_name, c.name contact_name
		from invitation i join client cl on cl.id = i.client_id join contact c on c.id = i.contact_id
		where i.firm_id = $1 and cl.state = 'active' and ${NOT_TAKEN_UP} and ${ofMine('i.client_id', 5)} order by i.sent_at limit $4`,
		[tx.firmId, actor.now, INVITATION_WAIT_DAYS, ROUNDS_SECTION_ROWS, mineOf]
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
			words: `${i.contact_name} ${i.again ? 'asks for a new link' : i.openedAt ? 'opened the link but chose no password' : 'has not opened the invitation'}`,
			aside: state === 'expired' ? `lapsed ${dates.due(lapses)}` : lapses <= addDays(today, 1) ? 'lapses soon' : `lapses ${dates.due(lapses)}`,
			isNew: isNew(i.sentAt)
		});
	}
	const nowhere = await tx.rows<{ id: string; name: string; phone: string | null; since: string; client_id: string; client_name: string }>(
		`select c.id, c.name, c.phone, c.created_at since, at.client_id, at.client_name
		from contact c cross join lateral (
			select cl.id client_id, cl.name client_name from client_contact cc join client cl on cl.id = cc.client_id and cl.state = 'active'
			where cc.contact_id = c.id order by cc.rank, cl.id limit 1
		) at
		where c.firm_id = $1 and c.mail_problem = 'no_address' and c.removed_at is null and ${ofMyPeople('c.id', 3)} order by c.created_at, lower(c.name), c.id limit $2`,
		[tx.firmId, ROUNDS_SECTION_ROWS, mineOf]
	);
	for (const person of nowhere)
		rows.push({
			section: 'no_address',
			key: `contact-${person.id}`,
			contactId: person.id,
			clientId: person.client_id,
			clientName: person.client_name,
			since: person.since,
			words: `${person.name} has no e-mail address`,
			aside: person.phone ? 'phone known' : 'ask for it',
			isNew: isNew(person.since)
		});

	const talk = await tx.rows<{ item_id: string; title: string; words: string; since: string; client_id: string; client_name: string; by: string }>(
		`with oldest as (
			select distinct on (m.item_id) m.item_id, m.client_id, m.by_contact, m.words, m.written_at from item_remark m join item i on i.id = m.item_id
			where m.firm_id = $1 and ${UNANSWERED} and ${ofMine('m.client_id', 3)} order by m.item_id, m.written_at
		)
		select o.item_id, i.title, o.words, o.written_at since, o.client_id, cl.name client_name, c.name as by
		from oldest o join item i on i.id = o.item_id join client cl on cl.id = o.client_id join contact c on c.id = o.by_contact order by o.written_at, o.item_id limit $2`,
		[tx.firmId, ROUNDS_SECTION_ROWS, mineOf]
	);
	for (const one of talk)
		rows.push({
			section: 'talk',
			key: `talk-${one.item_id}`,
			itemId: one.item_id,
			clientId: one.client_id,
			clientName: one.client_name,
			since: one.since,
			words: `${one.title}: “${one.words}”`,
			aside: one.by,
			isNew: isNew(one.since)
		});
	const drafts = await tx.rows<{
		id: string;
		title: string;
		lines: number;
		since: string;
		client_id: string;
		client_name: string;
		list: string | null;
	}>(
		`with oldest as materialized (
			select d.id from request_draft d where d.firm_id = $1 and d.waits and d.removed_at is null
				and exists (select from client cl where cl.id = d.client_id and cl.state = 'active') and ${ofMine('d.client_id', 3)}
			order by d.made_at, d.place limit $2
		)
		select d.id, d.title, d.lines, d.made_at since, d.client_id, cl.name client_name, l.name list
		from request_draft d join client cl on cl.id = d.client_id left join request_list l on l.id = d.list_id
		where d.id = any (array(select id from oldest)) order by d.made_at, d.place`,
		[tx.firmId, ROUNDS_SECTION_ROWS, mineOf]
	);
	for (const draft of drafts)
		rows.push({
			section: 'drafts',
			key: `draft-${draft.id}`,
			draftId: draft.id,
			clientId: draft.client_id,
			clientName: draft.client_name,
			since: draft.since,
			words: draft.title || 'Untitled request',
			aside: `${draft.lines} ${draft.lines === 1 ? 'line' : 'lines'}`,
			isNew: isNew(draft.since)
		});

	for (const text of await readTexts(tx, ROUNDS_SECTION_ROWS, { mineOf }))
		rows.push({
			section: 'texts',
			key: `text-${text.id}`,
			textId: text.id,
			clientId: text.clientId,
			clientName: text.clientName ?? text.contactName,
			since: text.cameAt,
			words: `“${text.words}”`,
			aside: text.contactName,
			isNew: isNew(text.cameAt)
		});

	const order: string[] = ROUNDS_SECTIONS.map((s) => s.section);
	return { rows: rows.sort((a, b) => order.indexOf(a.section) - order.indexOf(b.section)), lastLooked };
}

/**
 * How many things are in each section of Rounds, counted in one statement: their sum stands in the head of every desk page.
 * @param mineOf whose clients it is about; null for everybody's
 */
export async function countRounds(
	tx: Tx,
	firm: Pick<Firm, 'calendar'>,
	now: string,
	mineOf: string | null = null
): Promise<Record<RoundsSection, number>> {
	const row = await tx.first<Record<RoundsSection, number>>(
		`with ${RAN_OUT('$4')}
		select
			(select count(*) from incoming_text t where firm_id = $1 and seen_at is null and ${ofMyPeople('t.contact_id', 5)}) texts,
			(select count(distinct m.item_id) from item_remark m join item i on i.id = m.item_id where m.firm_id = $1 and ${UNANSWERED} and ${ofMine('m.client_id', 5)}) talk,
			(select count(*) from request_draft where firm_id = $1 and waits and removed_at is null and client_id not in (select id from closed) and ${ofMine('client_id', 5)}) drafts,
			(select count(*) from item where firm_id = $1 and state in ('answered_no', 'declined') and ${ofMine('client_id', 5)}) answers,
			(select count(*) from item where firm_id = $1 and state = 'handed_in' and ${ofMine('client_id', 5)})
				- (select count(*) from letter l join item i on i.id = l.item_id where l.firm_id = $1 and l.state = 'signed' and i.state = 'handed_in' and ${ofMine('i.client_id', 5)}) handed_in,
			(select count(*) from letter l join item i on i.id = l.item_id where l.firm_id = $1 and l.state = 'signed' and i.state = 'handed_in' and ${ofMine('i.client_id', 5)}) to_countersign,
			(select count(distinct client_id) from ran_out_items where ${ofMine('client_id', 5)}) ran_out,
			(select count(distinct (coalesce(contact_id, staff_id), state = 'unclear')) from message m where firm_id = $1 and state in ('failed', 'unclear') and seen_by_staff_at is null
				and (m.staff_id = $5 or ${ofMyPeople('m.contact_id', 5)})) mail_trouble,
			(select count(*) from invitation i join contact c on c.id = i.contact_id where i.firm_id = $1
				and i.client_id not in (select id from closed) and ${NOT_TAKEN_UP} and ${ofMine('i.client_id', 5)}) not_taken_up,
			(select count(*) from contact c where c.firm_id = $1 and c.mail_problem = 'no_address' and c.removed_at is null
				and exists (select from client_contact cc where cc.contact_id = c.id and cc.client_id not in (select id from closed)) and ${ofMyPeople('c.id', 5)}) no_address`,
		[tx.firmId, now, INVITATION_WAIT_DAYS, localDate(now, firm.calendar), mineOf]
	);
	return row!;
}

/** Notes when this person last looked at Rounds, for what is new since. */
export async function noteLooked(tx: Tx, actor: Actor): Promise<void> {
	await tx.rows('update staff set last_looked_at = $2 where id = $1', [actor.id, actor.now]);
}

/** Whether somebody's Rounds shows only what comes of the clients they look after. */
export async function isOnlyMine(tx: Tx, actor: Actor): Promise<boolean> {
	requireStaff(actor, 'look');
	return (await tx.first<{ mine: boolean }>('select rounds_only_mine mine from staff where id = $1', [actor.id]))?.mine ?? false;
}

/** Keeps whether it does; it is kept with the person, on every device. */
export async function showOnlyMine(tx: Tx, actor: Actor, onlyMine: boolean): Promise<void> {
	requireStaff(actor, 'look');
	await tx.rows('update staff set rounds_only_mine = $2 where id = $1', [actor.id, onlyMine]);
}
