import { redirect } from '@sveltejs/kit';
import { messageTextSchema } from '$lib/core/messages/message-texts';
import { deskRequest } from '$lib/web/desk-request';
import { inForm } from '$lib/web/form-errors';
import { addMessageText } from '$lib/server/library/message-texts';

export const actions = {
	default: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const input = messageTextSchema.parse(Object.fromEntries(form));
			redirect(303, `/desk/library/${await desk.inFirm((tx) => addMessageText(tx, desk.actor, input))}`);
		});
	}
};
