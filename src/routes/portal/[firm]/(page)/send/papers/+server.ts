import { portalRequest } from '$lib/web/desk-request';
import { takeInFile } from '$lib/web/take-in-file';
import { unasked } from '$lib/web/uploads-into';
import { say } from '$lib/words/words';

/** Takes one file that somebody sends without being asked; see `takeInFile`. */
export const POST = async (event) => {
	const portal = await portalRequest(event);
	return takeInFile(event, portal.locale, say(portal.locale, 'wrong.paper.none'), (file) =>
		unasked(portal).take({ ...file, slot: event.url.searchParams.get('slot') })
	);
};
