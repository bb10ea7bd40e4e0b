import { redirect } from '@sveltejs/kit';
import { requireStaff } from '$lib/server/actor';
import { markNoteSeen } from '$lib/server/talk/notes';
import { deskForm } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';

export const load = (event) => redirect(303, `/desk/rounds/named-${idParam(event.params.note)}`);

export const actions = {
	seen: (event) =>
		deskForm(event, (tx, desk) => {
			requireStaff(desk.actor, 'look');
			return markNoteSeen(tx, desk.actor, idParam(event.params.note));
		})
};
