import { randomUUID } from 'node:crypto';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { heldByReply } from '$lib/core/chasing/hold';
import { DomainError } from '$lib/core/errors/domain-error';
import { MAIL_WAITS_SECONDS } from '$lib/core/talk/take-back';
import { saying } from '$lib/words/sayings';
import { requireContact, requireStaff, type Actor, type ContactActor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { endReplyHold, setHold } from '../chasing/holds';
import { loadFirm, type Firm } from '../firms/firm';
import { requireWorkedFor } from '../items/own-item';
import { remarksWhere, type Remark } from '../items/remarks';
import { planMessage } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';
import { readColleagues, readTalkNotes, type Note, type SeeingColleague } from './notes';

/** A person with whom the firm talks about a client, about nothing that was asked in particular: nobody else of the client reads it. */
export interface Talk {
	clientId: string;
	contactId: string;
}
/** A talk with the names of both. */
export interface NamedTalk extends Talk {
	clientName: string;
	contactName: string;
	email: string | null;
}

/** @throws DomainError not_found for somebody who is not of the client, or whom the reader may not see */
export async function requireTalk(tx: Tx, { clientId, contactId }: Talk): Promise<NamedTalk & { state: string }> {
	const talk = await tx.first<NamedTalk & { state: string }>(
		`select cl.id "clientId", c.id "contactId", cl.name "clientName", c.name "contactName", c.email::text email, cl.state
		from client cl join contact c on c.id = $2 where cl.id = $1
			and (exists (select from client_contact cc where cc.client_id = cl.id and cc.contact_id = c.id)
				or exists (select from remark m where m.client_id = cl.id and m.with_contact_id = c.id))`,
		[clientId, contactId]
	);
	if (!talk) throw new DomainError('not_found', 'This person does not belong to the client any more.');
	return talk;
}

/** A talk as somebody of the firm reads it, oldest first. */
export interface TalkToRead {
	talk: NamedTalk;
	words: Remark[];
	/** how many of the client's words nobody has seen */ unseen: number;
	/** what only the firm reads */ notes: Note[];
	/** the others who may see the client */ colleagues: SeeingColleague[];
}

/** What the firm and a person wrote to each other, and what it noted beside. @throws DomainError not_found */
export async function readTalk(tx: Tx, actor: Actor, talk: Talk): Promise<TalkToRead> {
	requireStaff(actor, 'look');
	const { state: _state, ...named } = await requireTalk(tx, talk);
	const words = await remarksWhere(tx, actor, 'm.client_id = $1 and m.with_contact_id = $2', [talk.clientId, talk.contactId]);
	return {
		talk: named,
		words,
		unseen: words.filter(({ side, seenAt }) => side === 'client' && !seenAt).length,
		notes: await readTalkNotes(tx, actor, talk.clientId, talk.contactId),
		colleagues: await readColleagues(tx, actor, talk.clientId)
	};
}

/** The last words of every talk about a client, newest first. */
export function readTalks(
	tx: Tx,
	actor: Actor,
	clientId: string
): Promise<{ contactId: string; contactName: string; words: string; by: string; writtenAt: string }[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select last.with_contact_id "contactId", c.name "contactName", last.words, coalesce(s.name, c.name) as by, last.written_at "writtenAt"
		from (select distinct on (m.with_contact_id) m.* from remark m where m.client_id = $1 and m.with_contact_id is not null
				order by m.with_contact_id, m.number desc) last
			join contact c on c.id = last.with_contact_id left join staff s on s.id = last.staff_id
		order by last.written_at desc`,
		[clientId]
	);
}

/**
 * Writes down words of a talk.
 * @param from the mail that brought them, or an id that whoever writes chose, so that what is sent twice is written once
 * @returns whether they are new
 */
export async function insertWords(tx: Tx, actor: Actor, talk: Talk, words: string, from: { mailId?: string; id?: string } = {}): Promise<boolean> {
	const inserted = await tx.first(
		`insert into remark (id, firm_id, client_id, with_contact_id, words, staff_id, contact_id, written_at, mail_id) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)
		on conflict (id) do nothing returning id`,
		[
			from.id ?? randomUUID(),
			tx.firmId,
			talk.clientId,
			talk.contactId,
			words,
			actor.kind === 'staff' ? actor.id : null,
			actor.kind === 'staff' ? null : talk.contactId,
			actor.now,
			from.mailId ?? null
		]
	);
	return inserted !== null;
}

const seeWords = (tx: Tx, actor: Actor, talk: Talk) =>
	tx.rows<{ id: string }>(
		`update remark set seen_at = $3 where client_id = $1 and with_contact_id = $2 and contact_id is not null and seen_at is null returning id`,
		[talk.clientId, talk.contactId, actor.now]
	);

/** The thread in which the firm wrote to a person before; null if it has not. */
async function threadOfTalk(tx: Tx, { clientId, contactId }: Talk): Promise<string | null> {
	const before = await tx.first<{ thread: string }>(
		`select coalesce(thread_id, message_id) thread from message
		where contact_id = $1 and client_id = $2 and kind = 'remark' and content ->> 'itemId' is null and state <> 'held_back' order by planned_at desc, id limit 1`,
		[contactId, clientId]
	);
	return before?.thread ?? null;
}

/**
 * The firm writes to a person: they get it by e-mail, after the seconds in which it can be taken back, and find it on their page at once. What they
 * wrote counts as seen. Pressed twice it goes once.
 * @throws DomainError not_found, changed_meanwhile for a closed client
 */
export async function writeWords(tx: Tx, actor: Actor, input: Talk & { words: string; idempotencyKey: string }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const talk = await requireTalk(tx, input);
	requireWorkedFor({ name: talk.clientName, state: talk.state });
	if (!(await insertWords(tx, actor, talk, input.words, { id: input.idempotencyKey }))) return;
	const last = await tx.first<{ subject: string; thread: string | null }>(
		`select i.subject, coalesce(m.thread_id, m.message_id) thread from remark r join incoming_mail i on i.id = r.mail_id left join message m on m.id = i.answers_id
		where r.client_id = $1 and r.with_contact_id = $2 order by r.number desc limit 1`,
		[talk.clientId, talk.contactId]
	);
	await seeWords(tx, actor, talk);
	await endReplyHold(tx, actor, await loadFirm(tx), talk.contactId);
	await recordEvent(tx, actor, {
		verb: 'words_written',
		clientId: talk.clientId,
		contactId: talk.contactId,
		details: { contact: talk.contactName, words: input.words.slice(0, 300) }
	});
	if (!talk.email) return;
	await planMessage(tx, actor, {
		kind: 'remark',
		idempotencyKey: `words ${input.idempotencyKey}`,
		waitSeconds: MAIL_WAITS_SECONDS,
		to: { address: talk.email, contactId: talk.contactId },
		clientId: talk.clientId,
		threadId: last?.thread ?? (await threadOfTalk(tx, talk)),
		content: {
			remarkId: input.idempotencyKey,
			reason: input.words,
			clientName: talk.clientName,
			signedBy: actor.name,
			...(last?.subject ? { subject: `Re: ${last.subject.replace(/^\s*(?:(?:re|aw|tr|fwd?|wg|rép)\s*:\s*)+/i, '')}` } : {})
		}
	});
}

/** Notes that somebody of the firm has read what a person wrote, and that it needs no answer. */
export async function markWordsSeen(tx: Tx, actor: Actor, input: Talk): Promise<void> {
	requireStaff(actor, 'judge_item');
	const talk = await requireTalk(tx, input);
	if ((await seeWords(tx, actor, talk)).length === 0) throw new DomainError('changed_meanwhile', 'Somebody has read this already.');
	await endReplyHold(tx, actor, await loadFirm(tx), talk.contactId);
	await recordEvent(tx, actor, { verb: 'words_seen', clientId: talk.clientId, contactId: talk.contactId, details: { contact: talk.contactName } });
}

/** What a contact and the firm wrote to each other about each of their clients. */
export async function readOwnTalks(tx: Tx, actor: Actor): Promise<{ clientId: string; clientName: string; open: boolean; words: Remark[] }[]> {
	requireContact(actor);
	const clients = await tx.rows<{ clientId: string; clientName: string; open: boolean }>(
		`select id "clientId", name "clientName", state = 'active' open from client where firm_id = $1 and id = any ((select my_clients())::uuid[]) order by lower(name), id`,
		[tx.firmId]
	);
	const talks = [];
	for (const client of clients)
		talks.push({ ...client, words: await remarksWhere(tx, actor, 'm.client_id = $1 and m.with_contact_id = $2', [client.clientId, actor.id]) });
	return talks;
}

/** How many words of the firm a contact has not seen yet. */
export async function countOwnUnseen(tx: Tx, actor: Actor): Promise<number> {
	requireContact(actor);
	const row = await tx.first<{ n: number }>('select count(*) n from remark where with_contact_id = $1 and staff_id is not null and seen_at is null', [
		actor.id
	]);
	return row?.n ?? 0;
}

/** Notes that a contact has seen what the firm wrote to them. */
export async function markOwnWordsSeen(tx: Tx, actor: Actor): Promise<void> {
	requireContact(actor);
	await tx.rows('update remark set seen_at = $2 where with_contact_id = $1 and staff_id is not null and seen_at is null', [actor.id, actor.now]);
}

/** Holds the reminders of whoever wrote for some days, or until the firm has answered. */
export function holdByWords(tx: Tx, writer: ContactActor, firm: Firm): Promise<void> {
	const until = heldByReply(localDate(writer.now, firm.calendar), firm.calendar);
	return setHold(tx, writer, firm, { contactId: writer.id }, { until, why: 'replied' });
}

/** A contact writes to the firm; it finds it in Rounds, and nobody reminds them meanwhile. @throws DomainError not_found, changed_meanwhile for a closed client */
export async function writeOwnWords(tx: Tx, actor: Actor, input: { clientId: string; words: string }): Promise<void> {
	requireContact(actor);
	const client = await tx.first<{ name: string; state: string }>(
		'select name, state from client where id = $1 and id = any ((select my_clients())::uuid[])',
		[input.clientId]
	);
	if (!client) throw new DomainError('not_found', saying('wrong.client.unknown'));
	requireWorkedFor(client);
	await insertWords(tx, actor, { clientId: input.clientId, contactId: actor.id }, input.words);
	await holdByWords(tx, actor, await loadFirm(tx));
	await recordEvent(tx, actor, {
		verb: 'own_words_written',
		clientId: input.clientId,
		contactId: actor.id,
		details: { words: input.words.slice(0, 300) }
	});
}
