import { randomUUID } from 'node:crypto';
import { addToInstant, localDate } from '$lib/core/calendar/firm-calendar';
import { isTimeFor, nextTimeFor, type TheirTimes } from '$lib/core/calendar/their-times';
import { fillText, firstName } from '$lib/core/letters/merge-fields';
import { mayMessageMove, MESSAGE_KINDS, type MessageKind, type MessageState } from '$lib/core/messages/message-states';
import type { Channel } from '$lib/core/messages/ways';
import { withBrandOf } from '../firms/brands';
import { loadFirm, type Firm } from '../firms/firm';
import { messageTextInUse } from '../library/message-texts';
import { messageContentSchema, type MessageContent } from '../outbox/message-content';
import type { Clock } from '../platform/clock';
import type { Database, Tx } from '../platform/db/database';
import { isConnectionLost, untilWritten } from '../platform/db/lost-connection';
import type { PaperStore } from '../platform/files/paper-store';
import { bounceAddress } from '../platform/mail/bounce-receiver';
import type { MailAnswer, Mailer, OutgoingMail } from '../platform/mail/mailer';
import type { OutgoingTextMessage, TextMessageGateway } from '../platform/text-messages/text-message-gateway';
import type { MessageToWrite, NamedItem } from './message-kind';
import { replyTo } from './links';
import { MESSAGE_KIND_DEFINITIONS } from './message-kinds';
import { holdBack, settle, setUnclear } from './settle-message';
import { writeMail, writeText } from './write-message';

/** What sending needs from outside. */
export interface SendingPlace {
	db: Database;
	clock: Clock;
	mailer: Mailer;
	/** null where no gateway is configured */
	texts: TextMessageGateway | null;
	papers: PaperStore;
	origin: string;
	secretKey: string;
	bounceDomain: string;
	/** what stands behind the @ of the addresses to which people answer; without it answers go to the firm's own address */
	replyDomain?: string;
	/** plays the past of a practice workspace, at its own time */
	playsPractice?: boolean;
}

export interface MessageRow {
	id: string;
	kind: MessageKind;
	channel: Channel;
	state: MessageState;
	planned_at: string;
	to_address: string;
	content: unknown;
	message_id: string;
	thread_id: string | null;
	client_id: string | null;
	contact_id: string | null;
	recipient_id: string;
	recipient_kind: 'contact' | 'staff' | 'visitor';
	recipient_name: string;
	recipient_locale: string;
	/** the contact's, as it is now; null for somebody of the firm */
	email: string | null;
	has_access: boolean;
	mail_problem: string | null;
	text_problem: string | null;
	phone: string | null;
	suspended: boolean;
	/** when they may be written to besides the firm's hours, as it is now */
	times: TheirTimes | null;
	tries: number;
}
const REMINDERS = MESSAGE_KINDS.filter((kind) => MESSAGE_KIND_DEFINITIONS[kind].reminds);

/**
 * Sends one planned message: marks it `sending` and commits, speaks to the mail server, marks what
 * became of it. May be stopped at any line: a message that was marked `sending` is never sent again
 * by a machine.
 * @returns when to come back, if it could not go yet
 */
export async function sendMessage(place: SendingPlace, firmId: string, messageId: string): Promise<'done' | { at: string }> {
	const attempt = randomUUID();
	const prepared = await place.db
		.inFirm(firmId, (tx) => prepare(place, tx, messageId, attempt))
		.catch(async (error: unknown) => {
			// whether it was marked is not known, that nothing has left is
			if (isConnectionLost(error)) await untilWritten(() => place.db.inFirm(firmId, (tx) => putBack(tx, messageId, attempt)));
			throw error;
		});
	if (prepared === null) return 'done';
	if ('later' in prepared) return { at: prepared.later };
	const answer: MailAnswer = prepared.stays
		? { outcome: 'sent' }
		: 'text' in prepared
			? await place.texts!.send(prepared.text)
			: await place.mailer.send(prepared.mail);
	// what became of it is known now, and would not be later
	return untilWritten(() => place.db.inFirm(firmId, (tx) => settle(place, tx, messageId, answer)));
}

/** What was marked and did not leave is planned as before. */
async function putBack(tx: Tx, messageId: string, attempt: string): Promise<void> {
	await tx.rows(
		`update message set state = 'planned', tries = tries - 1, sending_at = null, sending_since = null, sending_attempt = null
		where id = $1 and state = 'sending' and sending_attempt = $2`,
		[messageId, attempt]
	);
}

/** What is sent; what stays in the building is only marked as sent. */
type Prepared = ({ mail: OutgoingMail } | { text: OutgoingTextMessage }) & { stays: boolean };

async function prepare(place: SendingPlace, tx: Tx, messageId: string, attempt: string): Promise<Prepared | { later: string } | null> {
	const now = place.clock.now();
	const row = await tx.first<MessageRow>(
		`select m.*, coalesce(c.id, s.id, a.id, m.id) recipient_id, case when c.id is not null then 'contact' when s.id is not null then 'staff' else 'visitor' end recipient_kind,
			coalesce(c.name, s.name, '') recipient_name, coalesce(c.locale, a.locale, 'en') recipient_locale,
			c.email::text email, c.password_hash is not null has_access, c.mail_problem, c.text_problem, c.phone, c.times, coalesce(c.suspended_at, s.suspended_at) is not null suspended
		from message m left join contact c on c.id = m.contact_id left join staff s on s.id = m.staff_id
			left join public_answer a on a.id = m.public_answer_id
		where m.id = $1 for update of m`,
		[messageId]
	);
	if (!row) return null;
	if (row.state === 'sending') {
		await setUnclear(place, tx, row.id);
		return null;
	}
	if (!mayMessageMove(row.state, 'sending')) return null;
	const firm = await withBrandOf(tx, await loadFirm(tx), { clientId: row.client_id, contactId: row.contact_id });

	if (row.suspended) return holdBack(tx, row, now, 'the person is suspended');
	// mail and texts of a practice workspace never leave the building, whatever is configured; there they are kept whole
	const stays = firm.isPractice;
	if (stays && !place.playsPractice && (await isBeingFilled(tx))) return { later: addToInstant(now, { minutes: 1 }) };
	const cannot = whyNot(stays, place, row);
	if (cannot) return holdBack(tx, row, now, cannot);
	const kind = MESSAGE_KIND_DEFINITIONS[row.kind];
	if (kind.reminds) {
		if (row.mail_problem === 'opted_out') return holdBack(tx, row, now, 'the person has stopped reminders');
		if (await laterReminder(tx, row)) return holdBack(tx, row, now, 'a later reminder names the same things');
	}
	const content = messageContentSchema.parse(row.content);
	const inSendingHours = content.inSendingHours || (kind.byItself === 'when tried again' ? row.tries > 0 : kind.byItself);
	// what has a last day was placed so that nobody misses it, and what somebody sends goes at once
	const times = row.kind === 'letter_lapses' || content.byHand ? null : row.times;
	if (inSendingHours && !isTimeFor(now, times, firm.calendar)) return { later: nextTimeFor(now, times, firm.calendar) };
	const today = localDate(now, firm.calendar);
	const items = kind.names ? await itemsToName(tx, row, kind.names, today) : [];
	const invited = row.contact_id ? await waitingInvitation(tx, row.contact_id, now) : null;
	const over = await kind.whyNot?.(tx, { messageId: row.id, contactId: row.contact_id, content, items, invited, hasAccess: row.has_access });
	if (over) return holdBack(tx, row, now, over);
	// the person has moved since it was planned, and what is written to them goes along; warnings and codes are for the address they were meant for
	const toAddress = row.channel === 'email' && row.email && kind.address !== 'as planned' ? row.email : row.to_address;
	const message: MessageToWrite = {
		id: row.id,
		content,
		toAddress,
		recipient: { id: row.recipient_id, kind: row.recipient_kind, name: firstName(row.recipient_name), locale: row.recipient_locale },
		items,
		ownWords: await ownWords(tx, firm, row, content, items, today)
	};
	// codes and warnings are for nobody to answer
	const isAnswerable = place.replyDomain !== undefined && row.contact_id !== null && kind.address === 'theirs now';
	const writing = { origin: place.origin, secretKey: place.secretKey, now, answerable: isAnswerable };
	const markSending = (kept: { subject: string; keptText: string; keptHtml: string | null }) =>
		tx.rows(
			`update message set state = 'sending', sending_at = $2, sending_since = clock_timestamp(), tries = tries + 1, subject = $3, body_text = $4, body_html = $5, to_address = $6, sending_attempt = $7
			where id = $1`,
			[row.id, now, kept.subject, kept.keptText, kept.keptHtml, toAddress, attempt]
		);
	if (row.channel === 'text') {
		const written = await writeText(tx, firm, row.kind, message, writing);
		await markSending({ subject: written.subject, keptText: stays ? written.text : written.keptText, keptHtml: null });
		return { stays, text: { reference: row.id, to: row.to_address, words: written.text } };
	}
	const written = await writeMail(tx, firm, row.kind, message, writing);
	await markSending(
		stays
			? { subject: written.subject, keptText: written.text, keptHtml: written.html }
			: { ...written, subject: written.keptSubject ?? written.subject }
	);
	return {
		stays,
		mail: {
			from: { name: firm.name, address: firm.mailFrom },
			returnPath: bounceAddress(row.id, place.bounceDomain),
			replyTo: isAnswerable ? { name: firm.name, address: replyTo(row.id, place.replyDomain!, place.secretKey) } : null,
			to: { name: row.recipient_name, address: toAddress },
			subject: written.subject,
			text: written.text,
			html: written.html,
			messageId: row.message_id,
			inReplyTo: row.thread_id,
			unsubscribeUrl: written.unsubscribeUrl,
			date: new Date(now),
			// whoever waits for somebody to come in wants to know whether the invitation arrived
			reportDelivery: content.invitationId !== undefined,
			attachments: content.attachment ? [{ name: content.attachment.name, content: () => place.papers.read(content.attachment!.key) }] : []
		}
	};
}

/** The firm's own words for what goes out by itself, if a text of the Library is in use for that. */
export async function ownWords(
	tx: Tx,
	firm: Firm,
	row: Pick<MessageRow, 'kind' | 'channel' | 'recipient_locale' | 'recipient_name'>,
	content: MessageContent,
	items: readonly NamedItem[],
	today: string
): Promise<MessageToWrite['ownWords']> {
	const known = MESSAGE_KIND_DEFINITIONS[row.kind].ownWords;
	const kind = row.channel === 'text' ? known?.text : known?.email?.(items, today, content);
	const text = kind && (await messageTextInUse(tx, kind, row.recipient_locale));
	if (!text) return null;
	const values = {
		contact_name: row.recipient_name,
		contact_first_name: firstName(row.recipient_name),
		firm_name: firm.name,
		client_name: content.clientName ?? ''
	};
	return { subject: fillText(text.subject, values), body: fillText(text.body, values) };
}

/** Why a message cannot go the way it was planned for, or null. */
function whyNot(stays: boolean, place: SendingPlace, row: MessageRow): string | null {
	if (row.channel === 'text') {
		if (!place.texts && !stays) return 'no text gateway is set up';
		if (row.text_problem === 'stopped') return 'the person has asked for no more text messages';
		if (row.text_problem === 'failed') return 'text messages to this number did not arrive';
		// a code goes to the phone that was set up for codes, whatever number the firm knows
		return row.contact_id && MESSAGE_KIND_DEFINITIONS[row.kind].address !== 'only theirs' && row.phone !== row.to_address
			? 'the person has another number now'
			: null;
	}
	if (row.mail_problem === 'no_address') return 'the person has no address any more';
	if (MESSAGE_KIND_DEFINITIONS[row.kind].address === 'only theirs' && row.email && row.email.toLowerCase() !== row.to_address.toLowerCase())
		return 'the person has another address now';
	return row.mail_problem === 'bounced' ? 'mail to this address came back' : null;
}

/** The invitation that a person without access has and can take up, or null. */
export async function waitingInvitation(tx: Tx, contactId: string, now: string): Promise<string | null> {
	const row = await tx.first<{ id: string }>(
		`select i.id from invitation i join contact c on c.id = i.contact_id and c.password_hash is null
		where i.contact_id = $1 and i.waits and i.expires_at > $2 order by i.sent_at desc limit 1`,
		[contactId, now]
	);
	return row && row.id;
}

/** While the past of a practice workspace is played, its messages go at the time that is played, and are left alone by the queue. */
async function isBeingFilled(tx: Tx): Promise<boolean> {
	return (await tx.first(`select 1 from firm where id = $1 and practice_state = 'filling'`, [tx.firmId])) !== null;
}

/** Whether a later reminder by the same way is planned or gone: this one could not leave on its day. */
async function laterReminder(tx: Tx, row: MessageRow): Promise<boolean> {
	const later = await tx.first(
		`select 1 from message where contact_id = $1 and channel = $2 and kind = any ($4) and planned_at > $3
			and state in ('planned', 'sending', 'sent', 'unclear') limit 1`,
		[row.contact_id, row.channel, row.planned_at, REMINDERS]
	);
	return later !== null;
}

/**
 * What the message is about, still open and still theirs: for a chase everything open of the person but what they asked time for, for a
 * request what it was planned with, due first.
 */
async function itemsToName(tx: Tx, row: MessageRow, which: 'everything open' | 'what is new', today: string): Promise<NamedItem[]> {
	const everything = which === 'everything open';
	return tx.rows(
		`select i.id, i.title, i.due_on as "dueOn", c.name as "clientName",
			signable_until(i.id) as until
		from item i join client c on c.id = i.client_id and c.state = 'active'
		where i.phase = 'open' and (i.contact_id = $2 ${everything ? '' : 'or not i.own'}) and (i.id in (select item_id from message_item where message_id = $1)
			${everything ? 'or i.asked_time_until is null or i.asked_time_until <= $3' : 'and $3::date is not null'})
		order by i.due_on nulls last, i.position, i.id`,
		[row.id, row.contact_id, today]
	);
}
