import type { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import type { Holiday } from '$lib/core/calendar/holidays';
import type { chasePaceForm } from '$lib/core/chasing/chase-plan';
import { nextInvitationChase } from '$lib/core/invitations/invitation-chasing';
import type { brandSchema, firmDetailsSchema, firmHoursSchema } from '$lib/core/firms/firm-forms';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import type { TheirTimes } from '$lib/core/calendar/their-times';
import { firstDayAllowed, paceFor } from '$lib/core/chasing/pace';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import type { Database, Tx } from '../platform/db/database';
import { placeRecurringAnew } from '../schedules/change-recurring';
import type { CalendarWork } from '../firms/calendar-work';
import { loadFirm, type Firm } from '../firms/firm';

/** Changes who the firm is: its name, address, country and the address its mail comes from. */
export async function changeFirmDetails(tx: Tx, actor: Actor, input: z.output<typeof firmDetailsSchema>): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows(
		'update firm set name = $2, address = $3, country = $4, mail_from = $5, client_language = $6, phone = $7, currency = $8 where id = $1',
		[tx.firmId, input.name, input.address, input.country, input.mailFrom, input.clientLanguage, input.phone, input.currency]
	);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'name, address, mail and language' } });
}

/** Changes when the firm works. Every chase that is still to come is placed anew. */
export async function changeFirmHours(tx: Tx, actor: Actor, input: z.output<typeof firmHoursSchema>): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows('update firm set time_zone = $2, business_days = $3, send_from = $4, send_to = $5 where id = $1', [
		tx.firmId,
		input.timeZone,
		input.businessDays,
		input.sendFrom,
		input.sendTo
	]);
	await placeAnew(tx, await loadFirm(tx), actor.now);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'calendar and sending hours' } });
}

/** The firm's holidays from a day on. */
export function readHolidaysFrom(tx: Tx, day: string): Promise<Holiday[]> {
	return tx.rows('select day::text, name from holiday where firm_id = $1 and day >= $2 order by day', [tx.firmId, day]);
}

/** Adds holidays; one that is there already takes the new name. Every chase that is still to come is placed anew. */
export async function addHolidays(tx: Tx, actor: Actor, holidays: readonly Holiday[]): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows(
		`insert into holiday (firm_id, day, name) select $1, h.day, h.name from jsonb_to_recordset($2) as h (day date, name text)
		on conflict (firm_id, day) do update set name = excluded.name`,
		[tx.firmId, JSON.stringify(holidays)]
	);
	await placeAnew(tx, await loadFirm(tx), actor.now);
	await recordEvent(tx, actor, {
		verb: 'firm_changed',
		details: {
			what: `holidays: added ${holidays
				.map((h) => `${h.name}, ${h.day}`)
				.join('; ')
				.slice(0, 500)}`
		}
	});
}

/** Largest calendar that is read, in bytes. */
const CALENDAR_MOST_BYTES = 1024 * 1024;
/** How many days ahead a calendar's holidays are taken. */
const DAYS_AHEAD = 3 * 365;

/**
 * Adds the whole days of a calendar file; see `readHolidays`.
 * @throws DomainError not_allowed before anything is read; unreadable_file, invalid
 */
export async function importHolidays(
	place: { db: Database; calendars: CalendarWork },
	firmId: string,
	actor: Actor,
	file: { size: number; text(): Promise<string> }
): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	if (file.size > CALENDAR_MOST_BYTES)
		throw new DomainError('invalid', 'This calendar is larger than 1 MB. Choose one that holds nothing but holidays.');
	const { calendar } = await place.db.inFirm(firmId, loadFirm);
	const from = localDate(actor.now, calendar);
	const holidays = await place.calendars.read({ text: await file.text(), from, upTo: addDays(from, DAYS_AHEAD) });
	await place.db.inFirm(firmId, (tx) => addHolidays(tx, actor, holidays));
}

/** Takes a holiday out: it is a day like others again. */
export async function removeHoliday(tx: Tx, actor: Actor, day: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const gone = await tx.first<{ name: string }>('delete from holiday where firm_id = $1 and day = $2 returning name', [tx.firmId, day]);
	if (!gone) return;
	await placeAnew(tx, await loadFirm(tx), actor.now);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: `holidays: took out ${gone.name}, ${day}` } });
}

/**
 * Changes how often somebody is reminded at most, and when invitations are. Every chase that is still to come is placed anew; what has gone
 * out stays, and counts.
 */
export async function changePace(tx: Tx, actor: Actor, input: z.output<typeof chasePaceForm>): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows('update firm set invitation_steps = $2, reminder_gap_days = $3, reminders_per_week = $4 where id = $1', [
		tx.firmId,
		input.invitationSteps,
		input.gapDays,
		input.perWeek
	]);
	await placeAnew(tx, await loadFirm(tx), actor.now);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'how often people are reminded' } });
}

/**
 * Places everything anew that goes by itself, after plan, pace, holidays, hours or time zone have changed: reminders of things and of
 * invitations, and standing requests. What the Almanac shows is what goes.
 */
async function placeAnew(tx: Tx, firm: Firm, now: string): Promise<void> {
	const items = await tx.rows<{ id: string }>(`select id from item where firm_id = $1 and phase = 'open' order by id for update`, [tx.firmId]);
	await refreshChaseDays(
		tx,
		items.map((item) => item.id),
		firm
	);
	const waiting = await tx.rows<{ id: string; sentAt: string; expiresAt: string; chased: number }>(
		`select id, sent_at as "sentAt", expires_at as "expiresAt", chases_sent chased from invitation
		where firm_id = $1 and waits and expires_at > $2 order by id for update`,
		[tx.firmId, now]
	);
	const days = waiting.map((one) => ({ id: one.id, day: nextInvitationChase(one, firm.calendar, firm.invitationSteps)?.on ?? null }));
	await tx.rows('update invitation i set next_chase_on = d.day from jsonb_to_recordset($1) as d (id uuid, day date) where i.id = d.id', [
		JSON.stringify(days)
	]);
	await placeRecurringAnew(tx, firm);
	const lately = await tx.rows<{ id: string; remindedOn: string[]; times: TheirTimes | null }>(
		`select id, reminded_on as "remindedOn", times from contact where firm_id = $1 and no_reminder_before > $2 order by id for update`,
		[tx.firmId, localDate(now, firm.calendar)]
	);
	await tx.rows('update contact c set no_reminder_before = p.day from jsonb_to_recordset($1) as p (id uuid, day date) where c.id = p.id', [
		JSON.stringify(lately.map(({ id, remindedOn, times }) => ({ id, day: firstDayAllowed(remindedOn, paceFor(firm.pace, times)) })))
	]);
}

/**
 * Changes how the firm appears to its clients. A new short name takes effect at once; the old address goes on leading here.
 * @throws DomainError invalid if another firm has or had the short name
 */
export async function changeBrand(tx: Tx, actor: Actor, input: z.output<typeof brandSchema>): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const before = await tx.first<{ slug: string }>('select slug from firm where id = $1 for update', [tx.firmId]);
	if (before!.slug !== input.shortName) {
		const known = await tx.first<{ firm_id: string }>('select firm_id from find_short_name($1)', [input.shortName]);
		if (known && known.firm_id !== tx.firmId)
			throw new DomainError('invalid', `“${input.shortName}” belongs to another firm.`, { shortName: 'This belongs to another firm.' });
		await tx.rows('delete from former_short_name where slug = $1', [input.shortName]);
		await tx.rows('insert into former_short_name (slug, firm_id, changed_at) values ($1, $2, $3)', [before!.slug, tx.firmId, actor.now]);
	}
	await tx.rows('update firm set brand_color = $2, welcome = $3, slug = $4, welcome_video = $5 where id = $1', [
		tx.firmId,
		input.color,
		input.welcome,
		input.shortName,
		input.welcomeVideo
	]);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'brand and portal address' } });
}
