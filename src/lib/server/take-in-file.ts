import { Readable } from 'node:stream';
import type { ReadableStream as WebStream } from 'node:stream/web';
import { DomainError } from '$lib/core/errors/domain-error';
import { errorInWords, STATUS } from './form-errors';

/**
 * Takes one file: the body is the file itself, its name stands percent-encoded in `x-file-name`. The header cannot be set by a
 * form of another website.
 * @param none what is said when nothing came
 */
export async function takeInFile(
	request: Request,
	locale: string,
	none: string,
	take: (file: { name: string; content: Readable; signal: AbortSignal }) => Promise<object>
): Promise<Response> {
	const refused = (message: string, status: number) => Response.json({ message }, { status });
	const name = request.headers.get('x-file-name');
	if (!name || !request.body) return refused(none, 400);
	try {
		return Response.json(
			await take({ name: decodeURIComponent(name), content: Readable.fromWeb(request.body as WebStream), signal: request.signal })
		);
	} catch (error) {
		if (error instanceof URIError) return refused(none, 400);
		if (error instanceof DomainError) return refused(errorInWords(locale, error).message, error.code === 'too_many' ? 413 : STATUS[error.code]);
		const code = (error as NodeJS.ErrnoException).code ?? '';
		// whoever sent it went away in the middle: nothing was kept, nobody is there to answer
		if (request.signal.aborted || ['ECONNRESET', 'ERR_STREAM_PREMATURE_CLOSE', 'ABORT_ERR'].includes(code))
			return new Response(null, { status: 400 });
		throw error;
	}
}
