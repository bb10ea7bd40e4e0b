import type { OpenPaper as OpenFile } from '../attachments/attachments';
import { randomUUID } from 'node:crypto';
import type { Readable } from 'node:stream';
import { DomainError } from '$lib/core/errors/domain-error';
import { isOfSlotType, PAPER_MAX_BYTES } from '$lib/core/papers/file-name';
import { kindOf } from '$lib/core/items/item-kinds';
import type { LockedItem } from '../items/change-item';
import { saying } from '$lib/words/sayings';
import { requireContact, requireReader, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import { enqueue } from '../platform/queue';
import { keepFile, requireNew } from './keep-file';
import { requireHarmless, type Scan } from './scanning';
import { lockOwnItem, startItem } from '../items/own-item';
import { mayChangePapers } from '../items/client-item';
import type { PaperRow } from '../items/read-items';

/**
 * Locks an item that a contact may add one more file to.
 * @throws DomainError not_found, changed_meanwhile, too_many
 */
export async function requireRoomForPaper(tx: Tx, actor: Actor, itemId: string): Promise<LockedItem> {
	requireContact(actor);
	const item = await lockOwnItem(tx, actor, itemId);
	// pages of a letter are added by whoever signs it
	if (item.kind === 'letter' && item.contact_id !== actor.id) throw new DomainError('not_allowed', saying('wrong.letter.notYours'));
	if (!mayChangePapers(item)) throw new DomainError('changed_meanwhile', saying('wrong.paper.noMore'));
	const count = await tx.first<{ n: number }>('select count(*) n from paper where item_id = $1 and removed_at is null', [item.id]);
	const most = kindOf(item.kind).filesMost(item.spec);
	if (count!.n >= most) throw new DomainError('too_many', saying('wrong.paper.many', { max: most }));
	return item;
}

/**
 * Takes in one file for an item: streams it to disk, looks at what it is, and only then writes it down. The
 * row and the file appear together or not at all.
 * @throws DomainError not_found, changed_meanwhile, too_many, unreadable_file, storage_full
 */
export async function takeInPaper(
	place: { db: Database; papers: PaperStore },
	firmId: string,
	actor: Actor,
	input: {
		itemId: string;
		name: string;
		content: Readable;
		signal?: AbortSignal;
		/** which named file of the item it is */ slot?: string | null;
		/** of an upload that may be reported as finished more than once: then there is one paper all the same */ id?: string;
	}
): Promise<PaperRow> {
	requireContact(actor);
	const allowed = (tx: Tx) => requireRoomForPaper(tx, actor, input.itemId);
	await place.db.inFirm(firmId, allowed, actor.id);
	return keepFile(place.papers, input, PAPER_MAX_BYTES, async ({ name, contentType, stored }) => {
		return await place.db.inFirm(
			firmId,
			async (tx) => {
				const item = await allowed(tx);
				const slot = slotOf(item, input.slot ?? null);
				await requirePartOpen(tx, item, slot?.name ?? null, 'wrong.paper.noMore');
				if (slot && !isOfSlotType(contentType, slot.accepts))
					throw new DomainError('unreadable_file', saying('wrong.paper.slot', { name, slot: slot.words ?? slot.name, type: slot.accepts }));
				const id = input.id ?? randomUUID();
				await requireNew(tx, input.id);
				await tx.rows(
					`insert into paper (id, firm_id, client_id, item_id, name, bytes, sha256, content_type, storage_key, uploaded_by_contact_id, uploaded_at, slot)
					values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)`,
					[id, firmId, item.client_id, item.id, name, stored.bytes, stored.sha256, contentType, stored.key, actor.id, actor.now, slot?.name ?? null]
				);
				await startItem(tx, actor, item);
				await recordEvent(tx, actor, {
					verb: 'paper_added',
					clientId: item.client_id,
					contactId: actor.id,
					requestId: item.request_id,
					itemId: item.id,
					paperId: id,
					details: { name, title: item.title }
				});
				await enqueue(tx, 'read_paper', { firmId, paperId: id });
				return {
					id,
					name,
					bytes: stored.bytes,
					contentType,
					uploadedAt: actor.now,
					uploadedBy: actor.name,
					slot: slot?.name ?? null,
					sha256: stored.sha256.toString('hex')
				};
			},
			actor.id
		);
	});
}

/** The named file of an item, or null if it has none of this name. @throws DomainError not_found where a name must mean something */
function slotOf(item: LockedItem, name: string | null) {
	if (!name) return null;
	const slot = kindOf(item.kind).slot(item.spec, name);
	if (slot === undefined) throw new DomainError('not_found', saying('wrong.line.unknown'));
	return slot;
}

/** @throws DomainError changed_meanwhile if this part of the item is shut, though another one is open again */
async function requirePartOpen(tx: Tx, item: LockedItem, slot: string | null, words: 'wrong.paper.noMore' | 'wrong.paper.handedIn'): Promise<void> {
	const said = await tx.first<{ answers: object; review: { askedBack?: object } }>(
		`select coalesce(answer_data, '{}') answers, answer_review review from item where id = $1`,
		[item.id]
	);
	if (!kindOf(item.kind).partOpen(item.spec, slot, said!)) throw new DomainError('changed_meanwhile', saying(words));
}

/** Takes a paper out again before the item is handed in. */
export async function removePaper(tx: Tx, actor: Actor, input: { itemId: string; paperId: string }): Promise<void> {
	const item = await lockOwnItem(tx, actor, input.itemId);
	if (!mayChangePapers(item)) throw new DomainError('changed_meanwhile', saying('wrong.paper.handedIn'));
	const row = await tx.first<{ name: string; slot: string | null }>(
		'update paper set removed_at = $3 where id = $1 and item_id = $2 and removed_at is null returning name, slot',
		[input.paperId, input.itemId, actor.now]
	);
	if (row) await requirePartOpen(tx, item, row.slot, 'wrong.paper.handedIn');
	if (row)
		await recordEvent(tx, actor, {
			verb: 'paper_removed',
			clientId: item.client_id,
			contactId: actor.id,
			requestId: item.request_id,
			itemId: item.id,
			paperId: input.paperId,
			details: { name: row.name, title: item.title }
		});
}

/** A paper as it is opened, with its SHA-256 in hexadecimal. */
export type OpenPaper = OpenFile & { sha256: string };

/** The same of one client, for somebody of the firm: of another one it would go to the wrong people. @throws DomainError not_found; what `openPaper` throws */
export async function openPaperOf(tx: Tx, actor: Actor, of: { clientId: string; paperId: string }, more: { scanning: boolean }): Promise<OpenPaper> {
	requireStaff(actor, 'look');
	if (!(await tx.first('select 1 from paper where id = $1 and client_id = $2', [of.paperId, of.clientId])))
		throw new DomainError('not_found', saying('wrong.paper.unknown'));
	return openPaper(tx, actor, of.paperId, 'look', more);
}

/**
 * A paper for somebody who may see it, and a note that they did.
 * @param more.scanning whether a scanner for harmful content is set up
 * @param more.goesOn they have its beginning, and fetch a later part: it is noted once
 * @throws DomainError not_found, also when it belongs to somebody else; what `requireHarmless` throws
 */
export async function openPaper(
	tx: Tx,
	actor: Actor,
	paperId: string,
	how: 'look' | 'download',
	more: { scanning?: boolean; goesOn?: boolean } = {}
): Promise<OpenPaper> {
	requireReader(actor);
	const row = await tx.first<OpenPaper & { client_id: string; item_id: string | null; request_id: string | null; scan: Scan }>(
		`select p.name, p.content_type as "contentType", p.bytes, p.storage_key as "storageKey", encode(p.sha256, 'hex') sha256, p.client_id, p.item_id, i.request_id, p.scan
		from paper p left join item i on i.id = p.item_id where p.id = $1 and p.removed_at is null
			-- what somebody sent by themselves is theirs until it has its place; what was shown is there for those to whom its folder is open
			and (p.item_id is not null and (i.kind <> 'letter' or i.contact_id = $2) or $2::uuid is null or p.uploaded_by_contact_id = $2
				or p.shown_at is not null and p.place = 'kept' and (p.folder_id is null or exists (select from folder f where f.id = p.folder_id)))`,
		[paperId, actor.kind === 'contact' ? actor.id : null]
	);
	if (!row) throw new DomainError('not_found', saying('wrong.paper.unknown'));
	requireHarmless(row, more.scanning ?? false);
	const verb = how === 'look' ? 'paper_opened' : 'paper_downloaded';
	const noted =
		more.goesOn &&
		(await tx.first(`select 1 from event where paper_id = $1 and actor_id = $2 and verb = $3 and at > $4::timestamptz - interval '1 hour' limit 1`, [
			paperId,
			actor.id,
			verb,
			actor.now
		]));
	if (noted) return row;
	await recordEvent(tx, actor, {
		verb,
		clientId: row.client_id,
		itemId: row.item_id,
		requestId: row.request_id,
		paperId,
		details: { name: row.name }
	});
	return row;
}
