import { DomainError } from '$lib/core/errors/domain-error';
import { localDate } from '$lib/core/calendar/firm-calendar';
import type { TheirTimes } from '$lib/core/calendar/their-times';
import type { ClientState } from '$lib/core/clients/client-states';
import { invitationStateAt, type InvitationState } from '$lib/core/invitations/invitation-states';
import type { Language } from '$lib/core/people/languages';
import type { Channels } from '$lib/core/messages/ways';
import { longestWait, type Light, type Wait } from '$lib/core/requests/lateness';
import { unpackTicks, type TickRun } from '$lib/core/requests/tick-strip';
import { requireStaff, type Actor } from '../actor';
import type { Firm } from '../firms/firm';
import { searchWords } from './find-clients';
import type { Tx } from '../platform/db/database';

interface PositionRow {
	client_id: string;
	name: string;
	responsible: string;
	items: number;
	open: number;
	to_look_at: number;
	settled: number;
	earliest_open_due: string | null;
	/** what sorts the list, as the database writes it */
	order_key: string;
	next_chase_on: string | null;
	tick_letters: string;
	tick_dues: (string | null)[];
	last_sign_of_life: string | null;
	held_back: boolean;
	state: ClientState;
}

export interface ClientRow {
	id: string;
	name: string;
	responsible: string;
	wait: Wait;
	light: Light;
	ticks: TickRun[];
	open: number;
	toLookAt: number;
	settled: number;
	nextChaseOn: string | null;
	/** a contact of the client cannot be written to, or does not want to be */
	heldBack: boolean;
	state: ClientState;
	/** open lines remain although every reminder has gone out */
	ranOut: boolean;
	lastSignOfLife: string | null;
	/** where the next page begins */
	cursor: { key: string; id: string };
}

/** Matches of each kind that a search of the list takes in. */
const SEARCHED = 500;

/** The orders of the Clients list, each with the key that sorts it; each has an index. */
const ORDER_KEYS = {
	wait: { key: 'p.wait_key', type: 'date' },
	name: { key: 'lower(p.name)', type: 'text' },
	/** silent longest first; who never gave one before all others */
	life: { key: `coalesce(p.last_sign_of_life, timestamptz '0001-01-01 00:00:00+00')`, type: 'timestamptz' },
	/** chased soonest first; who is not chased after all others */
	chase: { key: `coalesce(p.next_chase_on, date '9999-12-31')`, type: 'date' }
} as const;
export type ClientOrder = keyof typeof ORDER_KEYS;
export const CLIENT_ORDERS = Object.keys(ORDER_KEYS) as ClientOrder[];

/**
 * A page of clients. By longest wait: the earliest open due date first, then those with something to look at,
 * those without a date, those nothing was asked of yet, and those who are all in. The other orders are in `ORDER_KEYS`.
 */
export async function readClients(
	tx: Tx,
	actor: Actor,
	firm: Pick<Firm, 'calendar'>,
	query: { order: ClientOrder; search: string | null; responsibleId: string | null; ended?: boolean; after: { key: string; id: string } | null },
	limit: number
): Promise<ClientRow[]> {
	requireStaff(actor, 'look');
	const today = localDate(actor.now, firm.calendar);
	const { key, type } = ORDER_KEYS[query.order];
	const conditions = ['p.firm_id = $1'];
	// a search finds those who have left too
	if (!query.search) conditions.push(query.ended ? `p.state = 'ended'` : `p.state <> 'ended'`);
	const values: unknown[] = [tx.firmId];
	if (query.after) {
		values.push(query.after.key, query.after.id);
		conditions.push(`(${key}, p.client_id) > ($${values.length - 1}::${type}, $${values.length}::uuid)`);
	}
	if (query.search) {
		values.push(...searchWords(query.search), SEARCHED);
		const n = values.length;
		conditions.push(`p.client_id in (select client_id from search_clients($${n - 2}, $${n - 1}, $${n}))`);
	}
	if (query.responsibleId) {
		values.push(query.responsibleId);
		conditions.push(`p.responsible_id = $${values.length}`);
	}
	values.push(limit);
	const rows = await tx.rows<PositionRow>(
		`select p.client_id, p.name, p.items, p.open, p.to_look_at, p.settled, p.earliest_open_due, p.next_chase_on, p.tick_letters, p.tick_dues, p.last_sign_of_life, p.state, (${key})::text order_key,
			s.name responsible,
			exists (select from client_contact cc join contact c on c.id = cc.contact_id where cc.client_id = p.client_id and c.mail_problem is not null) held_back
		from client_summary p join staff s on s.id = p.responsible_id
		where ${conditions.join(' and ')} order by ${key}, p.client_id limit $${values.length}`,
		values
	);
	return rows.map((row) => ({
		id: row.client_id,
		name: row.name,
		responsible: row.responsible,
		...longestWait({ items: row.items, open: row.open, toLookAt: row.to_look_at, earliestOpenDue: row.earliest_open_due }, today),
		ticks: unpackTicks(row.tick_letters, row.tick_dues, today),
		open: row.open,
		toLookAt: row.to_look_at,
		settled: row.settled,
		nextChaseOn: row.next_chase_on,
		heldBack: row.held_back && row.open > 0,
		state: row.state,
		ranOut: row.state === 'active' && row.next_chase_on === null && row.earliest_open_due !== null,
		lastSignOfLife: row.last_sign_of_life,
		cursor: { key: row.order_key, id: row.client_id }
	}));
}

/** Lists are counted up to here; beyond it nobody reads the number. */
export const COUNTED_TO = 1000;

/** How many clients there are, and how many need the firm now: those who are late and those with something to look at. Counted up to `COUNTED_TO`. */
export async function countClients(
	tx: Tx,
	firm: Pick<Firm, 'calendar'>,
	now: string
): Promise<{ all: number; needYou: number; noAddress: number; firstWithout: string | null }> {
	const row = await tx.first<{ all: number; needYou: number; noAddress: number; firstWithout: string | null }>(
		`select (select count(*) from (select from client_summary where firm_id = $1 and state <> 'ended' limit $3) counted) "all",
			(select count(*) from (select from client_summary where firm_id = $1 and state <> 'ended' and wait_key < $2
				union all select from client_summary where firm_id = $1 and state <> 'ended' and to_look_at > 0 and wait_key >= $2 limit $3) counted) as "needYou",
			(select count(*) from (select from contact c where c.firm_id = $1 and c.mail_problem = 'no_address' and c.removed_at is null
				and exists (select from client_contact cc where cc.contact_id = c.id) limit $3) counted) as "noAddress",
			(select c.id from contact c where c.firm_id = $1 and c.mail_problem = 'no_address' and c.removed_at is null
				and exists (select from client_contact cc where cc.contact_id = c.id) order by c.created_at, lower(c.name), c.id limit 1) as "firstWithout"`,
		[tx.firmId, localDate(now, firm.calendar), COUNTED_TO]
	);
	return row!;
}

export interface ClientContact {
	id: string;
	name: string;
	email: string | null;
	phone: string | null;
	/** what they are at this client */
	role: string;
	suspendedAt: string | null;
	hasAccess: boolean;
	/** signs in with more than the password */
	hasSecondStep: boolean;
	mailProblem: 'bounced' | 'opted_out' | 'no_address' | null;
	mailProblemDetail: string | null;
	channels: Channels;
	locale: Language;
	/** when they are written to besides the firm's hours */ times: TheirTimes | null;
	/** by which plan they are chased; null as the client or the firm has it */ chasePlan: string | null;
	textProblem: 'failed' | 'stopped' | null;
	textProblemDetail: string | null;
	lastSeenAt: string | null;
	otherClients: string[];
	invitation: {
		id: string;
		state: InvitationState;
		sentAt: string;
		expiresAt: string;
		openedAt: string | null;
		takenUpAt: string | null;
		withdrawnAt: string | null;
		/** null when the link was handed over without a message */
		messageState: string | null;
		messageReason: string | null;
		deliveredAt: string | null;
		nextChaseOn: string | null;
	} | null;
}

export interface ClientRecord {
	id: string;
	name: string;
	kind: 'business' | 'person';
	responsible: string;
	responsibleId: string;
	/** by which plan they are chased; null as the firm has it */
	chasePlan: string | null;
	state: ClientState;
	stateAt: string | null;
	stateBy: string | null;
	stateReason: string | null;
	createdAt: string;
	contacts: ClientContact[];
}

/** @throws DomainError not_found */
export async function readClient(tx: Tx, actor: Actor, clientId: string): Promise<ClientRecord> {
	requireStaff(actor, 'look');
	const client = await tx.first<Omit<ClientRecord, 'contacts'>>(
		`select c.id, c.name, c.kind, s.name responsible, s.id as "responsibleId", c.chase_plan as "chasePlan", c.state, c.state_at as "stateAt", c.state_by as "stateBy", c.state_reason as "stateReason", c.created_at as "createdAt" from client c join staff s on s.id = c.responsible_id where c.id = $1`,
		[clientId]
	);
	if (!client) throw new DomainError('not_found', 'There is no such client.');
	const contacts = await tx.rows<
		Omit<ClientContact, 'invitation'> & {
			invitation: (Omit<NonNullable<ClientContact['invitation']>, 'state'> & { replacedAt: string | null }) | null;
		}
	>(
		`select c.id, c.name, c.email::text, c.phone, cc.role, c.suspended_at as "suspendedAt", c.password_hash is not null as "hasAccess", (exists (select from authenticator a where a.contact_id = c.id and a.confirmed_at is not null) or exists (select from passkey p where p.contact_id = c.id)
				or exists (select from text_factor t where t.contact_id = c.id and t.confirmed_at is not null)) as "hasSecondStep", c.mail_problem as "mailProblem", c.mail_problem_detail as "mailProblemDetail", c.channels, c.locale, c.times, c.chase_plan as "chasePlan",
			c.text_problem as "textProblem", c.text_problem_detail as "textProblemDetail",
			c.last_seen_at as "lastSeenAt",
			array(select o.name from client_contact oc join client o on o.id = oc.client_id where oc.contact_id = c.id and oc.client_id <> $1 order by o.name) "otherClients",
			(select json_build_object('id', i.id, 'sentAt', to_iso(i.sent_at), 'expiresAt', to_iso(i.expires_at), 'openedAt', to_iso(i.opened_at),
				'takenUpAt', to_iso(i.taken_up_at), 'withdrawnAt', to_iso(i.withdrawn_at), 'replacedAt', to_iso(i.replaced_at),
				'messageState', m.state, 'messageReason', m.reason, 'deliveredAt', to_iso(m.delivered_at), 'nextChaseOn',
				-- who has something open is reminded of that, with the way in
				case when not exists (select from item o where o.contact_id = c.id and o.phase = 'open') then i.next_chase_on end)
				from invitation i left join message m on m.id = i.message_id where i.contact_id = c.id order by i.sent_at desc limit 1) invitation
		from client_contact cc join contact c on c.id = cc.contact_id where cc.client_id = $1 order by cc.rank`,
		[clientId]
	);
	return {
		...client,
		contacts: contacts.map((c) => ({
			...c,
			invitation: c.invitation && { ...c.invitation, state: invitationStateAt(c.invitation, actor.now) }
		}))
	};
}

export interface HistoryRow {
	id: number;
	at: string;
	actorKind: string;
	actorName: string;
	verb: string;
	details: Record<string, unknown>;
}

/** A client's history, newest first, complete; `before` is the last id of the page above. */
export async function readHistory(tx: Tx, actor: Actor, clientId: string, before: number | null, limit: number): Promise<HistoryRow[]> {
	requireStaff(actor, 'look');
	return tx.rows<HistoryRow>(
		`select id, at, actor_kind as "actorKind", actor_name as "actorName", verb, details from event
		where client_id = any ((select client_and_merged($1))::uuid[]) and ($2::bigint is null or id < $2) order by id desc limit $3`,
		[clientId, before, limit]
	);
}

/** The people of the firm, for choosing who is responsible. */
export function readStaff(tx: Tx): Promise<{ id: string; name: string; role: string }[]> {
	return tx.rows('select id, name, role from staff where suspended_at is null order by name');
}
