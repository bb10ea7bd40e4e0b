import { redirect } from '@sveltejs/kit';
import { deskForm } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { markTextMessageSeen } from '$lib/server/messages/incoming-texts';

export const load = (event) => redirect(303, `/desk/rounds/text-${idParam(event.params.text)}`);

export const actions = {
	markSeen: (event) => deskForm(event, (tx, desk) => markTextMessageSeen(tx, desk.actor, idParam(event.params.text)))
};
