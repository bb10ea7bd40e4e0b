import { deskRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { byWhom, givenTo } from '$lib/web/uploads-into';

/** Begins an upload that can be gone on with; see `ResumableUploads`. */
export const POST = async (event) => {
	const desk = await deskRequest(event);
	return desk.context.uploads.answer(event.request, byWhom(desk, givenTo(desk, idParam(event.params.client))), null);
};
