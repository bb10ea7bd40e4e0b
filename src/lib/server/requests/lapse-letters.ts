import { addDays, compareInstants, isSendingTime, localDate } from '$lib/core/calendar/firm-calendar';
import type { TheirTimes } from '$lib/core/calendar/their-times';
import { lapseNotice } from '$lib/core/chasing/lapse-notice';
import { itemStateAfter } from '$lib/core/requests/item-states';
import { LAPSE_NOTICE_DAYS } from '$lib/core/signing/letter-states';
import { dateWords } from '$lib/words/dates';
import { machine, requireStaff, type Actor } from '../actor';
import { loadFirm, type Firm } from '../firms/firm';
import { lockItem, moveItem } from '../items/change-item';
import { stopSigners } from '../letters/stop-letters';
import { writeAboutItem } from '../outbox/write-about-item';
import type { Database, Tx } from '../platform/db/database';
import { lockLetterById, readSigners, signing } from '../signing/sign-letter';

/** Of a letter `l`: nobody has sent pages that they signed by hand and that wait to be looked at. */
const NOBODY_WAITS = 'not exists (select from paper_signer p where p.letter_id = l.id)';

/** Ends what was to be signed until a day that has passed. Safe to run at any time, by several workers at once. */
export async function lapseLetters(db: Database, firmId: string, now: string): Promise<void> {
	const over = await db.inFirm(firmId, async (tx) =>
		tx.rows<{ id: string }>(
			`select l.id from letter l join client cl on cl.id = l.client_id and cl.state = 'active' where l.firm_id = $1 and l.state = 'sent' and l.lapses_on < $2
				and ${NOBODY_WAITS}`,
			[tx.firmId, localDate(now, (await loadFirm(tx)).calendar)]
		)
	);
	for (const { id } of over) await db.inFirm(firmId, (tx) => lapse(tx, id, now));
}

/**
 * Tells whoever has not signed what lapses within a few days, once, on a day on which nothing else has gone to them. Safe to run at any
 * time, by several workers at once.
 * @returns how many messages were planned
 */
export async function tellOfLapses(db: Database, firmId: string, now: string): Promise<number> {
	const soon = await db.inFirm(firmId, async (tx) => {
		const { calendar } = await loadFirm(tx);
		if (!isSendingTime(now, calendar)) return [];
		const today = localDate(now, calendar);
		const rows = await tx.rows<{ signer: string; lapsesOn: string | null; times: TheirTimes | null }>(
			`select s.id signer, l.lapses_on "lapsesOn", c.times from letter l join letter_signer s on s.letter_id = l.id and s.state = 'asked' and s.on_paper_at is null and s.item_id is not null
				join contact c on c.id = s.contact_id join client cl on cl.id = l.client_id and cl.state = 'active'
			where l.firm_id = $1 and l.state = 'sent' and l.lapses_on between $2 and $3 and s.told_of_lapse_on is distinct from l.lapses_on
				and (c.last_told_on is null or c.last_told_on < $2) order by l.lapses_on, s.id`,
			[tx.firmId, today, addDays(today, LAPSE_NOTICE_DAYS)]
		);
		return rows.filter(({ lapsesOn, times }) => {
			const notice = lapsesOn && lapseNotice(lapsesOn, () => false, calendar, now, times);
			return notice && compareInstants(notice.at, now) <= 0;
		});
	});
	let told = 0;
	for (const { signer } of soon) if (await db.inFirm(firmId, (tx) => tellOfLapse(tx, signer, now))) told++;
	return told;
}

/** Somebody who will be told that a letter lapses. */
export interface ComingLapseNotice {
	at: string;
	localDay: string;
	contactId: string;
	contactName: string;
	clientId: string;
	clientName: string;
	title: string;
	lapsesOn: string;
}

/**
 * Who will be told in the coming days that a letter lapses, if nothing changes; see `tellOfLapses`.
 * @param told what else goes to people, as “contact day”
 */
export async function readLapseNotices(
	tx: Tx,
	actor: Actor,
	firm: Pick<Firm, 'calendar'>,
	days: number,
	told: ReadonlySet<string>
): Promise<ComingLapseNotice[]> {
	requireStaff(actor, 'look');
	const today = localDate(actor.now, firm.calendar);
	const through = addDays(today, days);
	const rows = await tx.rows<
		Omit<ComingLapseNotice, 'at' | 'localDay' | 'lapsesOn'> & { lapsesOn: string | null; toldOn: string | null; times: TheirTimes | null }
	>(
		`select c.id "contactId", c.name "contactName", c.last_told_on "toldOn", c.times, cl.id "clientId", cl.name "clientName", i.title, l.lapses_on "lapsesOn"
		from letter l join letter_signer s on s.letter_id = l.id and s.state = 'asked' and s.on_paper_at is null join item i on i.id = s.item_id
			join contact c on c.id = s.contact_id and c.email is not null and c.suspended_at is null and c.mail_problem is distinct from 'bounced'
			join client cl on cl.id = l.client_id and cl.state = 'active'
		where l.firm_id = $1 and l.state = 'sent' and l.lapses_on between $2 and $3 and s.told_of_lapse_on is distinct from l.lapses_on
		order by l.lapses_on, s.id`,
		[tx.firmId, today, addDays(through, LAPSE_NOTICE_DAYS)]
	);
	const taken = new Set(told);
	return rows.flatMap(({ toldOn, lapsesOn, times, ...row }) => {
		const isTold = (day: string) => (toldOn !== null && toldOn >= day) || taken.has(`${row.contactId} ${day}`);
		const notice = lapsesOn && lapseNotice(lapsesOn, isTold, firm.calendar, actor.now, times);
		if (!notice || notice.localDay > through) return [];
		taken.add(`${row.contactId} ${notice.localDay}`);
		return [{ ...row, lapsesOn, ...notice }];
	});
}

async function lapse(tx: Tx, letterId: string, now: string): Promise<void> {
	const letter = await lockLetterById(tx, letterId);
	const firm = await loadFirm(tx);
	const ended = await tx.first<{ lapses_on: string | null }>(
		`update letter l set state = 'lapsed' where l.id = $1 and l.state = 'sent' and l.lapses_on < $2 and ${NOBODY_WAITS} returning l.lapses_on`,
		[letter.id, localDate(now, firm.calendar)]
	);
	if (!ended) return;
	const waited = signing(await readSigners(tx, letter.id)).find(({ state, item_id }) => state === 'asked' && item_id !== null);
	await stopSigners(tx, [letter.id]);
	// one of them says it to the firm; the others' part ends with it
	const item = waited && (await lockItem(tx, waited.item_id!));
	if (item && itemStateAfter(item.state, 'lapse', 'machine'))
		await moveItem(tx, machine(now), firm, item, 'lapse', { details: { until: dateWords('en', ended.lapses_on!) } });
}

/** @returns whether a message was planned */
async function tellOfLapse(tx: Tx, signerId: string, now: string): Promise<boolean> {
	const { calendar } = await loadFirm(tx);
	const today = localDate(now, calendar);
	// the person first: nobody else tells them something meanwhile
	const person = await tx.first<{ id: string }>(
		`select c.id from contact c where c.id = (select contact_id from letter_signer where id = $1) and (c.last_told_on is null or c.last_told_on < $2) for update`,
		[signerId, today]
	);
	if (!person) return false;
	const told = await tx.first<{ item_id: string | null; lapses_on: string | null }>(
		`update letter_signer s set told_of_lapse_on = l.lapses_on from letter l
		where s.id = $1 and l.id = s.letter_id and l.state = 'sent' and s.state = 'asked' and s.on_paper_at is null and s.told_of_lapse_on is distinct from l.lapses_on
		returning s.item_id, l.lapses_on`,
		[signerId]
	);
	if (!told?.item_id) return false;
	const item = await lockItem(tx, told.item_id);
	await writeAboutItem(tx, machine(now), item, {
		kind: 'letter_lapses',
		idempotencyKey: `letter lapses ${signerId} ${told.lapses_on}`,
		content: { itemTitle: item.title, at: told.lapses_on! },
		items: [{ itemId: item.id, step: null }]
	});
	return true;
}
