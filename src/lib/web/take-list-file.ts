import { json, type RequestEvent } from '@sveltejs/kit';
import type { Act } from '$lib/core/people/roles';
import { DomainError } from '$lib/core/errors/domain-error';
import { safeFileName } from '$lib/core/papers/file-name';
import { requireStaff } from '$lib/server/actor';
import { deskRequest, type DeskRequest } from './desk-request';
import { errorInWords, STATUS } from './form-errors';

/** The body, unless it is longer than a list may be. */
async function readBody(request: Request, bytesMost: number, advice: string): Promise<Uint8Array> {
	const chunks: Uint8Array[] = [];
	let bytes = 0;
	for await (const chunk of request.body as unknown as AsyncIterable<Uint8Array>) {
		bytes += chunk.length;
		if (bytes > bytesMost) throw new DomainError('too_many', `This file is larger than ${bytesMost / 1024 / 1024} MB. Nothing was read; ${advice}`);
		chunks.push(chunk);
	}
	return Buffer.concat(chunks);
}

/**
 * Takes a list of rows: the body is the file itself, its name stands percent-encoded in `x-file-name`. Answers the id of what was read.
 * @param how.right asked before any of it is read
 * @param how.advice what to do with a longer one
 */
export async function takeListFile(
	event: RequestEvent,
	how: {
		right: Act;
		bytesMost: number;
		advice: string;
		take: (desk: DeskRequest, file: { fileName: string; bytes: Uint8Array }) => Promise<string>;
	}
): Promise<Response> {
	const desk = await deskRequest(event);
	const name = event.request.headers.get('x-file-name');
	if (!name || !event.request.body) return json({ message: 'Choose a file first.' }, { status: 400 });
	try {
		const fileName = safeFileName(decodeURIComponent(name));
		requireStaff(desk.actor, how.right);
		const id = await how.take(desk, { fileName, bytes: await readBody(event.request, how.bytesMost, how.advice) });
		return json({ id });
	} catch (error) {
		if (error instanceof URIError) return json({ message: 'Choose a file first.' }, { status: 400 });
		if (error instanceof DomainError)
			return json({ message: errorInWords('en', error).message }, { status: error.code === 'too_many' ? 413 : STATUS[error.code] });
		throw error;
	}
}
