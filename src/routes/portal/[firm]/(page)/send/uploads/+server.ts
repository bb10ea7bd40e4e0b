import { portalRequest } from '$lib/web/desk-request';
import { byWhom, unasked } from '$lib/web/uploads-into';

/** Begins an upload that can be gone on with; see `ResumableUploads`. */
export const POST = async (event) => {
	const portal = await portalRequest(event);
	return portal.context.uploads.answer(event.request, byWhom(portal, unasked(portal)), null);
};
