import { isDeepStrictEqual } from 'node:util';
import { localDate, localInstant, addDays, type FirmCalendar } from '$lib/core/calendar/firm-calendar';
import { hasOwnTimes, timesMeet, type TheirTimes } from '$lib/core/calendar/their-times';
import { placeOfZone, timesInWords } from '$lib/core/calendar/times-in-words';
import { firstDayAllowed, paceFor } from '$lib/core/chasing/pace';
import { DomainError } from '$lib/core/errors/domain-error';
import { timeWords } from '$lib/words/dates';
import { saying } from '$lib/words/sayings';
import { requireContact, requireStaff, type Actor } from '../actor';
import { recordOfOneself, recordOfPerson } from '../audit/record-event';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

type TimesFirm = Pick<Firm, 'name' | 'calendar' | 'pace'>;

/** What was chosen, and what stood there when it was. */
export interface ChosenTimes {
	times: TheirTimes;
	/** as `timesAsRead` wrote it into the form */
	asRead: string;
}

/** What a form remembers of the times that it showed, so that nobody overwrites what they have not seen. */
export const timesAsRead = (times: TheirTimes | null): string => (times ? timesInWords(times) : '');

/**
 * Changes when a contact is written to by itself, as the firm knows it.
 * @throws DomainError not_found, changed_meanwhile, invalid where their times never meet the firm's
 */
export async function changeTheirTimes(
	tx: Tx,
	actor: Actor,
	firm: TimesFirm,
	chosen: ChosenTimes & { clientId: string; contactId: string }
): Promise<void> {
	requireStaff(actor, 'invite');
	const { clientId, contactId } = chosen;
	if (!(await tx.first('select 1 from client_contact where client_id = $1 and contact_id = $2', [clientId, contactId])))
		throw new DomainError('not_found', 'This contact does not belong to the client.');
	const name = await keepTimes(tx, actor, firm, contactId, chosen);
	if (name) await recordOfPerson(tx, actor, contactId, { verb: 'contact_times_changed', details: { contact: name, times: inWords(chosen.times) } });
}

/**
 * A contact chooses when they are written to by itself.
 * @returns what stands there now, as `timesAsRead` has it
 * @throws DomainError changed_meanwhile, invalid where it never meets the firm's hours
 */
export async function chooseOwnTimes(tx: Tx, actor: Actor, firm: TimesFirm, chosen: ChosenTimes): Promise<string> {
	requireContact(actor);
	const name = await keepTimes(tx, actor, firm, actor.id, chosen);
	if (name) await recordOfOneself(tx, actor, { verb: 'times_chosen', details: { times: inWords(chosen.times) } });
	return timesAsRead(kept(chosen.times));
}

/** The times as they are kept: those that are as the firm's are none. */
const kept = (times: TheirTimes): TheirTimes | null => (hasOwnTimes(times) ? times : null);
const inWords = (times: TheirTimes): string => timesInWords(kept(times));

/** @returns their name; null if nothing has changed */
async function keepTimes(tx: Tx, actor: Actor, firm: TimesFirm, contactId: string, { times, asRead }: ChosenTimes): Promise<string | null> {
	const before = (await tx.first<{ name: string; times: TheirTimes | null; remindedOn: string[] }>(
		'select name, times, reminded_on "remindedOn" from contact where id = $1 for update',
		[contactId]
	))!;
	const now = kept(times);
	// pressed twice it is saved once
	if (isDeepStrictEqual(now, before.times)) return null;
	const stands = timesAsRead(before.times);
	if (stands !== asRead) throw new DomainError('changed_meanwhile', saying('wrong.times.changed'), {}, stands);
	const today = localDate(actor.now, firm.calendar);
	if (!timesMeet(times, firm.calendar, today)) {
		const never = saying('wrong.times.never', { firm: firm.name, ...firmsHoursThere(times, firm.calendar, today) });
		throw new DomainError('invalid', never, { from: never });
	}
	await tx.rows('update contact set times = $2, no_reminder_before = $3 where id = $1', [
		contactId,
		now && JSON.stringify(now),
		before.remindedOn.length > 0 ? firstDayAllowed(before.remindedOn, paceFor(firm.pace, now)) : null
	]);
	return before.name;
}

/** The firm's sending hours as clocks show them where somebody is. */
function firmsHoursThere(times: TheirTimes, calendar: FirmCalendar, today: string): { from: string; to: string; place: string } {
	const zone = times.timeZone ?? calendar.timeZone;
	const there = (time: string) => timeWords('en-GB', localInstant(addDays(today, 1), time, calendar), zone, 'time');
	return { from: there(calendar.sendFrom), to: there(calendar.sendTo), place: placeOfZone(zone) };
}

/** The times that people of the firm have of their own, each once: where a clock that is moved forward stops. */
export async function readDifferentTimes(tx: Tx): Promise<TheirTimes[]> {
	const rows = await tx.rows<{ times: TheirTimes | null }>('select distinct times from contact where firm_id = $1 and times is not null', [
		tx.firmId
	]);
	return rows.flatMap(({ times }) => times ?? []);
}

/** Whose own times never meet the firm's sending hours, so that the firm's hold for them alone; by name. */
export async function readWhoseNeverMeet(
	tx: Tx,
	actor: Actor,
	firm: Pick<Firm, 'calendar'>
): Promise<{ id: string; name: string; clientId: string }[]> {
	requireStaff(actor, 'look');
	const rows = await tx.rows<{ id: string; name: string; clientId: string; times: TheirTimes | null }>(
		`select distinct on (lower(c.name), c.id) c.id, c.name, cc.client_id "clientId", c.times from contact c join client_contact cc on cc.contact_id = c.id
		where c.firm_id = $1 and c.times is not null order by lower(c.name), c.id, cc.rank`,
		[tx.firmId]
	);
	const today = localDate(actor.now, firm.calendar);
	return rows.filter(({ times }) => times && !timesMeet(times, firm.calendar, today)).map(({ times: _, ...who }) => who);
}
