import { localDate } from '$lib/core/calendar/firm-calendar';
import { chasePlanOf } from '$lib/core/chasing/chase-plan';
import { DomainError } from '$lib/core/errors/domain-error';
import { draftsActInWords, type DraftOutcome, type DraftsAct } from '$lib/core/requests/many-acts';
import { draftContentSchema, type DraftContent } from '$lib/core/requests/request-list';
import { dateWords } from '$lib/words/dates';
import { requireStaff, type Actor } from '../actor';
import { recordEvent, recordEvents } from '../audit/record-event';
import { loadFirm, type Firm } from '../firms/firm';
import type { Database, Tx } from '../platform/db/database';
import { rehearse } from '../platform/db/rehearse';
import { tryOne } from '../platform/db/try-one';
import type { Foreseen, ManyResult } from './act-on-many';
import { GONE_DRAFT } from '../drafts/drafts';

/** A change of drafts: sending them and throwing them away is not one. */
export type DraftsChange = DraftsAct & { act: 'extend' | 'plan' | 'person' };

/** What became of one of many drafts; by its version it is taken back. */
export type DraftResult = ManyResult<{ id: string; version: number }>;

interface Changed extends DraftResult, DraftOutcome {
	clientId: string;
	version: number;
	content: DraftContent;
}

/** Every draft as it is after the change, not yet written, and those that stay as they are, with why. */
async function readChanged(tx: Tx, actor: Actor, firm: Firm, input: DraftsChange): Promise<Changed[]> {
	if (input.act === 'extend' && (!input.dueOn || input.dueOn < localDate(actor.now, firm.calendar)))
		throw new DomainError('invalid', 'Choose a date from today on.', { dueOn: 'Choose a date from today on.' });
	if (input.act === 'plan' && !input.plan) throw new DomainError('invalid', 'Choose a plan.', { plan: 'Choose a plan.' });
	const rows = await tx.rows<{
		id: string;
		version: number;
		title: string;
		lines: number;
		content: unknown;
		clientId: string;
		clientName: string;
		contact: { id: string; name: string } | null;
		nth: { id: string; name: string } | null;
	}>(
		`select d.id, d.version, coalesce(nullif(d.title, ''), 'Untitled request') title, d.lines, d.content, cl.id as "clientId", cl.name as "clientName",
			(select jsonb_build_object('id', c.id, 'name', c.name) from contact c where c.id = (d.content ->> 'contactId')::uuid) contact,
			(select jsonb_build_object('id', c.id, 'name', c.name) from client_contact cc join contact c on c.id = cc.contact_id where cc.client_id = cl.id
				order by cc.rank, cc.contact_id offset $2 limit 1) nth
		from request_draft d join client cl on cl.id = d.client_id where d.id = any ($1) and d.removed_at is null order by d.id for update of d`,
		[input.items.map(({ id }) => id), (input.rank ?? 1) - 1]
	);
	const found = new Map(rows.map((row) => [row.id, row]));
	return input.items.map(({ id, version }) => {
		const row = found.get(id);
		const none = {
			id,
			undo: null,
			version,
			content: draftContentSchema.parse({}),
			clientId: '',
			contactName: null,
			lines: 0,
			quiet: false,
			invited: false,
			later: false
		};
		if (!row) return { ...none, ...GONE_DRAFT, problem: 'It is not there any more.' };
		const content = draftContentSchema.parse(row.content);
		const { title, clientName, clientId, lines } = row;
		const same = { ...none, title, clientName, clientId, lines, content, quiet: content.quiet, contactName: row.contact?.name ?? null };
		if (row.version !== version) return { ...same, problem: 'Somebody has changed it meanwhile. Please look at it again.' };
		if (input.act === 'extend') {
			const after = { ...content, lines: content.lines.map((line) => ({ ...line, dueOn: input.dueOn, dueBy: 'date' })) };
			return { ...same, content: after, problem: null };
		}
		if (input.act === 'plan') return { ...same, content: { ...content, chasePlan: input.plan }, problem: null };
		if (!row.nth) return { ...same, problem: 'This client has no such person.' };
		const { nth } = row;
		return {
			...same,
			content: { ...content, contactId: nth.id, others: content.others.filter((other) => other !== nth.id) },
			contactName: nth.name,
			problem: null
		};
	});
}

/** What changing drafts would do. @throws DomainError invalid */
export function foreseeDraftsChange(db: Database, firmId: string, actor: Actor, input: DraftsChange): Promise<Foreseen> {
	requireStaff(actor, 'send_request');
	return rehearse(db, firmId, async (tx) => {
		const firm = await loadFirm(tx);
		const changed = await changeEach(tx, actor, firm, input);
		const given = { dueOn: input.dueOn, planName: input.plan ? chasePlanOf(firm, input.plan).name : null };
		return {
			items: changed.filter((one) => !one.problem).map(({ id, version }) => ({ id, version })),
			words: draftsActInWords(input.act, changed, given, (date) => dateWords(firm.locale, date)),
			stays: changed.flatMap(({ title, clientName, problem }) => (problem ? [{ title, clientName, problem }] : []))
		};
	});
}

/** What throwing drafts away would do. */
export function foreseeRemoval(actor: Actor, drafts: readonly { id: string; version: number; lines: number }[]): Foreseen {
	requireStaff(actor, 'send_request');
	const outcomes = drafts.map(({ lines }) => ({ lines, contactName: null, quiet: false, invited: false, later: false, problem: null }));
	return {
		items: drafts.map(({ id, version }) => ({ id, version })),
		words: draftsActInWords('remove', outcomes, { dueOn: null, planName: null }, (date) => date),
		stays: []
	};
}

/**
 * Changes many drafts at once: the due date of all their lines, how they are chased, or whom they go to. Each keeps what it held
 * before, by which it is taken back.
 * @throws DomainError invalid
 */
export async function changeDrafts(tx: Tx, actor: Actor, input: DraftsChange): Promise<DraftResult[]> {
	requireStaff(actor, 'send_request');
	const changed = await changeEach(tx, actor, await loadFirm(tx), input);
	return changed.map(({ id, title, clientName, problem, version }) => ({
		id,
		title,
		clientName,
		problem,
		undo: problem ? null : { id, version: version + 1 }
	}));
}

/** Changes each draft by itself; what cannot be changed says why, the others are. */
async function changeEach(tx: Tx, actor: Actor, firm: Firm, input: DraftsChange): Promise<Changed[]> {
	const changed = await readChanged(tx, actor, firm, input);
	const what =
		input.act === 'extend'
			? `due on ${dateWords('en', input.dueOn!)}`
			: input.act === 'plan'
				? `reminders by ${chasePlanOf(firm, input.plan).name}`
				: 'who answers';
	for (const one of changed) {
		if (one.problem) continue;
		const refused = await tryOne(tx, async () => {
			await tx.rows(
				'update request_draft set before = content, content = $2, changed_by_id = $3, changed_at = $4, version = version + 1 where id = $1',
				[one.id, JSON.stringify(one.content), actor.id, actor.now]
			);
			await recordEvent(tx, actor, { verb: 'draft_changed', clientId: one.clientId, details: { title: one.title, what } });
		});
		if (refused) one.problem = refused.message;
	}
	return changed;
}

/**
 * Takes back that drafts were changed or thrown away, for each that nobody has touched since.
 * @returns how many were taken back
 */
export async function undoDrafts(tx: Tx, actor: Actor, undo: readonly { id: string; version: number }[]): Promise<number> {
	requireStaff(actor, 'send_request');
	const back = await tx.rows<{ clientId: string; title: string }>(
		`update request_draft d set content = case when d.removed_at is null then d.before else d.content end, before = case when d.removed_at is null then null else d.before end,
			removed_at = null, version = d.version + 1
		from jsonb_to_recordset($1) as u (id uuid, version int)
		where d.id = u.id and d.version = u.version and (d.removed_at is not null or d.before is not null)
			and not exists (select from request r where r.firm_id = d.firm_id and r.idempotency_key = d.id) returning d.client_id as "clientId", d.title`,
		[JSON.stringify(undo)]
	);
	await recordEvents(
		tx,
		actor,
		back.map((draft) => ({ verb: 'draft_restored', clientId: draft.clientId, details: { title: draft.title || 'Untitled request' } }))
	);
	return back.length;
}
