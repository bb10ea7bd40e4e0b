import { portalRequest } from '$lib/server/desk-request';
import { idParam } from '$lib/server/form-errors';
import { takeInPaper } from '$lib/server/papers/papers';
import { takeInFile } from '$lib/server/take-in-file';
import { say } from '$lib/words/words';

/** Takes one file for an item; see `takeInFile`. */
export const POST = async (event) => {
	const portal = await portalRequest(event);
	const itemId = idParam(event.params.item);
	return takeInFile(event.request, portal.locale, say(portal.locale, 'wrong.paper.none'), async (file) => ({
		paper: await takeInPaper(portal.house, portal.firmId, portal.actor, { itemId, slot: event.url.searchParams.get('slot'), ...file })
	}));
};
