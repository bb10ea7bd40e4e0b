import { SMTPServer } from 'smtp-server';
import { errorForLog, log } from '../log';
import { isMailboxFull } from './status-code';

/** What a mail server reports about one message (RFC 3464). */
export interface DeliveryReport {
	/** failed for good, or taken by the server of the recipient */
	action: 'failed' | 'delivered';
	/** the id of our message, from the address the report was sent to */
	messageId: string;
	/** what to say of it, with the enhanced status code by RFC 3463, such as 5.1.1 */
	reason: string;
	/** failed only because the mailbox is full: the address is right */
	full?: boolean;
}

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
	const full = isMailboxFull(status);
	const reason =
		action === 'delivered'
			? `delivered (${status})`
			: full
				? `it came back, for the mailbox is full (${status})`
				: `it came back as undeliverable (${status})`;
	return { messageId: to[1].toLowerCase(), action, reason, ...(full ? { full } : {}) };
}

/** Receives delivery reports by SMTP on loopback and hands each on; everything else is refused. */
export async function receiveReports(port: number, onReport: (report: DeliveryReport) => Promise<void>): Promise<{ close(): Promise<void> }> {
	const server = new SMTPServer({
		authOptional: true,
		disabledCommands: ['STARTTLS', 'AUTH'],
		hideSTARTTLS: true,
		size: MAX_BYTES,
		onRcptTo({ address }, _session, done) {
			if (/^bounce\+[0-9a-f-]{36}@/i.test(address)) return done();
			done(Object.assign(new Error('5.1.1 only bounce reports are received here'), { responseCode: 550 }));
		},
		onData(stream, session, done) {
			const chunks: Buffer[] = [];
			stream.on('data', (chunk: Buffer) => chunks.push(chunk));
			stream.on('end', async () => {
				if (stream.sizeExceeded) return done(Object.assign(new Error('5.3.4 too large'), { responseCode: 552 }));
				try {
					const raw = Buffer.concat(chunks).toString('utf8');
					for (const { address } of session.envelope.rcptTo) {
						const report = readReport(address, raw);
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
