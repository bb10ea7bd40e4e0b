import { portalRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { byWhom, forItem } from '$lib/web/uploads-into';

/** Begins an upload that can be gone on with; see `ResumableUploads`. */
export const POST = async (event) => {
	const portal = await portalRequest(event);
	return portal.context.uploads.answer(event.request, byWhom(portal, forItem(portal, idParam(event.params.item))), null);
};
