import { Readable } from 'node:stream';
import type { ReadableStream as WebStream } from 'node:stream/web';
import { json } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { portalRequest } from '$lib/server/desk-request';
import { idParam } from '$lib/server/form-errors';
import { takeInPaper } from '$lib/server/papers/papers';

/**
 * Takes one file: the body is the file itself, its name stands percent-encoded in `x-file-name`. The header
 * cannot be set by a form of another website.
 */
export const POST = async (event) => {
	const portal = await portalRequest(event);
	const itemId = idParam(event.params.item);
	const name = event.request.headers.get('x-file-name');
	if (!name || !event.request.body) return json({ message: 'No file arrived.' }, { status: 400 });
	let fileName: string;
	try {
		fileName = decodeURIComponent(name);
	} catch {
		return json({ message: 'The name of this file cannot be read.' }, { status: 400 });
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
		if (error instanceof DomainError) {
			const status = { not_found: 404, not_allowed: 403, too_many: 413, unreadable_file: 415, changed_meanwhile: 409, storage_full: 507 } as Record<
				string,
				number
			>;
			return json({ message: error.message }, { status: status[error.code] ?? 400 });
		}
		const code = (error as NodeJS.ErrnoException).code ?? '';
		// the client went away in the middle: nothing was kept, nobody is there to answer
		if (event.request.signal.aborted || ['ECONNRESET', 'ERR_STREAM_PREMATURE_CLOSE', 'ABORT_ERR'].includes(code))
			return new Response(null, { status: 400 });
		throw error;
	}
};
