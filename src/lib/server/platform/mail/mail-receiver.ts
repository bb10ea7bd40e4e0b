import { PassThrough, type Readable } from 'node:stream';
import { SMTPServer, type SMTPServerDataStream } from 'smtp-server';
import { errorForLog, log } from '../log';

/** Why a mail is not taken, as its server hears it: a reply code (RFC 5321) and words that begin with an enhanced one (RFC 3463). */
export class MailRefused extends Error {
	constructor(
		readonly responseCode: number,
		words: string
	) {
		super(words);
		this.name = 'MailRefused';
	}
}

/** A mail on its way in. */
export interface ArrivingMail {
	/** whom it is for */
	to: string;
	/** whom its envelope names as sender, empty for reports */
	returnPath: string;
	/** as it is sent (RFC 5322); ends early where the mail is larger than is taken */
	content: Readable;
	/** once the content has ended: whether it was cut off */
	tooLarge(): boolean;
}

/** Passes on the first `mostBytes` of a mail; the rest of it is let go by. */
function cutOff(stream: SMTPServerDataStream, mostBytes: number): { content: PassThrough; tooLarge: () => boolean } {
	const content = new PassThrough();
	let bytes = 0;
	const tooLarge = () => bytes > mostBytes;
	stream.on('data', (chunk: Buffer) => {
		const before = bytes;
		bytes += chunk.length;
		if (before > mostBytes) return;
		if (tooLarge()) content.end();
		else if (!content.write(chunk)) {
			stream.pause();
			content.once('drain', () => stream.resume());
		}
	});
	stream.once('end', () => content.end());
	// whoever reads may stop in the middle: the rest of the mail must still be heard out
	content.once('close', () => stream.resume());
	return { content, tooLarge };
}

/**
 * Receives mail by SMTP on loopback, where the mail server of the domain hands it on. Nothing is ever answered by mail: what is not taken is
 * refused, and the sender's own server tells them why.
 * @param mayReceive throws MailRefused for an address at which nothing is received
 * @param take takes a mail in; what it throws as MailRefused is what the sender hears, after anything else they try again later
 */
export async function receiveMail(
	{ port, mostBytes }: { port: number; mostBytes: number },
	mayReceive: (address: string) => Promise<void>,
	take: (mail: ArrivingMail) => Promise<void>
): Promise<{ port: number; close(): Promise<void> }> {
	const heard = (error: unknown, done: (error?: Error) => void) => {
		if (error instanceof MailRefused) return done(error);
		log.error(errorForLog(error), 'mail not taken in');
		done(new MailRefused(451, '4.3.0 try again later'));
	};
	/** what a connection is handing on: it ends with the connection */
	const coming = new Map<string, PassThrough>();
	const server = new SMTPServer({
		authOptional: true,
		disabledCommands: ['STARTTLS', 'AUTH'],
		hideSTARTTLS: true,
		size: mostBytes,
		onRcptTo({ address }, session, done) {
			// a mail to two clients comes in twice: each time it is one client's
			if (session.envelope.rcptTo.length > 0) return done(new MailRefused(452, '4.5.3 one recipient at a time'));
			mayReceive(address).then(
				() => done(),
				(error) => heard(error, done)
			);
		},
		onClose({ id }) {
			coming.get(id)?.destroy(new Error('the connection broke off'));
			coming.delete(id);
		},
		onData(stream, { id, envelope }, done) {
			const { content, tooLarge } = cutOff(stream, mostBytes);
			coming.set(id, content);
			// the server's stream does not end with the connection, and nobody may be reading yet
			content.on('error', () => undefined);
			content.once('close', () => coming.delete(id));
			const returnPath = envelope.mailFrom ? envelope.mailFrom.address : '';
			// of a connection that broke off nobody hears the answer
			const ended = new Promise<void>((resolve) => stream.once('end', resolve));
			take({ to: envelope.rcptTo[0].address, returnPath, content, tooLarge }).then(
				// the answer is heard after the last line of the mail only
				() => ended.then(() => done()),
				(error) => {
					content.destroy();
					return ended.then(() => heard(error, done));
				}
			);
		}
	});
	server.on('error', (error) => log.error(errorForLog(error), 'mail receiver'));
	await new Promise<void>((resolve, reject) => {
		server.once('error', reject);
		server.listen(port, '127.0.0.1', resolve);
	});
	return {
		port: (server.server.address() as { port: number }).port,
		close: () => new Promise((resolve) => server.close(() => resolve()))
	};
}
