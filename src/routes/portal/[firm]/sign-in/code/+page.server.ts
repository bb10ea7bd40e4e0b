import { doAskForCode, doTakeCode, portalDoor } from '$lib/web/sign-in-forms';

export const actions = {
	ask: async (event) => doAskForCode(event, await portalDoor(event)),
	take: async (event) => doTakeCode(event, await portalDoor(event))
};
