import { SMTPServer } from 'smtp-server';
import { errorForLog, log } from '../log';

export interface BounceReport {
	/** the id of our message, from the address the report was sent to */
	messageId: string;
	/** enhanced status code by RFC 3463, such as 5.1.1 */
	status: string;
}

const MAX_BYTES = 1024 * 1024;

/** The address bounces of a message come back to (variable envelope return path). */
export function bounceAddress(messageId: string, domain: string): string {
	return `bounce+${messageId}@${domain}`;
}

/** Reads a delivery status notification (RFC 3464); null unless it says that delivery failed for good. */
export function readBounce(recipient: string, raw: string): BounceReport | null {
	const to = /^bounce\+([0-9a-f-]{36})@/i.exec(recipient);
	if (!to) return null;
	const failed = /^Action:\s*failed\s*$/im.test(raw);
	const status = /^Status:\s*(5\.\d{1,3}\.\d{1,3})/im.exec(raw);
	return failed && status ? { messageId: to[1].toLowerCase(), status: status[1] } : null;
}

/** Receives bounce reports by SMTP on loopback and hands each on; everything else is refused. */
export async function receiveBounces(port: number, onBounce: (report: BounceReport) => Promise<void>): Promise<{ close(): Promise<void> }> {
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
						const report = readBounce(address, raw);
						if (report) await onBounce(report);
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
