import { MANY_MOST } from '$lib/core/requests/many-acts';
import type { ItemKind } from '$lib/core/requests/item-kinds';
import type { ItemState } from '$lib/core/requests/item-states';
import { runsOf, tickOf, type TickRun } from '$lib/core/requests/tick-strip';
import { requireStaff, type Actor } from '../actor';
import { searchPattern } from '../clients/find-clients';
import type { Tx } from '../platform/db/database';

/** What is asked of clients, for choosing among it. */
export const ASKED_SHOWN = ['late', 'open', 'handed_in'] as const;
export type AskedShown = (typeof ASKED_SHOWN)[number];
/** What is chosen: single lines, or everything that is shown of a request or a client. */
export const ASKED_BY = ['line', 'request', 'client'] as const;
export type AskedBy = (typeof ASKED_BY)[number];

export interface AskedFilter {
	show: AskedShown;
	/** only clients whom the person looks after */
	mine: boolean;
	words: string | null;
}

export interface AskedLine {
	id: string;
	kind: ItemKind;
	title: string;
	state: ItemState;
	dueOn: string | null;
	clientId: string;
	clientName: string;
	contactName: string;
	requestTitle: string;
}

/** The lines of one request, or of one client. */
export interface AskedTogether {
	id: string;
	clientId: string;
	clientName: string;
	/** the request's title; null for a client with several */
	title: string | null;
	requests: number;
	lines: number;
	people: string[];
	dueOn: string | null;
	ticks: TickRun[];
}

/** Rows of one page. */
export const ASKED_PAGE = 300;

const MEANT = `i.state = any ($2) and ($3::date is null or i.due_on < $3) and ($5::text is null or i.id in (select id from worded_items($5, $2) id))`;
const SOURCE = `from item i join client cl on cl.id = i.client_id and cl.state = 'active' join request r on r.id = i.request_id
	where i.firm_id = $1 and ($4::uuid is null or cl.responsible_id = $4) and ${MEANT}`;

function sourceValues(tx: Tx, actor: Actor, today: string, filter: AskedFilter): unknown[] {
	return [
		tx.firmId,
		filter.show === 'handed_in' ? ['handed_in', 'answered_no', 'declined'] : ['asked', 'seen', 'started', 'sent_back'],
		filter.show === 'late' ? today : null,
		filter.mine ? actor.id : null,
		filter.words ? searchPattern(filter.words) : null
	];
}

/** Items across all clients, due first. @param after how many come before the page @returns a page of them, and one more if there is a next one */
export function readAsked(tx: Tx, actor: Actor, today: string, filter: AskedFilter, after = 0): Promise<AskedLine[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`with page as (
			select i.id, i.kind, i.title, i.state, i.due_on, i.position, i.contact_id, i.client_id, cl.name client, r.title request
			${SOURCE} order by i.due_on nulls last, lower(cl.name), i.position, i.id offset $7 limit $6
		)
		select p.id, p.kind, p.title, p.state, p.due_on as "dueOn", p.client_id as "clientId", p.client as "clientName", coalesce(c.name, '') as "contactName", p.request as "requestTitle"
		from page p left join contact c on c.id = p.contact_id order by p.due_on nulls last, lower(p.client), p.position, p.id`,
		[...sourceValues(tx, actor, today, filter), ASKED_PAGE + 1, after]
	);
}

/** The same by request or by client, whose first is due first. */
export async function readAskedTogether(
	tx: Tx,
	actor: Actor,
	today: string,
	filter: AskedFilter,
	by: Exclude<AskedBy, 'line'>,
	after = 0
): Promise<AskedTogether[]> {
	requireStaff(actor, 'look');
	const key = by === 'request' ? 'i.request_id' : 'i.client_id';
	const rows = await tx.rows<Omit<AskedTogether, 'ticks'> & { states: ItemState[]; dues: (string | null)[] }>(
		// the page is chosen first, and only its lines are gathered
		`with page as (
			select ${key} id, min(i.due_on) due, min(lower(cl.name)) name ${SOURCE} group by 1 order by 2 nulls last, 3, 1 offset $7 limit $6
		)
		select p.id, i.client_id as "clientId", min(cl.name) as "clientName", case when count(distinct r.id) = 1 then min(r.title) end title,
			count(distinct r.id) requests, count(*) lines, array_remove(array_agg(distinct c.name), null) people, p.due as "dueOn",
			array_agg(i.state order by i.due_on nulls last, i.position, i.id) states, array_agg(i.due_on order by i.due_on nulls last, i.position, i.id) dues
		from page p join item i on ${key} = p.id left join contact c on c.id = i.contact_id join client cl on cl.id = i.client_id join request r on r.id = i.request_id
		where ${MEANT}
		group by p.id, p.due, p.name, i.client_id order by p.due nulls last, p.name, p.id`,
		[...sourceValues(tx, actor, today, filter), ASKED_PAGE + 1, after]
	);
	return rows.map(({ states, dues, ...row }) => ({ ...row, ticks: runsOf(states.map((state, i) => tickOf({ state, dueOn: dues[i] }, today))) }));
}

/**
 * The items that are meant by what was chosen, with the versions they have now: single lines as they are, of requests and clients
 * what is shown of them.
 * @returns one more than can be dealt with in one go, if there are more
 */
export function readChosen(
	tx: Tx,
	actor: Actor,
	today: string,
	filter: AskedFilter,
	by: AskedBy,
	ids: readonly string[]
): Promise<{ id: string; version: number }[]> {
	requireStaff(actor, 'look');
	if (by === 'line') return tx.rows('select id, version from item where id = any ($1)', [ids]);
	return tx.rows(`select i.id, i.version ${SOURCE} and ${by === 'request' ? 'i.request_id' : 'i.client_id'} = any ($6) limit $7`, [
		...sourceValues(tx, actor, today, filter),
		ids,
		MANY_MOST + 1
	]);
}
