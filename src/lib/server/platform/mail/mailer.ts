import { Transform, type Readable } from 'node:stream';
import { createTransport, type SendMailOptions } from 'nodemailer';
import { isLoopback } from '../settings';
import { statusIn, troubleOf, type MailboxTrouble } from './status-code';

export interface OutgoingMail {
	from: { name: string; address: string };
	/** where bounces go: the envelope's sender */
	returnPath: string;
	/** where answers go, if not to the sender */
	replyTo: { name: string; address: string } | null;
	to: { name: string; address: string };
	subject: string;
	text: string;
	html: string;
	/** without angle brackets */
	messageId: string;
	/** Message-ID of the first message of the thread, if this is not it */
	inReplyTo: string | null;
	/** address for one-click unsubscribing (RFC 8058), on messages that have it */
	unsubscribeUrl: string | null;
	date: Date;
	/** asks the receiving server to report when it has taken the message (RFC 3461) */
	reportDelivery: boolean;
	attachments: { name: string; content: () => Readable }[];
}

export type MailAnswer =
	| { outcome: 'sent' }
	/** a 5xx answer: this will never arrive */
	| { outcome: 'refused'; reason: string; /** what the server says of the mailbox */ trouble?: MailboxTrouble }
	/** a 4xx answer, or no server was reached before the message was given over: try again later */
	| { outcome: 'try_later'; reason: string }
	/** the connection broke after the message was given over: nobody knows */
	| { outcome: 'unclear'; reason: string };

export interface Mailer {
	send(mail: OutgoingMail): Promise<MailAnswer>;
	/** Whether the server answers; for the readiness check. */
	reachable(): Promise<boolean>;
	close(): void;
}

/** The key with which outgoing mail is signed (DKIM, RFC 6376). */
export interface DkimKey {
	domain: string;
	selector: string;
	/** PEM */
	privateKey: string;
}

/** A message, and whether all of it was handed over. */
type Mailing = SendMailOptions & { handover: { done: boolean } };

/** A message as the transport takes it. */
function compose(mail: OutgoingMail): SendMailOptions {
	return {
		...(mail.reportDelivery
			? {
					dsn: {
						id: mail.messageId.slice(0, 36),
						return: 'headers' as const,
						notify: ['success', 'failure'] as const,
						recipient: mail.to.address
					}
				}
			: {}),
		from: mail.from,
		to: mail.to,
		...(mail.replyTo ? { replyTo: mail.replyTo } : {}),
		envelope: { from: mail.returnPath, to: mail.to.address },
		subject: mail.subject,
		text: mail.text,
		html: mail.html,
		date: mail.date,
		attachments: mail.attachments.map((a) => ({ filename: a.name, content: a.content() })),
		messageId: `<${mail.messageId}>`,
		...(mail.inReplyTo ? { inReplyTo: `<${mail.inReplyTo}>`, references: `<${mail.inReplyTo}>` } : {}),
		headers: {
			'Auto-Submitted': 'auto-generated',
			...(mail.unsubscribeUrl ? { 'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click' } : {})
		},
		...(mail.unsubscribeUrl ? { list: { unsubscribe: [[mail.unsubscribeUrl]] } } : {})
	};
}

/** How long an answer of the server is waited for. */
export const ANSWER_TIMEOUT_MS = 10 * 60 * 1000;

export interface MailerOptions {
	dkim?: DkimKey;
	/** mail goes over an encrypted connection only (STARTTLS, RFC 3207), except to a server on this machine */
	requireTls?: boolean;
	/** shorter in tests */
	answerTimeoutMs?: number;
}

/** Sends by SMTP, signed if there is a key. */
export function smtpMailer(smtpUrl: string, { dkim, requireTls = true, answerTimeoutMs = ANSWER_TIMEOUT_MS }: MailerOptions = {}): Mailer {
	const transport = createTransport({
		requireTLS: requireTls && !isLoopback(new URL(smtpUrl).hostname),
		...(dkim ? { dkim: { domainName: dkim.domain, keySelector: dkim.selector, privateKey: dkim.privateKey } } : {}),
		url: smtpUrl,
		pool: true,
		maxConnections: 4,
		connectionTimeout: 10_000,
		greetingTimeout: 10_000,
		// a server that scans may take its time after the end of the message (RFC 5321 4.5.3.2.6)
		socketTimeout: answerTimeoutMs,
		disableFileAccess: true,
		disableUrlAccess: true
	});
	// From the end of its data on a message may arrive, whatever becomes of the connection. Errors do not tell: nodemailer reports every
	// close and every time-out as one of connecting. So each message notes for itself that the last of it was taken by the connection.
	transport.use('stream', (message, done) => {
		const { handover } = message.data as Mailing;
		const whole = message.message.createReadStream.bind(message.message);
		// the very last stage, after signing: what the connection itself reads
		message.message.createReadStream = (options) => {
			const last = new Transform({
				// nothing is taken in before it is asked for: otherwise a small message would end here before the connection is open
				readableHighWaterMark: 0,
				transform: (chunk, _, next) => next(null, chunk),
				flush(next) {
					handover.done = true;
					next();
				}
			});
			whole(options)
				.on('error', (error) => last.destroy(error))
				.pipe(last);
			return last;
		};
		done();
	});
	return {
		async send(mail) {
			const handover = { done: false };
			try {
				const mailing: Mailing = { ...compose(mail), handover };
				await transport.sendMail(mailing);
				return { outcome: 'sent' };
			} catch (error) {
				const { responseCode, code, response } = error as { responseCode?: number; code?: string; response?: string };
				// it does not speak of the message: nothing is handed over without encryption, and nothing is given up for that
				if (code === 'ETLS') return { outcome: 'try_later', reason: 'the mail server offers no encryption' };
				const reason = responseCode ? `the mail server answered ${responseCode}` : `no answer from the mail server (${code ?? 'unknown'})`;
				if (responseCode && responseCode >= 500) {
					const trouble = troubleOf(statusIn(response ?? ''));
					return { outcome: 'refused', reason, ...(trouble ? { trouble } : {}) };
				}
				if (responseCode && responseCode >= 400) return { outcome: 'try_later', reason };
				return { outcome: handover.done ? 'unclear' : 'try_later', reason };
			}
		},
		async reachable() {
			return transport.verify().then(
				() => true,
				() => false
			);
		},
		close: () => transport.close()
	};
}
