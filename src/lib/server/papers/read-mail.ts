import { createHash } from 'node:crypto';
import { Transform, type Readable } from 'node:stream';
import { MailParser, type AttachmentStream, type Headers, type MessageText } from 'mailparser';
import { isClutter, MAIL_FILES_MOST, type LeftOut, type MailHead } from '$lib/core/arrivals/incoming-mail';
import { asPaper, PAPER_MAX_BYTES, safeFileName } from '$lib/core/papers/file-name';
import type { PaperStore, StoredFile } from '../platform/files/paper-store';
import type { ArrivingMail } from '../platform/mail/mail-receiver';

/** How deep mails are looked for inside of mails. */
const MAILS_INSIDE_MOST = 3;
/** Characters of a mail in HTML of which a text is made, where it has none. */
const HTML_MOST = 200_000;

/** A file of a mail on disk, or why it is not. */
export interface MailFile {
	name: string;
	kept: { name: string; contentType: string; stored: StoredFile } | null;
	leftOut: LeftOut | null;
}
/** A mail that was read to its end. */
export interface MailRead {
	head: MailHead;
	messageId: string;
	fromAddress: string;
	fromName: string;
	subject: string;
	/** its plain text, or what its HTML says; of any length */
	text: string;
	files: MailFile[];
}

const MAILED_MOST = { subject: 300, name: 120, address: 320, id: 300 } as const;
/** A text without what a database does not take, and no longer than it may be. */
export const cut = (text: string, most: number): string =>
	[
		...text
			.slice(0, 4 * most)
			.replaceAll('\0', '')
			.trim()
	]
		.slice(0, most)
		.join('');
const line = (text: string, most: number): string => cut(text.replace(/\s+/g, ' '), most);

/** The head of a mail, in which anything may be missing, doubled or of another form than it should be. */
function readHead(headers: Headers, returnPath: string): MailHead {
	const text = (name: string): string => {
		const value = headers.get(name) as unknown;
		const first = Array.isArray(value) ? (value as unknown[])[0] : value;
		return typeof first === 'string' ? first.trim() : '';
	};
	const received = headers.get('received') as unknown;
	return {
		returnPath,
		autoSubmitted: text('auto-submitted'),
		precedence: text('precedence'),
		outOfOffice: ['x-autoreply', 'x-autorespond', 'x-auto-reply'].some((name) => headers.has(name)),
		hops: Array.isArray(received) ? received.length : received ? 1 : 0,
		authentication: text('authentication-results')
	};
}

/**
 * Reads the parts of a mail as they come, its files going to disk one after the other. What was written there is the caller's to remove.
 * @param signal ends it where the mail breaks off
 * @param depth how many mails it lies inside of
 */
async function readParts(
	papers: PaperStore,
	content: Readable,
	files: MailFile[],
	signal: AbortSignal,
	depth = 0
): Promise<{ headers: Headers; words: string }> {
	const parser = new MailParser({ skipTextToHtml: true, skipImageLinks: true, maxHtmlLengthToParse: HTML_MOST, checksumAlgo: false });
	let headers: Headers = new Map();
	let words = '';
	parser.once('headers', (found: Headers) => (headers = found));
	// what ends early on one side must end on the other, else both would wait for ever
	content.once('error', (error) => parser.destroy(error));
	content.pipe(parser);
	for await (const part of parser as AsyncIterable<AttachmentStream | MessageText>)
		if (part.type === 'attachment') {
			await keepPart(papers, part, files, signal, depth);
			part.release?.();
		} else words = part.text ?? '';
	return { headers, words };
}

/** Reads a mail to its end. */
export async function readMail(papers: PaperStore, mail: ArrivingMail, files: MailFile[], signal: AbortSignal): Promise<MailRead> {
	const hash = createHash('sha256');
	const hashed = new Transform({
		transform(chunk: Buffer, _encoding, done) {
			hash.update(chunk);
			done(null, chunk);
		}
	});
	mail.content.once('error', (error) => hashed.destroy(error));
	const { headers, words } = await readParts(papers, mail.content.pipe(hashed), files, signal);
	const from = (headers.get('from') as { value?: { address?: string; name?: string }[] } | undefined)?.value ?? [];
	const messageId = headers.get('message-id');
	const subject = headers.get('subject');
	return {
		head: readHead(headers, mail.returnPath),
		messageId: line(typeof messageId === 'string' ? messageId : '', MAILED_MOST.id) || hash.digest('hex'),
		// of a mail that names several nobody is known
		fromAddress: from.length === 1 ? line(from[0].address ?? '', MAILED_MOST.address) : '',
		fromName: from.length === 1 ? line(from[0].name ?? '', MAILED_MOST.name) : '',
		subject: line(typeof subject === 'string' ? subject : '', MAILED_MOST.subject),
		text: words.replaceAll('\0', ''),
		files
	};
}

/** Writes a part of a mail to disk, if it is a file that somebody sends. Of a mail inside the mail its files count, if it has any. */
async function keepPart(papers: PaperStore, part: AttachmentStream, files: MailFile[], signal: AbortSignal, depth: number): Promise<void> {
	const isMail = part.contentType === 'message/rfc822';
	const name = safeFileName(part.filename ?? (isMail ? 'mail.eml' : ''));
	const leaveOut = (leftOut: LeftOut) => void files.push({ name, kept: null, leftOut });
	if (files.filter(({ kept }) => kept).length >= MAIL_FILES_MOST) return leaveOut('many');
	const stored = await papers.put(part.content, PAPER_MAX_BYTES, signal);
	let keeps = false;
	try {
		if (isClutter({ name, contentType: part.contentType, bytes: stored.bytes, inWords: part.related === true })) return;
		if (stored.bytes === 0) return leaveOut('empty');
		if (isMail && depth < MAILS_INSIDE_MOST) {
			const before = files.length;
			await readParts(papers, papers.read(stored.key), files, signal, depth + 1);
			if (files.length > before) return;
		}
		const paper = asPaper(name, stored.contentType);
		if (!paper) return leaveOut('kind');
		files.push({ name: paper.name, kept: { ...paper, stored }, leftOut: null });
		keeps = true;
	} finally {
		if (!keeps) await papers.remove(stored.key);
	}
}
