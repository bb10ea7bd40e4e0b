import { redirect } from '@sveltejs/kit';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';
import { removeDrafts } from '$lib/server/drafts/drafts';
import { sendDraft } from '$lib/server/requests/send-draft';

export const load = () => redirect(303, '/desk/rounds');

export const actions = {
	send: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await sendDraft(desk.context, desk.firmId, desk.actor, idParam(String(form.get('draftId') ?? '')));
			return { done: true };
		});
	},
	remove: (event) => deskForm(event, (tx, desk, form) => removeDrafts(tx, desk.actor, [idParam(String(form.get('draftId') ?? ''))]))
};
