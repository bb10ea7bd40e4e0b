import { deskRequest } from '$lib/server/desk-request';
import { noteLooked } from '$lib/server/rounds/read-rounds';

export const actions = {
	looked: async (event) => {
		const desk = await deskRequest(event);
		await desk.inFirm((tx) => noteLooked(tx, desk.actor));
	}
};
