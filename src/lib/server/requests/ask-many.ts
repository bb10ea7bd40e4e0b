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
	clientId: string;
	clientName: string;
	contactId: string | null;
	contactName: string | null;
	hasAccess: boolean;
	/** why no request can go to this client */
	stands: 'no_contact' | 'no_address' | 'bounced' | 'suspended' | 'asked_already' | null;
	goes: number;
	out: number;
	missing: number;
}

interface Meant {
	client_id: string;
	client: string;
	contact_id: string | null;
	contact: string | null;
	has_access: boolean;
	not_asked: NotAsked | null;
	asked: boolean;
}

function readMeant(tx: Tx, actor: Actor, listId: string, filter: AskManyFilter): Promise<Meant[]> {
	return tx.rows<Meant>(
		`select cl.id client_id, cl.name client, c.id contact_id, c.name contact, c.password_hash is not null has_access, c.not_asked,
			exists (select from request r where r.list_id = $2 and r.client_id = cl.id and r.withdrawn_at is null)
				or exists (select from request_draft d where d.list_id = $2 and d.client_id = cl.id and d.removed_at is null) asked
		from client cl
			left join lateral (select contact_id from client_contact where client_id = cl.id order by rank limit 1) cc on true left join contact c on c.id = cc.contact_id
		where cl.firm_id = $1 and cl.state = 'active' and ($3::uuid is null or cl.responsible_id = $3) and ($5::uuid[] is null or cl.id = any ($5))
			and ($4::text is null or exists (select from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null join service s on s.id = es.service_id
				where es.client_id = cl.id and lower(s.name) = lower($4)))
		order by lower(cl.name), cl.id limit $6`,
		[tx.firmId, listId, filter.mine ? actor.id : null, filter.service, filter.only, MANY_CLIENTS + 1]
	);
}

/** A list as it fits each of many clients. */
async function fitForMany(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	list: RequestList,
	filter: AskManyFilter
): Promise<(AskManyRow & { lines: LineInHand[] })[]> {
	const meant = await readMeant(tx, actor, list.id, filter);
	const ids = meant.map((one) => one.client_id);
	const today = localDate(actor.now, firm.calendar);
	const known = await readClientsKnown(tx, ids, today);
	const overrides = await readOverrides(tx, list.id, ids);
	const fit = fitterOf(list.lines, duesOf(list.lines, { askedOn: today, period: null }, firm), await loadFacts(tx), firm, actor);
	return meant.map((one) => {
		const { lines, missing } = fit(known.get(one.client_id)!, overrides.get(one.client_id) ?? {});
		const out = lines.filter((line) => line.out).length;
		return {
			lines,
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

/** What making a list for many clients would do, one line each: how much of it goes, and what stands in the way. */
export async function proposeForMany(tx: Tx, actor: Actor, firm: Firm, listId: string, filter: AskManyFilter): Promise<AskManyRow[]> {
	requireStaff(actor, 'send_request');
	const fitted = await fitForMany(tx, actor, firm, await readList(tx, actor, listId), filter);
	return fitted.map(({ lines: _lines, ...line }) => line);
}

/**
 * Makes a list fit many clients at once: a draft for each, which waits for a person or is sent by the worker. The same run is
 * made once, however often it is clicked.
 * @param input.send the drafts go by themselves
 * @returns how many drafts there are
 * @throws DomainError invalid if nothing would be made, too_many
 */
export async function prepareForMany(
	tx: Tx,
	actor: Actor,
	input: { listId: string; /** one line of it alone */ line?: string; filter: AskManyFilter; runId: string; send: boolean }
): Promise<number> {
	requireStaff(actor, 'send_request');
	// the second of two clicks waits here for the first, and finds its drafts
	await tx.rows('select pg_advisory_xact_lock(hashtext($1))', [`ask many ${tx.firmId}`]);
	const before = await tx.first<{ n: number }>('select count(*) n from request_draft where run_id = $1', [input.runId]);
	if (before!.n > 0) return before!.n;
	const firm = await loadFirm(tx);
	const whole = await readList(tx, actor, input.listId);
	const list = input.line === undefined ? whole : { ...whole, lines: whole.lines.filter(({ key }) => key === input.line) };
	const proposed = await fitForMany(tx, actor, firm, list, input.filter);
	if (proposed.length > MANY_CLIENTS)
		throw new DomainError('too_many', `At most ${MANY_CLIENTS.toLocaleString('en')} clients at once. Choose fewer by a service, or only yours.`);
	const going = proposed.filter((line) => line.stands === null && line.goes > 0);
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
					values: {},
					lines: line.lines as unknown as DraftContent['lines']
				}
			})),
			{ list: { id: list.id, version: list.version }, runId: input.runId }
		);
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
