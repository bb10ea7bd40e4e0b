import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { fillText, mergeFieldsInText, mergeFieldWords, unfilledFields } from '$lib/core/letters/merge-fields';
import { listLineSchema, type ListLine, type RequestLine } from '$lib/core/requests/request-list';
import { tailor } from '$lib/core/requests/tailoring';
import {
	nextOccurrence,
	occurrences,
	occurrencesThrough,
	requireOccurrence,
	dueIn,
	type Occurrence,
	type Pattern,
	type Schedule
} from '$lib/core/schedules/recurrence';
import { scheduleOf, toCatchUp, type CatchUp, type RecurringForm } from '$lib/core/schedules/recurring-form';
import { periodWords } from '$lib/words/dates';
import { say } from '$lib/words/words';
import { machine, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { requireActiveClient } from '../clients/client-record';
import { withBrandOf } from '../firms/brands';
import { loadFirm, type Firm } from '../firms/firm';
import { automaticValues } from '../letters/prepare-letter';
import type { Database, Tx } from '../platform/db/database';
import { factValueWords } from '../requests/begin-request';
import { readRecipient, writeRequest } from '../requests/send-request';
import { readKnownStatements, spreadStatements } from '../statements/accounts';
import { readClientsKnown, readOverrides } from '../requests/tailor-list';

export interface RecurringRequest {
	id: string;
	clientId: string;
	clientName: string;
	clientIsActive: boolean;
	contactId: string;
	contactName: string;
	others: string[];
	listId: string | null;
	title: string;
	message: string;
	lines: ListLine[];
	pattern: Pattern | null;
	schedule: Schedule;
	quiet: boolean;
	catchUp: CatchUp;
	state: 'running' | 'paused' | 'ended';
	stateReason: string | null;
	resumedAt: string | null;
	doneThrough: string | null;
	nextAt: string | null;
	/** paused until this day */
	resumesOn: string | null;
	problem: string | null;
	changedBy: string;
	version: number;
}

interface RecurringRow extends Omit<RecurringRequest, 'schedule' | 'lines'> {
	lines: unknown;
	rule: string;
	startsOn: string;
	endsOn: string | null;
	times: number | null;
	appearsAt: string;
	roll: Schedule['roll'];
	periodKind: Schedule['period']['kind'];
	periodShift: number;
	skipped: string[];
	moved: Record<string, string>;
}

const COLUMNS = `s.id, s.client_id as "clientId", cl.name as "clientName", cl.state = 'active' as "clientIsActive", s.contact_id as "contactId", c.name as "contactName", s.others,
	s.list_id as "listId", s.title, s.message, s.lines, s.pattern, s.rule, s.starts_on as "startsOn", s.ends_on as "endsOn", s.times, s.appears_at as "appearsAt", s.roll, s.period_kind as "periodKind",
	s.period_shift as "periodShift", s.skipped, s.moved, s.quiet, s.catch_up as "catchUp", s.state, s.state_reason as "stateReason", s.resumed_at as "resumedAt", s.done_through as "doneThrough",
	s.next_at as "nextAt", s.resumes_on as "resumesOn", s.problem, st.name as "changedBy", s.version`;
const SOURCE = `from recurring_request s join client cl on cl.id = s.client_id join contact c on c.id = s.contact_id join staff st on st.id = s.changed_by_id`;

type Placed = 'rule' | 'startsOn' | 'endsOn' | 'times' | 'appearsAt' | 'roll' | 'periodKind' | 'periodShift' | 'skipped' | 'moved';
const scheduleOfRow = (row: Pick<RecurringRow, Placed>): Schedule => ({
	rule: row.rule,
	startsOn: row.startsOn,
	endsOn: row.endsOn,
	times: row.times,
	at: row.appearsAt,
	roll: row.roll,
	period: { kind: row.periodKind, shift: row.periodShift },
	skipped: row.skipped,
	moved: row.moved
});

function asRecurring(row: RecurringRow): RecurringRequest {
	const {
		rule: _r,
		startsOn: _s,
		endsOn: _e,
		times: _t,
		appearsAt: _a,
		roll: _o,
		periodKind: _k,
		periodShift: _h,
		skipped: _i,
		moved: _m,
		lines,
		...rest
	} = row;
	return { ...rest, lines: z.array(listLineSchema).parse(lines), schedule: scheduleOfRow(row) };
}

/** The standing requests of a client, those that have ended last. */
export async function readRecurringRequests(tx: Tx, actor: Actor, clientId: string): Promise<RecurringRequest[]> {
	requireStaff(actor, 'look');
	const rows = await tx.rows<RecurringRow>(
		`select ${COLUMNS} ${SOURCE} where s.client_id = $1 order by s.state = 'ended', s.next_at nulls last, s.id`,
		[clientId]
	);
	return rows.map(asRecurring);
}

/** @throws DomainError not_found */
export async function readRecurring(tx: Tx, actor: Actor, id: string): Promise<RecurringRequest> {
	requireStaff(actor, 'look');
	return lockedOrFound(await tx.first<RecurringRow>(`select ${COLUMNS} ${SOURCE} where s.id = $1`, [id]));
}

function lockedOrFound(row: RecurringRow | null): RecurringRequest {
	if (!row) throw new DomainError('not_found', 'There is no such standing request.');
	return asRecurring(row);
}

async function lockRecurring(tx: Tx, id: string): Promise<RecurringRequest> {
	return lockedOrFound(await tx.first<RecurringRow>(`select ${COLUMNS} ${SOURCE} where s.id = $1 for update of s`, [id]));
}

/** Writes down which occurrence comes next, as core places it: the column is what makes "what is due" cheap. */
async function placeNext(
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
			JSON.stringify(input.lines),
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
	}
): Promise<void> {
	requireStaff(actor, 'send_request');
	const recurring = await lockRecurring(tx, input.id);
	if (recurring.state === input.to) return;
	if (recurring.state === 'ended') throw new DomainError('changed_meanwhile', 'This has ended already. Set up a new one.');
	await tx.rows(
		`update recurring_request set state = $2, state_reason = $3, changed_by_id = $4, changed_at = $5, version = version + 1,
			resumed_at = case when $2 = 'running' then $5 else resumed_at end, resumes_on = $6 where id = $1`,
		[input.id, input.to, input.reason || null, actor.id, actor.now, input.to === 'paused' ? (input.until ?? null) : null]
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

/** A title or message with its period and other fields put in, in a reader's language. */
function filled(text: string, values: Record<string, string>, occurrence: Pick<Occurrence, 'period'>, locale: string): string {
	return fillText(text, { ...values, period: occurrence.period ? periodWords(locale, occurrence.period) : '' })
		.replace(/ ?\{period\}/g, '')
		.trim();
}

/** Makes one occurrence: its request, made to fit the client as they are now. @returns the request's id */
async function appear(tx: Tx, actor: Actor, firm: Firm, recurring: RecurringRequest, occurrence: Occurrence): Promise<string> {
	const seen = await withBrandOf(tx, firm, { clientId: recurring.clientId });
	const people = [];
	for (const id of [recurring.contactId, ...recurring.others]) people.push({ id, ...(await readRecipient(tx, recurring.clientId, id)) });
	const [recipient] = people;
	const values = automaticValues(seen, recipient, actor.now);
	const client = (await readClientsKnown(tx, [recurring.clientId])).get(recurring.clientId)!;
	const overrides = recurring.listId ? ((await readOverrides(tx, recurring.listId, [recurring.clientId])).get(recurring.clientId) ?? {}) : {};
	const { lines: tailored } = tailor(recurring.lines, client, overrides, factValueWords(firm.locale));
	const statements = (await readKnownStatements(tx, actor, [recurring.clientId]))(recurring.clientId);
	const asked: (ListLine & { account: RequestLine['account'] })[] = [];
	for (const [i, line] of recurring.lines.entries()) {
		if (tailored[i].out) continue;
		const of = line.kind === 'paper' ? line.spec.statementsOf : 'none';
		if (of === 'none' || !occurrence.period) {
			asked.push({ ...line, account: null });
			continue;
		}
		// one line for each account and statement; without any account the line itself asks
		if (!statements.accounts.some((account) => of === 'all' || account.kind === of)) asked.push({ ...line, account: null });
		for (const one of spreadStatements(statements, { ...line, of }, occurrence.period, recipient.locale))
			asked.push({ ...line, key: `${line.key.slice(0, 20)} ${one.account.to}`, title: one.title, heading: one.heading, account: one.account });
	}
	const lines = asked.map(
		(line) =>
			({
				...line,
				title: filled(line.title, values, occurrence, recipient.locale),
				dueOn: dueIn(occurrence, line.due, firm.calendar)
			}) as RequestLine
	);
	const outcome = lines.length > 0 ? 'made' : 'passed_over';
	const [claimed] = await tx.rows(
		`insert into recurring_occurrence (firm_id, recurring_id, rule_day, outcome, at) values ($1, $2, $3, $4, $5) on conflict do nothing returning rule_day`,
		[tx.firmId, recurring.id, occurrence.ruleDay, outcome, actor.now]
	);
	if (!claimed) throw new DomainError('changed_meanwhile', 'This one has been made already.');
	const title = filled(recurring.title, values, occurrence, recipient.locale).slice(0, 160);
	if (lines.length === 0) {
		await recordEvent(tx, actor, { verb: 'occurrence_empty', clientId: recurring.clientId, details: { title } });
		return '';
	}
	const requestId = await writeRequest(
		tx,
		actor,
		seen,
		people,
		{
			clientId: recurring.clientId,
			contactId: recurring.contactId,
			others: recurring.others,
			each: false,
			title,
			message: recurring.message
				? filled(recurring.message, values, occurrence, recipient.locale)
				: say(recipient.locale, 'mail.request.body', { client: recipient.clientName }),
			quiet: recurring.quiet,
			tellNow: false,
			lines,
			withInvitation: false,
			idempotencyKey: randomUUID(),
			list: null
		},
		new Map(),
		{ tell: 'together', recurring: { id: recurring.id, period: occurrence.period } }
	);
	await tx.rows('update recurring_occurrence set request_id = $3 where recurring_id = $1 and rule_day = $2', [
		recurring.id,
		occurrence.ruleDay,
		requestId
	]);
	return requestId;
}

/** Most occurrences of one standing request that are made in one go: the rest follow at the next beat. */
const AT_ONCE = 40;

/**
 * Makes everything of a firm that is due to appear. Each standing request in a transaction of its own, its row locked: an
 * occurrence is made exactly once, however many workers there are and wherever one of them is cut off.
 * @returns how many requests appeared
 */
export async function appearDue(db: Database, firmId: string, now: string): Promise<number> {
	const due = await db.inFirm(firmId, async (tx) => {
		await resumePaused(tx, now);
		return tx.rows<{ id: string }>(
			`select s.id from recurring_request s join client cl on cl.id = s.client_id and cl.state = 'active'
			where s.firm_id = $1 and s.state = 'running' and s.next_at <= $2 order by s.next_at, s.id`,
			[firmId, now]
		);
	});
	let appeared = 0;
	for (const { id } of due) appeared += await db.inFirm(firmId, (tx) => appearOne(tx, id, now));
	return appeared;
}

/** Lets go on what was paused until a day that has come. */
async function resumePaused(tx: Tx, now: string): Promise<void> {
	const firm = await loadFirm(tx);
	const resumed = await tx.rows<{ client_id: string; title: string }>(
		`update recurring_request set state = 'running', state_reason = null, resumed_at = $2, resumes_on = null, version = version + 1
		where firm_id = $1 and state = 'paused' and resumes_on <= $3 returning client_id, title`,
		[tx.firmId, now, localDate(now, firm.calendar)]
	);
	for (const one of resumed)
		await recordEvent(tx, machine(now), {
			verb: 'standing_resumed',
			clientId: one.client_id,
			details: { title: one.title, reason: 'its pause is over' }
		});
}

async function appearOne(tx: Tx, id: string, now: string): Promise<number> {
	const row = await tx.first<RecurringRow>(
		`select ${COLUMNS} ${SOURCE} where s.id = $1 and s.state = 'running' and s.next_at <= $2 and cl.state = 'active' for update of s skip locked`,
		[id, now]
	);
	if (!row) return 0;
	const recurring = asRecurring(row);
	const firm = await loadFirm(tx);
	const actor = machine(now);
	const coming = occurrencesThrough(recurring.schedule, startOf(recurring), localDate(now, firm.calendar), AT_ONCE, firm.calendar);
	const due = coming.filter((occurrence) => Date.parse(occurrence.at) <= Date.parse(now));
	// a moved day may come after later ones: only what lies before the first that is still to come is dealt with
	const upTo = coming.find((occurrence) => Date.parse(occurrence.at) > Date.parse(now) && !occurrence.skipped);
	const ready = due.filter((occurrence) => !upTo || occurrence.ruleDay < upTo.ruleDay);
	const { made, passedOver } = toCatchUp(
		ready.filter((occurrence) => !occurrence.skipped),
		await pausedUntil(tx, recurring),
		recurring.catchUp
	);
	let count = 0;
	for (const occurrence of made) {
		// asked on the day it really appears: nobody is late before they were asked
		const askedOn = localDate(now, firm.calendar);
		if (await appear(tx, actor, firm, recurring, { ...occurrence, askedOn: occurrence.askedOn > askedOn ? occurrence.askedOn : askedOn })) count++;
	}
	for (const occurrence of passedOver) {
		await tx.rows(
			`insert into recurring_occurrence (firm_id, recurring_id, rule_day, outcome, at) values ($1, $2, $3, 'passed_over', $4) on conflict do nothing`,
			[tx.firmId, id, occurrence.ruleDay, now]
		);
		await recordEvent(tx, actor, {
			verb: 'occurrence_passed_over',
			clientId: recurring.clientId,
			details: { title: recurring.title, day: occurrence.ruleDay }
		});
	}
	const last = ready.at(-1)?.ruleDay ?? recurring.doneThrough;
	await placeNext(tx, recurring, last, firm);
	return count;
}

/** When a pause of the request or of its client ended last, or null. */
async function pausedUntil(tx: Tx, recurring: RecurringRequest): Promise<string | null> {
	const client = await tx.first<{ at: string | null }>(
		`select max(at) at from event where client_id = $1 and verb in ('client_unlocked', 'client_reopened')`,
		[recurring.clientId]
	);
	return (
		[recurring.resumedAt, client?.at ?? null]
			.filter((at): at is string => at !== null)
			.sort((a, b) => Date.parse(a) - Date.parse(b))
			.at(-1) ?? null
	);
}

export interface OccurrenceLine extends Occurrence {
	/** in the client's language */
	title: string;
	dues: string[];
}

/** The first day of the rule that was not dealt with. */
const startOf = (recurring: Pick<RecurringRequest, 'doneThrough' | 'schedule'>) =>
	recurring.doneThrough ? addDays(recurring.doneThrough, 1) : recurring.schedule.startsOn;

/** What an occurrence is called. @param language of the client */
const titleOf = (title: string, occurrence: Occurrence, language: string) =>
	title.replace(/\{period\}/g, occurrence.period ? periodWords(language, occurrence.period) : '');

/** The next occurrences of a standing request, skipped ones included, with their titles and due dates. */
export function comingOccurrences(recurring: RecurringRequest, firm: Firm, most: number): OccurrenceLine[] {
	return describeOccurrences(recurring.schedule, recurring, startOf(recurring), firm, most);
}

/** The same for what is only being written. */
export function describeOccurrences(
	schedule: Schedule,
	of: { title: string; lines: readonly Pick<ListLine, 'due'>[] },
	from: string,
	firm: Firm,
	most: number
): OccurrenceLine[] {
	return occurrences(schedule, from, most, firm.calendar).map((occurrence) => ({
		...occurrence,
		title: titleOf(of.title, occurrence, firm.clientLanguage),
		dues: [...new Set(of.lines.map((line) => dueIn(occurrence, line.due, firm.calendar)))].sort()
	}));
}

/** What became of the occurrences so far, newest first. */
export async function readMadeOccurrences(
	tx: Tx,
	actor: Actor,
	recurringId: string
): Promise<
	{
		ruleDay: string;
		outcome: 'made' | 'skipped' | 'passed_over';
		at: string;
		title: string | null;
		open: number;
		items: number;
		told: boolean;
		quiet: boolean;
	}[]
> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select o.rule_day as "ruleDay", o.outcome, o.at, r.title, r.quiet is true quiet, coalesce(i.open, 0) as open, coalesce(i.items, 0) items,
			not exists (select from request_announcement a where a.request_id = r.id and a.told_at is null) told
		from recurring_occurrence o left join request r on r.id = o.request_id
			left join lateral (select count(*) items, count(*) filter (where phase = 'open') open from item where request_id = r.id) i on true
		where o.recurring_id = $1 order by o.rule_day desc limit 40`,
		[recurringId]
	);
}

/** Most standing requests that the Almanac looks at: more than anybody reads in four weeks. */
const APPEARING_MOST = 2000;

export interface Appearing {
	key: string;
	day: string;
	time: string;
	clientId: string;
	clientName: string;
	contactId: string;
	contactName: string;
	/** nobody is told of it */
	quiet: boolean;
	recurringId: string;
	title: string;
	lines: number;
	/** why it does not appear, though it is its day */
	heldBack: string | null;
}

/** What appears by itself in the coming days, and what would but for a pause, with why the client does not see it yet. */
export async function readAppearing(tx: Tx, actor: Actor, firm: Firm, days: number): Promise<Appearing[]> {
	requireStaff(actor, 'look');
	const through = addDays(localDate(actor.now, firm.calendar), days);
	// the lines themselves are large, and nobody reads them here
	const rows = await tx.rows<
		Pick<
			RecurringRow,
			Placed | 'id' | 'clientId' | 'clientName' | 'clientIsActive' | 'contactId' | 'contactName' | 'title' | 'state' | 'doneThrough' | 'quiet'
		> & {
			lines: number;
		}
	>(
		`select ${COLUMNS.replace('s.lines', 'jsonb_array_length(s.lines) lines')} ${SOURCE} where s.firm_id = $1 and s.state <> 'ended' and (s.next_rule_day <= $2::date + 10
			or exists (select from unnest(s.skipped) skipped where skipped <= $2::date and (s.done_through is null or skipped > s.done_through))) order by s.next_rule_day, s.id limit $3`,
		[tx.firmId, through, APPEARING_MOST]
	);
	// most of a firm's standing requests follow the same few rules: each is placed once
	const placed = new Map<string, Occurrence[]>();
	const occurrencesOf = (schedule: Schedule, start: string) => {
		const key = JSON.stringify([schedule, start]);
		const known = placed.get(key) ?? occurrencesThrough(schedule, start, through, 31, firm.calendar);
		placed.set(key, known);
		return known;
	};
	return rows
		.flatMap((row) => {
			const schedule = scheduleOfRow(row);
			return occurrencesOf(schedule, startOf({ ...row, schedule }))
				.filter((occurrence) => occurrence.askedOn <= through)
				.map((occurrence) => ({
					key: `${row.id} ${occurrence.ruleDay}`,
					day: occurrence.askedOn,
					time: schedule.at,
					clientId: row.clientId,
					clientName: row.clientName,
					contactId: row.contactId,
					contactName: row.contactName,
					quiet: row.quiet,
					recurringId: row.id,
					title: titleOf(row.title, occurrence, firm.clientLanguage),
					lines: row.lines,
					heldBack: occurrence.skipped ? 'skipped' : row.state === 'paused' ? 'paused' : row.clientIsActive ? null : 'the client is on hold'
				}));
		})
		.sort((a, b) => a.day.localeCompare(b.day) || a.clientName.localeCompare(b.clientName));
}
