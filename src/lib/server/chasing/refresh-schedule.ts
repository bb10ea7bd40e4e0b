import { chasePlanOf, type ChasingFirm } from '$lib/core/chasing/chase-plan';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { stepToCome } from '$lib/core/chasing/forecast';
import type { HoldWhy } from '$lib/core/chasing/hold';
import type { ItemState } from '$lib/core/requests/item-states';
import type { Tx } from '../platform/db/database';

interface ScheduledItem {
	id: string;
	state: ItemState;
	due_on: string | null;
	asked_on: string;
	heard_at: string | null;
	chased_through: string;
	chased_turn: number;
	next_chase_on: string | null;
	chase_plan: string | null;
	asks_us: boolean;
	signable_until: string | null;
	held_until: string | null;
	held_why: HoldWhy | null;
	client_is_active: boolean;
}

/**
 * Writes the day of the next chase step into items, as core places it. To be called in every
 * transaction that changes state, due date or chased-through day of an item, until when it can be signed, whether its person has asked us something, what holds its reminders, or the state of its client: the column is what makes
 * the question "who is due now" cheap, the rule stays in core.
 */
export async function refreshChaseDays(tx: Tx, itemIds: readonly string[], firm: ChasingFirm): Promise<void> {
	if (itemIds.length === 0) return;
	const items = await tx.rows<ScheduledItem>(
		`select i.id, i.state, i.due_on, i.asked_on, l.at heard_at, i.chased_through, i.chased_turn, i.next_chase_on, i.chase_plan, i.asks_us, case when i.kind = 'letter' then signable_until(i.id) end signable_until, c.state = 'active' client_is_active, h.until held_until, h.why held_why
		from item i join client c on c.id = i.client_id left join lateral held_by(i.id, i.request_id, i.contact_id, i.client_id) h on true left join contact_heard l on l.contact_id = i.contact_id where i.id = any ($1)`,
		[itemIds]
	);
	const changed = items
		.map((item) => ({
			id: item.id,
			before: item.next_chase_on,
			day: item.client_is_active
				? (stepToCome(
						{
							state: item.state,
							dueOn: item.due_on,
							askedOn: item.asked_on,
							heardOn: item.heard_at && localDate(item.heard_at, firm.calendar),
							chasedThrough: item.chased_through,
							chasedTurn: item.chased_turn,
							plan: chasePlanOf(firm, item.chase_plan),
							asksUs: item.asks_us,
							endsOn: item.signable_until,
							hold: item.held_until && item.held_why ? { until: item.held_until, why: item.held_why } : null
						},
						firm.calendar
					)?.on ?? null)
				: null
		}))
		.filter((c) => c.day !== c.before);
	if (changed.length > 0)
		await tx.rows('update item set next_chase_on = c.day from jsonb_to_recordset($1) as c (id uuid, day date) where item.id = c.id', [
			JSON.stringify(changed)
		]);
}
