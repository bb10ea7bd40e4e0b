import { addToInstant, compareInstants } from '$lib/core/calendar/firm-calendar';
import { mayMessageMove, messageStatesBefore, type MessageKind, type MessageState } from '$lib/core/messages/message-states';
import type { Channel } from '$lib/core/messages/ways';
import { machine } from '../actor';
import { recordEvent } from '../audit/record-event';
import { messageContentSchema } from '../outbox/message-content';
import { RECIPIENT_NAME } from '../outbox/recipient-name';
import { firmOfMessage } from '../platform/db/all-firms';
import type { Database, Tx } from '../platform/db/database';
import { takeInComplaint } from '../people/stop-reminders';
import type { DeliveryReport, MailReport } from '../platform/mail/bounce-receiver';
import type { MailAnswer } from '../platform/mail/mailer';
import { TROUBLE_WORDS, type MailboxTrouble } from '../platform/mail/status-code';
import { enqueue } from '../platform/queue';
import type { MessageRow, SendingPlace } from './send-message';
import { reachesDevices } from './tell-devices';

/** Hours after which a message that no server took is given up: a reminder of yesterday says what today's says better. */
export const GIVE_UP_HOURS = 30;
/** Minutes until the next try, by how many there were; afterwards every half hour. */
const RETRY_MINUTES = [1, 2, 5, 10, 20];

export async function holdBack(tx: Tx, row: MessageRow, now: string, reason: string): Promise<null> {
	const subject = messageContentSchema.parse(row.content).subject ?? row.kind.replaceAll('_', ' ');
	await tx.rows(`update message set state = 'held_back', reason = $2, settled_at = $3 where id = $1`, [row.id, reason, now]);
	await recordEvent(tx, machine(now), {
		verb: 'message_held_back',
		clientId: row.client_id,
		contactId: row.contact_id,
		messageId: row.id,
		details: { subject, to: row.recipient_name, reason }
	});
	return null;
}

export async function settle(place: SendingPlace, tx: Tx, messageId: string, answer: MailAnswer): Promise<'done' | { at: string }> {
	const now = place.clock.now();
	const row = await tx.first<{
		state: MessageState;
		subject: string | null;
		to_address: string;
		contact_id: string | null;
		client_id: string | null;
		request_id: string | null;
		tries: number;
		planned_at: string;
		kind: MessageKind;
		recipient_name: string;
		told: boolean;
	}>(
		`select m.state, m.subject, m.to_address, m.contact_id, m.client_id, m.request_id, m.tries, m.planned_at, m.kind, coalesce(c.name, s.name) recipient_name,
			exists (select from told_device d where coalesce(d.staff_id, d.contact_id) = coalesce(m.staff_id, m.contact_id)) told
		from message m left join contact c on c.id = m.contact_id left join staff s on s.id = m.staff_id where m.id = $1 for update of m`,
		[messageId]
	);
	if (!row || !mayMessageMove(row.state, 'sent')) return 'done';
	const details = { subject: row.subject, to: row.recipient_name, kind: row.kind };
	const about = { clientId: row.client_id, contactId: row.contact_id, requestId: row.request_id, messageId };
	switch (answer.outcome) {
		case 'sent':
			await tx.rows(
				`update message m set state = 'sent', sent_at = $2, settled_at = $2, reason = null,
					-- in a practice workspace everything arrives at once
					delivered_at = case when (select practice_of_id from firm f where f.id = m.firm_id) is not null then $2::timestamptz else delivered_at end
				where id = $1`,
				[messageId, now]
			);
			await recordEvent(tx, machine(now), { verb: 'message_sent', ...about, details });
			if (row.told && reachesDevices(row.kind)) await enqueue(tx, 'tell_devices', { firmId: tx.firmId, messageId });
			return 'done';
		case 'refused':
			await failMessage(
				tx,
				messageId,
				now,
				answer.trouble ? `${answer.reason}: ${TROUBLE_WORDS[answer.trouble]}` : answer.reason,
				answer.trouble ?? 'address'
			);
			return 'done';
		case 'unclear':
			await setUnclear(place, tx, messageId);
			return 'done';
		case 'try_later':
			// given up as unclear in the meantime: a person has it now
			if (!mayMessageMove(row.state, 'planned')) return 'done';
			if (compareInstants(now, addToInstant(row.planned_at, { hours: GIVE_UP_HOURS })) >= 0) {
				await failMessage(tx, messageId, now, `it could not be handed over for ${GIVE_UP_HOURS} hours: ${answer.reason}`, 'server');
				return 'done';
			}
			await tx.rows(`update message set state = 'planned', reason = $2 where id = $1`, [messageId, answer.reason]);
			return { at: addToInstant(now, { minutes: RETRY_MINUTES[row.tries - 1] ?? 30 }) };
	}
}

/** What made a message fail: its address, what its server says of the mailbox, or that no server took it. */
export type FailedFor = 'address' | MailboxTrouble | 'server';

/**
 * Marks a message as failed; where its address is to blame, everything to that address or number stops until a person has mended it. To a
 * mailbox that is full the next reminder goes: it may have been emptied.
 */
export async function failMessage(tx: Tx, messageId: string, now: string, reason: string, failedFor: FailedFor = 'address'): Promise<void> {
	const row = await tx.first<{
		subject: string | null;
		contact_id: string | null;
		client_id: string | null;
		to_address: string;
		recipient_name: string;
		channel: Channel;
	}>(
		`update message m set state = 'failed', reason = $2, settled_at = $3, failed_for = $5
		where m.id = $1 and m.state = any ($4)
		returning m.subject, m.contact_id, m.client_id, m.to_address, m.channel,
			${RECIPIENT_NAME}`,
		[messageId, reason, now, messageStatesBefore('failed'), failedFor]
	);
	if (!row) return;
	if ((failedFor === 'address' || failedFor === 'moved') && row.contact_id)
		await tx.rows(
			row.channel === 'text'
				? `update contact set text_problem = 'failed', text_problem_detail = $3 where id = $1 and phone = $2 and text_problem is null`
				: `update contact set mail_problem = 'bounced', mail_problem_detail = $3 where id = $1 and email = $2::citext`,
			[row.contact_id, row.to_address, reason]
		);
	await recordEvent(tx, machine(now), {
		verb: 'message_failed',
		clientId: row.client_id,
		contactId: row.contact_id,
		messageId,
		details: { subject: row.subject, to: row.recipient_name, reason }
	});
}

export async function setUnclear(place: Pick<SendingPlace, 'clock'>, tx: Tx, messageId: string): Promise<void> {
	const now = place.clock.now();
	const row = await tx.first<{ subject: string | null; contact_id: string | null; client_id: string | null; recipient_name: string }>(
		`update message m set state = 'unclear', reason = 'the sending was cut off', settled_at = $2 where m.id = $1 and m.state = any ($3)
		returning m.subject, m.contact_id, m.client_id, ${RECIPIENT_NAME}`,
		[messageId, now, messageStatesBefore('unclear')]
	);
	if (row)
		await recordEvent(tx, machine(now), {
			verb: 'message_unclear',
			clientId: row.client_id,
			contactId: row.contact_id,
			messageId,
			details: { subject: row.subject, to: row.recipient_name }
		});
}

/** Takes in what a mail server or a text gateway reports about one of our messages: that it arrived, never will, or is unwanted. */
export async function takeInReport(
	db: Database,
	now: string,
	report: MailReport | Pick<DeliveryReport, 'messageId' | 'action' | 'reason'>
): Promise<void> {
	const firmId = await firmOfMessage(db, report.messageId);
	if (!firmId) return;
	if (report.action === 'unwanted') await db.inFirm(firmId, (tx) => takeInComplaint(tx, now, report.messageId));
	else if (report.action === 'delivered')
		await db.inFirm(firmId, (tx) =>
			// of what nobody knew about, it is known now
			tx.rows(
				`update message set delivered_at = $2, state = case when state = 'unclear' then 'sent' else state end, sent_at = coalesce(sent_at, $2),
					reason = case when state = 'unclear' then null else reason end
				where id = $1 and state = any ('{sending,sent,unclear}') and delivered_at is null`,
				[report.messageId, now]
			)
		);
	else await db.inFirm(firmId, (tx) => failMessage(tx, report.messageId, now, report.reason, ('trouble' in report && report.trouble) || 'address'));
}
