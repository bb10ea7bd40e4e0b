import { Readable } from 'node:stream';
import { DomainError } from '$lib/core/errors/domain-error';
import { PAPER_MAX_BYTES } from '$lib/core/papers/file-name';
import type { FileRoute } from './file-routes';
import { errorInWords, STATUS } from './form-errors';

type Reader = ReadableStreamDefaultReader<Uint8Array>;

async function* chunksOf(reader: Reader) {
	for (;;) {
		const { done, value } = await reader.read();
		if (done) return;
		yield value;
	}
}

/**
 * Reads away what still comes of a file that was refused: a connection that is cut while its other end still sends shows nothing of the
 * refusal.
 */
async function readAway(reader: Reader): Promise<void> {
	let bytes = 0;
	try {
		for await (const chunk of chunksOf(reader)) if ((bytes += chunk.length) > PAPER_MAX_BYTES) return;
	} catch {
		// nobody is there any more
	}
}

/**
 * Takes one file: the body is the file itself, its name stands percent-encoded in `x-file-name`. The header cannot be set by a
 * form of another website.
 * @param none what is said when nothing came
 */
export async function takeInFile(
	{ request }: { request: Request; route: { id: FileRoute } },
	locale: string,
	none: string,
	take: (file: { name: string; content: Readable; signal: AbortSignal }) => Promise<object>
): Promise<Response> {
	const refused = (message: string, status: number) => Response.json({ message }, { status });
	const name = request.headers.get('x-file-name');
	if (!name || !request.body) return refused(none, 400);
	const reader = request.body.getReader();
	try {
		const content = Readable.from(chunksOf(reader), { objectMode: false });
		return Response.json(await take({ name: decodeURIComponent(name), content, signal: request.signal }));
	} catch (error) {
		await readAway(reader);
		if (error instanceof URIError) return refused(none, 400);
		if (error instanceof DomainError) return refused(errorInWords(locale, error).message, error.code === 'too_many' ? 413 : STATUS[error.code]);
		const code = (error as NodeJS.ErrnoException).code ?? '';
		// whoever sent it went away in the middle: nothing was kept, nobody is there to answer
		if (request.signal.aborted || ['ECONNRESET', 'ERR_STREAM_PREMATURE_CLOSE', 'ABORT_ERR'].includes(code))
			return new Response(null, { status: 400 });
		throw error;
	}
}
