import { Readable } from 'node:stream';
import type { ReadableStream as WebStream } from 'node:stream/web';
import { json } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { portalRequest } from '$lib/server/desk-request';
import { errorInWords, idParam, STATUS } from '$lib/server/form-errors';
import { say } from '$lib/words/words';
import { takeInPaper } from '$lib/server/papers/papers';

/**
 * Takes one file: the body is the file itself, its name stands percent-encoded in `x-file-name`. The header
 * cannot be set by a form of another website.
 */
export const POST = async (event) => {
	const portal = await portalRequest(event);
	const itemId = idParam(event.params.item);
	const name = event.request.headers.get('x-file-name');
	const none = () => json({ message: say(portal.locale, 'wrong.paper.none') }, { status: 400 });
	if (!name || !event.request.body) return none();
	let fileName: string;
	try {
		fileName = decodeURIComponent(name);
	} catch {
		return none();
	}
	try {
		const paper = await takeInPaper(portal.house, portal.firmId, portal.actor, {
			itemId,
			name: fileName,
			content: Readable.fromWeb(event.request.body as WebStream),
			signal: event.request.signal
		});
		return json({ paper });
	} catch (error) {
		if (error instanceof DomainError)
			return json({ message: errorInWords(portal.locale, error).message }, { status: error.code === 'too_many' ? 413 : STATUS[error.code] });
		const code = (error as NodeJS.ErrnoException).code ?? '';
		// the client went away in the middle: nothing was kept, nobody is there to answer
		if (event.request.signal.aborted || ['ECONNRESET', 'ERR_STREAM_PREMATURE_CLOSE', 'ABORT_ERR'].includes(code))
			return new Response(null, { status: 400 });
		throw error;
	}
};
