import { SMTPServer } from 'smtp-server';
import { simpleParser } from 'mailparser';
import { errorForLog, log } from '../log';
import { TROUBLE_WORDS, troubleOf, type MailboxTrouble } from './status-code';

/** What a mail server reports about one message (RFC 3464). */
export interface DeliveryReport {
	/** failed for good, or taken by the server of the recipient */
	action: 'failed' | 'delivered';
	/** the id of our message, from the address the report was sent to */
	messageId: string;
	/** what to say of it, with the enhanced status code by RFC 3463, such as 5.1.1 */
	reason: string;
	/** what the server says of the mailbox */
	trouble?: MailboxTrouble;
}

/** What a mail service reports of one message because its reader said that they do not want it (RFC 5965). */
export interface Complaint {
	action: 'unwanted';
	messageId: string;
}

export type MailReport = DeliveryReport | Complaint;

const MAX_BYTES = 1024 * 1024;

/** The address bounces of a message come back to (variable envelope return path). */
export function bounceAddress(messageId: string, domain: string): string {
	return `bounce+${messageId}@${domain}`;
}

/** Reads a delivery status notification (RFC 3464); null if it says neither that the message arrived nor that it never will. */
export function readReport(recipient: string, raw: string): DeliveryReport | null {
	const to = /^bounce\+([0-9a-f-]{36})@/i.exec(recipient);
	if (!to) return null;
	const action = /^Action:\s*(failed|delivered)\s*$/im.exec(raw)?.[1].toLowerCase() as DeliveryReport['action'] | undefined;
	const status = /^Status:\s*([25]\.\d{1,3}\.\d{1,3})/im.exec(raw)?.[1];
	if (!action || !status || (action === 'failed') !== status.startsWith('5')) return null;
	const trouble = troubleOf(status);
	const reason =
		action === 'delivered'
			? `delivered (${status})`
			: trouble
				? `it came back, for ${TROUBLE_WORDS[trouble]} (${status})`
				: `it came back as undeliverable (${status})`;
	return { messageId: to[1].toLowerCase(), action, reason, ...(trouble ? { trouble } : {}) };
}

/** Where mail services that report what is unwanted are told to write (the second by RFC 2142). */
const COMPLAINTS = /^(?:complaints|abuse)@/i;
/** Kinds of such reports (RFC 5965, 7.3; RFC 6430 for the last) after which nobody is to be reminded. That something is no spam, or failed a check, is none. */
const UNWANTED = /^Feedback-Type:\s*(?:abuse|fraud|opt-out|opt-out-list)\s*$/im;
const OURS = /bounce\+([0-9a-f]{8}-[0-9a-f-]{27})@|<([0-9a-f]{8}-[0-9a-f-]{27})@humble-lantern\./i;

/**
 * Reads a report that a message is unwanted (RFC 5965); null if it is none, or names no message of ours. Many services take the reader's
 * address out of it, so the message is known by where it came from, or by its id in what they send back of it.
 */
export async function readComplaint(raw: string): Promise<Complaint | null> {
	const mail = await simpleParser(raw, { skipTextToHtml: true, skipImageLinks: true });
	const said = mail.attachments.find(({ contentType }) => contentType === 'message/feedback-report')?.content.toString('utf8');
	if (!said || !UNWANTED.test(said)) return null;
	const found = OURS.exec(said) ?? OURS.exec(mail.attachments.map(({ content }) => content.toString('utf8')).join('\n')) ?? OURS.exec(raw);
	return found && { action: 'unwanted', messageId: (found[1] ?? found[2]).toLowerCase() };
}

/** Receives what mail servers report, by SMTP on loopback, and hands each on; everything else is refused. */
export async function receiveReports(port: number, onReport: (report: MailReport) => Promise<void>): Promise<{ close(): Promise<void> }> {
	const server = new SMTPServer({
		authOptional: true,
		disabledCommands: ['STARTTLS', 'AUTH'],
		hideSTARTTLS: true,
		size: MAX_BYTES,
		onRcptTo({ address }, _session, done) {
			if (/^bounce\+[0-9a-f-]{36}@/i.test(address) || COMPLAINTS.test(address)) return done();
			done(Object.assign(new Error('5.1.1 only reports about mail are received here'), { responseCode: 550 }));
		},
		onData(stream, session, done) {
			const chunks: Buffer[] = [];
			stream.on('data', (chunk: Buffer) => chunks.push(chunk));
			stream.on('end', async () => {
				if (stream.sizeExceeded) return done(Object.assign(new Error('5.3.4 too large'), { responseCode: 552 }));
				try {
					const raw = Buffer.concat(chunks).toString('utf8');
					for (const { address } of session.envelope.rcptTo) {
						const report = COMPLAINTS.test(address) ? await readComplaint(raw) : readReport(address, raw);
						if (report) await onReport(report);
					}
					done();
				} catch (error) {
					log.error(errorForLog(error), 'bounce report not taken in');
					done(Object.assign(new Error('4.3.0 try again later'), { responseCode: 451 }));
				}
			});
		}
	});
	server.on('error', (error) => log.error(errorForLog(error), 'bounce receiver'));
	await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve));
	return { close: () => new Promise((resolve) => server.close(() => resolve())) };
}
