import { redirect } from '@sveltejs/kit';
import { putRightSchema } from '$lib/core/statements/put-right';
import { writeStatement } from '$lib/server/statements/put-right';
import { deskForm } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';

export const load = (event) => redirect(303, `/desk/papers/${idParam(event.params.paper)}`);

/** What a paper says that could not be read is written by hand. */
export const actions = {
	write: (event) =>
		deskForm(event, (tx, desk, form) => writeStatement(tx, desk.actor, idParam(event.params.paper), putRightSchema.parse(Object.fromEntries(form))))
};
