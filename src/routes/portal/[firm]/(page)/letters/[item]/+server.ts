import { redirect } from '@sveltejs/kit';
import { portalRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { sendFile } from '$lib/web/send-file';
import { openLetterPdf } from '$lib/server/signing/sign-letter';

export const GET = async (event) => {
	const portal = await portalRequest(event);
	// whoever only looks opens it at the desk, under their own name
	if (portal.lookedAtBy) redirect(303, `/desk/letters/${idParam(event.params.item)}`);
	const letter = await inPage(() => portal.inFirm((tx) => openLetterPdf(tx, portal.actor, idParam(event.params.item))), portal.locale);
	return sendFile(portal.context.papers, { ...letter, contentType: 'application/pdf' }, 'attachment', event.request);
};
