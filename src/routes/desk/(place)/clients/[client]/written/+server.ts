import { json } from '@sveltejs/kit';
import { findWrittenSchema } from '$lib/core/talk/find-written';
import { requireStaff } from '$lib/server/actor';
import { findWritten, FOUND_MOST } from '$lib/server/talk/find-written';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

/** What was written at a client, by words that are in it. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	requireStaff(desk.actor, 'look');
	const terms = findWrittenSchema.safeParse(event.url.searchParams.get('find') ?? '');
	const found = await inPage(() => desk.inFirm((tx) => findWritten(tx, desk.actor, idParam(event.params.client), terms.success ? terms.data : [])));
	return json({ found, more: found.length === FOUND_MOST });
};
