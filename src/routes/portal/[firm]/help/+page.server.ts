import { firmOfPortal } from '$lib/server/desk-request';

/** What a client may want to know before they have a password. */
export const load = async (event) => {
	const { firm, house } = await firmOfPortal(event);
	return { mail: firm.mailFrom, address: firm.address, origin: house.settings.ORIGIN };
};
