import { randomUUID } from 'node:crypto';
import { localDate, type IsoDate, type IsoInstant } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { destroyedOn } from '$lib/core/papers/retention';
import { machine, requireStaff, type Actor } from '../actor';
import { recordEvent, recordEvents } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';

/** Papers that are shown, and said to go, at once. */
const AT_ONCE_MOST = 200;

/** A paper whose time is over, that is going, or that is gone. */
export interface AgedPaper {
	id: string;
	name: string;
	bytes: number;
	clientId: string;
	clientName: string;
	folder: string | null;
	at: IsoInstant;
	keptUntil: IsoDate | null;
	/** something keeps everything of its client */
	heldBack: boolean;
	destroyOn: IsoDate | null;
}
/** What is left of a paper. */
export interface DestroyedPaper {
	id: string;
	name: string;
	bytes: number;
	/** SHA-256 of its file, in hexadecimal */
	sha256: string;
	clientName: string;
	at: IsoInstant;
	destroyedAt: IsoInstant;
	by: string;
}
export interface Hold {
	id: string;
	clientId: string;
	clientName: string;
	reason: string;
	setAt: IsoInstant;
	by: string;
}

const AGED = `p.id, p.name, p.bytes, p.client_id "clientId", c.name "clientName", f.name folder, p.uploaded_at "at", k.kept_until "keptUntil",
	k.held_back "heldBack", p.destroy_on "destroyOn"`;
const AGED_FROM = `from paper p join paper_keeping k on k.id = p.id join client c on c.id = p.client_id left join folder f on f.id = p.folder_id
	left join item i on i.id = p.item_id`;
/** What can be destroyed once its time is over: nothing that waits for its place, and no answer to what is not settled. */
const MAY_GO = `(p.place in ('kept', 'away') or p.place = 'item' and i.phase = 'settled')`;

/** Papers whose time is over, those that are going, and everything of whom nothing goes. */
export async function readRetention(
	tx: Tx,
	actor: Actor
): Promise<{ keepYears: number | null; over: AgedPaper[]; going: AgedPaper[]; holds: Hold[]; destroyed: DestroyedPaper[] }> {
	requireStaff(actor, 'set_up_firm');
	const { calendar } = await loadFirm(tx);
	const firm = await tx.first<{ years: number | null }>('select papers_keep_years years from firm where id = $1', [tx.firmId]);
	return {
		keepYears: firm!.years,
		over: await tx.rows<AgedPaper>(
			`select ${AGED} ${AGED_FROM} where p.firm_id = $1 and p.destroy_on is null and k.kept_until < $2 and ${MAY_GO}
			order by k.kept_until, lower(c.name), p.uploaded_at, p.id limit $3`,
			[tx.firmId, localDate(actor.now, calendar), AT_ONCE_MOST]
		),
		going: await tx.rows<AgedPaper>(
			`select ${AGED} ${AGED_FROM} where p.firm_id = $1 and p.destroy_on is not null order by p.destroy_on, lower(c.name), p.id limit $2`,
			[tx.firmId, AT_ONCE_MOST]
		),
		holds: await tx.rows<Hold>(
			`select h.id, h.client_id "clientId", c.name "clientName", h.reason, h.set_at "setAt", s.name "by"
			from legal_hold h join client c on c.id = h.client_id join staff s on s.id = h.set_by_id
			where h.firm_id = $1 and h.ended_at is null order by lower(c.name), h.set_at limit 500`,
			[tx.firmId]
		),
		destroyed: await readDestroyed(tx, actor, 60)
	};
}

/** What was destroyed, the last first. @param limit at most */
export async function readDestroyed(tx: Tx, actor: Actor, limit: number): Promise<DestroyedPaper[]> {
	requireStaff(actor, 'set_up_firm');
	return tx.rows<DestroyedPaper>(
		`select p.id, p.name, p.bytes, encode(p.sha256, 'hex') sha256, c.name "clientName", p.uploaded_at "at", p.destroyed_at "destroyedAt", s.name "by"
		from paper p join client c on c.id = p.client_id join staff s on s.id = p.destroy_asked_by_id
		where p.firm_id = $1 and p.destroyed_at is not null order by p.destroyed_at desc, p.id limit $2`,
		[tx.firmId, limit]
	);
}

/** How long one paper is kept. */
export async function readKeeping(
	tx: Tx,
	actor: Actor,
	paperId: string
): Promise<{ keptUntil: IsoDate | null; heldBack: boolean; destroyOn: IsoDate | null } | null> {
	requireStaff(actor, 'look');
	const row = await tx.first<{ keptUntil: IsoDate | null; heldBack: boolean; destroyOn: IsoDate | null }>(
		`select k.kept_until "keptUntil", k.held_back "heldBack", p.destroy_on "destroyOn" from paper p join paper_keeping k on k.id = p.id where p.id = $1`,
		[paperId]
	);
	return row ?? null;
}

/** Why everything of a client is kept, and who said so; null where it is not. */
export async function readHold(tx: Tx, actor: Actor, clientId: string): Promise<{ reason: string; by: string } | null> {
	requireStaff(actor, 'look');
	const hold = await tx.first<{ reason: string; by: string }>(
		`select h.reason, s.name "by" from legal_hold h join staff s on s.id = h.set_by_id where h.client_id = $1 and h.ended_at is null limit 1`,
		[clientId]
	);
	return hold ?? null;
}

/** Says how long papers in folders that do not say it are kept; null without end. */
export async function keepPapersFor(tx: Tx, actor: Actor, years: number | null): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const changed = await tx.rows('update firm set papers_keep_years = $2 where id = $1 and papers_keep_years is distinct from $2 returning id', [
		tx.firmId,
		years
	]);
	if (changed.length > 0) await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'how long papers are kept' } });
}

/**
 * Says that papers are to be destroyed after thirty days. What was kept among the papers of the client is put away until then.
 * @returns the day
 * @throws DomainError changed_meanwhile if one of them has to be kept longer, invalid, too_many
 */
export async function planDestruction(tx: Tx, actor: Actor, paperIds: readonly string[]): Promise<IsoDate> {
	requireStaff(actor, 'set_up_firm');
	if (paperIds.length === 0) throw new DomainError('invalid', 'Choose the papers first.');
	if (paperIds.length > AT_ONCE_MOST) throw new DomainError('too_many', `At most ${AT_ONCE_MOST} papers at once. Choose fewer.`);
	const { calendar } = await loadFirm(tx);
	const today = localDate(actor.now, calendar);
	await tx.rows('select from paper where id = any ($1) order by id for update', [paperIds]);
	const papers = await tx.rows<{ id: string; name: string; clientId: string; heldBack: boolean }>(
		`select p.id, p.name, p.client_id "clientId", k.held_back "heldBack" ${AGED_FROM}
		where p.id = any ($1) and p.destroy_on is null and k.kept_until < $2 and ${MAY_GO}`,
		[paperIds, today]
	);
	const held = papers.find(({ heldBack }) => heldBack);
	if (held) throw new DomainError('changed_meanwhile', `Everything of the client of ${held.name} is kept. Nothing was changed.`);
	if (papers.length < new Set(paperIds).size)
		throw new DomainError('changed_meanwhile', 'One of these papers has to be kept longer, or is going already. Nothing was changed.');
	const day = destroyedOn(today);
	await tx.rows(
		`update paper set destroy_on = $2, destroy_asked_by_id = $3, shown_at = null, shown_by_id = null, kept = false,
			put_away_at = case when item_id is null then coalesce(put_away_at, $4) end, put_away_by_id = case when item_id is null then coalesce(put_away_by_id, $3) end
		where id = any ($1)`,
		[papers.map(({ id }) => id), day, actor.id, actor.now]
	);
	await tx.rows('delete from paper_announcement where paper_id = any ($1) and told_at is null', [papers.map(({ id }) => id)]);
	await recordEvents(
		tx,
		actor,
		papers.map(({ id, name, clientId }) => ({ verb: 'destruction_planned', clientId, paperId: id, details: { name, on: day } }))
	);
	return day;
}

/** Stops what was to be destroyed; what is put away stays so. @throws DomainError changed_meanwhile once it is gone */
export async function stopDestruction(tx: Tx, actor: Actor, paperId: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const paper = await tx.first<{ name: string; clientId: string }>(
		`update paper set destroy_on = null, destroy_asked_by_id = null where id = $1 and destroy_on is not null and destroyed_at is null
		returning name, client_id "clientId"`,
		[paperId]
	);
	if (!paper) throw new DomainError('changed_meanwhile', 'This paper is not going any more, or is gone.');
	await recordEvent(tx, actor, { verb: 'destruction_stopped', clientId: paper.clientId, paperId, details: { name: paper.name } });
}

/** Keeps everything of a client, however old it is, until somebody says otherwise. @throws DomainError not_found, changed_meanwhile if it is kept already */
export async function holdPapers(tx: Tx, actor: Actor, input: { clientId: string; reason: string }): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const client = await tx.first<{ name: string }>('select name from client where id = $1 for update', [input.clientId]);
	if (!client) throw new DomainError('not_found', 'There is no such client.');
	if (await tx.first('select 1 from legal_hold where client_id = $1 and ended_at is null', [input.clientId]))
		throw new DomainError('changed_meanwhile', `Everything of ${client.name} is kept already.`);
	await tx.rows('insert into legal_hold (id, firm_id, client_id, reason, set_at, set_by_id) values ($1, $2, $3, $4, $5, $6)', [
		randomUUID(),
		tx.firmId,
		input.clientId,
		input.reason,
		actor.now,
		actor.id
	]);
	await recordEvent(tx, actor, { verb: 'hold_set', clientId: input.clientId, details: { reason: input.reason } });
}

/** Ends it: from now on papers go as their folders say. @throws DomainError changed_meanwhile */
export async function endHold(tx: Tx, actor: Actor, holdId: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const hold = await tx.first<{ clientId: string; reason: string }>(
		`update legal_hold set ended_at = $2, ended_by_id = $3 where id = $1 and ended_at is null returning client_id "clientId", reason`,
		[holdId, actor.now, actor.id]
	);
	if (!hold) throw new DomainError('changed_meanwhile', 'This has ended already.');
	await recordEvent(tx, actor, { verb: 'hold_ended', clientId: hold.clientId, details: { reason: hold.reason } });
}

/**
 * Destroys what is due: its words and its file. The row stays as the record, with its name, size and hash. A file that could not be taken out
 * of the store is tried again with the next.
 * @returns how many papers were destroyed
 */
export async function destroyDue(place: { db: Database; papers: Pick<PaperStore, 'remove'> }, firmId: string, now: IsoInstant): Promise<number> {
	const destroyed = await place.db.inFirm(firmId, async (tx) => {
		const { calendar } = await loadFirm(tx);
		const papers = await tx.rows<{ id: string; name: string; clientId: string; sha256: string }>(
			`update paper p set removed_at = $2, destroyed_at = $2, first_words = null, search = null, note = ''
			where p.firm_id = $1 and p.destroy_on <= $3 and p.destroyed_at is null and p.removed_at is null
				-- somebody may have said meanwhile that it is kept longer
				and exists (select from paper_keeping k where k.id = p.id and k.kept_until < $3 and not k.held_back)
			returning p.id, p.name, p.client_id "clientId", encode(p.sha256, 'hex') sha256`,
			[firmId, now, localDate(now, calendar)]
		);
		await recordEvents(
			tx,
			machine(now),
			papers.map(({ id, name, clientId, sha256 }) => ({ verb: 'paper_destroyed', clientId, paperId: id, details: { name, sha256 } }))
		);
		return papers.length;
	});
	const files = await place.db.inFirm(firmId, (tx) =>
		tx.rows<{ id: string; key: string }>(
			'select id, storage_key "key" from paper where firm_id = $1 and destroyed_at is not null and file_gone_at is null',
			[firmId]
		)
	);
	for (const { id, key } of files) {
		await place.papers.remove(key);
		await place.db.inFirm(firmId, (tx) => tx.rows('update paper set file_gone_at = $2 where id = $1', [id, now]));
	}
	return destroyed;
}
