import { deskDoor, doAskForCode, doTakeCode } from '$lib/web/sign-in-forms';

export const actions = {
	ask: async (event) => doAskForCode(event, await deskDoor()),
	take: async (event) => doTakeCode(event, await deskDoor())
};
