import { redirect } from '@sveltejs/kit';
import { deskRequest } from '$lib/server/desk-request';
import { idParam, inForm } from '$lib/server/form-errors';
import { inviteContact, inviteSchema } from '$lib/server/invitations/invite';

export const load = (event) => redirect(303, `/desk/clients/${idParam(event.params.client)}`);

export const actions = {
	send: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const input = inviteSchema.parse({ ...Object.fromEntries(form), clientId: event.params.client });
			await desk.inFirm((tx) => inviteContact(tx, desk.actor, input));
			return { done: true };
		});
	}
};
