import { redirect } from '@sveltejs/kit';
import { isViewable } from '$lib/core/papers/file-name';
import { portalRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { openPaper } from '$lib/server/papers/papers';
import { goesOn, sendFile } from '$lib/web/send-file';

export const GET = async (event) => {
	const portal = await portalRequest(event);
	// whoever only looks opens it at the desk, under their own name
	if (portal.lookedAtBy) redirect(303, `/desk/papers/${idParam(event.params.paper)}${event.url.search}`);
	const scanning = Boolean(portal.context.settings.CLAMD);
	const paper = await inPage(
		() =>
			portal.inFirm((tx) =>
				openPaper(tx, portal.actor, idParam(event.params.paper), 'download', { scanning, goesOn: goesOn(event.request.headers) })
			),
		portal.locale
	);
	return sendFile(
		portal.context.papers,
		paper,
		isViewable(paper.contentType) && !event.url.searchParams.has('download') ? 'inline' : 'attachment',
		event.request
	);
};
