import { deskForm, deskRequest } from '$lib/web/desk-request';
import { noteLooked, showOnlyMine } from '$lib/server/rounds/read-rounds';

export const actions = {
	noteLooked: async (event) => {
		const desk = await deskRequest(event);
		await desk.inFirm((tx) => noteLooked(tx, desk.actor));
	},
	show: (event) => deskForm(event, (tx, desk, form) => showOnlyMine(tx, desk.actor, form.get('only') === 'mine'))
};
