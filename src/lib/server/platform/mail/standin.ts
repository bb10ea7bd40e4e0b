import { createHash } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { simpleParser, type ParsedMail } from 'mailparser';
import { createTransport, type Transporter } from 'nodemailer';
import { SMTPServer } from 'smtp-server';

export interface MailStandin {
	port: number;
	/** waits until every bounce report under way has been handed over */
	reportsDelivered(): Promise<void>;
	close(): Promise<void>;
}

/**
 * A small mail server for the demo and the tests: speaks SMTP, keeps what it gets as .eml files, and
 * delivers nothing. Addresses whose local part begins with `nobody` are refused with 550, those that begin with `full-mailbox` with 552; those that
 * begin with `moved-away` are taken and then reported back as undeliverable (RFC 3464). What was taken is reported as
 * delivered to whoever asked for that (RFC 3461).
 */
export async function startMailStandin(options: { port: number; folder: string; bouncePort?: number }): Promise<MailStandin> {
	const reports = new Set<Promise<void>>();
	const transport = options.bouncePort
		? createTransport({ host: '127.0.0.1', port: options.bouncePort, secure: false, ignoreTLS: true, pool: true, maxConnections: 2 })
		: null;
	await mkdir(options.folder, { recursive: true });
	const server = new SMTPServer({
		authOptional: true,
		disabledCommands: ['STARTTLS', 'AUTH'],
		hideSTARTTLS: true,
		hideDSN: false,
		onRcptTo({ address }, _session, done) {
			if (/^nobody/i.test(address)) return done(Object.assign(new Error('5.1.1 mailbox does not exist'), { responseCode: 550 }));
			if (/^full-mailbox/i.test(address)) return done(Object.assign(new Error('5.2.2 mailbox full'), { responseCode: 552 }));
			done();
		},
		onData(stream, session, done) {
			const chunks: Buffer[] = [];
			stream.on('data', (chunk: Buffer) => chunks.push(chunk));
			stream.on('end', async () => {
				try {
					const raw = Buffer.concat(chunks);
					const { messageId } = await simpleParser(raw, { skipTextToHtml: true });
					const file = standinFile(options.folder, messageId ?? '');
					await writeFile(`${file}.partial`, raw);
					await rename(`${file}.partial`, file);
					// the server clears the envelope as soon as it has answered
					const sender = session.envelope.mailFrom ? session.envelope.mailFrom.address : '';
					const recipient = session.envelope.rcptTo[0];
					const gone = /^moved-away/i.test(recipient.address);
					// a success is only reported to whoever asked for it (RFC 3461)
					const wanted = JSON.stringify(recipient).includes('SUCCESS');
					done();
					if (transport && (gone || wanted)) {
						const report = sendReport(transport, sender, recipient.address, gone).finally(() => reports.delete(report));
						reports.add(report);
					}
				} catch (error) {
					done(error as Error);
				}
			});
		}
	});
	server.on('error', () => undefined);
	await new Promise<void>((resolve, reject) => {
		server.once('error', reject);
		server.listen(options.port, '127.0.0.1', resolve);
	});
	const address = server.server.address();
	return {
		port: typeof address === 'object' && address ? address.port : options.port,
		reportsDelivered: async () => void (await Promise.all(reports)),
		close: () => {
			transport?.close();
			return new Promise((resolve) => server.close(() => resolve()));
		}
	};
}

async function sendReport(transport: Transporter, to: string, recipient: string, gone: boolean): Promise<void> {
	const boundary = 'report-boundary';
	const raw = [
		'From: Mail Delivery <mailer-daemon@standin.localhost>',
		`To: <${to}>`,
		`Subject: ${gone ? 'Undeliverable' : 'Delivered'}`,
		'MIME-Version: 1.0',
		`Content-Type: multipart/report; report-type=delivery-status; boundary="${boundary}"`,
		'',
		`--${boundary}`,
		'Content-Type: text/plain; charset=us-ascii',
		'',
		gone ? 'Your message could not be delivered.' : 'Your message was delivered.',
		`--${boundary}`,
		'Content-Type: message/delivery-status',
		'',
		'Reporting-MTA: dns; standin.localhost',
		'',
		`Final-Recipient: rfc822; ${recipient}`,
		...(gone
			? ['Action: failed', 'Status: 5.1.6', 'Diagnostic-Code: smtp; 551 the owner of this mailbox has moved away']
			: ['Action: delivered', 'Status: 2.0.0']),
		'',
		`--${boundary}--`,
		''
	].join('\r\n');
	await transport.sendMail({ envelope: { from: '', to }, raw }).catch(() => undefined);
}

function standinFile(folder: string, messageId: string): string {
	const name = createHash('sha256').update(messageId.replace(/[<>]/g, '')).digest('hex');
	return join(folder, `${name}.eml`);
}

/** What the stand-in received under a Message-ID, or null. */
export async function receivedMail(folder: string, messageId: string): Promise<ParsedMail | null> {
	const raw = await readFile(standinFile(folder, messageId)).catch(() => null);
	return raw && simpleParser(raw, { skipTextToHtml: true, skipImageLinks: true });
}

/**
 * Reports a mail that the stand-in received as unwanted, as its reader's mail service would (RFC 5965): without their address.
 * @param to where such reports go, and the port at which they are taken
 */
export async function reportAsUnwanted(received: ParsedMail, to: { port: number; address: string }): Promise<void> {
	const boundary = 'report-boundary';
	const raw = [
		'From: Feedback <feedback@standin.localhost>',
		`To: <${to.address}>`,
		'Subject: A reader does not want this',
		'MIME-Version: 1.0',
		`Content-Type: multipart/report; report-type=feedback-report; boundary="${boundary}"`,
		'',
		`--${boundary}`,
		'Content-Type: text/plain; charset=us-ascii',
		'',
		'The reader of this message has reported it as unwanted.',
		`--${boundary}`,
		'Content-Type: message/feedback-report',
		'',
		'Feedback-Type: abuse',
		'User-Agent: standin/1.0',
		'Version: 1',
		'',
		`--${boundary}`,
		'Content-Type: text/rfc822-headers',
		'',
		`Message-ID: ${received.messageId}`,
		'',
		`--${boundary}--`,
		''
	].join('\r\n');
	const transport = createTransport({ host: '127.0.0.1', port: to.port, secure: false, ignoreTLS: true });
	try {
		await transport.sendMail({ envelope: { from: '', to: to.address }, raw });
	} finally {
		transport.close();
	}
}

/**
 * Answers a mail that the stand-in received, as its reader's mailbox would: to where answers go, with what it answers quoted below.
 * @returns null, or why the server that takes answers refused it
 */
export async function answerAsMailbox(received: ParsedMail, to: { port: number; from: string }, words: string): Promise<string | null> {
	const address = received.replyTo?.value[0]?.address;
	if (!address) return 'Answers to this mail go to the firm’s own address, which no program reads.';
	const transport = createTransport({ host: '127.0.0.1', port: to.port, secure: false, ignoreTLS: true });
	const told = `On ${received.date?.toISOString().slice(0, 16).replace('T', ' at ')}, ${received.from?.text} wrote:`;
	return transport
		.sendMail({
			from: to.from,
			to: address,
			subject: `Re: ${received.subject ?? ''}`,
			inReplyTo: received.messageId,
			references: received.messageId,
			text: `${words}\n\n${told}\n${(received.text ?? '').replace(/^/gm, '> ')}`
		})
		.then(
			() => null,
			(error: { response?: string; message: string }) => error.response ?? error.message
		)
		.finally(() => transport.close());
}
