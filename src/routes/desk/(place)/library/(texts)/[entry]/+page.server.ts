import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { messageTextSchema } from '$lib/core/messages/message-texts';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { changeMessageText, copyMessageText, readMessageText, removeText, useMessageText } from '$lib/server/library/message-texts';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const text = await readMessageText(tx, desk.actor, idParam(event.params.entry));
			return { text, changedAt: timeWords(firm.locale, text.changedAt, firm.calendar.timeZone) };
		})
	);
};

const version = (form: FormData) => z.coerce.number().int().parse(form.get('version'));

export const actions = {
	change: (event) =>
		deskForm(event, (tx, desk, form) =>
			changeMessageText(tx, desk.actor, idParam(event.params.entry), version(form), messageTextSchema.parse(Object.fromEntries(form)))
		),
	use: (event) => deskForm(event, (tx, desk, form) => useMessageText(tx, desk.actor, idParam(event.params.entry), form.get('use') === 'yes')),
	copy: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			redirect(303, `/desk/library/${await desk.inFirm((tx) => copyMessageText(tx, desk.actor, { id: idParam(event.params.entry) }))}`);
		});
	},
	remove: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await desk.inFirm((tx) => removeText(tx, desk.actor, idParam(event.params.entry)));
			redirect(303, '/desk/library');
		});
	}
};
