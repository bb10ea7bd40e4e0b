import EmailReplyParser from 'email-reply-parser';

/** Most characters of a mail that are read as words; what comes after is folded away unread, up to as many again. */
export const REPLY_MOST = 12_000;

/** A mail that answers: what its sender wrote, and what their program put below. */
export interface ReplyWords {
	words: string;
	/** quoted text and signature */
	folded: string;
}

/** The head of a quoted mail as some programs write it: a line that says from whom, and one that says when right after it. */
const FROM = /^[>*\s]*(from|de|von|expéditeur)\s*:\*?\s*\S/i;
const SENT = /^[>*\s]*(sent|date|envoyé|gesendet|datum)(\s+le)?\s*:\*?\s*\S/i;
const RULE = /^\s*(_{5,}|-{3,}.*-{3,})\s*$/;
/** A line that tells what is quoted below, in one line or broken over two: it says when, in figures, or by which address. */
const TOLD = /^[>\s]*(?=.*[\d@])(on\b.{6,200}\bwrote|le\b.{6,200}\ba écrit|am\b.{6,200}\bschrieb\b.{0,120})\s*:\s*$/i;
/** What a phone or a program says of itself, and the line above a signature. */
const SIGNED =
	/^(-- ?|sent from my .{1,40}|get outlook for .{1,30}|envoyé (de mon|depuis|à partir de) .{1,40}|télécharger outlook pour .{1,30}|von meinem .{1,40} gesendet|gesendet (von|mit) .{1,40}|outlook (für|pour) .{1,20} (herunterladen|téléchargé))$/i;

/** Where a quote begins that the parser does not know of: the index of its first line; as many as there are lines without one. */
function quoteBegins(lines: readonly string[]): number {
	const at = lines.findIndex(
		(line, n) =>
			TOLD.test(line) ||
			(line.trim().length > 0 && TOLD.test(`${line} ${lines[n + 1] ?? ''}`)) ||
			SIGNED.test(line.trimEnd() === '--' ? '--' : line.trim()) ||
			(FROM.test(line) && lines.slice(n + 1, n + 4).some((next) => SENT.test(next)))
	);
	if (at < 0) return lines.length;
	return at > 0 && RULE.test(lines[at - 1]) ? at - 1 : at;
}

const isQuoted = (line: string): boolean => /^\s*>/.test(line);

/**
 * What somebody wrote below or between the lines of a quote, where they did: with the lines it answers, if it stands between them.
 * @param below the lines from where the quote begins
 * @param alone whether nothing stands above it
 */
function writtenBelow(below: readonly string[], alone: boolean): string {
	const signed = below.findIndex((line) => !isQuoted(line) && SIGNED.test(line.trim()));
	const lines = signed < 0 ? below : below.slice(0, signed);
	const from = lines.findIndex(isQuoted);
	const isOwn = (line: string, n: number) => n > from && !isQuoted(line) && line.trim() !== '';
	const last = lines.findLastIndex(isOwn);
	if (from < 0 || last < from) return '';
	const between = lines.slice(last).some(isQuoted) || lines.filter((line, n) => isOwn(line, n) && isQuoted(lines[n - 1] ?? '')).length > 1;
	// below words of their own, a line after a quote is what a server adds, unless another quote follows it
	if (!alone && !between) return '';
	return lines.slice(between ? from : lines.findIndex(isOwn), last + 1).join('\n');
}

/** Text in a form that no pattern is slow on: lines of bounded length, no long runs of one sign. */
const tamed = (text: string): string =>
	text
		.replace(/\r\n?/g, '\n')
		.replace(/[\0\u200b\ufeff]/g, '')
		.replace(/[^\S\n]+$/gm, '')
		.replace(/[^\S\n]{3,}/g, '  ')
		.replace(/\n{4,}/g, '\n\n\n')
		.replace(/([>=*.-])\1{19,}/g, '$1$1$1$1$1')
		.replace(/[^\n]{600}(?=[^\n])/g, '$&\n');

/**
 * Tells what somebody wrote from what their mail program quotes below, and from the signature. Words between the lines of a quote stay: then
 * nothing is folded but the end.
 * @param text the plain text of a mail, of any length
 */
export function readReply(text: string): ReplyWords {
	const head = tamed(text.slice(0, REPLY_MOST));
	const lines = head.split('\n');
	const end = quoteBegins(lines);
	const above = lines.slice(0, end).join('\n');
	const below = lines.slice(end).join('\n');
	const visible: string[] = [];
	const hidden: string[] = [];
	const fragments = new EmailReplyParser().read(above).getFragments();
	// what follows the last of their own words is quoted or signed; what stands before is kept, quotes they answer line by line included
	const last = fragments.findLastIndex((one) => !one.isHidden() && !one.isQuoted() && one.getContent().trim() !== '');
	fragments.forEach((one, n) => (n <= last && !one.isSignature() ? visible : hidden).push(one.getContent()));
	const own = visible.join('\n').trim();
	const words = [own, writtenBelow(lines.slice(end), own === '').trim()].filter((part) => part !== '').join('\n\n');
	const rest = [hidden.join('\n').trim(), below.trim(), text.slice(REPLY_MOST, 2 * REPLY_MOST).trim()].filter((part) => part !== '').join('\n\n');
	return { words, folded: rest.slice(0, REPLY_MOST) };
}
