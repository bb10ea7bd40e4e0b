import { areasOfContact } from '$lib/server/firms/portal-areas';
import { portalRequest } from '$lib/web/desk-request';

export const load = async (event) => {
	const portal = await portalRequest(event);
	return {
		person: { id: portal.contactId, name: portal.actor.name, email: event.locals.signedIn!.email, lookedAtBy: portal.lookedAtBy },
		areas: await portal.read((tx) => areasOfContact(tx, portal.actor))
	};
};
