import { randomUUID } from 'node:crypto';
import { calendarFeed, type DueDay } from '$lib/core/calendar/calendar-feed';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { may } from '$lib/core/people/roles';
import type { Telling } from '$lib/core/telling/telling';
import { requireStaff, type Actor, type Staff } from '../actor';
import { loadFirm, type Firm } from '../firms/firm';
import { asStaff, type Database, type Tx } from '../platform/db/database';
import { derivedToken, hashToken, keysOf } from '../platform/tokens';
import { TOLD_OF } from './read-told';
import { readOwnTelling } from './settings';

const addressOf = (origin: string, token: string) => `${origin}/calendar/${token}.ics`;

/** The address of the calendar of whoever asks, or null while they have none. */
export async function readFeed(tx: Tx, actor: Actor, place: { origin: string; secretKey: string }): Promise<string | null> {
	requireStaff(actor, 'look');
	const feed = await tx.first<{ id: string; token_hash: Buffer }>('select id, token_hash from staff_feed where staff_id = $1', [actor.id]);
	if (!feed) return null;
	const made = keysOf(place.secretKey).map((key) => derivedToken('calendar', feed.id, key));
	// made with a key that is gone, it still leads here, and nobody can say it any more: another one can be made
	const known = made.find(({ hash }) => hash.equals(feed.token_hash));
	return known ? addressOf(place.origin, known.token) : null;
}

/** Makes an address for the calendar of whoever asks; the one they had leads nowhere any more. */
export async function makeFeed(tx: Tx, actor: Actor, secretKey: string): Promise<void> {
	requireStaff(actor, 'look');
	const id = randomUUID();
	await tx.rows(
		`insert into staff_feed (staff_id, firm_id, id, token_hash, made_at) values ($1, $2, $3, $4, $5)
		on conflict (staff_id) do update set id = excluded.id, token_hash = excluded.token_hash, made_at = excluded.made_at`,
		[actor.id, tx.firmId, id, derivedToken('calendar', id, keysOf(secretKey)[0]).hash, actor.now]
	);
}

/** Ends the address of the calendar of whoever asks. */
export async function endFeed(tx: Tx, actor: Actor): Promise<void> {
	requireStaff(actor, 'look');
	await tx.rows('delete from staff_feed where staff_id = $1', [actor.id]);
}

/** Whose calendar an address leads to, or null. */
export async function findFeed(db: Pick<Database, 'queryOutsideFirm'>, token: string): Promise<{ firmId: string; staffId: string } | null> {
	const [found] = await db.queryOutsideFirm<{ firm_id: string; staff_id: string }>('select firm_id, staff_id from find_feed($1)', [hashToken(token)]);
	return found ? { firmId: found.firm_id, staffId: found.staff_id } : null;
}

/** How far back and ahead a calendar goes, in days. */
const BACK = 31;
const AHEAD = 400;
const MOST_DAYS = 2000;

/** The calendar of somebody of the firm, with what they may see now: what is due by client and day, calls, and the last days of letters. */
export async function readCalendar(db: Database, found: { firmId: string; staffId: string }, now: string, origin: string): Promise<string> {
	return asStaff(db, found.staffId).inFirm(found.firmId, async (tx) => {
		const firm = await loadFirm(tx);
		const row = (await tx.first<Pick<Staff, 'id' | 'name' | 'role'>>('select id, name, role from staff where id = $1', [found.staffId]))!;
		const person: Staff = { kind: 'staff', ...row, now, ip: '', userAgent: '' };
		const { telling } = await readOwnTelling(tx, person);
		return calendarFeed(`${firm.name}: what is due`, await readDays(tx, person, firm, telling, origin), now);
	});
}

async function readDays(tx: Tx, person: Staff, firm: Firm, telling: Telling, origin: string): Promise<DueDay[]> {
	const today = localDate(person.now, firm.calendar);
	const values = [tx.firmId, person.id, telling.whose === 'all', addDays(today, -BACK), addDays(today, AHEAD)];
	const due = await tx.rows<{ client_id: string; client_name: string; due_on: string | null; n: number; titles: string[] }>(
		`select c.id client_id, c.name client_name, i.due_on, count(*) n, (array_agg(i.title order by i.position, i.id))[1:12] titles
		from item i join client c on c.id = i.client_id and c.state = 'active'
		where i.firm_id = $1 and i.phase = 'open' and i.due_on between $4 and $5 and ${TOLD_OF('c.id')}
		group by c.id, c.name, i.due_on order by i.due_on, lower(c.name), c.id limit ${MOST_DAYS}`,
		values
	);
	const letters = await tx.rows<{ id: string; client_id: string; client_name: string; title: string; until: string | null }>(
		`select i.id, c.id client_id, c.name client_name, i.title, signable_until(i.id) until from item i join client c on c.id = i.client_id and c.state = 'active'
		where i.firm_id = $1 and i.phase = 'open' and i.kind = 'letter' and signable_until(i.id) between $4 and $5 and ${TOLD_OF('c.id')} order by i.id limit ${MOST_DAYS}`,
		values
	);
	const calls = may(person.role, 'judge_item')
		? await tx.rows<{ id: string; client_name: string; who: string; phone: string | null; on: string }>(
				`select k.id, c.name client_name, p.name who, p.phone, greatest(k.waits_from, $6::date) as "on" from chase_call k join client c on c.id = k.client_id and c.state = 'active' join contact p on p.id = k.contact_id
				where k.firm_id = $1 and k.done_at is null and not k.for_partner and k.waits_from between $4 and $5 and ${TOLD_OF('c.id')} order by k.waits_from, k.id limit ${MOST_DAYS}`,
				[...values, today]
			)
		: [];
	return [
		...due.flatMap(({ due_on: on, ...day }) =>
			on === null
				? []
				: [
						{
							uid: `due-${day.client_id}-${on}@humble-lantern`,
							on,
							title: day.n === 1 ? `${day.client_name}: “${day.titles[0]}” is due` : `${day.client_name}: ${day.n} things are due`,
							words: day.n === 1 ? '' : [...day.titles, ...(day.n > day.titles.length ? [`and ${day.n - day.titles.length} more`] : [])].join('\n'),
							url: `${origin}/desk/clients/${day.client_id}`
						}
					]
		),
		...calls.map((call) => ({
			uid: `call-${call.id}@humble-lantern`,
			on: call.on,
			title: `Call ${call.who} (${call.client_name})`,
			words: call.phone ?? '',
			url: `${origin}/desk/rounds/call-${call.id}`
		})),
		...letters.flatMap(({ until, ...letter }) =>
			until === null
				? []
				: [
						{
							uid: `lapse-${letter.id}@humble-lantern`,
							on: until,
							title: `${letter.client_name}: last day to sign “${letter.title}”`,
							words: '',
							url: `${origin}/desk/clients/${letter.client_id}`
						}
					]
		)
	];
}
