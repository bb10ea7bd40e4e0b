import { localDate } from '$lib/core/calendar/firm-calendar';
import { isOpen } from '$lib/core/requests/item-states';
import { phoneInWords } from '$lib/core/people/phone';
import { daysLate } from '$lib/core/requests/lateness';
import { readTriedWith, type TriedWith } from '../../chasing/what-works';
import { ofMine } from '../../clients/mine';
import { readClient, type ClientRecord } from '../../clients/read-clients';
import type { Tx } from '../../platform/db/database';
import { readItemsOfClient, type ItemRow } from '../../items/read-items';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

/**
 * Open items that go on without anybody being reminded of them: no reminder is left, or they are late and their person gets none. Each half
 * is found by its index; as one condition it would read everything that is open. @param today the parameter that holds the local day
 */
const RAN_OUT = (
	today: string
) => `unreached as materialized (select id from contact where firm_id = $1 and (reminded_by = 'none' or suspended_at is not null)),
	ran_out_items as (
		select halves.* from (
			select id, client_id, contact_id, due_on, state_at, chases_sent, chase_plan from item
			where firm_id = $1 and phase = 'open' and next_chase_on is null and (due_on is not null or chased_turn > 0) and not asks_us
				and contact_id not in (select id from unreached)
			union all
			select id, client_id, contact_id, due_on, state_at, chases_sent, chase_plan from item
			where contact_id = any (array(select id from unreached)) and phase = 'open' and due_on < ${today}
		) halves where chase_plan is distinct from 'none' and client_id not in (select id from closed)
			-- a call that waits says more
			and not exists (select from chase_call k where k.client_id = halves.client_id and k.contact_id = halves.contact_id and k.done_at is null)
	)`;
const WHY_UNREACHED = {
	bounced: 'mail to them came back',
	opted_out: 'they have stopped reminders',
	no_address: 'they have no address',
	suspended: 'they are suspended'
} as const;

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
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
		`with closed as materialized (select id from client where firm_id = $1 and state <> 'active'), ${RAN_OUT('$3')},
		ran_out as materialized (
			select client_id, count(*) n, min(due_on) due_on, max(state_at) state_at, array_agg(id) items, sum(chases_sent) sent, (array_agg(contact_id order by due_on, id))[1] contact_id
			from ran_out_items where ${ofMine('client_id', 4)}
			group by client_id order by min(due_on), client_id limit $2
		)
		select r.client_id, cl.name client_name, r.n, r.sent, c.name contact, case when c.suspended_at is not null then 'suspended' when c.reminded_by = 'none' then c.mail_problem end why, r.due_on, coalesce(e.at, r.state_at) since
		from ran_out r join client cl on cl.id = r.client_id join contact c on c.id = r.contact_id
			left join lateral (select max(at) at from event where item_id = any (r.items) and verb = 'chasing_ran_out') e on true
		order by r.due_on, r.client_id`,
		[tx.firmId, at.limit, at.today, at.mineOf]
	);
	return ranOut.map((r) => {
		const late = daysLate({ state: 'asked', dueOn: r.due_on }, at.today);
		return {
			key: `ran-out-${r.client_id}`,
			clientId: r.client_id,
			clientName: r.client_name,
			since: r.since,
			words: r.why
				? `${r.n === 1 ? 'one thing is' : `${r.n} things are`} late, and ${r.contact} is not reminded: ${WHY_UNREACHED[r.why]}`
				: `${r.n === 1 ? 'one thing is' : `${r.n} things are`} still open ${r.sent > 0 ? 'after the last reminder' : 'and too late for any reminder of the plan'}`,
			aside: late > 0 ? `${late} days late, call ${r.contact}` : `call ${r.contact}`
		};
	});
}

interface RanOutLeaf {
	kind: 'ran_out';
	client: ClientRecord;
	/** what is open */ items: ItemRow[];
	/** what was tried with those of whom it is asked */ tried: TriedWith[];
	today: string;
}

export const ranOut: RoundsSectionDefinition<RanOutLeaf> = {
	count: `select count(distinct client_id) from ran_out_items where ${ofMine('client_id', COUNTED.mineOf)}`,
	shared: RAN_OUT,
	rows,
	leaf: {
		key: 'ran-out',
		async read(tx, actor, firm, clientId) {
			const items = (await readItemsOfClient(tx, actor, clientId)).filter((item) => isOpen(item.state));
			const client = await readClient(tx, actor, clientId);
			return {
				kind: 'ran_out',
				client: { ...client, contacts: client.contacts.map((one) => ({ ...one, phone: one.phone && phoneInWords(one.phone, firm.country) })) },
				items,
				tried: await readTriedWith(tx, actor, firm, clientId, [...new Set(items.map(({ contactId }) => contactId))]),
				today: localDate(actor.now, firm.calendar)
			};
		},
		clientOf: (leaf) => leaf.client.id
	}
};
