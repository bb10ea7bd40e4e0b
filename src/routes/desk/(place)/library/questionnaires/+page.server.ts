import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { newQuestion } from '$lib/core/items/questions';
import { may } from '$lib/core/people/roles';
import { READY_MADE_QUESTIONNAIRES } from '$lib/core/questionnaires/ready-made';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { inForm } from '$lib/web/form-errors';
import { addQuestionnaire, copyReadyQuestionnaire, importQuestionnaire, readQuestionnaires } from '$lib/server/library/questionnaires';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => ({
		questionnaires: (await readQuestionnaires(tx, desk.actor)).map((row) => ({
			...row,
			changedAt: timeWords(firm.locale, row.changedAt, firm.calendar.timeZone)
		})),
		ready: READY_MADE_QUESTIONNAIRES.map(({ id, name, about, of }) => ({ id, name, about, questions: of(firm.currency, 2000).questions.length })),
		mayKeep: may(desk.actor.role, 'keep_library')
	}));
};

const fileField = z.string().min(1, 'Choose a file.').max(1_500_000, 'This file is too large for a questionnaire.');

export const actions = {
	/** A questionnaire of the firm's own from a ready-made one, or a new one with a first line. */
	make: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const ready = form.get('ready');
			const id = await desk.inFirm((tx) =>
				ready
					? copyReadyQuestionnaire(tx, desk.actor, String(ready))
					: addQuestionnaire(tx, desk.actor, {
							name: `A new questionnaire, ${desk.actor.now.slice(0, 16).replace('T', ' ')}`,
							about: '',
							questions: [newQuestion('first', 'What does your business do?', { is: 'words' })],
							files: false,
							signed: false,
							ends: [],
							year: null
						})
			);
			redirect(303, `/desk/library/questionnaires/${id}`);
		});
	},
	/** One out of the file that another firm downloaded. */
	bring: (event) => deskForm(event, (tx, desk, form) => importQuestionnaire(tx, desk.actor, fileField.parse(form.get('file'))))
};
