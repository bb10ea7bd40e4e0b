import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { addBusinessDays, addDays, localDate, type IsoDate } from '$lib/core/calendar/firm-calendar';
import type { Chase } from '$lib/core/chasing/forecast';
import { CALL_HOLDS_DAYS, HOLD_MOST_DAYS } from '$lib/core/chasing/hold';
import { DomainError } from '$lib/core/errors/domain-error';
import { dateWords } from '$lib/words/dates';
import { machine, requireStaff, type Actor } from '../actor';
import { recordEvent, recordEvents } from '../audit/record-event';
import type { Firm } from '../firms/firm';
import { planMessages } from '../outbox/plan-message';
import type { Tx } from '../platform/db/database';
import { endHold, setHold } from './holds';
import { refreshChaseDays } from './refresh-schedule';

/** What a reminder is about, as far as calls need it. */
interface CalledItem {
	id: string;
	client_id: string;
	client_name: string;
	title: string;
}

/**
 * Gives the calls that steps of this day ask for to the firm, and tells the partners where a step says so: one of each for each client.
 * Until a call is noted nothing else reminds its person, for three business days at most.
 */
export async function planCalls(
	tx: Tx,
	firm: Firm,
	person: { id: string; name: string; items: readonly CalledItem[] },
	chase: Chase,
	now: string
): Promise<void> {
	const named = new Set(chase.itemIds);
	const wanted = (by: 'call' | 'partner') => {
		const ids = new Set(chase.because.filter((one) => one.by === by).map(({ itemId }) => itemId));
		const clients = new Set(person.items.filter(({ id }) => ids.has(id)).map(({ client_id }) => client_id));
		return [...clients].map((clientId) => {
			const items = person.items.filter((item) => item.client_id === clientId && named.has(item.id));
			return { id: randomUUID(), clientId, clientName: items[0].client_name, items, forPartner: by === 'partner' };
		});
	};
	const all = [...wanted('call'), ...wanted('partner')];
	if (all.length === 0) return;
	// of what was asked for before nothing is open any more: this is a call of its own
	await tx.rows(
		`delete from chase_call k where k.contact_id = $1 and k.done_at is null
			and not exists (select from item i where i.id = any (k.item_ids) and i.contact_id = $1 and i.phase = 'open')`,
		[person.id]
	);
	const made = await tx.rows<{ id: string }>(
		`insert into chase_call (id, firm_id, client_id, contact_id, for_partner, item_ids, waits_from, made_at)
		select c.id, $1, c.client_id, $2, c.for_partner, c.item_ids, $3, $4
		from jsonb_to_recordset($5) as c (id uuid, client_id uuid, for_partner boolean, item_ids uuid[])
		on conflict (client_id, contact_id, for_partner) where done_at is null
			do update set item_ids = array(select distinct unnest(chase_call.item_ids || excluded.item_ids))
		returning id`,
		[
			tx.firmId,
			person.id,
			chase.localDay,
			now,
			JSON.stringify(
				all.map((one) => ({ id: one.id, client_id: one.clientId, for_partner: one.forPartner, item_ids: one.items.map(({ id }) => id) }))
			)
		]
	);
	const isNew = new Set(made.map(({ id }) => id));
	const fresh = all.filter(({ id }) => isNew.has(id));
	await recordEvents(
		tx,
		machine(now),
		fresh.map((one) => ({
			verb: one.forPartner ? ('partner_told' as const) : ('call_wanted' as const),
			clientId: one.clientId,
			contactId: person.id,
			details: { contact: person.name, count: one.items.length }
		}))
	);
	for (const one of fresh.filter(({ forPartner }) => forPartner)) {
		const partners = await tx.rows<{ id: string; email: string }>('select id, email from partners_for($1)', [one.clientId]);
		await planMessages(
			tx,
			machine(now),
			partners.map((partner) => ({
				kind: 'partner_told' as const,
				idempotencyKey: `partner ${one.id} ${partner.id}`,
				to: { address: partner.email, staffId: partner.id },
				clientId: one.clientId,
				content: { clientName: one.clientName, contactName: person.name, callId: one.id, titles: one.items.slice(0, 12).map(({ title }) => title) }
			}))
		);
	}
	if (chase.holdsUntil) await setHold(tx, machine(now), firm, { contactId: person.id }, { until: chase.holdsUntil, why: 'called' });
}

/** A call that waits, or what a partner is told, with all that helps to make it. */
export interface CallToMake {
	id: string;
	forPartner: boolean;
	clientId: string;
	clientName: string;
	contactId: string;
	contactName: string;
	phone: string | null;
	email: string | null;
	responsible: string;
	madeAt: string;
	waitsFrom: IsoDate;
	tries: number;
	/** what was asked of them and is open still */
	items: { id: string; title: string; dueOn: IsoDate | null; chasesSent: number }[];
	lastSeenAt: string | null;
	/** the last words of theirs */
	lastWords: { words: string; at: string } | null;
	/** how earlier calls went, the last first */
	before: { outcome: string; note: string; promisedUntil: IsoDate | null; at: string; by: string }[];
}

/** A call or what a partner is told, while it waits. @throws DomainError not_found once it is noted */
export async function readCall(tx: Tx, actor: Actor, id: string): Promise<CallToMake> {
	requireStaff(actor, 'look');
	const call = await tx.first<CallToMake>(
		`select k.id, k.for_partner "forPartner", k.client_id "clientId", cl.name "clientName", k.contact_id "contactId", c.name "contactName", c.phone, c.email::text, s.name responsible,
			k.made_at "madeAt", k.waits_from "waitsFrom", k.tries, c.last_seen_at "lastSeenAt",
			(select coalesce(json_agg(json_build_object('id', i.id, 'title', i.title, 'dueOn', i.due_on, 'chasesSent', i.chases_sent) order by i.due_on nulls last, i.position, i.id), '[]')
				from item i where i.client_id = k.client_id and i.contact_id = k.contact_id and i.phase = 'open') items,
			(select json_build_object('words', m.words, 'at', to_iso(m.written_at)) from remark m where m.client_id = k.client_id and m.contact_id = k.contact_id order by m.number desc limit 1) "lastWords",
			(select coalesce(json_agg(json_build_object('outcome', o.outcome, 'note', o.note, 'promisedUntil', o.promised_until, 'at', to_iso(o.done_at), 'by', d.name) order by o.done_at desc), '[]')
				from (select * from chase_call o where o.contact_id = k.contact_id and o.client_id = k.client_id and o.done_at is not null order by o.done_at desc limit 3) o join staff d on d.id = o.done_by_id) before
		from chase_call k join client cl on cl.id = k.client_id join staff s on s.id = cl.responsible_id join contact c on c.id = k.contact_id
		where k.id = $1 and k.done_at is null`,
		[id]
	);
	if (!call) throw new DomainError('not_found', 'Somebody has noted this call by now.');
	return call;
}

/** How a call went. */
export const CALL_OUTCOMES = ['reached', 'promised', 'not_reached', 'refused', 'seen'] as const;
const OUTCOME_WORDS: Record<(typeof CALL_OUTCOMES)[number], string> = {
	reached: 'reached',
	promised: 'promised',
	not_reached: 'not reached',
	refused: 'will not do it',
	seen: 'seen'
};

/** The form in which it is noted how a call went. @param today the day on which it is filled in */
export const callNoteSchema = (today: IsoDate) =>
	z
		.object({
			outcome: z.enum(CALL_OUTCOMES, 'Choose how it went.'),
			note: z.string().trim().max(1000, 'Please keep it to 1,000 characters.').default(''),
			until: z
				.union([z.literal('').transform(() => null), z.iso.date('Please choose a day.')])
				.nullish()
				.transform((day) => day ?? null)
		})
		.superRefine(({ outcome, until }, context) => {
			const wrong = (message: string) => context.addIssue({ code: 'custom', path: ['until'], message });
			if (outcome !== 'promised') return;
			if (!until) wrong('Until when did they promise it?');
			else if (until < today) wrong('This day has passed.');
			else if (until > addDays(today, HOLD_MOST_DAYS)) wrong('At most a year ahead.');
		});

/**
 * Notes how a call went. Once somebody was reached, reminders go on with the step that comes next; after a promise they wait until the
 * business day after it; where nobody was reached the call waits for the next business day; of what somebody will not do nobody reminds
 * them any more.
 * @throws DomainError not_found once it is noted, invalid for an outcome that does not fit
 */
export async function noteCall(tx: Tx, actor: Actor, firm: Firm, id: string, input: z.output<ReturnType<typeof callNoteSchema>>): Promise<void> {
	requireStaff(actor, 'judge_item');
	// the person first, as the worker does: neither waits for the other in turn
	await tx.rows('select 1 from contact where id = (select contact_id from chase_call where id = $1) for update', [id]);
	await tx.rows('select 1 from chase_call where id = $1 for update', [id]);
	const call = await readCall(tx, actor, id);
	if (call.forPartner !== (input.outcome === 'seen')) throw new DomainError('invalid', 'Choose how it went.', { outcome: 'Choose how it went.' });
	const today = localDate(actor.now, firm.calendar);
	const of = { contactId: call.contactId };
	await recordEvent(tx, actor, {
		verb: call.forPartner ? 'partner_has_seen' : 'call_noted',
		clientId: call.clientId,
		contactId: call.contactId,
		details: {
			contact: call.contactName,
			outcome: `${OUTCOME_WORDS[input.outcome]}${input.outcome === 'promised' ? ` until ${dateWords(firm.locale, input.until!)}` : ''}`,
			note: input.note ? `: “${input.note}”` : ''
		}
	});
	if (input.outcome === 'not_reached') {
		await tx.rows('update chase_call set tries = tries + 1, waits_from = $2, note = $3 where id = $1', [
			id,
			addBusinessDays(today, 1, firm.calendar),
			input.note
		]);
		await setHold(tx, actor, firm, of, { until: addBusinessDays(today, CALL_HOLDS_DAYS, firm.calendar), why: 'called' });
		return;
	}
	await tx.rows('update chase_call set outcome = $2, note = $3, promised_until = $4, done_at = $5, done_by_id = $6 where id = $1', [
		id,
		input.outcome,
		input.note,
		input.outcome === 'promised' ? input.until : null,
		actor.now,
		actor.id
	]);
	if (call.forPartner) return;
	await endHold(tx, actor, firm, call.contactId, 'called');
	if (input.outcome === 'promised')
		await setHold(tx, actor, firm, of, {
			until: addBusinessDays(input.until!, 1, firm.calendar),
			why: 'promised',
			reason: input.note.slice(0, 300)
		});
	if (input.outcome === 'refused') {
		const ids = call.items.map((item) => item.id);
		await tx.rows(`update item set chase_plan = 'none', chase_plan_from = 'call', version = version + 1 where id = any ($1)`, [ids]);
		await refreshChaseDays(tx, ids, firm);
	}
}
