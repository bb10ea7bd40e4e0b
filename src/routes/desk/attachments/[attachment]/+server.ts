import { isViewable } from '$lib/core/papers/file-name';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { openAttachment } from '$lib/server/attachments/attachments';
import { sendFile } from '$lib/web/send-file';

export const GET = async (event) => {
	const desk = await deskRequest(event);
	const file = await inPage(() => desk.inFirm((tx) => openAttachment(tx, desk.actor, idParam(event.params.attachment))));
	return sendFile(desk.context.papers, file, isViewable(file.contentType) ? 'inline' : 'attachment', event.request);
};
