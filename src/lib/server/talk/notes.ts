import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { noteSchema } from '$lib/core/clients/record-forms';
import { DomainError } from '$lib/core/errors/domain-error';
import { may, type Role } from '$lib/core/people/roles';
import { namedIn, type Colleague } from '$lib/core/talk/named';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { planMessages } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';

/** A note as it is written; the key is one id for every press, so that it is written once. */
export const noteForm = noteSchema.extend({ idempotencyKey: z.uuid() });

/** What a note of the firm is about: a client; or beside what was written about an item, or in the talk with one person. */
export type NotePlace = { clientId: string } | { itemId: string } | { clientId: string; contactId: string };

/** A note that only the firm's people ever see. */
export interface Note {
	id: string;
	words: string;
	writtenBy: string;
	writtenAt: string;
	/** whoever reads it wrote it */
	mine: boolean;
	/** who was named in it */
	told: { name: string; seenAt: string | null }[];
}
/** A note of a client with where it stands. */
export interface PlacedNote extends Note {
	clientId: string;
	clientName: string;
	itemId: string | null;
	contactId: string | null;
	/** the title of the item, or the name of the person; null for a note about the client */ about: string | null;
}

/** Notes `n` as they are read. @param where the condition; `$1` is the reader, and its own parameters begin with `$2` */
function notesWhere(
	tx: Tx,
	actor: Actor,
	where: 'n.client_id = $2' | 'n.item_id = $2' | 'n.client_id = $2 and n.with_contact_id = $3' | 'n.id = $2',
	values: readonly string[]
): Promise<PlacedNote[]> {
	return tx.rows<PlacedNote>(
		`select n.id, n.words, s.name "writtenBy", n.written_at "writtenAt", n.written_by_id = $1 mine, n.client_id "clientId", cl.name "clientName",
			n.item_id "itemId", n.with_contact_id "contactId", coalesce(i.title, c.name) about,
			coalesce((select json_agg(json_build_object('name', o.name, 'seenAt', to_iso(t.seen_at)) order by o.name) from note_told t join staff o on o.id = t.staff_id
				where t.note_id = n.id), '[]') told
		from client_note n join staff s on s.id = n.written_by_id join client cl on cl.id = n.client_id
			left join item i on i.id = n.item_id left join contact c on c.id = n.with_contact_id
		where n.removed_at is null and ${where} order by n.number`,
		[actor.id, ...values]
	);
}

/** All notes of a client, the newest first, with where each stands. */
export async function readNotes(tx: Tx, actor: Actor, clientId: string): Promise<PlacedNote[]> {
	requireStaff(actor, 'look');
	return (await notesWhere(tx, actor, 'n.client_id = $2', [clientId])).reverse();
}

/** The notes beside what was written about an item, oldest first. */
export function readItemNotes(tx: Tx, actor: Actor, itemId: string): Promise<Note[]> {
	requireStaff(actor, 'look');
	return notesWhere(tx, actor, 'n.item_id = $2', [itemId]);
}

/** The notes in the talk with a person, oldest first. */
export function readTalkNotes(tx: Tx, actor: Actor, clientId: string, contactId: string): Promise<Note[]> {
	requireStaff(actor, 'look');
	return notesWhere(tx, actor, 'n.client_id = $2 and n.with_contact_id = $3', [clientId, contactId]);
}

/** Somebody else of the firm who may see a client. */
export interface SeeingColleague extends Colleague {
	/** their role lets them answer what clients write */ mayAnswer: boolean;
}

/** Who of the firm can be named in a note about a client: the others who may see it. */
export async function readColleagues(tx: Tx, actor: Actor, clientId: string): Promise<SeeingColleague[]> {
	requireStaff(actor, 'look');
	const colleagues = await tx.rows<Colleague & { role: Role }>(
		'select o.id, o.name, s.role from colleagues_who_see($1) o join staff s on s.id = o.id where o.id <> $2 order by lower(o.name), o.id',
		[clientId, actor.id]
	);
	return colleagues.map(({ role, ...colleague }) => ({ ...colleague, mayAnswer: may(role, 'judge_item') }));
}

/** Where a note is to stand. @throws DomainError not_found */
async function placeOf(
	tx: Tx,
	place: NotePlace
): Promise<{ clientId: string; clientName: string; itemId: string | null; contactId: string | null; about: string | null }> {
	const found = await tx.first<{ clientId: string; clientName: string; about: string | null }>(
		'itemId' in place
			? `select cl.id "clientId", cl.name "clientName", i.title about from item i join client cl on cl.id = i.client_id where i.id = $1`
			: 'contactId' in place
				? `select cl.id "clientId", cl.name "clientName", c.name about from client cl join contact c on c.id = $2
					where cl.id = $1 and (exists (select from client_contact cc where cc.client_id = cl.id and cc.contact_id = c.id)
						or exists (select from remark m where m.client_id = cl.id and m.with_contact_id = c.id))`
				: `select cl.id "clientId", cl.name "clientName", null about from client cl where cl.id = $1`,
		'itemId' in place ? [place.itemId] : 'contactId' in place ? [place.clientId, place.contactId] : [place.clientId]
	);
	if (!found) throw new DomainError('not_found', 'There is nothing here that a note could stand by.');
	return { ...found, itemId: 'itemId' in place ? place.itemId : null, contactId: 'contactId' in place ? place.contactId : null };
}

/**
 * Writes a note that only the firm's people ever see, and tells whoever it names: by mail, and in their Rounds. What told its writer in
 * the same place counts as seen. Sent twice, it is written once.
 * @param input.idempotencyKey an id that whoever writes chose; left out, every call writes
 * @throws DomainError invalid for a first name that several have; not_found
 */
export async function writeNote(tx: Tx, actor: Actor, input: NotePlace & { words: string; idempotencyKey?: string }): Promise<void> {
	requireStaff(actor, 'keep_record');
	const place = await placeOf(tx, input);
	const colleagues = await tx.rows<Colleague & { email: string }>('select id, name, email from colleagues_who_see($1) where id <> $2', [
		place.clientId,
		actor.id
	]);
	const named = namedIn(input.words, colleagues);
	if (named.unclear.length > 0) {
		const which = colleagues.filter(({ name }) => name.toLocaleLowerCase('en').startsWith(named.unclear[0].toLocaleLowerCase('en')));
		throw new DomainError('invalid', `Several of you are called ${named.unclear[0]}: write ${which.map(({ name }) => `@${name}`).join(' or ')}.`);
	}
	const id = input.idempotencyKey ?? randomUUID();
	const written = await tx.first(
		`insert into client_note (id, firm_id, client_id, item_id, with_contact_id, words, written_by_id, written_at) values ($1, $2, $3, $4, $5, $6, $7, $8)
		on conflict (id) do nothing returning id`,
		[id, tx.firmId, place.clientId, place.itemId, place.contactId, input.words, actor.id, actor.now]
	);
	if (!written) return;
	await tx.rows(
		`update note_told t set seen_at = $2 from client_note n
		where t.note_id = n.id and t.staff_id = $1 and t.seen_at is null and n.client_id = $3 and n.item_id is not distinct from $4 and n.with_contact_id is not distinct from $5`,
		[actor.id, actor.now, place.clientId, place.itemId, place.contactId]
	);
	await tx.rows(`insert into note_told (note_id, staff_id, firm_id, told_at) select $1, unnest($2::uuid[]), $3, $4`, [
		id,
		named.told.map((one) => one.id),
		tx.firmId,
		actor.now
	]);
	await recordEvent(tx, actor, { verb: 'note_written', clientId: place.clientId });
	await planMessages(
		tx,
		actor,
		named.told.map((one) => ({
			kind: 'named_in_note' as const,
			idempotencyKey: `named ${id} ${one.id}`,
			to: { address: one.email, staffId: one.id },
			clientId: place.clientId,
			content: {
				noteId: id,
				clientName: place.clientName,
				signedBy: actor.name,
				itemTitle: place.about ?? place.clientName,
				reason: input.words
			}
		}))
	);
}

/** Takes a note away; history keeps that there was one, and nobody is told of it any more. Doing it twice changes nothing. @throws DomainError not_found */
export async function removeNote(tx: Tx, actor: Actor, input: { clientId: string; noteId: string }): Promise<void> {
	requireStaff(actor, 'keep_record');
	const removed = await tx.first('update client_note set removed_at = $3 where id = $1 and client_id = $2 and removed_at is null returning id', [
		input.noteId,
		input.clientId,
		actor.now
	]);
	if (removed) await recordEvent(tx, actor, { verb: 'note_removed', clientId: input.clientId });
	else if (!(await tx.first('select 1 from client_note where id = $1 and client_id = $2', [input.noteId, input.clientId])))
		throw new DomainError('not_found', 'There is no such note.');
}

/** Notes `n` in which somebody is named (\`t\`), who has not said that they have seen it. @param reader the parameter that holds who it is */
export const NAMING = (reader: string) =>
	`note_told t join client_note n on n.id = t.note_id and n.removed_at is null where t.staff_id = ${reader} and t.seen_at is null`;

/** In how many notes somebody of the firm is named that they have not seen. */
export async function countNamingNotes(tx: Tx, staffId: string): Promise<number> {
	return (await tx.first<{ n: number }>(`select count(*) n from ${NAMING('$1')}`, [staffId]))?.n ?? 0;
}

/** A note in which whoever reads it is named, and has not said that they have seen it. @throws DomainError not_found */
export async function readNamingNote(tx: Tx, actor: Actor, noteId: string): Promise<PlacedNote> {
	requireStaff(actor, 'look');
	const waits = await tx.first('select 1 from note_told where note_id = $1 and staff_id = $2 and seen_at is null', [noteId, actor.id]);
	const [note] = waits ? await notesWhere(tx, actor, 'n.id = $2', [noteId]) : [];
	if (!note) throw new DomainError('not_found', 'You have dealt with this note, or it was taken away.');
	return note;
}

/** Notes that whoever was named in a note has seen it. @throws DomainError not_found for who was not, changed_meanwhile for who has before */
export async function markNoteSeen(tx: Tx, actor: Actor, noteId: string): Promise<void> {
	requireStaff(actor, 'look');
	const told = await tx.first<{ seen: boolean }>(
		`select t.seen_at is not null seen from note_told t where t.note_id = $1 and t.staff_id = $2 for update`,
		[noteId, actor.id]
	);
	if (!told) throw new DomainError('not_found', 'There is no such note.');
	if (told.seen) throw new DomainError('changed_meanwhile', 'You have seen this already.');
	await tx.rows('update note_told set seen_at = $3 where note_id = $1 and staff_id = $2', [noteId, actor.id, actor.now]);
}
