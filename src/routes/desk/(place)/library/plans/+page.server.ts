import { chasePlanChoices } from '$lib/core/chasing/chase-plan';
import { may } from '$lib/core/people/roles';
import { readPlanUse } from '$lib/server/firm-settings/chase-plans';
import { deskRequest } from '$lib/web/desk-request';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => {
		const use = new Map((await readPlanUse(tx, desk.actor)).map((one) => [one.key, one]));
		return {
			plans: chasePlanChoices(firm)
				.slice(0, -1)
				.map((plan) => ({ ...plan, use: use.get(plan.key) ?? { things: 0, people: 0, lists: 0, clients: 0, others: 0 } })),
			withoutReminders: use.get('none')?.things ?? 0,
			pace: firm.pace,
			maySetUp: may(desk.actor.role, 'set_up_firm')
		};
	});
};
