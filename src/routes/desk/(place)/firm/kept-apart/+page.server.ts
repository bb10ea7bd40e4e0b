import { z } from 'zod';
import { letOut, readKeptApart, removeKeptApart } from '$lib/server/papers/scanning';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const { papers, waiting, since } = await readKeptApart(tx, desk.actor);
			const when = (at: string) => timeWords(firm.locale, at, firm.calendar.timeZone);
			return {
				scanning: Boolean(desk.context.settings.CLAMD),
				waiting,
				since: since && when(since),
				papers: papers.map((paper) => ({ ...paper, came: when(paper.at) }))
			};
		})
	);
};

const paperId = z.uuid('Choose a paper.');

export const actions = {
	letOut: (event) => deskForm(event, (tx, desk, form) => letOut(tx, desk.actor, paperId.parse(form.get('paperId')))),
	remove: (event) => deskForm(event, (tx, desk, form) => removeKeptApart(tx, desk.actor, paperId.parse(form.get('paperId'))))
};
