import { areasOfContact } from '$lib/server/firms/portal-areas';
import { portalRequest } from '$lib/server/desk-request';

export const load = async (event) => {
	const portal = await portalRequest(event);
	return {
		person: { name: portal.actor.name, lookedAtBy: portal.lookedAtBy },
		areas: await portal.inFirm((tx) => areasOfContact(tx, portal.actor))
	};
};
