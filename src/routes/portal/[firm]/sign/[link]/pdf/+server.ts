import { redirect } from '@sveltejs/kit';
import { openLetterPdf } from '$lib/server/signing/sign-letter';
import { firmOfPortal } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';
import { letterRequest } from '$lib/web/letter-request';
import { sendFile } from '$lib/web/send-file';

export const GET = async (event) => {
	const portal = await firmOfPortal(event);
	const { context, locale } = portal;
	const { visitor } = await inPage(() => letterRequest(event, portal), locale);
	if (!visitor) redirect(303, `/portal/${event.params.firm}/sign/${event.params.link}`);
	// its pages are shown where it is signed: that it was opened is noted there
	const looking = event.url.searchParams.has('pages');
	const letter = await inPage(() => visitor.inFirm((tx) => openLetterPdf(tx, visitor.actor, visitor.itemId, looking, visitor.way)), locale);
	return sendFile(context.papers, { ...letter, contentType: 'application/pdf' }, looking ? 'inline' : 'attachment', event.request);
};
