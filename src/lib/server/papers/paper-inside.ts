import type { Readable } from 'node:stream';
import { simpleParser, type AddressObject, type Attachment } from 'mailparser';
import { DomainError } from '$lib/core/errors/domain-error';
import { asPaper, safeFileName } from '$lib/core/papers/file-name';
import { shownText, textInside, TEXT_BYTES_MOST, type PaperInside } from '$lib/core/papers/paper-inside';
import { sniff } from '../platform/files/paper-store';

/** A larger mail is not opened here: it would be in memory as a whole. */
const MAIL_BYTES_MOST = 20 * 1024 * 1024;
const isMail = (name: string) => /\.eml$/i.test(name);

/** The first bytes of a file. */
async function firstBytes(content: Readable, most: number): Promise<Buffer> {
	const pieces: Buffer[] = [];
	let bytes = 0;
	for await (const piece of content as AsyncIterable<Buffer>) {
		pieces.push(piece);
		if ((bytes += piece.length) >= most) break;
	}
	return Buffer.concat(pieces).subarray(0, most);
}
const namesOf = (addresses: AddressObject | AddressObject[] | undefined): string =>
	[addresses ?? []]
		.flat()
		.map(({ text }) => text)
		.join(', ')
		.slice(0, 500);
/** The files of a mail that somebody sees as such. */
const filesOf = (attachments: readonly Attachment[]): Attachment[] => attachments.filter(({ related }) => !related).slice(0, 60);

/**
 * What stands in a paper of text, a table or a mail (RFC 5322).
 * @throws DomainError unreadable_file if it is no text, too_many if it is too large to be opened here
 */
export async function readInside(paper: { name: string; bytes: number }, content: Readable): Promise<PaperInside> {
	if (isMail(paper.name)) {
		const mail = await readMail(paper, content);
		return {
			kind: 'mail',
			from: namesOf(mail.from),
			to: namesOf(mail.to),
			subject: (mail.subject ?? '').slice(0, 500),
			at: mail.date && !Number.isNaN(mail.date.getTime()) ? mail.date.toISOString() : null,
			...shownText(mail.text ?? ''),
			files: filesOf(mail.attachments).map(({ filename, size }) => ({ name: safeFileName(filename ?? ''), bytes: size }))
		};
	}
	const inside = textInside(paper.name, await firstBytes(content, TEXT_BYTES_MOST), paper.bytes <= TEXT_BYTES_MOST);
	if (!inside) throw new DomainError('unreadable_file', `${paper.name} is no text that can be shown here. Download it.`);
	return inside;
}

function readMail({ name, bytes }: { name: string; bytes: number }, content: Readable) {
	if (bytes > MAIL_BYTES_MOST)
		throw new DomainError('too_many', `${name} is larger than ${MAIL_BYTES_MOST / 1024 / 1024} MB, too large to be opened here. Download it.`);
	return simpleParser(content, { skipHtmlToText: false, skipTextToHtml: true, skipImageLinks: true });
}

/**
 * One file of a mail that is a paper.
 * @param number from 0, as `readInside` lists them
 * @throws DomainError not_found, unreadable_file for what no paper may be
 */
export async function fileInside(
	paper: { name: string; bytes: number },
	content: Readable,
	number: number
): Promise<{ name: string; contentType: string; content: Buffer }> {
	const file = isMail(paper.name) ? filesOf((await readMail(paper, content)).attachments)[number] : undefined;
	if (!file) throw new DomainError('not_found', 'This file is not in it.');
	const kept = asPaper(file.filename ?? '', await sniff(file.content));
	if (!kept) throw new DomainError('unreadable_file', `${safeFileName(file.filename ?? '')} is of a kind that is not handed out.`);
	return { ...kept, content: file.content };
}
