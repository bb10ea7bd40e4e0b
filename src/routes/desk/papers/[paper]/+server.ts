import { isViewable } from '$lib/core/papers/file-name';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { openPaper } from '$lib/server/papers/papers';
import { sendFile } from '$lib/web/send-file';

export const GET = async (event) => {
	const desk = await deskRequest(event);
	const download = event.url.searchParams.has('download');
	const scanning = Boolean(desk.context.settings.CLAMD);
	const paper = await inPage(() =>
		desk.inFirm((tx) => openPaper(tx, desk.actor, idParam(event.params.paper), download ? 'download' : 'look', scanning))
	);
	return sendFile(desk.context.papers, paper, !download && isViewable(paper.contentType) ? 'inline' : 'attachment');
};
