import { redirect } from '@sveltejs/kit';
import { isViewable } from '$lib/core/papers/file-name';
import { portalRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { openAttachment } from '$lib/server/attachments/attachments';
import { sendFile } from '$lib/web/send-file';

export const GET = async (event) => {
	const portal = await portalRequest(event);
	if (portal.lookedAtBy) redirect(303, `/desk/attachments/${idParam(event.params.attachment)}${event.url.search}`);
	const file = await inPage(() => portal.inFirm((tx) => openAttachment(tx, portal.actor, idParam(event.params.attachment))), portal.locale);
	return sendFile(
		portal.context.papers,
		file,
		isViewable(file.contentType) && !event.url.searchParams.has('download') ? 'inline' : 'attachment',
		event.request
	);
};
