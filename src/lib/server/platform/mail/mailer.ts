import type { Readable } from 'node:stream';
import { createTransport } from 'nodemailer';

export interface OutgoingMail {
	from: { name: string; address: string };
	/** where bounces go: the envelope's sender */
	returnPath: string;
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
	| { outcome: 'refused'; reason: string }
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

/** Sends by SMTP, signed if there is a key. */
export function smtpMailer(smtpUrl: string, dkim?: DkimKey): Mailer {
	const transport = createTransport({
		...(dkim ? { dkim: { domainName: dkim.domain, keySelector: dkim.selector, privateKey: dkim.privateKey } } : {}),
		url: smtpUrl,
		pool: true,
		maxConnections: 4,
		connectionTimeout: 10_000,
		greetingTimeout: 10_000,
		socketTimeout: 30_000,
		disableFileAccess: true,
		disableUrlAccess: true
	});
	return {
		async send(mail) {
			try {
				await transport.sendMail({
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
				});
				return { outcome: 'sent' };
			} catch (error) {
				const { responseCode, command, code } = error as { responseCode?: number; command?: string; code?: string };
				const reason = responseCode ? `the mail server answered ${responseCode}` : `no answer from the mail server (${code ?? 'unknown'})`;
				if (responseCode && responseCode >= 500) return { outcome: 'refused', reason };
				if (responseCode && responseCode >= 400) return { outcome: 'try_later', reason };
				if (command === 'DATA') return { outcome: 'unclear', reason };
				if (['ECONNECTION', 'ECONNREFUSED', 'EDNS', 'ESOCKET', 'ETIMEDOUT'].includes(code ?? '') && command === 'CONN')
					return { outcome: 'try_later', reason };
				return { outcome: 'unclear', reason };
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
