import { redirect } from '@sveltejs/kit';
import { portalRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { sendFile } from '$lib/web/send-file';
import { openLetterPdf } from '$lib/server/signing/sign-letter';

export const GET = async (event) => {
	const portal = await portalRequest(event);
	// whoever only looks opens it at the desk, under their own name
	if (portal.lookedAtBy) redirect(303, `/desk/letters/${idParam(event.params.item)}`);
	// its pages are shown where it is signed: that it was opened is noted there
	const looking = event.url.searchParams.has('pages');
	const letter = await inPage(() => portal.inFirm((tx) => openLetterPdf(tx, portal.actor, idParam(event.params.item), looking)), portal.locale);
	return sendFile(portal.context.papers, { ...letter, contentType: 'application/pdf' }, looking ? 'inline' : 'attachment', event.request);
};
