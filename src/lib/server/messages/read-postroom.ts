import type { MessageKind, MessageState } from '$lib/core/messages/message-states';
import type { Channel } from '$lib/core/messages/ways';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import type { FailedFor } from './settle-message';

export interface PostroomRow {
	id: string;
	kind: MessageKind;
	channel: Channel;
	state: MessageState;
	subject: string | null;
	toName: string;
	toAddress: string;
	clientNames: string | null;
	plannedAt: string;
	sentAt: string | null;
	reason: string | null;
}

const COLUMNS = `m.id, m.kind, m.channel, m.state, m.subject, m.to_address as "toAddress", coalesce(c.name, s.name, 'somebody on a public page') as "toName",
	m.planned_at as "plannedAt", m.sent_at as "sentAt", m.reason,
	coalesce((select name from client where id = m.client_id),
		(select string_agg(distinct cl.name, ', ') from message_item mi join item i on i.id = mi.item_id join client cl on cl.id = i.client_id where mi.message_id = m.id)) as "clientNames"`;
const SOURCE = 'message m left join contact c on c.id = m.contact_id left join staff s on s.id = m.staff_id';

/** A page of every message, newest first; `before` is the last row of the page above. */
export async function readPostroom(
	tx: Tx,
	actor: Actor,
	filter: { state?: MessageState; before?: { plannedAt: string; id: string } },
	limit: number
): Promise<PostroomRow[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select ${COLUMNS} from ${SOURCE}
		where m.firm_id = $1 and ($2::text is null or m.state = $2) and ($3::timestamptz is null or (m.planned_at, m.id) < ($3, $4::uuid))
		order by m.planned_at desc, m.id desc limit $5`,
		[tx.firmId, filter.state ?? null, filter.before?.plannedAt ?? null, filter.before?.id ?? null, limit]
	);
}

export interface PostroomMessage extends PostroomRow {
	bodyHtml: string | null;
	bodyText: string | null;
	messageId: string;
	threadId: string | null;
	sendingAt: string | null;
	contactId: string | null;
	mailProblem: string | null;
	/** what made it fail */ failedFor: FailedFor | null;
	/** when the mail service of its reader reported it as unwanted */ unwantedAt: string | null;
	seenByStaffAt: string | null;
}

/** @throws DomainError not_found */
export async function readMessage(tx: Tx, actor: Actor, id: string): Promise<PostroomMessage> {
	requireStaff(actor, 'look');
	const message = await tx.first<PostroomMessage>(
		`select ${COLUMNS}, m.body_html as "bodyHtml", m.body_text as "bodyText", m.message_id as "messageId", m.thread_id as "threadId",
			m.sending_at as "sendingAt", m.contact_id as "contactId", c.mail_problem as "mailProblem", m.failed_for as "failedFor", m.unwanted_at as "unwantedAt", m.seen_by_staff_at as "seenByStaffAt"
		from ${SOURCE} where m.id = $1`,
		[id]
	);
	if (!message) throw new DomainError('not_found', 'There is no such message.');
	return message;
}

/** Notes that a person has taken note of a failed or unclear message, so that it leaves Rounds. */
export async function markMessageSeen(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const row = await tx.first<{ subject: string | null; client_id: string | null; contact_id: string | null }>(
		`update message set seen_by_staff_at = $2 where id = $1 and state in ('failed', 'unclear') and seen_by_staff_at is null returning subject, client_id, contact_id`,
		[id, actor.now]
	);
	if (!row) throw new DomainError('changed_meanwhile', 'Somebody has seen to this message already.');
	await recordEvent(tx, actor, {
		verb: 'message_seen',
		messageId: id,
		clientId: row.client_id,
		contactId: row.contact_id,
		details: { subject: row.subject }
	});
}
