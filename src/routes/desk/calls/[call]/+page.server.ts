import { redirect } from '@sveltejs/kit';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { requireStaff } from '$lib/server/actor';
import { callNoteSchema, noteCall } from '$lib/server/chasing/calls';
import { deskForm } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';

export const load = (event) => redirect(303, `/desk/rounds/call-${idParam(event.params.call)}`);

export const actions = {
	note: (event) =>
		deskForm(event, (tx, desk, form, firm) => {
			requireStaff(desk.actor, 'judge_item');
			const id = idParam(event.params.call);
			return noteCall(tx, desk.actor, firm, id, callNoteSchema(localDate(desk.actor.now, firm.calendar)).parse(Object.fromEntries(form)));
		})
};
