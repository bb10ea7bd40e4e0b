import { randomUUID } from 'node:crypto';
import { addBusinessDays, localDate } from '$lib/core/calendar/firm-calendar';
import { chasePlanOf, isPlanOf, nextChaseStep } from '$lib/core/chasing/chase-plan';
import type { HoldingPlan } from '$lib/core/chasing/plan-origin';
import { DomainError } from '$lib/core/errors/domain-error';
import { fillText } from '$lib/core/letters/merge-fields';
import { announcedBy } from '$lib/core/messages/ways';
import { picturesOfSpec } from '$lib/core/requests/files-beside';
import { plainItemText } from '$lib/core/requests/item-text';
import type { DraftContent, NewRequest } from '$lib/core/requests/request-list';
import type { Period } from '$lib/core/schedules/due-rule';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { readPlansFor, readPlansOfQuestionnaires } from '../chasing/which-plan';
import { lockDraft } from '../drafts/drafts';
import { loadFirm, type Firm } from '../firms/firm';
import { pngAddress, readPicture } from '../firms/pictures';
import { beginInvitation } from '../invitations/invite';
import { HAS_WAY_IN } from '../people/way-in';
import { serverKindOf } from '../item-kinds/item-kinds';
import { announceLater } from '../outbox/announce-later';
import { takePapersToTell } from '../outbox/papers-to-tell';
import { byWays, planMessages } from '../outbox/plan-message';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { keepRest } from './wait-for-letters';
import { isAnsweredByEach, requireReady, valuesFor, type Person, type PreparedLines } from './ready-to-send';

/**
 * Sends a request: renders its letters, then writes everything and plans the message in one transaction.
 * The same once-key sends once, however often it is clicked.
 * @returns the request's id
 * @throws DomainError invalid, unfilled_fields, not_found
 */
export async function sendRequest(
	place: { db: Database; pdf: PdfWork; papers: PaperStore },
	firmId: string,
	actor: Actor,
	input: NewRequest,
	how: SendingOptions = {}
): Promise<string> {
	requireStaff(actor, 'send_request');
	const { done, tell = 'now', lettersFirst } = how;
	const known = await place.db.inFirm(firmId, async (tx) => {
		const sent = await tx.first<{ id: string }>('select id from request where firm_id = $1 and idempotency_key = $2', [firmId, input.idempotencyKey]);
		if (sent) return { sent: sent.id };
		const ready = await requireReady(tx, actor, await loadFirm(tx), input);
		return { ready, logo: await readPicture(tx, ready.firm.logoVersion) };
	});
	if (known.sent !== undefined) return known.sent;
	const { ready, logo } = known;
	const { firm, people } = ready;
	const letters = ready.input.lines.filter((line) => line.kind === 'letter');
	const rest = letters.length > 0 && letters.length < ready.input.lines.length ? lettersFirst : undefined;
	input = rest ? { ...ready.input, lines: letters } : ready.input;
	const prepared: PreparedLines = new Map();
	try {
		const by = { place, firm, clientId: input.clientId, to: people[0], logo: logo && pngAddress(logo), now: actor.now };
		for (const [index, line] of input.lines.entries()) {
			const { prepare } = serverKindOf(line.kind);
			if (prepare) prepared.set(index, await prepare(line, by));
		}
		return await place.db.inFirm(firmId, async (tx) => {
			await lockDraft(tx, input.idempotencyKey);
			const id = await writeRequest(tx, actor, firm, people, input, prepared, { tell, recurring: null });
			if (rest) await keepRest(tx, actor, { requestId: id, clientId: input.clientId, list: input.list, content: rest });
			await done?.(tx, id);
			return id;
		});
	} catch (error) {
		for (const [index, what] of prepared) await serverKindOf(input.lines[index].kind).discard?.(what, place);
		if ((error as { constraint?: string }).constraint === 'request_firm_id_idempotency_key_key')
			return place.db.inFirm(
				firmId,
				async (tx) => (await tx.first<{ id: string }>('select id from request where idempotency_key = $1', [input.idempotencyKey]))!.id
			);
		throw error;
	}
}

/** How a request goes. */
export interface SendingOptions {
	/** in the same transaction */
	done?: (tx: Tx, requestId: string) => Promise<void>;
	/** see `RequestOrigin` */
	tell?: RequestOrigin['tell'];
	/** its letters go alone, and the rest waits until they are signed by all: the whole of what was written, of which the rest is kept */
	lettersFirst?: DraftContent;
}

/** How people are told of a request, and the standing request it comes from. */
export interface RequestOrigin {
	/** at once if nothing was announced to them today, or with everything else of a day in one message */
	tell: 'now' | 'together';
	recurring: { id: string; period: Period | null } | null;
}

/** Writes a request with its items, and plans who is told of it, in the caller's transaction. @returns its id */
export async function writeRequest(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	people: readonly Person[],
	input: NewRequest,
	prepared: PreparedLines,
	origin: RequestOrigin = { tell: 'now', recurring: null }
): Promise<string> {
	const today = localDate(actor.now, firm.calendar);
	const requestId = randomUUID();
	await tx.rows(
		`insert into request (id, firm_id, client_id, contact_id, title, message, idempotency_key, created_by_id, sent_at, list_id, list_version, quiet, recurring_id, period_kind, period_from, period_to)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16)`,
		[
			requestId,
			tx.firmId,
			input.clientId,
			input.contactId,
			input.title,
			input.message,
			input.idempotencyKey,
			actor.id,
			actor.now,
			input.list?.id ?? null,
			input.list?.version ?? null,
			input.quiet,
			origin.recurring?.id ?? null,
			origin.recurring?.period?.kind ?? null,
			origin.recurring?.period?.from ?? null,
			origin.recurring?.period?.to ?? null
		]
	);
	const plans = await readPlansFor(tx, {
		clientId: input.clientId,
		contactIds: people.map(({ id }) => id),
		listId: input.list?.id ?? null,
		chosen: input.chasePlan ?? null
	});
	const ofQuestionnaires = await readPlansOfQuestionnaires(
		tx,
		input.lines.flatMap((line) => (line.kind === 'questionnaire' && line.spec.from ? [line.spec.from.id] : []))
	);
	/** What was chosen for the line; else for the whole request; else as its questionnaire has it, or whom it asks. */
	const holdingOf = (line: NewRequest['lines'][number], contactId: string): HoldingPlan => {
		// the plan of a line of a list that is older than its removal is not there any more
		if (line.chasePlan && isPlanOf(firm, line.chasePlan)) return { key: line.chasePlan, from: 'line', named: null };
		const asked = plans.get(contactId)!;
		const template = line.kind === 'questionnaire' && line.spec.from ? ofQuestionnaires.get(line.spec.from.id) : undefined;
		return asked.from === 'request' ? asked : (template ?? asked);
	};
	// whoever was heard from today counts as silent from today on, as somebody does who is asked today
	const fresh = { askedOn: today, heardOn: null, chasedThrough: today, chasedTurn: 0 };
	const items = people.flatMap((person, place) => {
		return input.lines
			.flatMap((line, index) => (place === 0 || isAnsweredByEach(line, input) ? [{ line, index }] : []))
			.map(({ line, index }) => ({ line, index, holding: holdingOf(line, person.id) }))
			.map(({ line, index, holding }) => ({
				id: randomUUID(),
				shared: !isAnsweredByEach(line, input),
				contact_id: person.id,
				position: index,
				kind: line.kind,
				heading: line.heading,
				title: line.title,
				why: line.text ? plainItemText(line.text).slice(0, 2000) || line.why : line.why,
				text: line.text ?? null,
				required: line.required,
				due_on: line.dueOn,
				spec: line.spec,
				// who may read the words may see the pictures in them
				attachments: [...new Set([...line.attachments, ...picturesOfSpec(line.spec)])],
				accepts_itself: line.acceptsItself,
				account_id: line.account?.id,
				period_from: line.account?.from,
				period_to: line.account?.to,
				next_chase_on: nextChaseStep({ dueOn: line.dueOn, ...fresh }, chasePlanOf(firm, holding.key), firm.calendar)?.on ?? null,
				chase_plan: holding.key,
				chase_plan_from: holding.from,
				chase_plan_named: holding.named
			}));
	});
	await tx.rows(
		`insert into item (id, firm_id, client_id, request_id, contact_id, position, kind, heading, title, why, text, required, due_on, spec, attachments, accepts_itself, account_id, period_from, period_to,
			state, state_at, asked_on, chased_through, next_chase_on, chase_plan, chase_plan_from, chase_plan_named, own)
		select i.id, $1, $2, $3, i.contact_id, i.position, i.kind, i.heading, i.title, i.why, i.text, i.required, i.due_on, i.spec, i.attachments, i.accepts_itself, i.account_id, i.period_from, i.period_to,
			'asked', $4, $5, $5, i.next_chase_on, i.chase_plan, i.chase_plan_from, i.chase_plan_named, not i.shared
		from jsonb_to_recordset($6) as i (id uuid, contact_id uuid, position int, kind text, heading text, title text, why text, text jsonb, required boolean, due_on date,
			spec jsonb, attachments uuid[], accepts_itself boolean, account_id uuid, period_from date, period_to date, next_chase_on date, shared boolean, chase_plan text, chase_plan_from text, chase_plan_named text)`,
		[tx.firmId, input.clientId, requestId, actor.now, today, JSON.stringify(items)]
	);
	// each line has an item of the first person
	for (const [index, line] of input.lines.entries())
		await serverKindOf(line.kind).afterWriting?.(tx, { id: items[index].id, clientId: input.clientId }, line, prepared.get(index), actor.now);
	if (origin.tell === 'together' && !input.quiet) {
		// whoever has no way in yet is not told by what gathers the news of a day: their invitation goes with it
		const invited = input.withInvitation ? await withoutWayIn(tx, people, actor.now) : [];
		await announceLater(
			tx,
			[requestId],
			people.flatMap(({ id }) => (invited.includes(id) ? [] : [id]))
		);
		for (const person of people.filter(({ id }) => invited.includes(id)))
			await announce(tx, actor, firm, person, input, requestId, items, { inSendingHours: true });
	} else for (const person of people) await announce(tx, actor, firm, person, input, requestId, items);
	await recordEvent(tx, actor, {
		verb: input.quiet ? 'request_put_up' : 'request_sent',
		clientId: input.clientId,
		contactId: input.contactId,
		requestId,
		details: { title: input.title, count: items.length, contact: people.map((person) => person.contactName).join(', ') }
	});
	return requestId;
}

/**
 * Tells one person of a request, with the invitation in the same message where they have no access yet.
 * @param how `about` is what of it, where they are told of its parts one after another; `inSendingHours` where nobody pressed for it just now
 */
export async function announce(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	person: Person,
	input: Pick<NewRequest, 'clientId' | 'contactId' | 'title' | 'message' | 'quiet' | 'tellNow' | 'withInvitation'>,
	requestId: string,
	items: readonly { id: string; contact_id: string; shared: boolean }[],
	how: { about?: string; inSendingHours?: boolean } = {}
): Promise<void> {
	if (actor.kind !== 'machine') requireStaff(actor, 'send_request');
	if (input.quiet) return;
	const { about = '', inSendingHours = false } = how;
	const today = localDate(actor.now, firm.calendar);
	const contact = await tx.first<{ id: string; has_access: boolean; open_invitation: string | null; last_told_on: string | null }>(
		`select c.id, c.password_hash is not null has_access, c.last_told_on,
			(select id from invitation where contact_id = c.id and waits and expires_at > $2 limit 1) open_invitation
		from contact c where c.id = $1 for update`,
		[person.id, actor.now]
	);
	const body = fillText(input.message, await valuesFor(tx, actor, firm, input.clientId, person, input.message));
	const plan = async (invitationId?: string) => {
		// whoever has no way into the portal finds no papers there
		const papers = needsNoWayIn ? [] : await takePapersToTell(tx, person.id, actor.now);
		return (
			await planMessages(
				tx,
				actor,
				byWays(
					announcedBy(person),
					{ contactId: person.id, email: person.contactEmail, phone: person.phone },
					{
						kind: 'request',
						idempotencyKey: `request ${requestId}${about}${person.id === input.contactId ? '' : ` ${person.id}`}`,
						clientId: input.clientId,
						requestId,
						content: {
							subject: input.title,
							body,
							signedBy: actor.name,
							clientName: person.clientName,
							...(invitationId ? { invitationId } : {}),
							...(inSendingHours ? { inSendingHours } : {}),
							...(papers.length > 0 ? { paperIds: papers.map(({ id }) => id) } : {})
						},
						items: theirs.map((itemId) => ({ itemId, step: null }))
					}
				)
			)
		)[0];
	};
	const { has_access, open_invitation, last_told_on } = contact!;
	const theirs = items.filter((item) => item.shared || item.contact_id === person.id).map(({ id }) => id);
	// letters that are signed by a link of their own need no way into the portal
	const byLink = await tx.first<{ n: number }>(
		`select count(*) n from letter_signer where item_id = any ($1::uuid[]) and contact_id = $2 and signs_by <> 'portal'`,
		[theirs, person.id]
	);
	const needsNoWayIn = !has_access && !open_invitation && byLink!.n === theirs.length;
	if (!has_access && !open_invitation && !needsNoWayIn && !input.withInvitation)
		throw new DomainError('invalid', `${person.contactName} has no access yet. Send the invitation along with this request, or invite them first.`, {
			withInvitation: 'Needed: there is no other way in.'
		});
	// whatever is announced to a person on one day is one message
	if (last_told_on === today && !input.tellNow && (has_access || open_invitation || needsNoWayIn))
		return announceLater(tx, [requestId], [person.id], input.message);
	if (has_access || needsNoWayIn || !input.withInvitation) {
		await plan();
		return;
	}
	requireStaff(actor, 'send_request');
	const begun = await beginInvitation(tx, actor, contact!, input.clientId, plan);
	await recordEvent(tx, actor, {
		verb: begun?.again ? 'invitation_sent_again' : 'invitation_sent',
		clientId: input.clientId,
		contactId: person.id,
		details: { contact: person.contactName, email: person.contactEmail }
	});
}

/** Which of these people can neither sign in nor take up an invitation. */
async function withoutWayIn(tx: Tx, people: readonly Person[], now: string): Promise<string[]> {
	const rows = await tx.rows<{ id: string }>(`select c.id from contact c where c.id = any ($1) and not ${HAS_WAY_IN('$2')}`, [
		people.map(({ id }) => id),
		now
	]);
	return rows.map(({ id }) => id);
}

/** The due date that lies some business days after today, for lines of a ready-made list. */
export function dueAfterBusinessDays(firm: Pick<Firm, 'calendar'>, now: string, days: number): string {
	return addBusinessDays(localDate(now, firm.calendar), days, firm.calendar);
}
