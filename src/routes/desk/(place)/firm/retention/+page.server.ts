import { z } from 'zod';
import { keepYearsField } from '$lib/core/papers/retention';
import { endHold, keepPapersFor, planDestruction, readRetention, stopDestruction } from '$lib/server/papers/retention';
import { requireStaff } from '$lib/server/actor';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';
import { dateWords, dayOf } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const found = await readRetention(tx, desk.actor);
			const day = (at: string) => dateWords('en', dayOf(at, firm.calendar.timeZone), 'withYear');
			return {
				...found,
				over: found.over.map((paper) => ({ ...paper, came: day(paper.at) })),
				going: found.going.map((paper) => ({ ...paper, came: day(paper.at) })),
				holds: found.holds.map((hold) => ({ ...hold, since: day(hold.setAt) })),
				destroyed: found.destroyed.map((paper) => ({ ...paper, came: day(paper.at), gone: day(paper.destroyedAt) }))
			};
		})
	);
};

const chosen = z.array(z.uuid(), 'Choose the papers first.').min(1, 'Choose the papers first.');

export const actions = {
	keep: (event) => deskForm(event, (tx, desk, form) => keepPapersFor(tx, desk.actor, keepYearsField.parse(form.get('keepYears')))),
	destroy: (event) =>
		deskForm(event, async (tx, desk, form) => {
			requireStaff(desk.actor, 'set_up_firm');
			const papers = chosen.parse(form.getAll('paper'));
			const day = await planDestruction(tx, desk.actor, papers);
			const count = papers.length === 1 ? 'One paper' : `${papers.length} papers`;
			return { said: `${count} will be destroyed on ${dateWords('en', day, 'withYear')}. Until then that can be stopped.` };
		}),
	stop: (event) =>
		deskForm(event, async (tx, desk, form) => {
			requireStaff(desk.actor, 'set_up_firm');
			await stopDestruction(tx, desk.actor, z.uuid('Choose a paper.').parse(form.get('paperId')));
		}),
	endHold: (event) =>
		deskForm(event, async (tx, desk, form) => {
			requireStaff(desk.actor, 'set_up_firm');
			await endHold(tx, desk.actor, z.uuid('Choose a client.').parse(form.get('holdId')));
		})
};
