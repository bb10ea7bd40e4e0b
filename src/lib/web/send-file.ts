import { Readable } from 'node:stream';
import { contentDisposition } from '$lib/core/papers/file-name';
import type { PaperStore } from '$lib/server/platform/files/paper-store';

/** Answers with a stored file: its true type, a name, and a policy under which nothing in it can run. */
export async function sendFile(
	papers: PaperStore,
	file: { storageKey: string; name: string; contentType: string },
	how: 'inline' | 'attachment'
): Promise<Response> {
	const bytes = await papers.size(file.storageKey);
	return new Response(Readable.toWeb(papers.read(file.storageKey) as Readable) as ReadableStream, {
		headers: {
			'content-type': file.contentType,
			'content-length': String(bytes),
			'content-disposition': contentDisposition(how, file.name),
			'content-security-policy': "default-src 'none'; sandbox",
			'x-content-type-options': 'nosniff'
		}
	});
}
