import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { sendFile } from '$lib/web/send-file';
import { openLetterPdf } from '$lib/server/signing/sign-letter';

export const GET = async (event) => {
	const desk = await deskRequest(event);
	const letter = await inPage(() =>
		desk.inFirm((tx) => openLetterPdf(tx, desk.actor, idParam(event.params.item), event.url.searchParams.has('pages')))
	);
	return sendFile(
		desk.context.papers,
		{ ...letter, contentType: 'application/pdf' },
		event.url.searchParams.has('download') ? 'attachment' : 'inline',
		event.request
	);
};
