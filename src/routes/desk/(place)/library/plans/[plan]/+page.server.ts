import { redirect } from '@sveltejs/kit';
import { addBusinessDays, localDate } from '$lib/core/calendar/firm-calendar';
import { chasePlanForm, chasePlanKeySchema } from '$lib/core/chasing/chase-plan';
import { shareInWords } from '$lib/core/chasing/what-works';
import { DomainError } from '$lib/core/errors/domain-error';
import { may } from '$lib/core/people/roles';
import { requireStaff } from '$lib/server/actor';
import { readWhatWorks } from '$lib/server/chasing/what-works';
import { lookAhead, planOf, readPlanUse, removeChasePlan, saveChasePlan, stampOfPlan } from '$lib/server/firm-settings/chase-plans';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { inForm, inPage, jsonField } from '$lib/web/form-errors';
import { dateWords } from '$lib/words/dates';

const keyOf = (param: string): string => {
	const key = chasePlanKeySchema.safeParse(param);
	if (!key.success) throw new DomainError('not_found', 'This plan is not here any more.');
	return key.data;
};
export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const key = keyOf(event.params.plan);
			const plan = key === 'new' ? null : planOf(firm, key);
			const today = localDate(desk.actor.now, firm.calendar);
			return {
				key,
				plan,
				stamp: plan && stampOfPlan(plan),
				usualName: firm.chasePlan.name,
				use: (await readPlanUse(tx, desk.actor)).find((one) => one.key === key) ?? { things: 0, people: 0, lists: 0, clients: 0, others: 0 },
				/** what came of the reminders of each step, by its place from 1 */
				works: Object.fromEntries(
					(key === 'new' ? [] : await readWhatWorks(tx, desk.actor, firm)).flatMap((group) =>
						group.by === 'step' && group.plan === key
							? [[group.step, `answered within two days: ${shareInWords(group.answered, group.sent)} of ${group.sent}`]]
							: []
					)
				) as Record<number, string>,
				pace: firm.pace,
				calendar: firm.calendar,
				/** what the line of days above the steps shows: something asked today, due in ten business days */
				example: { askedOn: today, dueOn: addBusinessDays(today, 10, firm.calendar) },
				maySetUp: may(desk.actor.role, 'set_up_firm')
			};
		})
	);
};

/** A plan as it is written: the steps come as one field, for what they hold depends on their kind. */
const typedPlan = (form: FormData) =>
	chasePlanForm.parse({ name: form.get('name') ?? '', steps: jsonField(form, 'steps', 20_000, 'The steps did not arrive whole. Please try again.') });

export const actions = {
	save: async (event) => {
		let made: string | null = null;
		const answer = await deskForm(event, async (tx, desk, form) => {
			requireStaff(desk.actor, 'set_up_firm');
			const key = keyOf(event.params.plan);
			const seen = String(form.get('seen') ?? '').slice(0, 100);
			const saved = await saveChasePlan(tx, desk.actor, key === 'new' ? { key: null } : { key, seen }, typedPlan(form));
			if (key === 'new') made = saved;
		});
		if (made) redirect(303, `/desk/library/plans/${made}`);
		return answer;
	},
	remove: async (event) => {
		let done = false;
		const answer = await deskForm(event, async (tx, desk) => {
			requireStaff(desk.actor, 'set_up_firm');
			await removeChasePlan(tx, desk.actor, keyOf(event.params.plan));
			done = true;
		});
		if (done) redirect(303, '/desk/library/plans');
		return answer;
	},
	lookAhead: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			return desk.read(async (tx, firm) => {
				requireStaff(desk.actor, 'set_up_firm');
				const ahead = await lookAhead(tx, desk.actor, keyOf(event.params.plan), typedPlan(form));
				const day = (on: string) => dateWords(firm.locale, on);
				return {
					ahead: {
						...ahead,
						through: day(ahead.through),
						busiest: ahead.busiest && { ...ahead.busiest, day: day(ahead.busiest.day) },
						changes: ahead.changes.map((one) => ({ ...one, days: one.days.map((change) => ({ ...change, day: day(change.day) })) }))
					}
				};
			});
		});
	}
};
