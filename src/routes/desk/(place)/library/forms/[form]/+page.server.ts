import { redirect } from '@sveltejs/kit';
import { may } from '$lib/core/people/roles';
import { clientFormSchema } from '$lib/core/requests/client-forms';
import { readWritingPlace } from '$lib/server/requests/writing-place';
import { readServices } from '$lib/server/clients/client-record';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage, jsonField } from '$lib/web/form-errors';
import { readForm, removeForm, writeForm } from '$lib/server/library/client-forms';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const form = await readForm(tx, desk.actor, idParam(event.params.form));
			return {
				form: { ...form, changedAt: timeWords(firm.locale, form.changedAt, firm.calendar.timeZone) },
				services: await readServices(tx),
				place: await readWritingPlace(tx, firm),
				mayKeep: may(desk.actor.role, 'keep_library')
			};
		})
	);
};

export const actions = {
	save: (event) =>
		deskForm(event, (tx, desk, form) => {
			const typed = jsonField(form, 'form', 200_000, 'The form did not arrive whole. What you wrote is still here; please save it again.');
			return writeForm(tx, desk.actor, clientFormSchema.parse(typed), idParam(event.params.form));
		}),
	remove: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await desk.inFirm((tx) => removeForm(tx, desk.actor, idParam(event.params.form)));
			redirect(303, '/desk/library/forms');
		});
	}
};
