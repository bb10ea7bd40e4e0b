import { compareInstants, isSendingTime, localDate } from '$lib/core/calendar/firm-calendar';
import { isTimeFor, type TheirTimes } from '$lib/core/calendar/their-times';
import { paceFor, withReminder } from '$lib/core/chasing/pace';
import { forecastInvitation, nextInvitationChase } from '$lib/core/invitations/invitation-chasing';
import { waysOfColumn, type Channel } from '$lib/core/messages/ways';
import { noteReminded } from './chase-people';
import { machine, requireStaff, type Actor } from '../actor';
import { loadFirm, type Firm } from '../firms/firm';
import { byWays, planMessages } from '../outbox/plan-message';
import type { Database, Tx } from '../platform/db/database';

interface WaitingInvitation {
	id: string;
	contactId: string;
	contactName: string;
	email: string;
	phone: string | null;
	remindedBy: Parameters<typeof waysOfColumn>[0];
	clientId: string;
	clientName: string;
	sentAt: string;
	expiresAt: string;
	chased: number;
	nextChaseOn: string;
	remindedOn: string[];
	toldOn: string | null;
	heldUntil: string | null;
	times: TheirTimes | null;
}

/**
 * The invitations that wait to be taken up and have a chase on or before a day. Who has something open is chased about
 * that, and the way in stands in that message: one message a day.
 */
function readWaiting(tx: Tx, through: string, now: string): Promise<WaitingInvitation[]> {
	return tx.rows<WaitingInvitation>(
		`select i.id, i.contact_id as "contactId", c.name as "contactName", c.email::text, c.phone, c.reminded_by as "remindedBy", i.client_id as "clientId", cl.name as "clientName", i.sent_at as "sentAt",
			i.expires_at as "expiresAt", i.chases_sent chased, i.next_chase_on as "nextChaseOn", c.reminded_on as "remindedOn", c.last_told_on as "toldOn", c.times,
			(select max(h.until) from chase_hold h where h.ended_at is null and (h.contact_id = c.id or h.client_id = i.client_id)) "heldUntil"
		from invitation i join contact c on c.id = i.contact_id join client cl on cl.id = i.client_id
		where i.firm_id = $1 and i.next_chase_on <= $2 and i.waits and i.expires_at > $3
			and c.password_hash is null and c.reminded_by <> 'none' and c.suspended_at is null and cl.state = 'active'
			and not exists (select from item where contact_id = c.id and phase = 'open')
		order by i.next_chase_on, i.id`,
		[tx.firmId, through, now]
	);
}

export interface ForecastInvitationChase {
	at: string;
	localDay: string;
	contactId: string;
	contactName: string;
	clientId: string;
	clientName: string;
	/** business days after it was sent */
	businessDays: number;
	by: readonly Channel[];
}

/** The next chase of every invitation that waits, up to a day; the worker follows the same rule. */
export async function forecastInvitationChases(tx: Tx, actor: Actor, firm: Firm, through: string): Promise<ForecastInvitationChase[]> {
	requireStaff(actor, 'look');
	const seen = new Set<string>();
	return (await readWaiting(tx, through, actor.now)).flatMap((waiting) => {
		// one invitation a person: of several that wait the worker takes the one whose turn comes first
		if (seen.has(waiting.contactId)) return [];
		seen.add(waiting.contactId);
		return forecastInvitation({ ...waiting, pace: paceFor(firm.pace, waiting.times) }, firm.calendar, firm.invitationSteps, actor.now, through).map(
			(reminder) => ({
				...reminder,
				contactId: waiting.contactId,
				contactName: waiting.contactName,
				clientId: waiting.clientId,
				clientName: waiting.clientName,
				by: waysOfColumn(waiting.remindedBy)
			})
		);
	});
}

/**
 * Plans the chases of invitations that are due at an instant, a transaction each. Safe to run at any time, by several
 * workers at once.
 * @returns how many messages were planned
 */
export async function chaseInvitations(db: Database, firmId: string, now: string): Promise<number> {
	const due = await db.inFirm(firmId, async (tx) => {
		const { calendar } = await loadFirm(tx);
		if (!isSendingTime(now, calendar)) return [];
		return (await readWaiting(tx, localDate(now, calendar), now)).filter(({ times }) => isTimeFor(now, times, calendar));
	});
	let planned = 0;
	for (const waiting of due) if (await db.inFirm(firmId, (tx) => chaseInvitation(tx, waiting, now))) planned++;
	return planned;
}

async function chaseInvitation(tx: Tx, waiting: WaitingInvitation, now: string): Promise<boolean> {
	const firm = await loadFirm(tx);
	const today = localDate(now, firm.calendar);
	const contact = await tx.first<{ remindedOn: string[]; toldOn: string | null; times: TheirTimes | null }>(
		`select reminded_on as "remindedOn", last_told_on as "toldOn", times from contact where id = $1 and password_hash is null for update`,
		[waiting.contactId]
	);
	const pace = paceFor(firm.pace, contact?.times ?? null);
	const [reminder] = contact ? forecastInvitation({ ...waiting, ...contact, pace }, firm.calendar, firm.invitationSteps, now, today) : [];
	if (!reminder || compareInstants(reminder.at, now) > 0) return false;
	const next = nextInvitationChase({ ...waiting, chased: waiting.chased + 1 }, firm.calendar, firm.invitationSteps);
	const moved = await tx.first(
		'update invitation set chases_sent = chases_sent + 1, next_chase_on = $3 where id = $1 and chases_sent = $2 returning id',
		[waiting.id, waiting.chased, next?.on ?? null]
	);
	if (!moved) return false;
	await noteReminded(tx, waiting.contactId, withReminder(contact!.remindedOn, today), pace);
	const messages = await planMessages(
		tx,
		machine(now),
		byWays(waysOfColumn(waiting.remindedBy), waiting, {
			kind: 'invitation_chase',
			idempotencyKey: `invitation chase ${waiting.id} ${reminder.step}`,
			clientId: waiting.clientId,
			content: { invitationId: waiting.id, clientName: waiting.clientName }
		})
	);
	return messages.some((message) => message !== null);
}
