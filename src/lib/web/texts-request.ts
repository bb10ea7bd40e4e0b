import { error } from '@sveltejs/kit';
import type { z } from 'zod';
import { isSigned } from '$lib/server/platform/text-messages/text-message-gateway';
import { webContext } from './web-context';

/** More than any report or answer is. */
const MAX_BYTES = 16 * 1024;

/** The body of a request of the text gateway: refused unless it is signed with the key we share, and as it should be. */
export async function signedBody<Schema extends z.ZodType>(event: { request: Request }, schema: Schema) {
	const opened = await webContext();
	const key = opened.settings.TEXT_GATEWAY_KEY;
	if (!key) error(404, 'There are no text messages here.');
	if (Number(event.request.headers.get('content-length') ?? Infinity) > MAX_BYTES) error(413, 'Too long.');
	const raw = await event.request.text();
	if (!isSigned(raw, event.request.headers.get('x-signature'), key)) error(401, 'Not signed as it should be.');
	let parsed: unknown;
	try {
		parsed = JSON.parse(raw);
	} catch {
		error(400, 'Not JSON.');
	}
	const body = schema.safeParse(parsed);
	if (!body.success) error(400, 'Not as it should be.');
	return { body: body.data as z.output<Schema>, context: opened };
}
