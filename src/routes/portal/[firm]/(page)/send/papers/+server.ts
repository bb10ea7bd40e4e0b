import { takeInArrival } from '$lib/server/papers/arrivals';
import { portalRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { takeInFile } from '$lib/web/take-in-file';
import { say } from '$lib/words/words';

/** Takes one file that somebody sends without being asked; see `takeInFile`. For whom, and into which folder, stands where an item's named file would. */
export const POST = async (event) => {
	const portal = await portalRequest(event);
	const [client, folder] = (event.url.searchParams.get('slot') ?? '').split('.');
	const [clientId, folderId] = [idParam(client), folder === undefined ? null : idParam(folder)];
	return takeInFile(event, portal.locale, say(portal.locale, 'wrong.paper.none'), (file) =>
		takeInArrival(portal.context, portal.firmId, portal.actor, { clientId, folderId, ...file })
	);
};
