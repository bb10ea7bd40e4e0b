import { z } from 'zod';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { planKeySchema, planOf } from '$lib/core/chasing/chase-plan';
import { DomainError } from '$lib/core/errors/domain-error';
import { isOpen, ITEM_STATE_WORDS, itemStateAfter, type ItemState } from '$lib/core/requests/item-states';
import type { ItemKind } from '$lib/core/requests/item-kinds';
import type { DraftContent, LineInHand } from '$lib/core/requests/request-list';
import { dateWords } from '$lib/words/dates';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { searchPattern } from '../clients/find-clients';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import { loadFirm, type Firm } from '../firms/firm';
import { readList, type RequestList } from '../library/request-lists';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { duesOf, fitLines, spreadLines, standsForStatements } from './begin-request';
import { changeItemPerson } from './judge-item';
import { lockItem, moveItem } from './change-item';
import { writeDrafts } from './drafts';
import { sendDraft } from './send-draft';
import { readClientsKnown, readOverrides } from './tailor-list';

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
	/** clients that are left out by hand */
	without: z
		.string()
		.max(40_000)
		.transform((text) => text.split(',').filter(Boolean))
		.pipe(z.array(z.uuid()))
		.catch([])
});
export type AskManyFilter = z.infer<typeof askManyFilterSchema>;

export interface AskManyLine {
	clientId: string;
	clientName: string;
	contactId: string | null;
	contactName: string | null;
	hasAccess: boolean;
	/** why no request can go to this client */
	stands: 'no_contact' | 'no_address' | 'bounced' | 'asked_already' | null;
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
	mail_problem: string | null;
	asked: boolean;
}

function readMeant(tx: Tx, actor: Actor, listId: string, filter: AskManyFilter): Promise<Meant[]> {
	return tx.rows<Meant>(
		`select cl.id client_id, cl.name client, c.id contact_id, c.name contact, c.password_hash is not null has_access, c.mail_problem,
			exists (select from request r where r.list_id = $2 and r.client_id = cl.id and r.withdrawn_at is null)
				or exists (select from request_draft d where d.list_id = $2 and d.client_id = cl.id) asked
		from client cl
			left join lateral (select contact_id from client_contact where client_id = cl.id order by rank limit 1) cc on true left join contact c on c.id = cc.contact_id
		where cl.firm_id = $1 and cl.state = 'active' and ($3::uuid is null or cl.responsible_id = $3) and cl.id <> all ($5::uuid[])
			and ($4::text is null or exists (select from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null join service s on s.id = es.service_id
				where es.client_id = cl.id and lower(s.name) = lower($4)))
		order by lower(cl.name), cl.id limit $6`,
		[tx.firmId, listId, filter.mine ? actor.id : null, filter.service, filter.without, MANY_CLIENTS + 1]
	);
}

/** A list as it fits each of many clients. */
async function fitForMany(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	list: RequestList,
	filter: AskManyFilter
): Promise<(AskManyLine & { lines: LineInHand[] })[]> {
	const meant = await readMeant(tx, actor, list.id, filter);
	const ids = meant.map((one) => one.client_id);
	const known = await readClientsKnown(tx, ids);
	const overrides = await readOverrides(tx, list.id, ids);
	const dues = duesOf(list.lines, { askedOn: localDate(actor.now, firm.calendar), period: null }, firm);
	return meant.map((one) => {
		const { lines, missing } = fitLines(list.lines, known.get(one.client_id)!, overrides.get(one.client_id) ?? {}, dues, firm);
		const out = lines.filter((line) => line.out).length;
		return {
			lines,
			clientId: one.client_id,
			clientName: one.client,
			contactId: one.contact_id,
			contactName: one.contact,
			hasAccess: one.has_access,
			stands:
				one.asked && !filter.again
					? 'asked_already'
					: !one.contact_id
						? 'no_contact'
						: one.mail_problem === 'no_address' || one.mail_problem === 'bounced'
							? one.mail_problem
							: null,
			goes: lines.length - out,
			out,
			missing: missing.length
		};
	});
}

/** What making a list for many clients would do, one line each: how much of it goes, and what stands in the way. */
export async function proposeForMany(tx: Tx, actor: Actor, firm: Firm, listId: string, filter: AskManyFilter): Promise<AskManyLine[]> {
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
	input: { listId: string; filter: AskManyFilter; runId: string; send: boolean }
): Promise<number> {
	requireStaff(actor, 'send_request');
	// the second of two clicks waits here for the first, and finds its drafts
	await tx.rows('select pg_advisory_xact_lock(hashtext($1))', [`ask many ${tx.firmId}`]);
	const before = await tx.first<{ n: number }>('select count(*) n from request_draft where run_id = $1', [input.runId]);
	if (before!.n > 0) return before!.n;
	const firm = await loadFirm(tx);
	const list = await readList(tx, actor, input.listId);
	const proposed = await fitForMany(tx, actor, firm, list, input.filter);
	if (proposed.length > MANY_CLIENTS)
		throw new DomainError('too_many', `At most ${MANY_CLIENTS.toLocaleString('en')} clients at once. Choose fewer by a service, or only yours.`);
	const going = proposed.filter((line) => line.stands === null && line.goes > 0);
	if (going.length === 0) throw new DomainError('invalid', 'Nothing would be made: nobody is left who can be asked by this list.');
	// the statements of each client's own accounts, where the list asks for statements
	if (going[0].lines.some(standsForStatements)) {
		const today = localDate(actor.now, firm.calendar);
		for (const line of going) line.lines = await spreadLines(tx, actor, line.clientId, line.lines, today, firm.clientLanguage);
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
					withInvitation: true,
					values: {},
					lines: line.lines as unknown as DraftContent['lines']
				}
			})),
			{ list: { id: list.id, version: list.version }, runId: input.runId }
		);
	}
	if (input.send)
		await tx.rows(`select enqueue_job('send_drafts', $1)`, [JSON.stringify({ firmId: tx.firmId, runId: input.runId, staffId: actor.id })]);
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
			drafts: await tx.rows<{ id: string }>('select id from request_draft where run_id = $1 order by made_at, id', [runId]),
			actor: person && ({ kind: 'staff', id: staffId, ...person, now, ip: '', userAgent: 'worker' } satisfies Actor)
		};
	});
	if (!actor) return { sent: 0, left: drafts.length };
	let sent = 0;
	for (const { id } of drafts) {
		try {
			await sendDraft(place, firmId, actor, id);
			sent++;
			if (perSecond > 0) await new Promise((resolve) => setTimeout(resolve, 1000 / perSecond));
		} catch (cause) {
			if (!(cause instanceof DomainError) && !(cause instanceof z.ZodError)) throw cause;
			const problem = cause instanceof DomainError ? cause.message : cause.issues[0].message;
			await place.db.inFirm(firmId, (tx) => tx.rows('update request_draft set problem = $2 where id = $1', [id, problem.slice(0, 500)]));
		}
	}
	return { sent, left: drafts.length - sent };
}

/** What is asked of clients, for choosing among it. */
export const ASKED_SHOWN = ['late', 'open', 'handed_in'] as const;
export type AskedShown = (typeof ASKED_SHOWN)[number];

export interface AskedLine {
	id: string;
	kind: ItemKind;
	title: string;
	state: ItemState;
	dueOn: string | null;
	version: number;
	clientId: string;
	clientName: string;
	contactName: string;
	requestTitle: string;
	nextChaseOn: string | null;
}

export const ASKED_PAGE = 300;

/** Items across all clients, due first. @param after how many come before the page @returns a page of them, and one more if there is a next one */
export function readAsked(
	tx: Tx,
	actor: Actor,
	today: string,
	filter: { show: AskedShown; mine: boolean; words: string | null },
	after = 0
): Promise<AskedLine[]> {
	requireStaff(actor, 'look');
	const states = filter.show === 'handed_in' ? ['handed_in', 'answered_no', 'declined'] : ['asked', 'seen', 'started', 'sent_back'];
	return tx.rows(
		`select i.id, i.kind, i.title, i.state, i.due_on as "dueOn", i.version, i.client_id as "clientId", cl.name as "clientName", coalesce(c.name, '') as "contactName", r.title as "requestTitle",
			i.next_chase_on as "nextChaseOn"
		from item i join client cl on cl.id = i.client_id and cl.state = 'active' join request r on r.id = i.request_id left join contact c on c.id = i.contact_id
		where i.firm_id = $1 and i.state = any ($2) and ($3::date is null or i.due_on < $3) and ($4::uuid is null or cl.responsible_id = $4)
			and ($5::text is null or i.title ilike $5 or r.title ilike $5 or cl.name ilike $5)
		order by i.due_on nulls last, lower(cl.name), i.position, i.id offset $7 limit $6`,
		[
			tx.firmId,
			states,
			filter.show === 'late' ? today : null,
			filter.mine ? actor.id : null,
			filter.words ? searchPattern(filter.words)[0] : null,
			ASKED_PAGE + 1,
			after
		]
	);
}

export const MANY_ACTS = ['extend', 'waive', 'accept', 'withdraw', 'plan', 'person'] as const;
export type ManyAct = (typeof MANY_ACTS)[number];

export const manyActSchema = z.object({
	act: z.enum(MANY_ACTS),
	items: z
		.array(z.object({ id: z.uuid(), version: z.number().int() }))
		.min(1, 'Choose at least one line.')
		.max(500, 'At most 500 lines at once.'),
	/** for a later due date */
	dueOn: z.iso.date('Choose a day.').nullable().default(null),
	/** by which plan they are chased from now on */
	plan: planKeySchema.nullable().default(null),
	/** who answers: the first, second or third person of each client */
	rank: z.coerce.number().int().min(1).max(3).nullable().default(null)
});

export interface ManyResult {
	itemId: string;
	title: string;
	clientName: string;
	/** null when it was done */
	problem: string | null;
	/** what undoing needs: the version it has now, and how it was before */
	undo: { version: number; state: ItemState; dueOn: string | null; contactId: string; plan: string | null } | null;
}

/** Does one thing with many items, each in a transaction of its own; what cannot be done says why, the others are done. */
export async function actOnMany(db: Database, firmId: string, actor: Actor, input: z.output<typeof manyActSchema>): Promise<ManyResult[]> {
	requireStaff(actor, 'judge_item');
	const results: ManyResult[] = [];
	for (const { id, version } of input.items) {
		try {
			results.push(await db.inFirm(firmId, (tx) => actOnOne(tx, actor, input, id, version)));
		} catch (cause) {
			if (!(cause instanceof DomainError)) throw cause;
			const item = await db.inFirm(firmId, (tx) =>
				tx.first<{ title: string; client: string }>(
					'select i.title, cl.name client from item i join client cl on cl.id = i.client_id where i.id = $1',
					[id]
				)
			);
			results.push({ itemId: id, title: item?.title ?? '', clientName: item?.client ?? '', problem: cause.message, undo: null });
		}
	}
	return results;
}

async function actOnOne(tx: Tx, actor: Actor, input: z.output<typeof manyActSchema>, id: string, version: number): Promise<ManyResult> {
	const firm = await loadFirm(tx);
	const item = await lockItem(tx, id);
	const client = await tx.first<{ name: string }>('select name from client where id = $1', [item.client_id]);
	if (item.version !== version) throw new DomainError('changed_meanwhile', `Somebody was faster: it is now ${ITEM_STATE_WORDS[item.state]}.`);
	const before = { state: item.state, dueOn: item.due_on, contactId: item.contact_id, plan: await planKeyOf(tx, id) };
	if (input.act === 'extend') {
		if (!input.dueOn || input.dueOn < localDate(actor.now, firm.calendar)) throw new DomainError('invalid', 'Choose a date from today on.');
		if (!isOpen(item.state)) throw new DomainError('changed_meanwhile', `It is ${ITEM_STATE_WORDS[item.state]}: there is nothing to wait for.`);
		await setDue(tx, actor, firm, item, input.dueOn);
	} else if (input.act === 'plan') {
		if (!input.plan) throw new DomainError('invalid', 'Choose a plan.');
		if (!isOpen(item.state)) throw new DomainError('changed_meanwhile', `It is ${ITEM_STATE_WORDS[item.state]}: there is nothing to remind of.`);
		await setPlan(tx, actor, firm, item, input.plan);
	} else if (input.act === 'person') {
		if (!isOpen(item.state)) throw new DomainError('changed_meanwhile', `It is ${ITEM_STATE_WORDS[item.state]}: nobody has to answer.`);
		const person = await tx.first<{ contact_id: string }>(
			'select contact_id from client_contact where client_id = $1 order by rank, contact_id offset $2 limit 1',
			[item.client_id, (input.rank ?? 1) - 1]
		);
		if (!person) throw new DomainError('invalid', 'This client has no such person.');
		await changeItemPerson(tx, actor, { itemId: id, version, contactId: person.contact_id });
	} else if (input.act === 'accept') {
		if (item.kind === 'letter') throw new DomainError('invalid', 'A letter is finished by countersigning it.');
		await moveItem(tx, actor, firm, item, 'accept');
	} else {
		if (!itemStateAfter(item.state, 'waive', 'firm')) throw new DomainError('changed_meanwhile', `It is ${ITEM_STATE_WORDS[item.state]} already.`);
		if (item.kind === 'letter') await tx.rows(`update letter set state = 'withdrawn' where item_id = $1 and state in ('sent', 'signed')`, [item.id]);
		await moveItem(tx, actor, firm, item, 'waive');
		if (input.act === 'withdraw')
			// a request of which nothing is left is withdrawn as a whole: what has not left the house stays there
			await tx.rows(
				`update request set withdrawn_at = $2 where id = $1 and withdrawn_at is null and not exists (select from item where request_id = $1 and state <> 'waived')`,
				[item.request_id, actor.now]
			);
	}
	const now = await tx.first<{ version: number }>('select version from item where id = $1', [id]);
	return {
		itemId: id,
		title: item.title,
		clientName: client?.name ?? '',
		problem: null,
		// a letter that was withdrawn cannot be signed any more
		undo: item.kind === 'letter' && input.act !== 'extend' ? null : { version: now!.version, ...before }
	};
}

async function planKeyOf(tx: Tx, itemId: string): Promise<string | null> {
	return (await tx.first<{ plan: string | null }>('select chase_plan plan from item where id = $1', [itemId]))!.plan;
}

/** Has an item chased by another plan. What has gone out counts: only steps after today are left. */
async function setPlan(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	item: { id: string; title: string; client_id: string; contact_id: string; request_id: string },
	plan: string | null
): Promise<void> {
	await tx.rows('update item set chase_plan = $2, chased_through = greatest(chased_through, $3), version = version + 1 where id = $1', [
		item.id,
		plan,
		localDate(actor.now, firm.calendar)
	]);
	await refreshChaseDays(tx, [item.id], firm);
	await recordEvent(tx, actor, {
		verb: 'item_plan_changed',
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, plan: planOf(firm, plan).name }
	});
}

async function setDue(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	item: { id: string; title: string; client_id: string; contact_id: string; request_id: string; due_on: string | null },
	dueOn: string | null
): Promise<void> {
	await tx.rows('update item set due_on = $2, chased_through = $3, version = version + 1 where id = $1', [
		item.id,
		dueOn,
		localDate(actor.now, firm.calendar)
	]);
	await refreshChaseDays(tx, [item.id], firm);
	const words = (day: string | null) => (day ? dateWords('en', day) : 'no date');
	await recordEvent(tx, actor, {
		verb: 'item_due_moved',
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, from: words(item.due_on), to: words(dueOn) }
	});
}

export const undoSchema = z
	.array(
		z.object({
			itemId: z.uuid(),
			version: z.number().int(),
			state: z.string(),
			dueOn: z.iso.date().nullable(),
			contactId: z.uuid(),
			plan: planKeySchema.nullable()
		})
	)
	.min(1)
	.max(500);

/**
 * Takes back what was done with many items, for each that nobody has changed since.
 * @returns how many were taken back
 */
export async function undoMany(db: Database, firmId: string, actor: Actor, undo: z.output<typeof undoSchema>): Promise<number> {
	requireStaff(actor, 'judge_item');
	let count = 0;
	for (const one of undo)
		count += await db.inFirm(firmId, async (tx) => {
			const firm = await loadFirm(tx);
			const item = await lockItem(tx, one.itemId);
			if (item.version !== one.version) return 0;
			if (item.state === one.state) {
				if (item.contact_id !== one.contactId)
					await changeItemPerson(tx, actor, { itemId: item.id, version: item.version, contactId: one.contactId });
				else if ((await planKeyOf(tx, item.id)) !== one.plan) await setPlan(tx, actor, firm, item, one.plan);
				else await setDue(tx, actor, firm, item, one.dueOn);
				return 1;
			}
			if (!itemStateAfter(item.state, 'reopen', 'firm')) return 0;
			await moveItem(tx, actor, firm, item, 'reopen');
			// what had come in before is there again, to be looked at
			if (one.state === 'handed_in' || one.state === 'answered_no') await tx.rows('update item set state = $2 where id = $1', [item.id, one.state]);
			await tx.rows('update request set withdrawn_at = null where id = $1', [item.request_id]);
			await refreshChaseDays(tx, [item.id], firm);
			return 1;
		});
	return count;
}
