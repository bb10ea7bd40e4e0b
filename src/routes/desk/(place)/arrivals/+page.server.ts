import { may } from '$lib/core/people/roles';
import { endFilingRule, readArrivalsWithPlaces, readDealtArrivals, readFilingRules } from '$lib/server/papers/arrivals';
import { isOnlyMine } from '$lib/server/rounds/read-rounds';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { timeWords } from '$lib/words/dates';

const SHOWN = 200;

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => {
		const words = (at: string) => timeWords(firm.locale, at, firm.calendar.timeZone);
		const mineOf = (await isOnlyMine(tx, desk.actor)) ? desk.actor.id : null;
		return {
			waiting: (await readArrivalsWithPlaces(tx, SHOWN, mineOf)).map((one) => ({ ...one, came: words(one.sentAt) })),
			dealt: (await readDealtArrivals(tx, desk.actor)).map((one) => ({ ...one, came: words(one.sentAt) })),
			itself: await readFilingRules(tx, desk.actor),
			mayFile: may(desk.actor.role, 'file_papers')
		};
	});
};

export const actions = {
	endRule: (event) => deskForm(event, (tx, desk, form) => endFilingRule(tx, desk.actor, idParam(String(form.get('ruleId') ?? ''))))
};
