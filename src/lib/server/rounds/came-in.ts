import { localDate } from '$lib/core/calendar/firm-calendar';
import type { ItemKind } from '$lib/core/items/item-kinds';
import { daysLate } from '$lib/core/requests/lateness';
import type { ItemState } from '$lib/core/requests/item-states';
import { ofMine } from '../clients/mine';
import type { Tx } from '../platform/db/database';
import type { RoundsAt, SectionRow } from './section';

type CameIn = 'answers' | 'handed_in' | 'to_countersign';

/** What came in, for three sections in one statement: of one client it stands together, where the client's oldest stands. */
async function readCameIn(tx: Tx, at: RoundsAt): Promise<(SectionRow & { section: CameIn })[]> {
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
		signed_by: string | null;
	}>(
		// each section's oldest are chosen before anything is joined to them
		`with waiting as (
			select i.id, i.client_id, case when i.state <> 'handed_in' then 'answers' when l.state = 'signed' then 'to_countersign' else 'handed_in' end section, i.state_at
			from item i left join letter_signer ls on ls.item_id = i.id left join letter l on l.id = ls.letter_id
			-- a letter that waits for others of the client, or for its seal, is nobody's work here
			where i.firm_id = $1 and i.phase = 'to_look_at' and (i.state <> 'handed_in' or l.id is null or l.state = 'signed') and ${ofMine('i.client_id', 3)}
		), by_client as (
			select *, min(state_at) over (partition by section, client_id) client_since from waiting
		), oldest as materialized (
			select id, client_since
			from (select id, client_since, row_number() over (partition by section order by client_since, client_id, state_at, id) place from by_client) placed
			where place <= $2
		)
		select i.id, i.kind, i.title, i.state, i.state_at, i.due_on, i.reason, i.client_id, cl.name client_name, c.name contact_name,
			(select count(*) from paper p where p.item_id = i.id and p.removed_at is null) papers, l.state letter_state,
			(select string_agg(o.name, ', ' order by o.position) from letter_signer o where o.letter_id = l.id and o.side = 'client' and o.state = 'signed') signed_by
		from oldest o join item i on i.id = o.id join client cl on cl.id = i.client_id join contact c on c.id = i.contact_id
			left join letter_signer ls on ls.item_id = i.id left join letter l on l.id = ls.letter_id
		order by o.client_since, i.client_id, i.state_at, i.id`,
		[tx.firmId, at.limit, at.mineOf]
	);
	return items.map((item) => {
		const late = daysLate({ state: 'asked', dueOn: item.due_on }, localDate(item.state_at, at.firm.calendar));
		const section: CameIn = item.state === 'handed_in' ? (item.letter_state === 'signed' ? 'to_countersign' : 'handed_in') : 'answers';
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
						? item.letter_state === 'lapsed'
							? `“${item.title}” has lapsed: nobody signed it in time`
							: `does not want to sign “${item.title}”: “${item.reason}”`
						: item.kind === 'letter'
							? `${item.title}, signed by ${item.signed_by ?? item.contact_name}`
							: item.kind === 'paper' && item.papers > 1
								? `${item.title}, ${item.papers} files`
								: item.title,
			aside:
				late > 0
					? `came ${late} ${late === 1 ? 'day' : 'days'} late`
					: section === 'answers'
						? item.contact_name
						: item.due_on
							? `due ${at.due(item.due_on)}`
							: ''
		};
	});
}

/** What came in and stands in one of the sections. */
export async function cameIn(tx: Tx, at: RoundsAt, section: CameIn): Promise<SectionRow[]> {
	const all = await at.once('came in', () => readCameIn(tx, at));
	return all.filter((row) => row.section === section);
}

/** Counts letters that both sides have signed but one: they wait for the firm. */
export const SIGNED_LETTERS = `select count(*) from letter l join letter_signer s on s.letter_id = l.id join item i on i.id = s.item_id where l.firm_id = $1 and l.state = 'signed' and i.state = 'handed_in'`;
