import { firmOfPortal } from '$lib/web/desk-request';

/** What a client may want to know before they have a password. */
export const load = async (event) => {
	const { firm, context } = await firmOfPortal(event);
	return { mail: firm.mailFrom, address: firm.address, origin: context.settings.ORIGIN };
};
