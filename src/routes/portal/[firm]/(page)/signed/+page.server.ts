import { portalRequest } from '$lib/web/desk-request';
import { readSignedLetters } from '$lib/server/firms/portal-areas';

export const load = async (event) => {
	const portal = await portalRequest(event);
	return portal.read(async (tx) => ({ letters: await readSignedLetters(tx, portal.actor) }));
};
