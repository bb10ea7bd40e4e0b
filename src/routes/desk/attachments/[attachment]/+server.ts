import { isViewable } from '$lib/core/papers/file-name';
import { deskRequest } from '$lib/server/desk-request';
import { idParam, inPage } from '$lib/server/form-errors';
import { openAttachment } from '$lib/server/requests/attachments';
import { sendFile } from '$lib/server/send-file';

export const GET = async (event) => {
	const desk = await deskRequest(event);
	const file = await inPage(() => desk.inFirm((tx) => openAttachment(tx, desk.actor, idParam(event.params.attachment))));
	return sendFile(desk.house.papers, file, isViewable(file.contentType) ? 'inline' : 'attachment');
};
