import { z } from 'zod';
import { addDays, localDate, type IsoDate } from '$lib/core/calendar/firm-calendar';
import { forecastChases, nextChase, wroteTo, type Chase } from '$lib/core/chasing/forecast';
import { DomainError } from '$lib/core/errors/domain-error';
import { dateWords } from '$lib/words/dates';
import { requireStaff, type Actor, type Staff } from '../actor';
import { recordEvents } from '../audit/record-event';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { asChasedPerson, carryOut, readPeople, type PersonRow } from './chase-people';
import { pauseReminders } from './holds';

/** How far ahead a single reminder can be changed, in days. */
export const CHANGED_AHEAD_DAYS = 60;

/** One reminder of a person, by the day on which it is planned. */
export interface PlannedChase {
	contactId: string;
	day: IsoDate;
}

const GONE = () => new DomainError('changed_meanwhile', 'This reminder is not planned for that day any more. Look at the Almanac again.');

/**
 * The person whose reminders somebody changes, locked.
 * @throws DomainError not_found; not_allowed where a reminder may name things of a client with which they may not work
 */
async function lockPerson(tx: Tx, contactId: string): Promise<PersonRow> {
	const [row] = await readPeople(tx, [contactId], true);
	if (!row) throw new DomainError('not_found', 'Nothing is open for this person any more.');
	const { theirs } = (await tx.first<{ theirs: boolean }>('select coalesce(belongs_to_not_worked($1), false) theirs', [contactId]))!;
	if (theirs) throw new DomainError('not_allowed', `${row.name} belongs to a client with which you may not work. Somebody who may can change this.`);
	return row;
}

/** @throws DomainError not_found, changed_meanwhile if it is not planned for that day any more */
async function lockPlanned(tx: Tx, actor: Actor, firm: Firm, { contactId, day }: PlannedChase): Promise<PersonRow> {
	const row = await lockPerson(tx, contactId);
	const through = addDays(localDate(actor.now, firm.calendar), CHANGED_AHEAD_DAYS);
	const planned = forecastChases(asChasedPerson(row, firm), firm.calendar, actor.now, through);
	if (!planned.some((chase) => chase.localDay === day)) throw GONE();
	return row;
}

type Verb = 'chase_left_out' | 'chase_put_back' | 'chase_words_changed' | 'chase_words_usual' | 'chase_sent_now';

/** Writes into the history of each client that a reminder was changed. */
const record = (tx: Tx, actor: Actor, firm: Firm, row: PersonRow, day: IsoDate, verb: Verb) =>
	recordEvents(
		tx,
		actor,
		[...new Set(row.items.map((item) => item.client_id))].map((clientId) => ({
			verb,
			clientId,
			contactId: row.id,
			details: { contact: row.name, day: dateWords(firm.locale, day) }
		}))
	);

async function change(
	tx: Tx,
	actor: Staff,
	{ contactId, day }: PlannedChase,
	what: { leftOut?: boolean; words?: { subject: string; body: string } | null }
) {
	const before = await tx.first<{ leftOut: boolean; subject: string | null; body: string | null }>(
		'select left_out "leftOut", subject, body from chase_change where contact_id = $1 and on_day = $2',
		[contactId, day]
	);
	const leftOut = what.leftOut ?? before?.leftOut ?? false;
	const words = what.words === undefined ? before : what.words;
	await tx.rows('delete from chase_change where contact_id = $1 and on_day = $2', [contactId, day]);
	if (leftOut || words?.body)
		await tx.rows(
			`insert into chase_change (firm_id, contact_id, on_day, left_out, subject, body, changed_at, changed_by_id) values ($1, $2, $3, $4, $5, $6, $7, $8)`,
			[tx.firmId, contactId, day, leftOut, words?.subject ?? null, words?.body ?? null, actor.now, actor.id]
		);
}

/** Leaves one reminder out, or lets it go after all: what falls due by its day is behind us, and the next step comes as planned. */
export async function leaveChaseOut(tx: Tx, actor: Actor, firm: Firm, chase: PlannedChase, leftOut: boolean): Promise<void> {
	requireStaff(actor, 'judge_item');
	const row = await lockPlanned(tx, actor, firm, chase);
	await change(tx, actor, chase, { leftOut });
	await record(tx, actor, firm, row, chase.day, leftOut ? 'chase_left_out' : 'chase_put_back');
}

/** The form in which a reminder is given other words for this once. */
export const chaseWordsSchema = z.object({
	subject: z.string().trim().min(1, 'Write what the mail is about.').max(200, 'Please keep it to 200 characters.'),
	body: z.string().trim().min(1, 'Write something first.').max(4000, 'Please keep it to 4000 characters.')
});

/** Gives one reminder other words for this once, by e-mail; null for its usual ones. The list of what is open stands below them in any case. */
export async function changeChaseWords(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	chase: PlannedChase,
	words: z.output<typeof chaseWordsSchema> | null
): Promise<void> {
	requireStaff(actor, 'judge_item');
	const row = await lockPlanned(tx, actor, firm, chase);
	await change(tx, actor, chase, { words });
	await record(tx, actor, firm, row, chase.day, words ? 'chase_words_changed' : 'chase_words_usual');
}

/**
 * Sends the next reminder of a person before its day, within sending hours. Its steps are behind us then.
 * @throws DomainError changed_meanwhile, invalid for whoever cannot be written to or has heard of us today
 */
export async function sendChaseNow(tx: Tx, actor: Actor, firm: Firm, planned: PlannedChase): Promise<void> {
	requireStaff(actor, 'judge_item');
	const { contactId, day } = planned;
	const row = await lockPerson(tx, contactId);
	const again = await tx.first(`select 1 from message where firm_id = $1 and idempotency_key in ($2, $2 || ' text')`, [
		tx.firmId,
		`chase ${contactId} ${day}`
	]);
	// pressed twice it goes once
	if (again) return;
	const person = { ...asChasedPerson(row, firm), leftOut: [] };
	const chase: Chase | null = nextChase(person, firm.calendar, actor.now);
	if (!chase || chase.localDay !== day) throw GONE();
	const isWritten = wroteTo(chase);
	if (isWritten && (chase.heldBack || chase.by.length === 0)) throw new DomainError('invalid', `${row.name} cannot be written to just now.`);
	if (isWritten && row.last_told_on === localDate(actor.now, firm.calendar))
		throw new DomainError('invalid', `Something has gone to ${row.name} today already, and nobody gets two messages on one day.`);
	await carryOut(tx, actor, firm, row, person, chase, actor.now);
	await record(tx, actor, firm, row, day, 'chase_sent_now');
}

/** Moves one reminder to a later day: until then nobody reminds its person. @throws DomainError not_found, changed_meanwhile */
export async function moveChase(tx: Tx, actor: Actor, firm: Firm, chase: PlannedChase, until: IsoDate): Promise<void> {
	requireStaff(actor, 'judge_item');
	const row = await lockPlanned(tx, actor, firm, chase);
	const reason = `moved from ${dateWords(firm.locale, chase.day)}`;
	await pauseReminders(tx, actor, firm, { contactId: row.id, ofClient: row.items[0].client_id }, { until, reason });
}

/** The reminders that have words of their own for this once, as person and day. */
export async function readChangedChases(tx: Tx, actor: Actor): Promise<ReadonlySet<string>> {
	requireStaff(actor, 'look');
	const rows = await tx.rows<{ key: string }>(
		`select contact_id || ' ' || to_char(on_day, 'YYYY-MM-DD') "key" from chase_change where firm_id = $1 and body is not null`,
		[tx.firmId]
	);
	return new Set(rows.map(({ key }) => key));
}
