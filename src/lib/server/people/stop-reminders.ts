import { DomainError } from '$lib/core/errors/domain-error';
import { machine, requireContact, requireStaff, type Actor } from '../actor';
import { recordEvent, recordOfOneself, recordOfPerson } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { RECIPIENT_NAME } from '../outbox/recipient-name';
import { firmOfMessage } from '../platform/db/all-firms';
import type { Database, Tx } from '../platform/db/database';

/** What the page behind the link in a reminder shows: whose it is, in whose language, and whether reminders are stopped; null if it leads nowhere. */
export async function readStopPage(db: Database, messageId: string): Promise<{ firmName: string; locale: string; stopped: boolean } | null> {
	const firmId = await firmOfMessage(db, messageId);
	if (!firmId) return null;
	return db.inFirm(firmId, async (tx) => {
		const reader = await tx.first<{ locale: string; stopped: boolean }>(
			`select c.locale, c.mail_problem is not distinct from 'opted_out' stopped from message m join contact c on c.id = m.contact_id where m.id = $1`,
			[messageId]
		);
		return { firmName: (await loadFirm(tx)).name, locale: reader?.locale ?? 'en', stopped: reader?.stopped ?? false };
	});
}

/** Stops reminders for the person a message went to. Doing it twice changes nothing. */
export async function stopReminders(db: Database, from: Actor, messageId: string): Promise<void> {
	const firmId = await firmOfMessage(db, messageId);
	if (!firmId) return;
	await db.inFirm(firmId, async (tx) => {
		const row = await tx.first<{ id: string; name: string; client_id: string | null }>(
			`update contact c set mail_problem = 'opted_out', mail_problem_detail = 'stopped by the link in a reminder',
				stopped_how = 'link', stopped_at = $2, stop_seen_at = null
			from message m where m.id = $1 and c.id = m.contact_id and c.mail_problem is null
			returning c.id, c.name, (select client_id from client_contact where contact_id = c.id order by rank limit 1) client_id`,
			[messageId, from.now]
		);
		if (row)
			await recordEvent(
				tx,
				{ ...from, kind: 'contact', id: row.id, name: row.name },
				{ verb: 'reminders_stopped', contactId: row.id, clientId: row.client_id }
			);
	});
}

/** Lets reminders come again that somebody has stopped by themselves; an address that does not work stays as it is. */
export async function startReminders(tx: Tx, from: Actor, contactId: string): Promise<void> {
	const row = await tx.first<{ name: string; client_id: string | null }>(
		`update contact c set mail_problem = null, mail_problem_detail = null, stopped_how = null, stopped_at = null, stop_seen_at = null
		where id = $1 and mail_problem = 'opted_out'
		returning c.name, (select client_id from client_contact where contact_id = c.id order by rank limit 1) client_id`,
		[contactId]
	);
	if (row)
		await recordEvent(
			tx,
			{ ...from, kind: 'contact', id: contactId, name: row.name },
			{ verb: 'reminders_started', contactId, clientId: row.client_id }
		);
}

/** The same by the link in a reminder. */
export async function startRemindersOf(db: Database, from: Actor, messageId: string): Promise<void> {
	const firmId = await firmOfMessage(db, messageId);
	if (!firmId) return;
	await db.inFirm(firmId, async (tx) => {
		const row = await tx.first<{ contact_id: string | null }>('select contact_id from message where id = $1', [messageId]);
		if (row?.contact_id) await startReminders(tx, from, row.contact_id);
	});
}

/** A contact stops being reminded, signed in. Twice changes nothing; an address that does not work stays as it is. */
export async function stopOwnReminders(tx: Tx, actor: Actor): Promise<void> {
	requireContact(actor);
	const stopped = await tx.first(
		`update contact set mail_problem = 'opted_out', mail_problem_detail = 'stopped on their page', stopped_how = 'page', stopped_at = $2, stop_seen_at = null
		where id = $1 and mail_problem is null returning id`,
		[actor.id, actor.now]
	);
	if (stopped) await recordOfOneself(tx, actor, { verb: 'reminders_stopped' });
}

/**
 * Takes in that a mail service reports a message as unwanted by its reader (RFC 5965): nobody reminds them by mail any more, until they let
 * reminders come again themselves. Letters and codes go on. The same report twice changes nothing.
 */
export async function takeInComplaint(tx: Tx, now: string, messageId: string): Promise<void> {
	const message = await tx.first<{ subject: string | null; contact_id: string | null; client_id: string | null; recipient_name: string }>(
		`update message m set unwanted_at = $2 where m.id = $1 and m.unwanted_at is null and m.channel = 'email'
		returning m.subject, m.contact_id, m.client_id, ${RECIPIENT_NAME}`,
		[messageId, now]
	);
	if (!message) return;
	if (message.contact_id)
		await tx.rows(
			`update contact c set mail_problem = 'opted_out', mail_problem_detail = 'their mail service reported a mail as unwanted',
				stopped_how = 'complaint', stopped_at = $2, stop_seen_at = null
			from message m where m.id = $1 and c.id = m.contact_id and c.email = m.to_address::citext
				and (c.mail_problem is null or (c.mail_problem = 'opted_out' and c.stopped_how is distinct from 'complaint'))`,
			[messageId, now]
		);
	await recordEvent(tx, machine(now), {
		verb: 'mail_unwanted',
		clientId: message.client_id,
		contactId: message.contact_id,
		messageId,
		details: { subject: message.subject, to: message.recipient_name }
	});
}

/** Notes that somebody of the firm has seen that a person wants no more reminders, so that it leaves Rounds. */
export async function markStopSeen(tx: Tx, actor: Actor, contactId: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const row = await tx.first<{ name: string }>(
		`update contact set stop_seen_at = $2 where id = $1 and mail_problem = 'opted_out' and stop_seen_at is null returning name`,
		[contactId, actor.now]
	);
	if (!row) throw new DomainError('changed_meanwhile', 'Somebody has seen this by now, or they let reminders come again.');
	await recordOfPerson(tx, actor, contactId, { verb: 'stop_seen', details: { contact: row.name } });
}
