import { deskRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { byWhom, givenTo } from '$lib/web/uploads-into';

type Event = Parameters<typeof deskRequest>[0] & { request: Request; params: { client: string; upload: string } };

/** How far an upload came, its next part, or its end; see `ResumableUploads`. */
const answer = async (event: Event) => {
	const desk = await deskRequest(event);
	return desk.context.uploads.answer(event.request, byWhom(desk, givenTo(desk, idParam(event.params.client))), idParam(event.params.upload));
};
export const HEAD = answer;
export const PATCH = answer;
export const DELETE = answer;
