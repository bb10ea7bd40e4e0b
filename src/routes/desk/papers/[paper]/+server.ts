import { buffer } from 'node:stream/consumers';
import { contentDisposition, isHeic, isViewable } from '$lib/core/papers/file-name';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { openPaper } from '$lib/server/papers/papers';
import { goesOn, sendFile } from '$lib/web/send-file';

/** A larger one is only handed out as it came. */
const HEIC_BYTES_MOST = 30 * 1024 * 1024;

export const GET = async (event) => {
	const desk = await deskRequest(event);
	const download = event.url.searchParams.has('download');
	const scanning = Boolean(desk.context.settings.CLAMD);
	const paper = await inPage(() =>
		desk.inFirm((tx) =>
			openPaper(tx, desk.actor, idParam(event.params.paper), download ? 'download' : 'look', { scanning, goesOn: goesOn(event.request.headers) })
		)
	);
	// telephones take these pictures, and few browsers show them
	if (!download && isHeic(paper.contentType) && paper.bytes <= HEIC_BYTES_MOST) {
		const jpeg = await inPage(async () => desk.context.pdf.heic(await buffer(desk.context.papers.read(paper.storageKey))));
		return new Response(jpeg as Uint8Array<ArrayBuffer>, {
			headers: {
				'content-type': 'image/jpeg',
				'content-disposition': contentDisposition('inline', `${paper.name}.jpg`),
				'cache-control': 'private, max-age=3600',
				'x-content-type-options': 'nosniff'
			}
		});
	}
	return sendFile(desk.context.papers, paper, !download && isViewable(paper.contentType) ? 'inline' : 'attachment', event.request);
};
