import { randomUUID } from 'node:crypto';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { mergeFieldsInText, mergeFieldWords, unfilledFields } from '$lib/core/letters/merge-fields';
import { settleFacts } from '$lib/core/requests/facts-of-lines';
import { nextOccurrence, occurrences, requireOccurrence, type Schedule } from '$lib/core/schedules/recurrence';
import { scheduleOf, type RecurringForm } from '$lib/core/schedules/recurring-form';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { requireActiveClient } from '../clients/client-record';
import { withBrandOf } from '../firms/brands';
import { loadFacts } from '../facts/firm-facts';
import { loadFirm, type Firm } from '../firms/firm';
import { automaticValues } from '../letters/prepare-letter';
import { requireOpenLetters } from '../letters/open-letters';
import type { Tx } from '../platform/db/database';
import { readRecipient } from '../requests/recipients';
import { appear } from './appear';
import { asRecurring, COLUMNS, lockRecurring, SOURCE, type RecurringRequest, type RecurringRow } from './recurring-requests';

/** Writes down which occurrence comes next, as core places it: the column is what makes "what is due" cheap. */
export async function placeNext(
	tx: Tx,
	recurring: Pick<RecurringRequest, 'id' | 'schedule' | 'state'>,
	doneThrough: string | null,
	firm: Firm
): Promise<void> {
	const next = recurring.state === 'ended' ? null : nextOccurrence(recurring.schedule, doneThrough, firm.calendar);
	await tx.rows('update recurring_request set done_through = $2, next_rule_day = $3, next_at = $4 where id = $1', [
		recurring.id,
		doneThrough,
		next?.ruleDay ?? null,
		next?.at ?? null
	]);
}

/** Places the next occurrence of every standing request anew: the firm's calendar, time zone or hours are others now. */
export async function placeRecurringAnew(tx: Tx, firm: Firm): Promise<void> {
	const rows = await tx.rows<RecurringRow>(`select ${COLUMNS} ${SOURCE} where s.firm_id = $1 and s.state <> 'ended' order by s.id for update of s`, [
		tx.firmId
	]);
	const placed = rows.map(asRecurring).map((recurring) => {
		const next = nextOccurrence(recurring.schedule, recurring.doneThrough, firm.calendar);
		return { id: recurring.id, day: next?.ruleDay ?? null, at: next?.at ?? null };
	});
	await tx.rows(
		'update recurring_request s set next_rule_day = p.day, next_at = p.at from jsonb_to_recordset($1) as p (id uuid, day date, at timestamptz) where s.id = p.id',
		[JSON.stringify(placed)]
	);
}

/**
 * The day of the rule through which nothing is made any more: what lies before today was before this standing request
 * began, or was changed.
 */
function behind(schedule: Schedule, doneThrough: string | null, now: string, firm: Firm): string | null {
	const yesterday = addDays(localDate(now, firm.calendar), -1);
	const first = doneThrough && doneThrough > yesterday ? doneThrough : yesterday;
	// a day that was moved or rolled to today or later is still to come
	const early = occurrences(schedule, addDays(first, -10), 60, firm.calendar).find(
		(occurrence) => occurrence.ruleDay <= first && occurrence.askedOn > yesterday && (doneThrough === null || occurrence.ruleDay > doneThrough)
	);
	return early ? addDays(early.ruleDay, -1) : first;
}

/**
 * Sets up a standing request, or changes one: what was asked stays, the change holds from the next occurrence on.
 * @returns its id
 * @throws DomainError invalid if it would never appear; changed_meanwhile
 */
export async function writeRecurring(
	tx: Tx,
	actor: Actor,
	clientId: string,
	input: RecurringForm,
	change: { id: string; version: number } | null
): Promise<string> {
	requireStaff(actor, 'send_request');
	await requireActiveClient(tx, clientId);
	const own = await loadFirm(tx);
	const firm = await withBrandOf(tx, own, { clientId });
	const recipient = await readRecipient(tx, clientId, input.contactId);
	for (const other of input.others) await readRecipient(tx, clientId, other);
	const values = { ...automaticValues(firm, recipient, actor.now), period: 'x' };
	const unfilled = unfilledFields(mergeFieldsInText(`${input.title} ${input.message}`), values);
	if (unfilled.length > 0) throw new DomainError('unfilled_fields', `There is nothing to put in for: ${unfilled.map(mergeFieldWords).join(', ')}.`);
	const before = change && (await lockRecurring(tx, change.id));
	if (before && (before.version !== change.version || before.clientId !== clientId))
		throw new DomainError('changed_meanwhile', `${before.changedBy} has changed this meanwhile. What you wrote is still here.`);
	if (before?.state === 'ended') throw new DomainError('changed_meanwhile', 'This has ended. Set up a new one.');
	const made = scheduleOf(input, firm.calendar.businessDays);
	const sameRule = before?.schedule.rule === made.rule;
	// days that were skipped or moved belong to the rule they were chosen by
	const schedule: Schedule = { ...made, skipped: sameRule ? before.schedule.skipped : [], moved: sameRule ? before.schedule.moved : {} };
	requireOccurrence(schedule, firm.calendar);
	const id = before?.id ?? randomUUID();
	await tx.rows(
		`insert into recurring_request (id, firm_id, client_id, contact_id, others, list_id, title, message, lines, rule, pattern, starts_on, ends_on, appears_at, roll, period_kind, period_shift,
			skipped, moved, quiet, catch_up, made_by_id, made_at, changed_by_id, changed_at, times)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20, $21, $22, $23, $22, $23, $24)
		on conflict (id) do update set contact_id = excluded.contact_id, others = excluded.others, list_id = excluded.list_id, title = excluded.title, message = excluded.message,
			lines = excluded.lines, rule = excluded.rule, pattern = excluded.pattern, starts_on = excluded.starts_on, ends_on = excluded.ends_on, appears_at = excluded.appears_at,
			roll = excluded.roll, period_kind = excluded.period_kind, period_shift = excluded.period_shift, skipped = excluded.skipped, moved = excluded.moved, quiet = excluded.quiet,
			catch_up = excluded.catch_up, times = excluded.times, changed_by_id = excluded.changed_by_id, changed_at = excluded.changed_at, version = recurring_request.version + 1, problem = null`,
		[
			id,
			tx.firmId,
			clientId,
			input.contactId,
			input.others,
			input.listId,
			input.title,
			input.message,
			JSON.stringify(settleFacts(input.lines, await loadFacts(tx), firm)),
			schedule.rule,
			input.pattern && JSON.stringify(input.pattern),
			schedule.startsOn,
			schedule.endsOn,
			schedule.at,
			schedule.roll,
			schedule.period.kind,
			schedule.period.shift,
			schedule.skipped,
			JSON.stringify(schedule.moved),
			input.quiet,
			input.catchUp,
			actor.id,
			actor.now,
			schedule.times
		]
	);
	await placeNext(tx, { id, schedule, state: before?.state ?? 'running' }, behind(schedule, before?.doneThrough ?? null, actor.now, firm), firm);
	await recordEvent(tx, actor, {
		verb: before ? 'standing_changed' : 'standing_set_up',
		clientId,
		contactId: input.contactId,
		details: { title: input.title, rule: schedule.rule }
	});
	return id;
}

/** Pauses a standing request, lets it go on, or ends it, with a reason. */
export async function moveRecurring(
	tx: Tx,
	actor: Actor,
	input: {
		id: string;
		to: 'paused' | 'running' | 'ended';
		reason: string;
		/** paused until this day; it then goes on by itself */ until?: string | null;
		/** paused until these letters are signed by all */ afterLetters?: readonly string[];
	}
): Promise<void> {
	requireStaff(actor, 'send_request');
	const recurring = await lockRecurring(tx, input.id);
	if (recurring.state === input.to) return;
	if (recurring.state === 'ended') throw new DomainError('changed_meanwhile', 'This has ended already. Set up a new one.');
	const { afterLetters = [] } = input;
	if (afterLetters.length > 0) await requireOpenLetters(tx, recurring.clientId, afterLetters);
	await tx.rows(
		`update recurring_request set state = $2, state_reason = $3, changed_by_id = $4, changed_at = $5, version = version + 1,
			resumed_at = case when $2 = 'running' then $5 else resumed_at end, resumes_on = $6, after_letters = $7 where id = $1`,
		[
			input.id,
			input.to,
			input.reason || null,
			actor.id,
			actor.now,
			input.to === 'paused' ? (input.until ?? null) : null,
			input.to === 'paused' ? afterLetters : []
		]
	);
	if (input.to === 'ended') await tx.rows('update recurring_request set next_rule_day = null, next_at = null where id = $1', [input.id]);
	await recordEvent(tx, actor, {
		verb: input.to === 'paused' ? 'standing_paused' : input.to === 'running' ? 'standing_resumed' : 'standing_ended',
		clientId: recurring.clientId,
		details: { title: recurring.title, reason: input.reason || 'no reason given' }
	});
}

/**
 * Leaves one occurrence out, takes it in again, or moves it to another day.
 * @throws DomainError invalid if the rule has no such day, or it has appeared already
 */
export async function changeOccurrence(
	tx: Tx,
	actor: Actor,
	input: { id: string; ruleDay: string } & ({ skip: boolean } | { moveTo: string | null })
): Promise<void> {
	requireStaff(actor, 'send_request');
	const recurring = await lockRecurring(tx, input.id);
	const firm = await loadFirm(tx);
	const [occurrence] = occurrences(recurring.schedule, input.ruleDay, 1, firm.calendar);
	if (occurrence?.ruleDay !== input.ruleDay) throw new DomainError('invalid', 'The rule has no such day. Load the page again.');
	if (recurring.doneThrough && input.ruleDay <= recurring.doneThrough)
		throw new DomainError('changed_meanwhile', 'This one has appeared already, or lies behind.');
	const today = localDate(actor.now, firm.calendar);
	const { skipped, moved } = recurring.schedule;
	const schedule: Schedule = { ...recurring.schedule };
	if ('skip' in input)
		schedule.skipped = input.skip ? [...new Set([...skipped, input.ruleDay])].sort() : skipped.filter((day) => day !== input.ruleDay);
	else if (input.moveTo === null) schedule.moved = Object.fromEntries(Object.entries(moved).filter(([day]) => day !== input.ruleDay));
	else {
		if (input.moveTo < today) throw new DomainError('invalid', 'Choose a day from today on.', { moveTo: 'Choose a day from today on.' });
		schedule.moved = { ...moved, [input.ruleDay]: input.moveTo };
	}
	await tx.rows('update recurring_request set skipped = $2, moved = $3, changed_by_id = $4, changed_at = $5, version = version + 1 where id = $1', [
		input.id,
		schedule.skipped,
		JSON.stringify(schedule.moved),
		actor.id,
		actor.now
	]);
	await placeNext(tx, { ...recurring, schedule }, recurring.doneThrough, firm);
	await recordEvent(tx, actor, {
		verb: 'skip' in input ? (input.skip ? 'occurrence_skipped' : 'occurrence_taken_in') : 'occurrence_moved',
		clientId: recurring.clientId,
		details: { title: recurring.title, day: input.ruleDay, to: 'moveTo' in input ? (input.moveTo ?? input.ruleDay) : '' }
	});
}

/**
 * Makes the next occurrence at once, whatever day it is for.
 * @param ruleDay the day of the occurrence whoever asks was shown: pressed twice, or after a colleague, the one behind it is not asked for as well
 * @returns the request's id
 * @throws DomainError changed_meanwhile if another one is next by now
 */
export async function startNow(tx: Tx, actor: Actor, id: string, ruleDay: string): Promise<string> {
	requireStaff(actor, 'send_request');
	const recurring = await lockRecurring(tx, id);
	if (recurring.state === 'ended') throw new DomainError('changed_meanwhile', 'This has ended. Set up a new one.');
	await requireActiveClient(tx, recurring.clientId);
	const firm = await loadFirm(tx);
	const next = nextOccurrence(recurring.schedule, recurring.doneThrough, firm.calendar);
	if (!next) throw new DomainError('invalid', 'Nothing comes any more by this rule.');
	if (next.ruleDay !== ruleDay) throw new DomainError('changed_meanwhile', 'Another one is next by now: it stands below. Nothing was asked.');
	const requestId = await appear(tx, actor, firm, recurring, { ...next, askedOn: localDate(actor.now, firm.calendar) });
	await placeNext(tx, recurring, next.ruleDay, firm);
	return requestId;
}
