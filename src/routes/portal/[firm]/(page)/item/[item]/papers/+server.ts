import { portalRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { takeInPaper } from '$lib/server/papers/papers';
import { takeInFile } from '$lib/web/take-in-file';
import { say } from '$lib/words/words';

/** Takes one file for an item; see `takeInFile`. */
export const POST = async (event) => {
	const portal = await portalRequest(event);
	const itemId = idParam(event.params.item);
	return takeInFile(event, portal.locale, say(portal.locale, 'wrong.paper.none'), async (file) => ({
		paper: await takeInPaper(portal.context, portal.firmId, portal.actor, { itemId, slot: event.url.searchParams.get('slot'), ...file })
	}));
};
