import { MANY_MOST } from '$lib/core/requests/many-acts';
import type { ItemKind } from '$lib/core/items/item-kinds';
import type { ItemPhase, ItemState } from '$lib/core/requests/item-states';
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

/** The phase that is shown: written into the statement, so that the index of what is open serves. */
const phaseOf = (show: AskedShown): ItemPhase => (show === 'handed_in' ? 'to_look_at' : 'open');

interface AskedSource {
	/** what the statement begins with: the items that a word means, if there is one */
	named: string[];
	/** whether an item is shown */
	meant: (item: string) => string;
	from: string;
	values: unknown[];
}

/** The part that all statements share, with no more conditions than are asked for: a plan that must do for all of them reads whole tables. */
function sourceOf(tx: Tx, actor: Actor, today: string, filter: AskedFilter): AskedSource {
	const values: unknown[] = [tx.firmId];
	const value = (of: unknown) => `$${values.push(of)}`;
	const phase = phaseOf(filter.show);
	const late = filter.show === 'late' ? value(today) : null;
	const named = filter.words
		? [`worded as materialized (select id from worded_items(${value(searchPattern(filter.words))}, array['${phase}']) id)`]
		: [];
	const meant = (item: string) =>
		`${item}.phase = '${phase}'${late ? ` and ${item}.due_on < ${late}` : ''}${filter.words ? ` and ${item}.id in (select id from worded)` : ''}`;
	return {
		named,
		meant,
		from: `from item i join client cl on cl.id = i.client_id and cl.state = 'active' join request r on r.id = i.request_id
			where i.firm_id = $1 and ${meant('i')}${filter.mine ? ` and cl.responsible_id = ${value(actor.id)}` : ''}`,
		values
	};
}

/** Items across all clients, due first. @param after how many come before the page @returns a page of them, and one more if there is a next one */
export function readAsked(tx: Tx, actor: Actor, today: string, filter: AskedFilter, after = 0): Promise<AskedLine[]> {
	requireStaff(actor, 'look');
	const { named, from, values } = sourceOf(tx, actor, today, filter);
	return tx.rows(
		`with ${[...named, 'page'].join(', ')} as (
			select i.id, i.kind, i.title, i.state, i.due_on, i.position, i.contact_id, i.client_id, cl.name client, r.title request
			${from} order by i.due_on nulls last, lower(cl.name), i.position, i.id offset $${values.push(after)} limit $${values.push(ASKED_PAGE + 1)}
		)
		select p.id, p.kind, p.title, p.state, p.due_on as "dueOn", p.client_id as "clientId", p.client as "clientName", coalesce(c.name, '') as "contactName", p.request as "requestTitle"
		from page p left join contact c on c.id = p.contact_id order by p.due_on nulls last, lower(p.client), p.position, p.id`,
		values
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
	const key = by === 'request' ? 'request_id' : 'client_id';
	const { named, meant, from, values } = sourceOf(tx, actor, today, filter);
	const rows = await tx.rows<Omit<AskedTogether, 'ticks'> & { states: ItemState[]; dues: (string | null)[] }>(
		// the page is chosen first, by the line that is due first of each, and only its lines are gathered
		`with ${[...named, 'page'].join(', ')} as (
			select i.${key} id, i.due_on due, lower(cl.name) name
			${from} and not exists (
				select from item o where o.${key} = i.${key} and ${meant('o')}
					and (coalesce(o.due_on, 'infinity'), o.position, o.id) < (coalesce(i.due_on, 'infinity'), i.position, i.id)
			) order by i.due_on nulls last, lower(cl.name), i.${key} offset $${values.push(after)} limit $${values.push(ASKED_PAGE + 1)}
		)
		select p.id, g.*, p.due as "dueOn" from page p cross join lateral (
			select i.client_id as "clientId", min(cl.name) as "clientName", case when count(distinct r.id) = 1 then min(r.title) end title,
				count(distinct r.id) requests, count(*) lines, array_remove(array_agg(distinct c.name), null) people,
				array_agg(i.state order by i.due_on nulls last, i.position, i.id) states, array_agg(i.due_on order by i.due_on nulls last, i.position, i.id) dues
			from item i left join contact c on c.id = i.contact_id join client cl on cl.id = i.client_id join request r on r.id = i.request_id
			where i.${key} = p.id and ${meant('i')} group by i.client_id
		) g order by p.due nulls last, p.name, p.id`,
		values
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
	const { named, from, values } = sourceOf(tx, actor, today, filter);
	const of = by === 'request' ? 'i.request_id' : 'i.client_id';
	const only = `${of} = any ($${values.push(ids)}) limit $${values.push(MANY_MOST + 1)}`;
	return tx.rows(`${named.length > 0 ? `with ${named.join(', ')}` : ''} select i.id, i.version ${from} and ${only}`, values);
}
