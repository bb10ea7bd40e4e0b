import { blankSheet, fieldsOfList, sheetRows, whoIsMeant, type SheetCandidate, type SheetRow } from '$lib/core/requests/ask-sheet';
import { staysWords, type AskStands } from '$lib/core/requests/ask-stands';
import { judge, type ClientKnown } from '$lib/core/requests/conditions';
import { settleLetter } from '$lib/core/requests/facts-of-lines';
import { isWritten } from '$lib/core/items/kinds/letter';
import { mergeFieldWords, unfilledFields } from '$lib/core/letters/merge-fields';
import type { NotAsked } from '$lib/core/requests/who-may-be-asked';
import { z } from 'zod';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import type { DraftContent, LineInHand } from '$lib/core/requests/request-list';
import { requireStaff, type Actor } from '../actor';
import { loadFirm, type Firm } from '../firms/firm';
import { readList, type RequestList } from '../library/request-lists';
import type { Database, Tx } from '../platform/db/database';
import { enqueue } from '../platform/queue';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { loadFacts } from '../facts/firm-facts';
import { duesOf, fitterOf, spreadLines, standsForStatements } from './begin-request';
import { readKnownStatements } from '../statements/accounts';
import { writeDrafts } from '../drafts/drafts';
import { sendDrafts } from './send-draft';
import { readClientsKnown } from '../clients/clients-known';
import { noteSheetUsed, readSheet, readSheetFields, type KeptSheet } from './ask-sheets';
import { recordValuesOf } from '../letters/record-values';
import { readOverrides } from './tailor-list';

/** Most clients that are asked by a list in one go. */
export const MANY_CLIENTS = 1000;
const CHUNK = 250;

const flag = z.union([z.literal('1').transform(() => true), z.literal('').transform(() => false)]).catch(false);
/** Which clients a list is made for. */
export const askManyFilterSchema = z.object({
	mine: flag,
	/** only clients for whom we do this */
	service: z.string().max(80).nullable().catch(null),
	/** also those who were sent this list before */
	again: flag,
	/** the clients that were chosen, of those; null for all of them */
	only: z
		.string()
		.max(200_000)
		.transform((text) => text.split(',').filter(Boolean))
		.pipe(z.array(z.uuid()))
		.nullable()
		.default(null)
});
export type AskManyFilter = z.infer<typeof askManyFilterSchema>;

export interface AskManyRow {
	/** the row of a file it is made from */
	line: number | null;
	/** null where a row does not say which one */
	clientId: string | null;
	clientName: string;
	contactId: string | null;
	contactName: string | null;
	hasAccess: boolean;
	stands: AskStands | null;
	goes: number;
	out: number;
	missing: number;
	/** the fields of its words for which there is nothing to put in: it waits as a draft until somebody writes it */
	lacks: string[];
	/** what a row of a file puts into fields */
	values: Record<string, string>;
}

interface Meant {
	line: number | null;
	client_id: string;
	client: string;
	contact_id: string | null;
	contact: string | null;
	locale: string | null;
	has_access: boolean;
	not_asked: NotAsked | null;
	asked: boolean;
}
/** A client, or a row of a file, and what is put in for them. */
type MeantWith = Meant & { values: Record<string, string> };

// who is asked (cc), of the client cl, by the list $2
const MEANT = `cl.id client_id, cl.name client, c.id contact_id, c.name contact, c.locale, c.password_hash is not null has_access, c.not_asked,
			exists (select from request r where r.list_id = $2 and r.client_id = cl.id and r.withdrawn_at is null)
				or exists (select from request_draft d where d.list_id = $2 and d.client_id = cl.id and d.removed_at is null) asked`;

function readMeant(tx: Tx, actor: Actor, listId: string, filter: AskManyFilter): Promise<Meant[]> {
	return tx.rows<Meant>(
		`select null::int line, ${MEANT}
		from client cl
			left join lateral (select contact_id from client_contact where client_id = cl.id order by rank limit 1) cc on true left join contact c on c.id = cc.contact_id
		where cl.firm_id = $1 and cl.state = 'active' and ($3::uuid is null or cl.responsible_id = $3) and ($5::uuid[] is null or cl.id = any ($5))
			and ($4::text is null or exists (select from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null join service s on s.id = es.service_id
				where es.client_id = cl.id and lower(s.name) = lower($4)))
		order by lower(cl.name), cl.id limit $6`,
		[tx.firmId, listId, filter.mine ? actor.id : null, filter.service, filter.only, MANY_CLIENTS + 1]
	);
}

/** The active clients that the rows of a file may mean, by the row. */
async function readCandidates(tx: Tx, rows: readonly SheetRow[]): Promise<Map<number, SheetCandidate[]>> {
	const found = await tx.rows<SheetCandidate & { line: number }>(
		`with given as (select * from jsonb_to_recordset($2) as g (line int, client text, email text))
		select g.line, cl.id as "clientId", (select c.id from client_contact cc join contact c on c.id = cc.contact_id
			where cc.client_id = cl.id and g.email <> '' and c.email = g.email::citext order by cc.rank limit 1) as "contactId"
		from given g join client cl on cl.firm_id = $1 and lower(cl.name) = lower(g.client) and cl.state = 'active' where g.client <> ''
		union all
		select g.line, cl.id, c.id from given g join contact c on c.firm_id = $1 and c.email = g.email::citext join client_contact cc on cc.contact_id = c.id
			join client cl on cl.id = cc.client_id and cl.state = 'active' where g.client = '' and g.email <> ''`,
		[tx.firmId, JSON.stringify(rows.map(({ line, client, email }) => ({ line, client, email })))]
	);
	const byLine = new Map<number, SheetCandidate[]>();
	for (const { line, ...candidate } of found) byLine.set(line, [...(byLine.get(line) ?? []), candidate]);
	return byLine;
}

/** Whom the rows of a file mean, in their order: each what it means, or why that cannot be told. */
async function readMeantOfSheet(tx: Tx, listId: string, sheet: KeptSheet): Promise<(MeantWith | AskManyRow)[]> {
	const rows = sheetRows(sheet);
	const candidates = await readCandidates(tx, rows);
	const told = rows.map((row) => ({ row, who: whoIsMeant(row, candidates.get(row.line) ?? []) }));
	const pairs = told.flatMap(({ row, who }) => (typeof who === 'string' ? [] : [{ line: row.line, ...who }]));
	const meant = await tx.rows<Meant>(
		`select p.line, ${MEANT}
		from jsonb_to_recordset($1) as p (line int, "clientId" uuid, "contactId" uuid) join client cl on cl.id = p."clientId"
			left join lateral (select coalesce(p."contactId", (select contact_id from client_contact where client_id = cl.id order by rank limit 1)) contact_id) cc on true
			left join contact c on c.id = cc.contact_id`,
		[JSON.stringify(pairs), listId]
	);
	const byLine = new Map(meant.map((one) => [one.line, one]));
	return told.map(({ row, who }) => {
		const { line, values } = row;
		const one = byLine.get(line);
		if (one) return { ...one, values };
		const stands = typeof who === 'string' ? who : 'unknown_client';
		return { ...NOBODY, line, clientName: row.client || row.email, stands, values };
	});
}

const NOBODY = { clientId: null, contactId: null, contactName: null, hasAccess: false, goes: 0, out: 0, missing: 0, lacks: [] };

/** A list as it fits each of many clients, or each row of a file. */
async function fitForMany(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	list: RequestList,
	filter: AskManyFilter,
	sheet: KeptSheet | null
): Promise<(AskManyRow & { lines: LineInHand[] })[]> {
	const all = sheet
		? await readMeantOfSheet(tx, list.id, sheet)
		: (await readMeant(tx, actor, list.id, filter)).map((one): MeantWith => ({ ...one, values: {} }));
	const ids = [...new Set(all.flatMap((one) => ('client_id' in one ? [one.client_id] : [])))];
	const today = localDate(actor.now, firm.calendar);
	const known = await readClientsKnown(tx, ids, today);
	const overrides = await readOverrides(tx, list.id, ids);
	const facts = await loadFacts(tx);
	const fit = fitterOf(list.lines, duesOf(list.lines, { askedOn: today, period: null }, firm), facts, firm, actor);
	const letters = new Map(
		list.lines.flatMap((line) => (line.kind === 'letter' && isWritten(line) ? [[line.key, settleLetter(line.document, facts, firm)] as const] : []))
	);
	/** the fields of the words that go to a client; a part of which it is not known whether it comes is named when the request is written */
	const used = (lines: readonly LineInHand[], client: ClientKnown) =>
		fieldsOfList(
			{ ...list, lines: lines.map((line) => ({ ...line, document: letters.get(line.key) })) },
			(part) => judge(part.attrs.onlyIf, client, facts).holds !== false
		);
	const locales = new Map(all.flatMap((one) => ('client_id' in one ? [[one.client_id, one.locale ?? firm.clientLanguage]] : [])));
	const fromRecord = await recordValuesOf(
		tx,
		actor,
		ids.map((id) => ({ id, locale: locales.get(id)! })),
		fieldsOfList(list)
	);
	return all.map((one) => {
		if (!('client_id' in one)) return { ...one, lines: [] };
		const client = known.get(one.client_id)!;
		const { lines, missing } = fit(client, overrides.get(one.client_id) ?? {});
		const going = lines.filter((line) => !line.out);
		const out = lines.length - going.length;
		const lacks = unfilledFields(used(going, client), { ...fromRecord.get(one.client_id), ...one.values });
		return {
			lines,
			line: one.line,
			values: one.values,
			lacks: lacks.map(mergeFieldWords),
			clientId: one.client_id,
			clientName: one.client,
			contactId: one.contact_id,
			contactName: one.contact,
			hasAccess: one.has_access,
			stands: one.asked && !filter.again ? 'asked_already' : !one.contact_id ? 'no_contact' : one.not_asked,
			goes: lines.length - out,
			out,
			missing: missing.length
		};
	});
}

/**
 * What making a list for many clients would do, one line each: how much of it goes, and what stands in the way.
 * @param sheet a file whose rows are asked, instead of clients that are chosen
 */
export async function proposeForMany(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	listId: string,
	filter: AskManyFilter,
	sheet: KeptSheet | null = null
): Promise<AskManyRow[]> {
	requireStaff(actor, 'send_request');
	const fitted = await fitForMany(tx, actor, firm, await readList(tx, actor, listId), filter, sheet);
	return fitted.map(({ lines: _lines, ...line }) => line);
}

/**
 * A file to fill in by which a list is asked: a row for each client that it can be asked of, by name, a column for each field of its
 * words, with what the record knows.
 * @throws DomainError not_found
 */
export async function readBlankSheet(tx: Tx, actor: Actor, firm: Firm, listId: string): Promise<{ listName: string; csv: string }> {
	requireStaff(actor, 'send_request');
	const list = await readList(tx, actor, listId);
	const clients = await tx.rows<{ id: string; name: string; email: string | null; locale: string | null }>(
		`select cl.id, cl.name, c.email::text email, c.locale from client cl
			join lateral (select contact_id from client_contact where client_id = cl.id order by rank limit 1) cc on true join contact c on c.id = cc.contact_id
		where cl.firm_id = $1 and cl.state = 'active' and c.not_asked is null order by lower(cl.name), cl.id limit $2`,
		[tx.firmId, MANY_CLIENTS]
	);
	const fields = fieldsOfList(list);
	const values = await recordValuesOf(
		tx,
		actor,
		clients.map(({ id, locale }) => ({ id, locale: locale ?? firm.clientLanguage })),
		fields
	);
	const rows = clients.map(({ id, name, email }) => ({ name, email, values: values.get(id) ?? {} }));
	return { listName: list.name, csv: blankSheet(fields, await readSheetFields(tx), rows) };
}

/**
 * Makes a list fit many clients at once: a draft for each, or for each row of a file, which waits for a person or is sent by the worker.
 * The same run is made once, however often it is clicked.
 * @param input.send the drafts go by themselves
 * @param input.sheet the file that is the run, and the rows of it that are asked
 * @returns how many drafts there are
 * @throws DomainError invalid if nothing would be made, too_many
 */
export async function prepareForMany(
	tx: Tx,
	actor: Actor,
	input: {
		listId: string;
		/** one line of it alone */ line?: string;
		filter: AskManyFilter;
		runId: string;
		send: boolean;
		sheet?: { id: string; lines: readonly number[] };
	}
): Promise<number> {
	requireStaff(actor, 'send_request');
	// the second of two clicks waits here for the first, and finds its drafts
	await tx.rows('select pg_advisory_xact_lock(hashtext($1))', [`ask many ${tx.firmId}`]);
	const before = await tx.first<{ n: number }>('select count(*) n from request_draft where run_id = $1', [input.runId]);
	if (before!.n > 0) return before!.n;
	const firm = await loadFirm(tx);
	const whole = await readList(tx, actor, input.listId);
	const list = input.line === undefined ? whole : { ...whole, lines: whole.lines.filter(({ key }) => key === input.line) };
	const sheet = input.sheet ? await readSheet(tx, actor, input.sheet.id, true) : null;
	const proposed = await fitForMany(tx, actor, firm, list, input.filter, sheet);
	if (proposed.length > MANY_CLIENTS)
		throw new DomainError('too_many', `At most ${MANY_CLIENTS.toLocaleString('en')} clients at once. Choose fewer by a service, or only yours.`);
	if (sheet?.usedAt) throw new DomainError('changed_meanwhile', 'The rows of this file were asked already.');
	const chosen = sheet && new Set(input.sheet!.lines);
	const mayGo = proposed.filter(
		(line): line is typeof line & { clientId: string } => line.stands === null && line.goes > 0 && line.clientId !== null
	);
	const going = mayGo.filter(({ line }) => !chosen || chosen.has(line!));
	if (going.length === 0) throw new DomainError('invalid', 'Nothing would be made: nobody is left who can be asked by this list.');
	// the statements of each client's own accounts, where the list asks for statements
	if (going[0].lines.some(standsForStatements)) {
		const today = localDate(actor.now, firm.calendar);
		const statementsOf = await readKnownStatements(
			tx,
			actor,
			going.map((line) => line.clientId)
		);
		for (const line of going) line.lines = spreadLines(statementsOf(line.clientId), line.lines, today, firm.clientLanguage);
	}
	for (let i = 0; i < going.length; i += CHUNK) {
		await writeDrafts(
			tx,
			actor,
			going.slice(i, i + CHUNK).map((line) => ({
				clientId: line.clientId,
				line: line.line ?? undefined,
				content: {
					contactId: line.contactId,
					others: [],
					each: false,
					title: list.title,
					message: list.message,
					quiet: false,
					tellNow: false,
					withInvitation: true,
					lettersFirst: list.lettersFirst,
					values: line.values,
					lines: line.lines as unknown as DraftContent['lines']
				}
			})),
			{ list: { id: list.id, version: list.version }, runId: input.runId }
		);
	}
	if (sheet) {
		const made = new Set(going.map(({ line }) => line));
		const stays = proposed.flatMap((one) => (made.has(one.line) ? [] : [[one.line!, staysWords(one) ?? 'not chosen'] as const]));
		await noteSheetUsed(tx, actor, sheet, list.name, new Map(stays));
	}
	if (input.send) await enqueue(tx, 'send_drafts', { firmId: tx.firmId, runId: input.runId, staffId: actor.id! });
	return going.length;
}

/**
 * Sends the drafts of a run, one after another; what cannot go stays as a draft and says why. Begun again after a crash it goes on
 * where it was.
 * @param perSecond how many may leave in a second; 0 for no limit
 */
export async function sendDraftsOfRun(
	place: { db: Database; pdf: PdfWork; papers: PaperStore },
	firmId: string,
	runId: string,
	staffId: string,
	now: string,
	perSecond = 0
): Promise<{ sent: number; left: number }> {
	const { drafts, actor } = await place.db.inFirm(firmId, async (tx) => {
		const person = await tx.first<{ name: string; role: Actor['role'] }>('select name, role from staff where id = $1 and suspended_at is null', [
			staffId
		]);
		return {
			drafts: await tx.rows<{ id: string }>('select id from request_draft where run_id = $1 and removed_at is null order by made_at, id', [runId]),
			actor: person && ({ kind: 'staff', id: staffId, ...person, now, ip: '', userAgent: 'worker' } satisfies Actor)
		};
	});
	if (!actor) return { sent: 0, left: drafts.length };
	const results = await sendDrafts(
		place,
		firmId,
		actor,
		drafts.map(({ id }) => id),
		perSecond
	);
	const left = results.flatMap(({ id, problem }) => (problem ? [{ id, problem: problem.slice(0, 500) }] : []));
	await place.db.inFirm(firmId, (tx) =>
		tx.rows('update request_draft d set problem = p.problem from jsonb_to_recordset($1) as p (id uuid, problem text) where d.id = p.id', [
			JSON.stringify(left)
		])
	);
	return { sent: results.length - left.length, left: left.length };
}
