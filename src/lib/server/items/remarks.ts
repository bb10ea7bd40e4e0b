import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';
import { requireReader, requireStaff, type Actor } from '../actor';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { recordEvent } from '../audit/record-event';
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
	side: 'firm' | 'client';
	pinned: PinnedAt | null;
	seenAt: string | null;
}

/** What was written on an item, oldest first. Row-level security keeps other clients out. */
export async function readRemarks(tx: Tx, actor: Actor, itemId: string): Promise<Remark[]> {
	requireReader(actor);
	const rows = await tx.rows<Omit<Remark, 'pinned'> & { attachmentId: string | null } & Record<'page' | 'x' | 'y', number | null>>(
		`select m.id, m.words, m.written_at as "writtenAt", m.seen_at as "seenAt", coalesce(s.name, c.name, '') as by, case when m.staff_id is null then 'client' else 'firm' end side,
			m.attachment_id as "attachmentId", m.page, m.x, m.y
		from item_remark m left join staff s on s.id = m.staff_id left join contact c on c.id = m.contact_id where m.item_id = $1 order by m.number`,
		[itemId]
	);
	return rows.map(({ attachmentId, page, x, y, ...remark }) => ({
		...remark,
		pinned: attachmentId ? { attachmentId, page: page!, x: x!, y: y! } : null
	}));
}

/** The last remark on every item of a client that has any, newest first. */
export function readLastRemarks(
	tx: Tx,
	actor: Actor,
	clientId: string
): Promise<{ itemId: string; title: string; words: string; by: string; side: 'firm' | 'client'; writtenAt: string }[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select i.id as "itemId", i.title, m.words, coalesce(s.name, c.name, '') as by, case when m.staff_id is null then 'client' else 'firm' end side, m.written_at as "writtenAt"
		from item i cross join lateral (select * from item_remark r where r.item_id = i.id order by r.written_at desc, r.number desc limit 1) m
			left join staff s on s.id = m.staff_id left join contact c on c.id = m.contact_id
		where i.client_id = $1 order by m.written_at desc, m.number desc`,
		[clientId]
	);
}

async function insertRemark(tx: Tx, actor: Actor, item: LockedItem, words: string, pinned: PinnedAt | null): Promise<void> {
	if (pinned && !item.attachments.includes(pinned.attachmentId)) throw new DomainError('not_found', saying('wrong.paper.unknown'));
	await tx.rows(
		`insert into item_remark (id, firm_id, client_id, item_id, attachment_id, page, x, y, words, staff_id, contact_id, written_at)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)`,
		[
			randomUUID(),
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
			actor.now
		]
	);
	await recordEvent(tx, actor, {
		verb: 'remark_written',
		clientId: item.client_id,
		contactId: actor.kind === 'contact' ? actor.id : item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, words: words.slice(0, 300) }
	});
}

/**
 * Holds the reminders of an item while a question about it waits or whoever signs cannot go on, or lets them go on: with the step that comes
 * next, for those that passed meanwhile are not made up for.
 */
export async function holdReminders(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	const firm = await loadFirm(tx);
	const changed = await tx.first(
		`update item i set asks_us = why.held, chased_through = case when why.held then chased_through else greatest(chased_through, $2) end
		from (select exists (select from item_remark m where m.item_id = $1 and m.contact_id is not null and m.attachment_id is null and m.seen_at is null)
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
 * The firm writes to the client about an item; they get it by e-mail and find it on the item. A remark that is pinned to a page goes
 * by no message: they see it when they look at the file.
 */
export async function writeRemark(tx: Tx, actor: Actor, input: { itemId: string; words: string; pinned: PinnedAt | null }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await insertRemark(tx, actor, item, input.words, input.pinned);
	if (input.pinned) return;
	await tx.rows('update item_remark set seen_at = $2 where item_id = $1 and contact_id is not null and seen_at is null', [item.id, actor.now]);
	await holdReminders(tx, actor, item.id);
	const { n } = (await tx.first<{ n: number }>('select count(*) n from item_remark where item_id = $1', [item.id]))!;
	await writeAboutItem(tx, actor, item, {
		kind: 'remark',
		idempotencyKey: `remark ${item.id} ${n}`,
		content: { itemTitle: item.title, reason: input.words }
	});
}

/** Notes that somebody of the firm has seen what the client wrote. */
export async function markRemarksSeen(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, itemId);
	const seen = await tx.rows('update item_remark set seen_at = $2 where item_id = $1 and contact_id is not null and seen_at is null returning id', [
		item.id,
		actor.now
	]);
	await holdReminders(tx, actor, item.id);
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
	await tx.rows('update item_remark set seen_at = $2 where item_id = $1 and staff_id is not null and seen_at is null', [itemId, now]);
}
