import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import {
	READY_MADE_MESSAGE_TEXTS,
	MESSAGE_TEXT_KIND,
	type MessageTextForm,
	type Shared,
	type MessageTextKind
} from '$lib/core/messages/message-texts';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { fillText, personValues } from '$lib/core/letters/merge-fields';
import { LANGUAGES, type Language } from '$lib/core/people/languages';
import { dateWords } from '$lib/words/dates';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

export interface MessageText {
	id: string;
	kind: MessageTextKind;
	language: Language;
	name: string;
	folder: string;
	tags: string[];
	subject: string;
	body: string;
	shared: Shared;
	groupId: string | null;
	groupName: string | null;
	madeBy: string;
	mine: boolean;
	changedAt: string;
	inUse: boolean;
	version: number;
}

const COLUMNS = `t.id, t.kind, t.language, t.name, t.folder, t.tags, t.subject, t.body, t.shared, t.group_id as "groupId", g.name as "groupName", s.name as "madeBy",
	t.made_by_id = $2 as mine, t.changed_at as "changedAt", t.in_use as "inUse", t.version`;
/** What somebody may see: their own, what is shared with all, and what is shared with a group of theirs. */
const SEEN = `from message_text t join staff s on s.id = t.made_by_id left join staff_group g on g.id = t.group_id
	where t.firm_id = $1 and (t.shared = 'all' or t.made_by_id = $2
		or (t.shared = 'group' and exists (select from staff_group_member m where m.group_id = t.group_id and m.staff_id = $2)))`;

/** The texts somebody may use, by folder and name; of one kind, or with one tag, if given. */
export function readMessageTexts(tx: Tx, actor: Actor, filter: { kind?: MessageTextKind | null; tag?: string | null } = {}): Promise<MessageText[]> {
	requireStaff(actor, 'look');
	return tx.rows<MessageText>(
		`select ${COLUMNS} ${SEEN} and ($3::text is null or t.kind = $3) and ($4::text is null or $4 = any (t.tags)) order by lower(t.folder), lower(t.name), t.id`,
		[tx.firmId, actor.id, filter.kind ?? null, filter.tag ?? null]
	);
}

/** One of them. @throws DomainError not_found, also for one that is not shared with whoever asks */
export async function readMessageText(tx: Tx, actor: Actor, id: string): Promise<MessageText> {
	requireStaff(actor, 'look');
	const text = await tx.first<MessageText>(`select ${COLUMNS} ${SEEN} and t.id = $3`, [tx.firmId, actor.id, id]);
	if (!text) throw new DomainError('not_found', 'There is no such text, or it is not shared with you.');
	return text;
}

async function requireGroup(tx: Tx, groupId: string | null): Promise<void> {
	if (groupId && !(await tx.first('select 1 from staff_group where id = $1', [groupId])))
		throw new DomainError('invalid', 'There is no such group.', { groupId: 'Choose a group.' });
}

/** Adds a text to the Library. */
export async function addMessageText(tx: Tx, actor: Actor, input: MessageTextForm): Promise<string> {
	requireStaff(actor, 'keep_library');
	await requireGroup(tx, input.groupId);
	const id = randomUUID();
	await tx.rows(
		`insert into message_text (id, firm_id, kind, name, folder, tags, subject, body, shared, group_id, made_by_id, made_at, changed_at, language)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $12, $13)`,
		[
			id,
			tx.firmId,
			input.kind,
			input.name,
			input.folder,
			input.tags,
			input.subject,
			input.body,
			input.shared,
			input.groupId,
			actor.id,
			actor.now,
			input.language
		]
	);
	await recordEvent(tx, actor, { verb: 'text_added_to_library', details: { name: input.name } });
	return id;
}

/** Copies a text that ships with the product, or one of the firm's, so that it can be changed; the original stays as it was. */
export async function copyMessageText(tx: Tx, actor: Actor, from: { key: string } | { id: string }): Promise<string> {
	requireStaff(actor, 'keep_library');
	if ('key' in from) {
		const ready = READY_MADE_MESSAGE_TEXTS.find((text) => text.key === from.key);
		if (!ready) throw new DomainError('not_found', 'There is no such text.');
		return addMessageText(tx, actor, { ...ready, tags: [...ready.tags], language: ready.language ?? 'en', shared: 'all', groupId: null });
	}
	const text = await readMessageText(tx, actor, from.id);
	return addMessageText(tx, actor, { ...text, name: `${text.name}, copy`.slice(0, 80) });
}

/**
 * Changes a text. Messages that were written with it stay as they are.
 * @throws DomainError changed_meanwhile if somebody else changed it since it was opened, invalid if one that goes out by itself would be hidden
 */
export async function changeMessageText(tx: Tx, actor: Actor, id: string, version: number, input: MessageTextForm): Promise<void> {
	requireStaff(actor, 'keep_library');
	const before = await readMessageText(tx, actor, id);
	await requireGroup(tx, input.groupId);
	if (before.language !== input.language && before.inUse)
		throw new DomainError('invalid', 'This text goes out by itself. Stop using it before you change its language.');
	if (before.kind !== input.kind) throw new DomainError('invalid', 'What a text is for stays. Make another one.');
	if (before.inUse && input.shared !== 'all')
		throw new DomainError('invalid', 'This text goes out by itself. Stop using it before you share it with fewer people.');
	const changed = await tx.first(
		`update message_text set name = $3, folder = $4, tags = $5, subject = $6, body = $7, shared = $8, group_id = $9, changed_at = $10, language = $11, version = version + 1
		where id = $1 and version = $2 returning id`,
		[id, version, input.name, input.folder, input.tags, input.subject, input.body, input.shared, input.groupId, actor.now, input.language]
	);
	if (!changed) throw new DomainError('changed_meanwhile', 'Somebody else changed this text meanwhile. What you wrote is still here.');
	await recordEvent(tx, actor, {
		verb: 'text_changed_in_library',
		details: { name: input.name, before: { subject: before.subject, body: before.body } }
	});
}

/** Takes a text out of the Library. @throws DomainError invalid while it goes out by itself */
export async function removeText(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'keep_library');
	const text = await readMessageText(tx, actor, id);
	if (text.inUse) throw new DomainError('invalid', 'This text goes out by itself. Stop using it first.');
	await tx.rows('delete from message_text where id = $1', [id]);
	await recordEvent(tx, actor, { verb: 'text_removed_from_library', details: { name: text.name, subject: text.subject, body: text.body } });
}

/** Lets a text go out by itself instead of the product's own words, or no more. One of a kind and language does. */
export async function useMessageText(tx: Tx, actor: Actor, id: string, use: boolean): Promise<void> {
	requireStaff(actor, 'keep_library');
	const text = await readMessageText(tx, actor, id);
	if (!MESSAGE_TEXT_KIND[text.kind].byItself) throw new DomainError('invalid', 'Texts of this kind do not go out by themselves.');
	if (text.inUse === use) return;
	if (use && text.shared !== 'all') throw new DomainError('invalid', 'A text that goes out by itself is shared with everybody. Share it first.');
	await tx.rows('update message_text set in_use = false where firm_id = $1 and kind = $2 and language = $3 and in_use', [
		tx.firmId,
		text.kind,
		text.language
	]);
	if (use) await tx.rows('update message_text set in_use = true where id = $1', [id]);
	await recordEvent(tx, actor, { verb: use ? 'text_put_into_use' : 'text_taken_out_of_use', details: { name: text.name } });
}

/** The text that goes out by itself for a kind and a reader, or null for the product's own words in their language. */
export function messageTextInUse(tx: Tx, kind: MessageTextKind, language: string): Promise<{ subject: string; body: string } | null> {
	return tx.first('select subject, body from message_text where firm_id = $1 and kind = $2 and language = $3 and in_use', [
		tx.firmId,
		kind,
		language
	]);
}

/** A text as it is offered where words are written. */
export interface OfferedText {
	id: string;
	name: string;
	folder: string;
	subject: string;
	body: string;
	language: Language;
}

/** The texts of one kind that may be taken into a form: the firm's own, and then those that ship with the product. Their fields are as written. */
export async function readOffered(tx: Tx, actor: Actor, kind: MessageTextKind): Promise<OfferedText[]> {
	requireStaff(actor, 'look');
	const own = await readMessageTexts(tx, actor, { kind });
	return [
		...own.map(({ id, name, folder, subject, body, language }) => ({ id, name, folder, subject, body, language })),
		...READY_MADE_MESSAGE_TEXTS.filter((text) => text.kind === kind).map(({ key, name, subject, body, language = 'en' }) => ({
			id: key,
			name,
			folder: 'Ready-made',
			subject,
			body,
			language
		}))
	];
}

/**
 * What can be taken into words to one person of a client: the firm's own texts, then those that ship with the product, each filled in for
 * them. Texts in their language come first, others say which language they are in.
 * @throws DomainError not_found for a client or person that whoever asks may not see
 */
export async function readTextsFor(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	kind: MessageTextKind,
	to: { clientId: string; contactId: string }
): Promise<OfferedText[]> {
	requireStaff(actor, 'look');
	const who = await tx.first<{ clientName: string; contactName: string; responsible: string; locale: string }>(
		`select cl.name "clientName", c.name "contactName", s.name responsible, c.locale from client_contact cc
			join client cl on cl.id = cc.client_id join contact c on c.id = cc.contact_id join staff s on s.id = cl.responsible_id
		where cc.client_id = $1 and cc.contact_id = $2`,
		[to.clientId, to.contactId]
	);
	if (!who) throw new DomainError('not_found', 'There is no such person at this client.');
	const texts = await readOffered(tx, actor, kind);
	const values = personValues({ ...who, firmName: firm.name });
	const today = localDate(actor.now, firm.calendar);
	const fill = (words: string, language: Language) => fillText(words, { ...values, today: dateWords(language, today, 'long') });
	const isTheirs = ({ language }: { language: Language }) => language === who.locale;
	return texts
		.toSorted((a, b) => Number(isTheirs(b)) - Number(isTheirs(a)))
		.map((text) => ({
			...text,
			name: isTheirs(text) ? text.name : `${text.name} (${LANGUAGES[text.language]})`,
			subject: fill(text.subject, text.language),
			body: fill(text.body, text.language)
		}));
}

/** Folders and tags in use, for choosing again. */
export async function readShelves(tx: Tx, actor: Actor): Promise<{ folders: string[]; tags: string[] }> {
	requireStaff(actor, 'look');
	const row = await tx.first<{ folders: string[] | null; tags: string[] | null }>(
		`with seen as (select t.folder, t.tags ${SEEN})
		select (select array_agg(distinct folder order by folder) from seen where folder <> '') folders,
			(select array_agg(distinct tag order by tag) from seen, unnest(tags) tag) tags`,
		[tx.firmId, actor.id]
	);
	return { folders: row?.folders ?? [], tags: row?.tags ?? [] };
}
