import { Readable } from 'node:stream';
import parseRange from 'range-parser';
import { contentDisposition } from '$lib/core/papers/file-name';
import { inPage } from './form-errors';
import type { ByteRange, PaperStore } from '$lib/server/platform/files/paper-store';

/**
 * The part of a file that a request asks for (RFC 9110, section 14): one range only. Whoever asks for several, for one under a condition
 * that we have no answer to, or for something that is no range, gets the whole.
 * @returns null for the whole, 'none' if there are no such bytes
 */
export function wantedRange(headers: Headers, bytes: number): ByteRange | null | 'none' {
	const wanted = headers.get('range');
	if (wanted === null || headers.has('if-range')) return null;
	const ranges = parseRange(bytes, wanted);
	if (ranges === -1) return 'none';
	return ranges === -2 || ranges.type !== 'bytes' || ranges.length !== 1 ? null : { start: ranges[0].start, end: ranges[0].end };
}

/** Whether a request asks for a later part of a file of which it has the beginning. */
export const goesOn = (headers: Headers): boolean => /^bytes=(?:0*[1-9]\d*-|-\d)/.test(headers.get('range') ?? '') && !headers.has('if-range');

/** Answers with a stored file, or the part of it that is asked for: its true type, a name, and a policy under which nothing in it can run. */
export async function sendFile(
	papers: PaperStore,
	file: { storageKey: string; name: string; contentType: string },
	how: 'inline' | 'attachment',
	request: Pick<Request, 'headers'>
): Promise<Response> {
	const bytes = await inPage(() => papers.size(file.storageKey));
	const range = wantedRange(request.headers, bytes);
	const headers = {
		'accept-ranges': 'bytes',
		'content-type': file.contentType,
		'content-disposition': contentDisposition(how, file.name),
		'content-security-policy': "default-src 'none'; sandbox",
		'x-content-type-options': 'nosniff'
	};
	if (range === 'none') return new Response(null, { status: 416, headers: { ...headers, 'content-range': `bytes */${bytes}` } });
	const content = Readable.toWeb(papers.read(file.storageKey, range ?? undefined) as Readable) as ReadableStream;
	if (!range) return new Response(content, { headers: { ...headers, 'content-length': String(bytes) } });
	return new Response(content, {
		status: 206,
		headers: { ...headers, 'content-length': String(range.end - range.start + 1), 'content-range': `bytes ${range.start}-${range.end}/${bytes}` }
	});
}
