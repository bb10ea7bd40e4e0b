import { isViewable } from '$lib/core/papers/file-name';
import { openPublicFile } from '$lib/server/public-pages/public-files';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { sendFile } from '$lib/web/send-file';

/** A file that somebody added to what they answered on a public page. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const of = { answerId: idParam(event.params.answer), fileId: idParam(event.params.file) };
	const file = await inPage(() => desk.inFirm((tx) => openPublicFile(tx, desk.actor, of)));
	return sendFile(desk.context.papers, file, isViewable(file.contentType) ? 'inline' : 'attachment', event.request);
};
