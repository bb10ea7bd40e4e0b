import { redirect } from '@sveltejs/kit';
import { newQuestion } from '$lib/core/items/questions';
import { may } from '$lib/core/people/roles';
import { READY_MADE_FORMS } from '$lib/core/requests/client-forms';
import { deskRequest } from '$lib/web/desk-request';
import { inForm } from '$lib/web/form-errors';
import { copyReadyForm, readForms, writeForm } from '$lib/server/library/client-forms';
import { readServices } from '$lib/server/clients/client-record';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => {
		const services = await readServices(tx);
		return {
			forms: (await readForms(tx, desk.actor)).map(({ questions, changedAt, services: ids, ...form }) => ({
				...form,
				questions: questions.length,
				services: services.filter((service) => ids.includes(service.id)).map((service) => service.name),
				changedAt: timeWords(firm.locale, changedAt, firm.calendar.timeZone)
			})),
			ready: READY_MADE_FORMS.map(({ id, name, about, questions }) => ({ id, name, about, questions: questions.length })),
			mayKeep: may(desk.actor.role, 'keep_library')
		};
	});
};

export const actions = {
	/** A form of the firm's own from a ready-made one, or a new one with a first question. */
	make: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const ready = form.get('ready');
			const id = await desk.inFirm((tx) =>
				ready
					? copyReadyForm(tx, desk.actor, String(ready))
					: writeForm(
							tx,
							desk.actor,
							{
								name: `A new form, ${desk.actor.now.slice(0, 16).replace('T', ' ')}`,
								about: '',
								questions: [newQuestion('first', 'What can we do for you?', { is: 'words' })],
								files: true,
								services: []
							},
							null
						)
			);
			redirect(303, `/desk/library/forms/${id}`);
		});
	}
};
