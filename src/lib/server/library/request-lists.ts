import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { READY_MADE_LISTS } from '$lib/core/requests/ready-made-lists';
import { settleFacts } from '$lib/core/requests/facts-of-lines';
import { listLineSchema, type ListLine, type RequestListForm } from '$lib/core/requests/request-list';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFacts } from '../facts/firm-facts';
import { loadFirm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

export interface RequestList extends RequestListForm {
	id: string;
	version: number;
	madeBy: string;
	mine: boolean;
	groupName: string | null;
	changedAt: string;
	changedBy: string;
}
/** A list without its lines, as a row of the Library. */
export type ListRow = Omit<RequestList, 'lines' | 'message'> & { lineCount: number; sent: number };

const linesSchema = z.array(listLineSchema);
const HEAD = `l.id, l.name, l.about, l.title, l.folder, l.tags, l.shared, l.group_id as "groupId", l.goes_by_itself as "goesByItself", l.letters_first as "lettersFirst", l.chase_plan as "chasePlan", l.services, l.version,
	m.name as "madeBy", l.made_by_id = $2 as mine, g.name as "groupName", l.changed_at as "changedAt", c.name as "changedBy"`;
/** What somebody may see: their own, what is shared with all, and what is shared with a group of theirs. */
const SEEN = `from request_list l join staff m on m.id = l.made_by_id join staff c on c.id = l.changed_by_id left join staff_group g on g.id = l.group_id
	where l.firm_id = $1 and l.ended_at is null and (l.shared = 'all' or l.made_by_id = $2
		or (l.shared = 'group' and exists (select from staff_group_member gm where gm.group_id = l.group_id and gm.staff_id = $2)))`;

/** The lists of the Library that somebody may use, by folder and name. */
export function readLists(tx: Tx, actor: Actor): Promise<ListRow[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select ${HEAD}, jsonb_array_length(l.lines) "lineCount", (select count(*) from request r where r.list_id = l.id) sent ${SEEN} order by lower(l.folder), lower(l.name), l.id`,
		[tx.firmId, actor.id]
	);
}

/** One list with its lines. @throws DomainError not_found, also if it is not shared with them */
export async function readList(tx: Tx, actor: Actor, id: string): Promise<RequestList> {
	requireStaff(actor, 'look');
	const row = await tx.first<RequestList>(`select ${HEAD}, l.message, l.lines ${SEEN} and l.id = $3`, [tx.firmId, actor.id, id]);
	if (!row) throw new DomainError('not_found', 'There is no such list in the Library.');
	return { ...row, lines: linesSchema.parse(row.lines) };
}

async function requireGroup(tx: Tx, groupId: string | null): Promise<void> {
	if (groupId && !(await tx.first('select 1 from staff_group where id = $1', [groupId])))
		throw new DomainError('invalid', 'This group is not there any more. Choose another one.', { groupId: 'Choose a group.' });
}

/** What is written of a list, from the third parameter on. @throws DomainError invalid if its facts are not the firm's */
async function written(tx: Tx, actor: Actor, input: RequestListForm): Promise<unknown[]> {
	const lines = settleFacts(input.lines, await loadFacts(tx), await loadFirm(tx));
	return [
		input.name,
		input.about,
		input.title,
		input.message,
		input.folder,
		input.tags,
		input.shared,
		input.groupId,
		JSON.stringify(lines),
		input.goesByItself,
		input.services,
		actor.id,
		actor.now,
		input.chasePlan ?? null,
		input.lettersFirst
	];
}

/** Puts a list into the Library. @returns its id */
export async function addList(tx: Tx, actor: Actor, input: RequestListForm): Promise<string> {
	requireStaff(actor, 'keep_library');
	await requireGroup(tx, input.groupId);
	const id = randomUUID();
	await tx.rows(
		`insert into request_list (id, firm_id, name, about, title, message, folder, tags, shared, group_id, lines, goes_by_itself, services, made_by_id, made_at, changed_by_id, changed_at, chase_plan, letters_first)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $14, $15, $16, $17)`,
		[id, tx.firmId, ...(await written(tx, actor, input))]
	);
	await recordEvent(tx, actor, { verb: 'list_added', details: { name: input.name } });
	return id;
}

/** A copy of a ready-made list or of one of the Library, which stays as it was. @returns the copy's id */
export async function copyList(tx: Tx, actor: Actor, from: { readyMade: string } | { id: string }): Promise<string> {
	requireStaff(actor, 'keep_library');
	if ('readyMade' in from) {
		const ready = READY_MADE_LISTS.find((list) => list.id === from.readyMade);
		if (!ready) throw new DomainError('not_found', 'There is no such list.');
		return addList(tx, actor, {
			...ready,
			lines: [...ready.lines],
			message: '',
			folder: '',
			tags: [],
			shared: 'all',
			groupId: null,
			goesByItself: false,
			lettersFirst: false
		});
	}
	const list = await readList(tx, actor, from.id);
	return addList(tx, actor, { ...list, name: `${list.name}, copy`.slice(0, 80) });
}

/**
 * Changes a list; the version before is kept, and what was sent stays as it was.
 * @param version the one that was looked at
 * @throws DomainError changed_meanwhile if somebody was faster
 */
export async function changeList(tx: Tx, actor: Actor, id: string, version: number, input: RequestListForm): Promise<void> {
	requireStaff(actor, 'keep_library');
	const before = await readList(tx, actor, id);
	await requireGroup(tx, input.groupId);
	const changed = await tx.first(
		`update request_list set name = $3, about = $4, title = $5, message = $6, folder = $7, tags = $8, shared = $9, group_id = $10, lines = $11, goes_by_itself = $12,
			services = $13, changed_by_id = $14, changed_at = $15, chase_plan = $16, letters_first = $17, version = version + 1
		where id = $1 and version = $2 returning id`,
		[id, version, ...(await written(tx, actor, input))]
	);
	if (!changed) throw new DomainError('changed_meanwhile', `${before.changedBy} has changed this list meanwhile. What you wrote is still here.`);
	await tx.rows('insert into request_list_version (firm_id, list_id, version, content, kept_at, kept_by_id) values ($1, $2, $3, $4, $5, $6)', [
		tx.firmId,
		id,
		version,
		JSON.stringify({ name: before.name, title: before.title, message: before.message, lines: before.lines }),
		actor.now,
		actor.id
	]);
	await recordEvent(tx, actor, { verb: 'list_changed', details: { name: input.name, version: version + 1 } });
}

/** Takes a list out of the Library; what was sent by it stays. */
export async function removeList(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'keep_library');
	const list = await readList(tx, actor, id);
	const recurring = await tx.first<{ n: number }>(`select count(*) n from recurring_request where list_id = $1 and state <> 'ended'`, [id]);
	if (recurring!.n > 0)
		throw new DomainError(
			'invalid',
			`${recurring!.n === 1 ? 'A standing request follows' : `${recurring!.n} standing requests follow`} this list. End ${recurring!.n === 1 ? 'it' : 'them'} first.`
		);
	await tx.rows('update request_list set ended_at = $2 where id = $1', [id, actor.now]);
	await recordEvent(tx, actor, { verb: 'list_removed', details: { name: list.name } });
}

export interface ListVersion {
	version: number;
	name: string;
	lineCount: number;
	keptAt: string;
	keptBy: string;
}

/** The versions of a list before the one in use, newest first. */
export function readListVersions(tx: Tx, id: string): Promise<ListVersion[]> {
	return tx.rows(
		`select v.version, v.content ->> 'name' as name, jsonb_array_length(v.content -> 'lines') "lineCount", v.kept_at as "keptAt", s.name as "keptBy"
		from request_list_version v join staff s on s.id = v.kept_by_id where v.list_id = $1 order by v.version desc limit 50`,
		[id]
	);
}

/** Brings an earlier version of a list back, as its newest one. */
export async function restoreList(tx: Tx, actor: Actor, id: string, version: number, seenVersion: number): Promise<void> {
	requireStaff(actor, 'keep_library');
	const list = await readList(tx, actor, id);
	const kept = await tx.first<{ content: { name: string; title: string; message: string; lines: ListLine[] } }>(
		'select content from request_list_version where list_id = $1 and version = $2',
		[id, version]
	);
	if (!kept) throw new DomainError('not_found', 'There is no such version of this list.');
	await changeList(tx, actor, id, seenVersion, { ...list, ...kept.content, lines: linesSchema.parse(kept.content.lines) });
}

/** Folders and tags of lists in use, for choosing again. */
export async function readListShelves(tx: Tx): Promise<{ folders: string[]; tags: string[] }> {
	const row = await tx.first<{ folders: string[]; tags: string[] }>(
		`select array(select distinct folder from request_list where firm_id = $1 and folder <> '' and ended_at is null order by 1) folders,
			array(select distinct unnest(tags) from request_list where firm_id = $1 and ended_at is null order by 1) tags`,
		[tx.firmId]
	);
	return row!;
}
