import { redirect } from '@sveltejs/kit';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';
import { markMessageSeen } from '$lib/server/messages/read-postroom';

export const load = (event) => redirect(303, `/desk/postroom/${idParam(event.params.message)}`);

export const actions = {
	markSeen: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await desk.inFirm((tx) => markMessageSeen(tx, desk.actor, idParam(event.params.message)));
			return { done: true };
		});
	}
};
