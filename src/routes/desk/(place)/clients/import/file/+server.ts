import { json } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import { IMPORT_BYTES_MAX } from '$lib/core/clients/import/read-file';
import { safeFileName } from '$lib/core/papers/file-name';
import { requireStaff } from '$lib/server/actor';
import { beginImport } from '$lib/server/clients/import/prepare-import';
import { deskRequest } from '$lib/web/desk-request';
import { errorInWords, STATUS } from '$lib/web/form-errors';

/** The body, unless it is longer than a list may be. */
async function readBody(request: Request): Promise<Uint8Array> {
	const chunks: Uint8Array[] = [];
	let bytes = 0;
	for await (const chunk of request.body as unknown as AsyncIterable<Uint8Array>) {
		bytes += chunk.length;
		if (bytes > IMPORT_BYTES_MAX)
			throw new DomainError(
				'too_many',
				`This file is larger than ${IMPORT_BYTES_MAX / 1024 / 1024} MB. Nothing was read; split it and import the parts.`
			);
		chunks.push(chunk);
	}
	return Buffer.concat(chunks);
}

/** Takes a list: the body is the file itself, its name stands percent-encoded in `x-file-name`. Answers the id of the import. */
export const POST = async (event) => {
	const desk = await deskRequest(event);
	const name = event.request.headers.get('x-file-name');
	if (!name || !event.request.body) return json({ message: 'Choose a file first.' }, { status: 400 });
	try {
		const fileName = safeFileName(decodeURIComponent(name));
		// before 25 MB are read for somebody who may not
		requireStaff(desk.actor, 'import_clients');
		const id = await beginImport(desk.context, desk.firmId, desk.actor, { fileName, bytes: await readBody(event.request) });
		return json({ id });
	} catch (error) {
		if (error instanceof URIError) return json({ message: 'Choose a file first.' }, { status: 400 });
		if (error instanceof DomainError)
			return json({ message: errorInWords('en', error).message }, { status: error.code === 'too_many' ? 413 : STATUS[error.code] });
		throw error;
	}
};
