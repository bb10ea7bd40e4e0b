import { portalRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { byWhom, unasked } from '$lib/web/uploads-into';

type Event = Parameters<typeof portalRequest>[0] & { request: Request; params: { upload: string } };

/** How far an upload came, its next part, or its end; see `ResumableUploads`. */
const answer = async (event: Event) => {
	const portal = await portalRequest(event);
	return portal.context.uploads.answer(event.request, byWhom(portal, unasked(portal)), idParam(event.params.upload));
};
export const HEAD = answer;
export const PATCH = answer;
export const DELETE = answer;
