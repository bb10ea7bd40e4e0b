import { redirect } from '@sveltejs/kit';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';
import { putInvitationAside, withdrawInvitation } from '$lib/server/invitations/invite';

export const load = () => redirect(303, '/desk/rounds');

export const actions = {
	withdraw: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await desk.inFirm((tx) => withdrawInvitation(tx, desk.actor, idParam(event.params.invitation)));
			return { done: true };
		});
	},
	putAside: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await desk.inFirm((tx) => putInvitationAside(tx, desk.actor, idParam(event.params.invitation)));
			return { done: true };
		});
	}
};
