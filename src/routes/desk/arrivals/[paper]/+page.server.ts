import { redirect } from '@sveltejs/kit';
import { deskForm } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { fileArrival, placeSchema, putAwayArrival, unfileArrival } from '$lib/server/papers/arrivals';

export const load = (event) => redirect(303, `/desk/rounds/arrival-${idParam(event.params.paper)}`);

export const actions = {
	file: (event) =>
		deskForm(event, (tx, desk, form) =>
			fileArrival(tx, desk.actor, {
				paperId: idParam(event.params.paper),
				...placeSchema.parse({ itemId: form.get('itemId'), slot: form.get('slot') })
			})
		),
	putAway: (event) => deskForm(event, (tx, desk) => putAwayArrival(tx, desk.actor, idParam(event.params.paper))),
	keep: (event) => deskForm(event, (tx, desk) => putAwayArrival(tx, desk.actor, idParam(event.params.paper), true)),
	takeBack: (event) => deskForm(event, (tx, desk) => unfileArrival(tx, desk.actor, idParam(event.params.paper)))
};
