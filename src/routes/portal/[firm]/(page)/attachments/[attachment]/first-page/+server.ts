import { portalRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { firstPageOf } from '$lib/server/attachments/attachments';
import { sendFile } from '$lib/web/send-file';

export const GET = async (event) => {
	const portal = await portalRequest(event);
	const key = await inPage(() => firstPageOf(portal.context, portal.inFirm, portal.actor, idParam(event.params.attachment)), portal.locale);
	// it is only shown if there is one: no error
	if (!key) return new Response(null, { status: 204 });
	return sendFile(portal.context.papers, { storageKey: key, name: 'first-page.webp', contentType: 'image/webp' }, 'inline', event.request);
};
