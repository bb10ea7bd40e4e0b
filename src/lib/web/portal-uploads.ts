import { portalRequest } from './desk-request';
import { idParam } from './form-errors';

type Event = Parameters<typeof portalRequest>[0] & { request: Request; params: { item: string } };

/** Hands a request of the tus protocol to the uploads, as whoever is signed in to the portal. */
export async function answerUpload(event: Event, uploadId: string | null): Promise<Response> {
	const portal = await portalRequest(event);
	return portal.context.uploads.answer(
		event.request,
		{ place: portal.context, firmId: portal.firmId, actor: portal.actor, itemId: idParam(event.params.item), locale: portal.locale },
		uploadId
	);
}
