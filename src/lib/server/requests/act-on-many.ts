import { localDate } from '$lib/core/calendar/firm-calendar';
import { chasePlanOf } from '$lib/core/chasing/chase-plan';
import type { HoldingPlan } from '$lib/core/chasing/plan-origin';
import { DomainError } from '$lib/core/errors/domain-error';
import { kindOf } from '$lib/core/items/item-kinds';
import { ITEM_STATE_WORDS, mayRestore, type ItemState } from '$lib/core/requests/item-states';
import { itemsActInWords, type ItemsAct, type ManyEffects, type ManyOutcome, type UndoItems, whyNotInState } from '$lib/core/requests/many-acts';
import { dateWords } from '$lib/words/dates';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { readPlanOf } from '../chasing/which-plan';
import { loadFirm, type Firm } from '../firms/firm';
import type { Database, Tx } from '../platform/db/database';
import { rehearse } from '../platform/db/rehearse';
import { tryOne } from '../platform/db/try-one';
import { lockItem, restoreItem, setDue } from '../items/change-item';
import { acceptLocked, changeItemPerson, waiveLocked } from './judge-item';

/** What became of one of many. */
export interface ManyResult<Undo = UndoItems[number]> {
	id: string;
	title: string;
	clientName: string;
	/** null when it was done */
	problem: string | null;
	/** what taking it back needs; null where that cannot be */
	undo: Undo | null;
}

/** Does one thing with many items, each in a transaction of its own; what cannot be done says why, the others are done. */
export async function actOnMany(db: Database, firmId: string, actor: Actor, input: ItemsAct): Promise<ManyResult[]> {
	requireStaff(actor, 'judge_item');
	const results: ManyResult[] = [];
	for (const { id, version } of input.items) {
		try {
			results.push(await db.inFirm(firmId, async (tx) => actOnOne(tx, actor, await loadFirm(tx), input, id, version)));
		} catch (cause) {
			if (!(cause instanceof DomainError)) throw cause;
			results.push({ id, ...(await db.inFirm(firmId, (tx) => nameOf(tx, id))), problem: cause.message, undo: null });
		}
	}
	return results;
}

/** What doing it would do, one after the other; nothing of it stays. */
export interface Foreseen {
	/** what it would be done with */
	items: { id: string; version: number }[];
	/** what will happen, in sentences */
	words: string[];
	/** what stays as it is, and why */
	stays: { title: string; clientName: string; problem: string }[];
}

/**
 * What doing one thing with many items would do. It is done, told, and all of it rolled back: what is foreseen is what happens.
 * @throws DomainError not_allowed
 */
export async function foreseeMany(db: Database, firmId: string, actor: Actor, input: ItemsAct): Promise<Foreseen> {
	requireStaff(actor, 'judge_item');
	return rehearse(db, firmId, (tx) => tryAll(tx, actor, input));
}

async function tryAll(tx: Tx, actor: Actor, input: ItemsAct): Promise<Foreseen> {
	const firm = await loadFirm(tx);
	const outcomes: ManyOutcome[] = [];
	const problems = new Map<string, Foreseen['stays'][number]>();
	// in the order of their ids, so that two who look ahead at the same moment wait for each other and not in a ring
	for (const { id, version } of input.items.toSorted((a, b) => a.id.localeCompare(b.id))) {
		const before = await scheduleOf(tx, id);
		const refused = await tryOne(tx, async () => {
			const result = await actOnOne(tx, actor, firm, input, id, version);
			const after = await scheduleOf(tx, id);
			outcomes.push({
				...after!,
				problem: null,
				dueBefore: before!.dueAfter,
				chaseBefore: before!.chaseAfter,
				canBeTakenBack: result.undo !== null
			});
		});
		if (refused) problems.set(id, { ...(await nameOf(tx, id)), problem: refused.message });
	}
	const effects = await tx.first<ManyEffects>(
		`with withdrawn as (select id from request where firm_id = $1 and withdrawn_at = $2)
		select (select count(*) from message where firm_id = $1 and kind = 'thanks' and planned_at = $2) thanks, (select count(*) from withdrawn) withdrawn,
			(select count(*) from message where request_id in (select id from withdrawn) and kind = 'request' and state = 'planned') unsent`,
		[tx.firmId, actor.now]
	);
	const given = { dueOn: input.dueOn, planName: input.plan ? chasePlanOf(firm, input.plan).name : null };
	return {
		items: input.items.filter(({ id }) => !problems.has(id)),
		words: itemsActInWords(input.act, outcomes, given, effects!, (date) => dateWords(firm.locale, date)),
		stays: input.items.flatMap(({ id }) => problems.get(id) ?? [])
	};
}

function scheduleOf(tx: Tx, id: string): Promise<Pick<ManyOutcome, 'clientId' | 'contactName' | 'dueAfter' | 'chaseAfter'> | null> {
	return tx.first(
		`select i.client_id as "clientId", coalesce(c.name, '') as "contactName", i.due_on as "dueAfter", i.next_chase_on as "chaseAfter"
		from item i left join contact c on c.id = i.contact_id where i.id = $1`,
		[id]
	);
}

async function nameOf(tx: Tx, id: string): Promise<{ title: string; clientName: string }> {
	const row = await tx.first<{ title: string; clientName: string }>(
		'select i.title, cl.name as "clientName" from item i join client cl on cl.id = i.client_id where i.id = $1',
		[id]
	);
	return row ?? { title: 'something that is not there any more', clientName: '' };
}

async function actOnOne(tx: Tx, actor: Actor, firm: Firm, input: ItemsAct, id: string, version: number): Promise<ManyResult> {
	const item = await lockItem(tx, id);
	const client = await tx.first<{ name: string }>('select name from client where id = $1', [item.client_id]);
	if (item.version !== version) throw new DomainError('changed_meanwhile', `Somebody was faster: it is now ${ITEM_STATE_WORDS[item.state]}.`);
	const stays = whyNotInState(input.act, item.state);
	if (stays) throw new DomainError('changed_meanwhile', stays);
	const before = { state: item.state, dueOn: item.due_on, contactId: item.contact_id, plan: (await readPlanOf(tx, id)).key };
	if (input.act === 'extend') {
		if (!input.dueOn || input.dueOn < localDate(actor.now, firm.calendar)) throw new DomainError('invalid', 'Choose a date from today on.');
		await setDue(tx, actor, firm, item, input.dueOn);
	} else if (input.act === 'plan') {
		if (!input.plan) throw new DomainError('invalid', 'Choose a plan.');
		await setPlan(tx, actor, firm, item, { key: input.plan, from: 'line', named: null });
	} else if (input.act === 'person') {
		const person = await tx.first<{ contact_id: string }>(
			'select contact_id from client_contact where client_id = $1 order by rank, contact_id offset $2 limit 1',
			[item.client_id, (input.rank ?? 1) - 1]
		);
		if (!person) throw new DomainError('invalid', 'This client has no such person.');
		await changeItemPerson(tx, actor, { itemId: id, version, contactId: person.contact_id });
	} else if (input.act === 'accept') {
		await acceptLocked(tx, actor, firm, item);
	} else {
		await waiveLocked(tx, actor, firm, item);
		if (input.act === 'withdraw')
			// a request of which nothing is left is withdrawn as a whole: what has not reached anybody stays there
			await tx.rows(
				`update request set withdrawn_at = $2 where id = $1 and withdrawn_at is null and not exists (select from item where request_id = $1 and state <> 'waived')`,
				[item.request_id, actor.now]
			);
	}
	const now = await tx.first<{ version: number }>('select version from item where id = $1', [id]);
	return {
		id,
		title: item.title,
		clientName: client?.name ?? '',
		problem: null,
		// a letter that was withdrawn cannot be signed any more
		undo: !kindOf(item.kind).judged && input.act !== 'extend' ? null : { id, version: now!.version, ...before }
	};
}

/** What held before an item was given another plan, as its history has it; nothing where it was not given one last. */
async function planBefore(tx: Tx, itemId: string, key: string | null): Promise<HoldingPlan> {
	const last = await tx.first<{ before: HoldingPlan | null }>(
		`select details -> 'before' before from event where item_id = $1 and verb = 'item_plan_changed' order by id desc limit 1`,
		[itemId]
	);
	return last?.before && last.before.key === key ? last.before : { key, from: key === null ? null : 'line', named: null };
}

/** Has an item chased by another plan. What has gone out counts: only steps after today are left. */
async function setPlan(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	item: { id: string; title: string; client_id: string; contact_id: string; request_id: string },
	plan: HoldingPlan
): Promise<void> {
	const before = await readPlanOf(tx, item.id);
	await tx.rows(
		`update item set chase_plan = $2, chase_plan_from = $4, chase_plan_named = $5, chased_through = greatest(chased_through, $3), chased_turn = 0, version = version + 1
		where id = $1`,
		[item.id, plan.key, localDate(actor.now, firm.calendar), plan.from, plan.named]
	);
	await refreshChaseDays(tx, [item.id], firm);
	await recordEvent(tx, actor, {
		verb: 'item_plan_changed',
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, plan: chasePlanOf(firm, plan.key).name, before }
	});
}

/**
 * Takes back what was done with many items, for each that nobody has changed since.
 * @returns how many were taken back
 */
export async function undoMany(db: Database, firmId: string, actor: Actor, undo: UndoItems): Promise<number> {
	requireStaff(actor, 'judge_item');
	let count = 0;
	for (const one of undo)
		count += await db.inFirm(firmId, async (tx) => {
			const firm = await loadFirm(tx);
			const item = await lockItem(tx, one.id);
			if (item.version !== one.version) return 0;
			if (item.state === one.state) {
				if (item.contact_id !== one.contactId)
					await changeItemPerson(tx, actor, { itemId: item.id, version: item.version, contactId: one.contactId });
				else if ((await readPlanOf(tx, item.id)).key !== one.plan) await setPlan(tx, actor, firm, item, await planBefore(tx, item.id, one.plan));
				else await setDue(tx, actor, firm, item, one.dueOn);
				return 1;
			}
			if (!mayRestore(item.state, one.state as ItemState)) return 0;
			await restoreItem(tx, actor, firm, item, one.state as ItemState);
			await tx.rows('update request set withdrawn_at = null where id = $1', [item.request_id]);
			return 1;
		});
	return count;
}
