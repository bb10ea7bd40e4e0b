import { error, redirect } from '@sveltejs/kit';
import { READY_MADE_MESSAGE_TEXTS } from '$lib/core/messages/message-texts';
import { deskRequest } from '$lib/web/desk-request';
import { inForm } from '$lib/web/form-errors';
import { copyMessageText } from '$lib/server/library/message-texts';

export const load = (event) => {
	const text = READY_MADE_MESSAGE_TEXTS.find((ready) => ready.key === event.params.key);
	if (!text) error(404, 'There is nothing here.');
	return { text };
};

export const actions = {
	default: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			redirect(303, `/desk/library/${await desk.inFirm((tx) => copyMessageText(tx, desk.actor, { key: event.params.key }))}`);
		});
	}
};
