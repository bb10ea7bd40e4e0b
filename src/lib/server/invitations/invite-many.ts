import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { nextInvitationChase } from '$lib/core/invitations/invitation-chasing';
import { invitationExpiry, invitationStateAt, type InvitationState } from '$lib/core/invitations/invitation-states';
import type { MessageState } from '$lib/core/messages/message-states';
import { personValues } from '$lib/core/letters/merge-fields';
import { mayText, type Reachable } from '$lib/core/messages/ways';
import { longText, oneLine } from '$lib/core/people/plain-fields';
import { requireStaff, type Actor } from '../actor';
import { recordEvents } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { planMessages, type PlannedMessage } from '../outbox/plan-message';
import { fillInvitationWords, requireFillable } from './invitation-words';
import { textMessageBodySchema } from './invite';
import type { Tx } from '../platform/db/database';
import { newToken } from '../platform/tokens';

const flag = z.union([z.literal('1').transform(() => true), z.literal('').transform(() => false)]).catch(false);

/** Who of those without access is meant. */
export const inviteFilterSchema = z.object({
	/** only clients that the person looks after */
	mine: flag,
	/** only the first person of each client */
	first: flag,
	/** also those who were invited and have not come in */
	again: flag,
	/** only clients with this service */
	service: z.uuid().nullable().catch(null),
	/** only people who came with this list */
	list: z.uuid().nullable().catch(null)
});
export type InviteFilter = z.infer<typeof inviteFilterSchema>;

export const inviteManySchema = z.object({
	subject: oneLine('a subject', 160),
	body: longText('the words of the message', 4000),
	idempotencyKey: z.uuid(),
	textBody: textMessageBodySchema
});

interface Invitee {
	contactId: string;
	name: string;
	email: string;
	phone: string | null;
	textProblem: Reachable['textProblem'];
	clientId: string;
	clientName: string;
	responsible: string;
}

/**
 * Everybody whom a filter means, each once, with why they would get an invitation or not. A person of several
 * businesses is invited for the first by name.
 */
const MEANT = `with meant as materialized (
	select distinct on (c.id) c.id contact_id, c.name, c.email::text email, c.password_hash is not null has_access, c.mail_problem, c.phone, c.text_problem, c.suspended_at, cl.id client_id, cl.name client_name, s.name responsible,
		exists (select from invitation i where i.contact_id = c.id and i.waits and i.expires_at > $2) invited
	from contact c join client_contact cc on cc.contact_id = c.id join client cl on cl.id = cc.client_id and cl.state = 'active' join staff s on s.id = cl.responsible_id
	where c.firm_id = $1 and ($3::uuid is null or cl.responsible_id = $3) and (not $4::boolean or cc.rank = 1)
		and ($5::uuid is null or exists (select from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null where es.client_id = cl.id and es.service_id = $5))
		and ($6::uuid is null or exists (select from client_import_trace t where t.import_id = $6 and t.kind = 'contact' and t.contact_id = c.id))
	order by c.id, lower(cl.name), cl.id
), sorted as (
	select *, case when has_access then 'has_access' when suspended_at is not null then 'suspended' when mail_problem = 'no_address' then 'no_address'
		when mail_problem = 'bounced' then 'bounced' when invited and not $7::boolean then 'invited' else 'gets_it' end outcome from meant
)`;

const meantValues = (tx: Tx, actor: Actor, filter: InviteFilter) => [
	tx.firmId,
	actor.now,
	filter.mine ? actor.id : null,
	filter.first,
	filter.service,
	filter.list,
	filter.again
];

export interface InviteSummary {
	getsIt: number;
	/** of those who get it, how many could get a text message too */
	mayText: number;
	noAddress: number;
	/** one of them, where mending begins */
	firstWithout: string | null;
	bounced: number;
	suspended: number;
	invited: number;
	hasAccess: number;
	/** the first of those who get it, by client */
	sample: { name: string; clientName: string }[];
}

/** What inviting those whom a filter means would do. */
export async function summariseInvites(tx: Tx, actor: Actor, filter: InviteFilter): Promise<InviteSummary> {
	requireStaff(actor, 'invite');
	const row = await tx.first<InviteSummary>(
		`${MEANT} select count(*) filter (where outcome = 'gets_it') "getsIt", count(*) filter (where outcome = 'gets_it' and phone is not null and text_problem is null) "mayText", count(*) filter (where outcome = 'no_address') "noAddress",
			(array_agg(contact_id order by lower(client_name)) filter (where outcome = 'no_address'))[1] "firstWithout",
			count(*) filter (where outcome = 'bounced') bounced, count(*) filter (where outcome = 'suspended') suspended,
			count(*) filter (where outcome = 'invited') invited, count(*) filter (where outcome = 'has_access') "hasAccess",
			coalesce((select json_agg(s) from (select name, client_name "clientName" from sorted where outcome = 'gets_it' order by lower(client_name), name limit 8) s), '[]') sample
		from sorted`,
		meantValues(tx, actor, filter)
	);
	return row!;
}

/**
 * Invites everybody whom a filter means, in one transaction; the messages leave so many a second. The same once-key
 * is one run, however often it is sent.
 * @param perSecond messages that may leave in a second; 0 for no limit
 * @returns the run's id
 * @throws DomainError invalid if nobody would get it, unfilled_fields
 */
export async function inviteMany(
	tx: Tx,
	actor: Actor,
	input: z.infer<typeof inviteManySchema> & { filter: InviteFilter },
	perSecond: number
): Promise<string> {
	requireStaff(actor, 'invite');
	requireFillable(input);
	// the second of two clicks waits here for the first, and finds its run
	await tx.rows('select pg_advisory_xact_lock(hashtext($1))', [`invitation run ${tx.firmId}`]);
	if (await tx.first('select 1 from invitation_run where id = $1', [input.idempotencyKey])) return input.idempotencyKey;
	const invitees = await tx.rows<Invitee>(
		`${MEANT} select contact_id "contactId", name, email, phone, text_problem as "textProblem", client_id "clientId", client_name "clientName", responsible from sorted where outcome = 'gets_it' order by lower(client_name), contact_id`,
		meantValues(tx, actor, input.filter)
	);
	if (invitees.length === 0) throw new DomainError('invalid', 'Nobody would get it. Choose others, or put the addresses in first.');
	const firm = await loadFirm(tx);
	const expiresAt = invitationExpiry(actor.now);
	const chase = nextInvitationChase({ sentAt: actor.now, expiresAt, chased: 0 }, firm.calendar, firm.invitationSteps);
	await tx.rows('insert into invitation_run (id, firm_id, subject, body, begun_by_id, begun_at, invited) values ($1, $2, $3, $4, $5, $6, $7)', [
		input.idempotencyKey,
		tx.firmId,
		input.subject,
		input.body,
		actor.id,
		actor.now,
		invitees.length
	]);
	const invited = invitees.map((invitee) => {
		const words = fillInvitationWords(
			{ subject: input.subject, body: input.body, textBody: input.textBody },
			personValues({
				clientName: invitee.clientName,
				contactName: invitee.name,
				firmName: firm.name,
				responsible: invitee.responsible
			})
		);
		const id = randomUUID();
		const about = { kind: 'invitation' as const, clientId: invitee.clientId };
		const mail: PlannedMessage = {
			...about,
			idempotencyKey: `invitation ${input.idempotencyKey} ${invitee.contactId}`,
			to: { address: invitee.email, contactId: invitee.contactId },
			content: {
				subject: words.subject,
				body: words.body,
				signedBy: actor.name,
				clientName: invitee.clientName,
				invitationId: id
			}
		};
		const text: PlannedMessage | null =
			words.textBody && mayText(invitee)
				? {
						...about,
						channel: 'text',
						idempotencyKey: `${mail.idempotencyKey} text`,
						to: { address: invitee.phone!, contactId: invitee.contactId },
						content: { body: words.textBody, clientName: invitee.clientName, invitationId: id }
					}
				: null;
		return { id, contact: invitee.contactId, client: invitee.clientId, token: newToken().hash.toString('hex'), mail, text };
	});
	await tx.rows(`update invitation i set replaced_at = $1 from unnest($2::uuid[]) as r (contact) where i.contact_id = r.contact and i.waits`, [
		actor.now,
		invited.map((one) => one.contact)
	]);
	const mails = await planMessages(
		tx,
		actor,
		invited.map((one) => one.mail),
		perSecond
	);
	const rows = invited.map(({ id, contact, client, token }, index) => ({ id, contact, client, token, message: mails[index]!.id }));
	await tx.rows(
		`insert into invitation (id, firm_id, contact_id, client_id, message_id, token_hash, sent_by_id, sent_at, expires_at, next_chase_on, run_id)
		select id, $1, contact, client, message, decode(token, 'hex'), $5, $4, $6, $7, $3::uuid
		from jsonb_to_recordset($2) as r (id uuid, message uuid, contact uuid, client uuid, token text)`,
		[tx.firmId, JSON.stringify(rows), input.idempotencyKey, actor.now, actor.id, expiresAt, chase?.on ?? null]
	);
	await planMessages(
		tx,
		actor,
		invited.flatMap((one) => one.text ?? []),
		perSecond
	);
	await recordEvents(
		tx,
		actor,
		invitees.map((invitee) => ({
			verb: 'invitation_sent' as const,
			clientId: invitee.clientId,
			contactId: invitee.contactId,
			details: { contact: invitee.name, email: invitee.email }
		}))
	);
	return input.idempotencyKey;
}

export interface RunRow {
	contactName: string;
	clientId: string;
	clientName: string;
	email: string;
	messageState: MessageState;
	reason: string | null;
	deliveredAt: string | null;
	openedAt: string | null;
	state: InvitationState;
}
export interface InvitationRun {
	id: string;
	subject: string;
	begunBy: string;
	begunAt: string;
	invited: number;
	/** how many of the messages are through, whatever became of them */
	through: number;
	delivered: number;
	opened: number;
	takenUp: number;
	troubled: number;
}

const RUN = `select r.id, r.subject, s.name as "begunBy", r.begun_at as "begunAt", r.invited,
	count(*) filter (where m.state not in ('planned', 'sending')) through, count(m.delivered_at) delivered, count(i.opened_at) opened, count(i.taken_up_at) as "takenUp",
	count(*) filter (where m.state in ('failed', 'unclear', 'held_back')) troubled
	from invitation_run r join staff s on s.id = r.begun_by_id join invitation i on i.run_id = r.id join message m on m.id = i.message_id`;

/** The runs of a firm, the newest first. */
export async function readRuns(tx: Tx, actor: Actor): Promise<InvitationRun[]> {
	requireStaff(actor, 'invite');
	return tx.rows<InvitationRun>(`${RUN} where r.firm_id = $1 group by r.id, s.name order by r.begun_at desc limit 10`, [tx.firmId]);
}

/** A run and a page of its lines: those in trouble first, then by client. @throws DomainError not_found */
export async function readRun(
	tx: Tx,
	actor: Actor,
	runId: string,
	page: { from: number; limit: number }
): Promise<{ run: InvitationRun; lines: RunRow[] }> {
	requireStaff(actor, 'invite');
	const run = await tx.first<InvitationRun>(`${RUN} where r.id = $1 group by r.id, s.name`, [runId]);
	if (!run) throw new DomainError('not_found', 'There is no such sending.');
	const lines = await tx.rows<
		Omit<RunRow, 'state'> & { expiresAt: string; takenUpAt: string | null; withdrawnAt: string | null; replacedAt: string | null }
	>(
		`select c.name as "contactName", i.client_id as "clientId", cl.name as "clientName", m.to_address email, m.state as "messageState", m.reason, m.delivered_at as "deliveredAt",
			i.opened_at as "openedAt", i.expires_at as "expiresAt", i.taken_up_at as "takenUpAt", i.withdrawn_at as "withdrawnAt", i.replaced_at as "replacedAt"
		from invitation i join message m on m.id = i.message_id join contact c on c.id = i.contact_id join client cl on cl.id = i.client_id
		where i.run_id = $1 order by m.state not in ('failed', 'unclear', 'held_back'), lower(cl.name), i.id offset $2 limit $3`,
		[runId, page.from, page.limit]
	);
	return { run, lines: lines.map((line) => ({ ...line, state: invitationStateAt(line, actor.now) })) };
}
