import { isSendingTime, localDate } from '$lib/core/calendar/firm-calendar';
import { isTimeFor, type TheirTimes } from '$lib/core/calendar/their-times';
import { announcementTime } from '$lib/core/messages/announcing';
import { fillText } from '$lib/core/letters/merge-fields';
import { announcedBy, type Channel, type Channels, type Reachable } from '$lib/core/messages/ways';
import { say } from '$lib/words/words';
import { machine, requireStaff, type Actor } from '../actor';
import { recordEvent, recordEvents } from '../audit/record-event';
import { withBrandOf } from '../firms/brands';
import { loadFirm, type Firm } from '../firms/firm';
import { automaticValues } from '../letters/prepare-letter';
import { takePapersToTell } from '../outbox/papers-to-tell';
import { byWays, planMessages } from '../outbox/plan-message';
import { HAS_WAY_IN } from '../people/way-in';
import type { Database, Tx } from '../platform/db/database';

/** Who can be reached by mail, or by text where they wish it. */
const IS_REACHABLE = `c.suspended_at is null and c.mail_problem is distinct from 'no_address' and (c.mail_problem is distinct from 'bounced' or c.reminded_by <> 'none')`;

/**
 * Tells people what has appeared for them: everything of one person, of all their businesses, in one message a local day,
 * within sending hours. Whoever cannot be reached or has no way in yet is told once that has changed.
 * @returns how many messages were planned
 */
export async function announceRequests(db: Database, firmId: string, now: string): Promise<number> {
	const people = await db.inFirm(firmId, async (tx) => {
		const firm = await loadFirm(tx);
		if (!isSendingTime(now, firm.calendar)) return [];
		const rows = await tx.rows<{ contact_id: string; times: TheirTimes | null }>(
			`select c.id contact_id, c.times from contact c
				where c.firm_id = $1 and (c.last_told_on is null or c.last_told_on < $2) and ${IS_REACHABLE} and (
					exists (select from request_announcement a where a.contact_id = c.id and a.told_at is null and (${HAS_WAY_IN('$3')} or asks_by_link(a.request_id, c.id)))
					or ${HAS_WAY_IN('$3')} and exists (select from paper_announcement a where a.contact_id = c.id and a.told_at is null))`,
			[firmId, localDate(now, firm.calendar), now]
		);
		return rows.filter(({ times }) => isTimeFor(now, times, firm.calendar));
	});
	let planned = 0;
	for (const { contact_id } of people) if (await db.inFirm(firmId, (tx) => announceTo(tx, contact_id, now))) planned++;
	return planned;
}

/**
 * Tells people at once what was put up for them together, whoever was not told of anything today; the others are told with
 * tomorrow's message.
 */
export async function announceTogether(db: Database, firmId: string, contactIds: readonly string[], now: string): Promise<void> {
	if (contactIds.length === 0) return;
	for (const contactId of contactIds) await db.inFirm(firmId, (tx) => announceTo(tx, contactId, now));
}

/** Who will be told of what was put up for them, when, and why not at once. */
export interface ComingAnnouncement {
	at: string;
	localDay: string;
	contactId: string;
	contactName: string;
	clients: { id: string; name: string }[];
	/** open things they will be told of */
	things: number;
	/** papers that were shown to them */
	papers: number;
	why: string;
	by: Channel[];
}

/** What will be announced, by whoever may be told; see `announceRequests`. */
export async function readAnnouncements(tx: Tx, actor: Actor, firm: Pick<Firm, 'calendar'>): Promise<ComingAnnouncement[]> {
	requireStaff(actor, 'look');
	const rows = await tx.rows<
		Omit<ComingAnnouncement, 'at' | 'localDay' | 'why' | 'by'> & Omit<Reachable, 'email'> & { lastOn: string | null; times: TheirTimes | null }
	>(
		`select c.id as "contactId", c.name as "contactName", c.last_told_on as "lastOn", c.times, c.phone, c.channels, c.mail_problem as "mailProblem", c.text_problem as "textProblem",
			 jsonb_agg(distinct jsonb_build_object('id', cl.id, 'name', cl.name)) clients, count(n.item_id) things, count(n.paper_id) papers
		from (select a.contact_id, r.client_id, r.id request_id, i.id item_id, null::uuid paper_id from request_announcement a join request r on r.id = a.request_id
				join item i on i.request_id = r.id and (i.contact_id = a.contact_id or not i.own) and i.phase = 'open' where a.firm_id = $1 and a.told_at is null
			union all select a.contact_id, p.client_id, null, null, p.id from paper_announcement a join paper p on p.id = a.paper_id
				where a.firm_id = $1 and a.told_at is null and p.shown_at is not null and p.removed_at is null and p.newer_id is null) n
			join contact c on c.id = n.contact_id join client cl on cl.id = n.client_id and cl.state = 'active'
		where ${IS_REACHABLE} and (${HAS_WAY_IN('$2')} or n.request_id is not null and asks_by_link(n.request_id, c.id)) group by c.id order by lower(c.name), c.id`,
		[tx.firmId, actor.now]
	);
	const today = localDate(actor.now, firm.calendar);
	return rows.map(({ lastOn, times, contactId, contactName, clients, things, papers, ...reachable }) => {
		const at = announcementTime(actor.now, lastOn, firm.calendar, times);
		return {
			contactId,
			contactName,
			clients,
			things,
			papers,
			by: announcedBy(reachable),
			at,
			localDay: localDate(at, firm.calendar),
			why: lastOn === today ? 'new: they were told of something today already' : 'new to them'
		};
	});
}

interface Told {
	id: string;
	name: string;
	email: string;
	locale: string;
	phone: string | null;
	channels: Channels;
	mailProblem: Reachable['mailProblem'];
	textProblem: Reachable['textProblem'];
	lastToldOn: string | null;
	hasWayIn: boolean;
}

async function announceTo(tx: Tx, contactId: string, now: string): Promise<boolean> {
	const firm = await loadFirm(tx);
	const today = localDate(now, firm.calendar);
	const person = await tx.first<Told>(
		`select id, name, email::text, locale, phone, channels, mail_problem as "mailProblem", text_problem as "textProblem", last_told_on as "lastToldOn", ${HAS_WAY_IN('$2')} as "hasWayIn"
		from contact c where id = $1 for update`,
		[contactId, now]
	);
	// another worker was faster
	if (!person || person.lastToldOn === today) return false;
	const requests = await tx.rows<{
		id: string;
		title: string;
		message: string;
		client_id: string;
		client: string;
		responsible: string;
		items: string[];
	}>(
		`select r.id, r.title, coalesce(a.message, r.message) message, r.client_id, cl.name client, s.name responsible,
			array(select i.id from item i where i.request_id = r.id and (i.contact_id = $1 or not i.own) and i.phase = 'open' order by i.due_on nulls last, i.position) items
		from request_announcement a join request r on r.id = a.request_id join client cl on cl.id = r.client_id and cl.state = 'active' join staff s on s.id = cl.responsible_id
		where a.contact_id = $1 and a.told_at is null and ($2 or asks_by_link(r.id, $1)) order by r.sent_at, r.id for update of a`,
		[contactId, person.hasWayIn]
	);
	const papers = person.hasWayIn ? await takePapersToTell(tx, contactId, now) : [];
	if (requests.length === 0 && papers.length === 0) return false;
	await tx.rows('update request_announcement set told_at = $3 where contact_id = $1 and request_id = any ($2)', [
		contactId,
		requests.map((r) => r.id),
		now
	]);
	const open = requests.filter((request) => request.items.length > 0);
	if (open.length === 0) return papers.length > 0 && tellOfPapers(tx, person, papers, today, now);
	const [first] = open;
	const items = open.flatMap((request) => request.items);
	const oneClient = new Set(open.map((request) => request.client_id)).size === 1;
	// one request goes in its own words, which are kept as they were written: for this person, and for today
	const words =
		open.length === 1
			? {
					subject: first.title,
					body: fillText(
						first.message,
						automaticValues(
							await withBrandOf(tx, firm, { clientId: first.client_id }),
							{
								contactName: person.name,
								contactEmail: person.email,
								clientName: first.client,
								responsibleName: first.responsible,
								locale: person.locale
							},
							now
						)
					)
				}
			: { subject: say(person.locale, 'mail.request.subjectSeveral', { count: items.length }), body: say(person.locale, 'mail.request.bodySeveral') };
	const messages = await planMessages(
		tx,
		machine(now),
		byWays(
			announcedBy(person),
			{ contactId, email: person.email, phone: person.phone },
			{
				kind: 'request',
				// what was told is marked with it; who is told anew on the same day, since a link or an address was changed, gets a message again
				idempotencyKey: `announcement ${contactId} ${now}`,
				clientId: oneClient ? first.client_id : undefined,
				requestId: open.length === 1 ? first.id : undefined,
				content: {
					...words,
					signedBy: first.responsible,
					...(oneClient ? { clientName: first.client } : {}),
					...(papers.length > 0 ? { paperIds: papers.map(({ id }) => id) } : {})
				},
				items: items.map((itemId) => ({ itemId, step: null }))
			}
		)
	);
	for (const request of open)
		await recordEvent(tx, machine(now), {
			verb: 'requests_announced',
			clientId: request.client_id,
			contactId,
			requestId: request.id,
			details: { contact: person.name, count: open.length }
		});
	await recordPapersTold(tx, person, papers, now);
	return messages.some((message) => message !== null);
}

type PaperToTell = Awaited<ReturnType<typeof takePapersToTell>>[number];

/** Tells somebody of papers alone, on a day on which nothing new is asked of them. */
async function tellOfPapers(tx: Tx, person: Told, papers: readonly PaperToTell[], today: string, now: string): Promise<boolean> {
	const [first] = papers;
	const oneClient = papers.every(({ clientId }) => clientId === first.clientId);
	const messages = await planMessages(
		tx,
		machine(now),
		byWays(
			announcedBy(person),
			{ contactId: person.id, email: person.email, phone: person.phone },
			{
				kind: 'papers_shown',
				idempotencyKey: `announcement ${person.id} ${today}`,
				clientId: oneClient ? first.clientId : undefined,
				content: { ...(oneClient ? { clientName: first.client } : {}), paperIds: papers.map(({ id }) => id) }
			}
		)
	);
	await recordPapersTold(tx, person, papers, now);
	return messages.some((message) => message !== null);
}

async function recordPapersTold(tx: Tx, person: Told, papers: readonly PaperToTell[], now: string): Promise<void> {
	const clients = [...new Set(papers.map(({ clientId }) => clientId))];
	await recordEvents(
		tx,
		machine(now),
		clients.map((clientId) => ({
			verb: 'papers_announced' as const,
			clientId,
			contactId: person.id,
			details: { contact: person.name, count: papers.filter((paper) => paper.clientId === clientId).length }
		}))
	);
}
