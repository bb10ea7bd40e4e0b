import { json } from '@sveltejs/kit';
import { surveyAttachment } from '$lib/server/attachments/attachments';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

/** The sizes of the pages of a PDF that is to be signed, and the places that they seem to have. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	return json(await inPage(() => surveyAttachment(desk.context, desk.firmId, desk.actor, idParam(event.params.attachment))));
};
