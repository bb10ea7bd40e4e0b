import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { MAIL_WAITS_SECONDS } from '$lib/core/talk/take-back';
import { saying } from '$lib/words/sayings';
import { requireReader, requireStaff, type Actor, type ContactActor } from '../actor';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { recordEvent } from '../audit/record-event';
import { endReplyHold } from '../chasing/holds';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { loadFirm } from '../firms/firm';
import { writeAboutItem } from '../outbox/write-about-item';
import type { Tx } from '../platform/db/database';
import { lockItem, type LockedItem } from './change-item';
import { lockOwnItem } from './own-item';

/** A place on a page of a file: the page from 1, and shares of its width and height from the upper left. */
export interface PinnedAt {
	attachmentId: string;
	page: number;
	x: number;
	y: number;
}

export interface Remark {
	id: string;
	words: string;
	writtenAt: string;
	/** whose name stands beside it */
	by: string;
	/** whoever of the firm reads it wrote it */
	mine: boolean;
	side: 'firm' | 'client';
	pinned: PinnedAt | null;
	seenAt: string | null;
	/** until when the firm has put its answer off, and who did; only for the firm */
	later: { until: string; by: string } | null;
	/** who of the firm was given it to answer, and by whom; only for the firm */
	given: { id: string; name: string; by: string } | null;
	/** the mail by which it came, for the firm */
	mail: MailBeside | null;
}

/** What came with words that were written by mail. */
export interface MailBeside {
	from: string;
	/** what stood below them: what it quotes, and the signature */
	folded: string;
	/** files that it brought, and that are still there */
	files: { id: string; name: string }[];
}

/** The mails by which words came, by their ids; only the firm reads them. */
async function readMailsBeside(tx: Tx, actor: Actor, ids: readonly string[]): Promise<ReadonlyMap<string, MailBeside>> {
	if (actor.kind !== 'staff' || ids.length === 0) return new Map();
	const mails = await tx.rows<MailBeside & { id: string }>(
		`select m.id, m.from_address "from", m.folded,
			coalesce((select json_agg(json_build_object('id', p.id, 'name', p.name) order by p.id) from paper p where p.mail_id = m.id and p.removed_at is null), '[]') files
		from incoming_mail m where m.id = any ($1)`,
		[ids]
	);
	return new Map(mails.map(({ id, ...mail }) => [id, mail]));
}

/** Who was given words of clients to answer, by the ids of those that nobody has seen; only the firm reads it. */
async function readGiven(tx: Tx, actor: Actor, ids: readonly string[]): Promise<ReadonlyMap<string, NonNullable<Remark['given']>>> {
	if (actor.kind !== 'staff' || ids.length === 0) return new Map();
	const given = await tx.rows<{ remarkId: string; id: string; name: string; by: string }>(
		`select m.id "remarkId", s.id, s.name, coalesce(m.given_by, '') as by from remark m join staff s on s.id = who_answers(m) where m.id = any ($1) and m.given_to is not null`,
		[ids]
	);
	return new Map(given.map(({ remarkId, ...to }) => [remarkId, to]));
}

/** A remark as it is read: see `remarksWhere`. */
type RemarkRow = Omit<Remark, 'pinned' | 'mail' | 'later' | 'given' | 'mine'> & {
	staffId: string | null;
	attachmentId: string | null;
	mailId: string | null;
	laterUntil: string | null;
	laterBy: string | null;
} & Record<'page' | 'x' | 'y', number | null>;

/**
 * Remarks in the order in which they were written.
 * @param where the condition on a remark `m`; its parameters begin with `$1`
 */
export async function remarksWhere(
	tx: Tx,
	actor: Actor,
	where: 'm.item_id = $1' | 'm.client_id = $1 and m.with_contact_id = $2',
	values: readonly string[]
): Promise<Remark[]> {
	requireReader(actor);
	const rows = await tx.rows<RemarkRow>(
		`select m.id, m.words, m.written_at as "writtenAt", m.seen_at as "seenAt", coalesce(s.name, c.name, '') as by, case when m.staff_id is null then 'client' else 'firm' end side,
			m.attachment_id as "attachmentId", m.page, m.x, m.y, m.mail_id "mailId", m.later_until "laterUntil", m.later_by "laterBy", m.staff_id "staffId"
		from remark m left join staff s on s.id = m.staff_id left join contact c on c.id = m.contact_id where ${where} order by m.number`,
		values
	);
	const mails = await readMailsBeside(
		tx,
		actor,
		rows.flatMap(({ mailId }) => mailId ?? [])
	);
	const given = await readGiven(
		tx,
		actor,
		rows.flatMap(({ id, side, seenAt }) => (side === 'client' && !seenAt ? id : []))
	);
	return rows.map(({ attachmentId, page, x, y, mailId, laterUntil, laterBy, staffId, ...remark }) => ({
		...remark,
		later: actor.kind === 'staff' && laterUntil && laterBy ? { until: laterUntil, by: laterBy } : null,
		mine: actor.kind === 'staff' && staffId === actor.id,
		given: given.get(remark.id) ?? null,
		mail: (mailId && mails.get(mailId)) || null,
		pinned: attachmentId ? { attachmentId, page: page!, x: x!, y: y! } : null
	}));
}

/** What was written on an item, oldest first. Row-level security keeps other clients out. */
export const readRemarks = (tx: Tx, actor: Actor, itemId: string): Promise<Remark[]> => remarksWhere(tx, actor, 'm.item_id = $1', [itemId]);

/** The last remark on every item of a client that has any, newest first. */
export function readLastRemarks(
	tx: Tx,
	actor: Actor,
	clientId: string
): Promise<{ itemId: string; title: string; words: string; by: string; side: 'firm' | 'client'; writtenAt: string }[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select i.id as "itemId", i.title, m.words, coalesce(s.name, c.name, '') as by, case when m.staff_id is null then 'client' else 'firm' end side, m.written_at as "writtenAt"
		from item i cross join lateral (select * from remark r where r.item_id = i.id order by r.written_at desc, r.number desc limit 1) m
			left join staff s on s.id = m.staff_id left join contact c on c.id = m.contact_id
		where i.client_id = $1 order by m.written_at desc, m.number desc`,
		[clientId]
	);
}

/** @param from the mail that brought it, or an id that whoever writes chose @returns its id; null if it was written before */
async function insertRemark(
	tx: Tx,
	actor: Actor,
	item: LockedItem,
	words: string,
	pinned: PinnedAt | null,
	from: { mailId?: string; id?: string } = {}
): Promise<string | null> {
	if (pinned && !item.attachments.includes(pinned.attachmentId)) throw new DomainError('not_found', saying('wrong.paper.unknown'));
	const id = from.id ?? randomUUID();
	const inserted = await tx.first(
		`insert into remark (id, firm_id, client_id, item_id, attachment_id, page, x, y, words, staff_id, contact_id, written_at, mail_id)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13) on conflict (id) do nothing returning id`,
		[
			id,
			tx.firmId,
			item.client_id,
			item.id,
			pinned?.attachmentId ?? null,
			pinned?.page ?? null,
			pinned?.x ?? null,
			pinned?.y ?? null,
			words,
			actor.kind === 'staff' ? actor.id : null,
			actor.kind === 'contact' ? actor.id : null,
			actor.now,
			from.mailId ?? null
		]
	);
	if (!inserted) return null;
	await recordEvent(tx, actor, {
		verb: 'remark_written',
		clientId: item.client_id,
		contactId: actor.kind === 'contact' ? actor.id : item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, words: words.slice(0, 300) }
	});
	return id;
}

/**
 * Holds the reminders of an item while a question about it waits or whoever signs cannot go on, or lets them go on: with the step that comes
 * next, for those that passed meanwhile are not made up for.
 */
export async function holdReminders(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const firm = await loadFirm(tx);
	const changed = await tx.first(
		`update item i set asks_us = why.held, chased_through = case when why.held then chased_through else greatest(chased_through, $2) end
		from (select exists (select from remark m where m.item_id = $1 and m.contact_id is not null and m.attachment_id is null and m.seen_at is null)
			or exists (select from letter_signer s where s.item_id = $1 and s.check_stopped_at is not null)
			or exists (select from paper_signer s where s.item_id = $1) held) why
		where i.id = $1 and i.asks_us <> why.held returning i.id`,
		[itemId, localDate(actor.now, firm.calendar)]
	);
	if (changed) await refreshChaseDays(tx, [itemId], firm);
}

/** A client asks something about an item, or pins a remark to a page; the firm finds it in Rounds. Until it is seen nobody is reminded of what they ask about. */
export async function writeOwnRemark(tx: Tx, actor: Actor, input: { itemId: string; words: string; pinned: PinnedAt | null }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	await insertRemark(tx, actor, item, input.words, input.pinned);
	if (input.pinned) return;
	await tx.rows(`update item set typed = typed - 'talk.words' where id = $1`, [item.id]);
	await holdReminders(tx, actor, item.id);
}

/**
 * Puts the words of a mail, which answers one about an item, into what was written on it; until somebody has seen them nobody is reminded
 * of it.
 * @param by whom the mail is from
 */
export async function putMailOnItem(tx: Tx, by: ContactActor, mail: { id: string; itemId: string; words: string }): Promise<void> {
	const item = await lockItem(tx, mail.itemId);
	await insertRemark(tx, by, item, mail.words, null, { mailId: mail.id });
	await holdReminders(tx, by, item.id);
}

/**
 * The firm writes to the client about an item; they get it by e-mail and find it on the item. A remark that is pinned to a page goes
 * by no message: they see it when they look at the file.
 * @param input.idempotencyKey an id that whoever writes chose: pressed twice it is written once, and its mail waits the seconds in which it can be taken back
 */
export async function writeRemark(
	tx: Tx,
	actor: Actor,
	input: { itemId: string; words: string; pinned: PinnedAt | null; idempotencyKey?: string }
): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	const id = await insertRemark(tx, actor, item, input.words, input.pinned, { id: input.idempotencyKey });
	if (!id || input.pinned) return;
	await tx.rows('update remark set seen_at = $2 where item_id = $1 and contact_id is not null and seen_at is null', [item.id, actor.now]);
	await holdReminders(tx, actor, item.id);
	const last = await tx.first<{ contactId: string | null }>(
		`select contact_id "contactId" from remark where item_id = $1 and contact_id is not null order by number desc limit 1`,
		[item.id]
	);
	// whoever asked is answered, also where it is asked of somebody else
	for (const contactId of new Set([item.contact_id, last?.contactId ?? item.contact_id])) {
		await endReplyHold(tx, actor, await loadFirm(tx), contactId);
		await writeAboutItem(
			tx,
			actor,
			item,
			{
				kind: 'remark',
				idempotencyKey: `remark ${id} ${contactId}`,
				...(input.idempotencyKey ? { waitSeconds: MAIL_WAITS_SECONDS } : {}),
				content: { remarkId: id, itemTitle: item.title, reason: input.words }
			},
			contactId
		);
	}
}

/** Notes that somebody of the firm has seen what the client wrote. */
export async function markRemarksSeen(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, itemId);
	const seen = await tx.rows<{ contactId: string | null }>(
		'update remark set seen_at = $2 where item_id = $1 and contact_id is not null and seen_at is null returning contact_id "contactId"',
		[item.id, actor.now]
	);
	await holdReminders(tx, actor, item.id);
	for (const contactId of new Set(seen.flatMap((one) => one.contactId ?? []))) await endReplyHold(tx, actor, await loadFirm(tx), contactId);
	if (seen.length > 0)
		await recordEvent(tx, actor, {
			verb: 'remark_seen',
			clientId: item.client_id,
			requestId: item.request_id,
			itemId: item.id,
			details: { title: item.title }
		});
}

/** Notes that the client has seen what the firm wrote. */
export async function markOwnRemarksSeen(tx: Tx, itemId: string, now: string): Promise<void> {
	await tx.rows('update remark set seen_at = $2 where item_id = $1 and staff_id is not null and seen_at is null', [itemId, now]);
}
