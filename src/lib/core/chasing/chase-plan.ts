import { z } from 'zod';
import { DEFAULT_PACE, type ReminderPace } from './pace';
import { addBusinessDays, type FirmCalendar, type IsoDate } from '../calendar/firm-calendar';

/** A chase plan: reminders placed by business days relative to the due date, in order; negative is before it. */
export const chasePlanSchema = z.object({
	name: z.string().min(1).max(80),
	steps: z
		.array(z.object({ businessDaysFromDue: z.number().int().min(-30).max(60) }))
		.min(1)
		.max(12)
		.refine(
			(steps) => steps.every((s, i) => i === 0 || s.businessDaysFromDue > steps[i - 1].businessDaysFromDue),
			'The steps must be in order, each later than the one before.'
		)
});
export type ChasePlan = z.infer<typeof chasePlanSchema>;

/** A plan beside the firm's usual one. */
export const furtherChasePlanSchema = chasePlanSchema.extend({ key: z.string().regex(/^[a-z0-9-]{1,40}$/) });
export type FurtherChasePlan = z.infer<typeof furtherChasePlanSchema>;

/** By which plan something is chased: a further plan's key, `usual`, or `none`. */
export const chasePlanKeySchema = z.string().regex(/^[a-z0-9-]{1,40}$/);

/** The plans of a firm, and its calendar. */
export interface ChasingFirm {
	chasePlan: ChasePlan;
	furtherPlans: readonly FurtherChasePlan[];
	pace: ReminderPace;
	calendar: FirmCalendar;
}

const NO_REMINDERS: ChasePlan = { name: 'No reminders', steps: [] };

/** The plan behind a key; nothing, and a plan that is no more, are the usual one. */
export function chasePlanOf(firm: Pick<ChasingFirm, 'chasePlan' | 'furtherPlans'>, key: string | null): ChasePlan {
	if (key === 'none') return NO_REMINDERS;
	return firm.furtherPlans.find((plan) => plan.key === key) ?? firm.chasePlan;
}

/** What can be chosen, in words. */
export function chasePlanChoices(firm: Pick<ChasingFirm, 'chasePlan' | 'furtherPlans'>): { key: string; name: string; words: string }[] {
	const words = (plan: ChasePlan) => chaseStepsInWords(plan.steps.map((step) => step.businessDaysFromDue)).around;
	return [
		{ key: 'usual', name: firm.chasePlan.name, words: words(firm.chasePlan) },
		...firm.furtherPlans.map((plan) => ({ key: plan.key, name: plan.name, words: words(plan) })),
		{ key: 'none', name: NO_REMINDERS.name, words: 'no reminder' }
	];
}

/** "2 business days before it is due, then 1, 3 and 7 after", and "after 3 and 7 business days" for invitations. */
export function chaseStepsInWords(steps: readonly number[]): { around: string; after: string } {
	const list = (days: readonly number[]) => (days.length < 2 ? days.join('') : `${days.slice(0, -1).join(', ')} and ${days.at(-1)}`);
	const days = (n: readonly number[]) => `${list(n)} business ${n.length === 1 && n[0] === 1 ? 'day' : 'days'}`;
	const before = steps.filter((step) => step < 0).map((step) => -step);
	const later = steps.filter((step) => step > 0);
	const parts = [
		...(before.length > 0 ? [`${days(before)} before it is due`] : []),
		...(steps.includes(0) ? ['on the day it is due'] : []),
		...(later.length > 0 ? [before.length > 0 ? `${list(later)} after` : `${days(later)} after it was due`] : [])
	];
	return { around: parts.join(', then '), after: later.length > 0 ? `after ${days(later)}` : '' };
}

const stepsField = z
	.array(z.coerce.number('Write whole days.').int('Write whole days.').min(-30, 'At most 30 days before.').max(60, 'At most 60 days after.'))
	.min(1, 'A plan needs at least one reminder.')
	.max(12, 'Twelve reminders are enough.')
	.transform((steps) => [...new Set(steps)].sort((a, b) => a - b));
const nameField = z.string().trim().min(1, 'Give the plan a name.').max(80, 'Please keep the name to 80 characters.');

/** The form of a further plan. */
export const furtherChasePlanForm = z.object({ name: nameField, steps: stepsField });

/** The form in which a firm changes both of its plans: steps as numbers, those before the due date negative. */
export const chasePlansSchema = z.object({
	name: nameField,
	steps: stepsField,
	/** how often one person is reminded at most */
	gapDays: z.coerce
		.number('Write whole days.')
		.int('Write whole days.')
		.min(1, 'At least one day.')
		.max(14, 'At most 14 days.')
		.default(DEFAULT_PACE.gapDays),
	perWeek: z.coerce
		.number('Write a whole number.')
		.int('Write a whole number.')
		.min(1, 'At least one a week.')
		.max(7, 'At most seven a week.')
		.default(DEFAULT_PACE.perWeek),
	invitationSteps: z
		.array(
			z.coerce
				.number('Write whole days.')
				.int('Write whole days.')
				.min(1, 'At the earliest one business day after.')
				.max(30, 'At most 30 days after.')
		)
		.max(6, 'Six reminders are enough.')
		.transform((steps) => [...new Set(steps)].sort((a, b) => a - b))
});

/** What every firm starts with: 2 business days before the due date, then 1, 3 and 7 after it. */
export const DEFAULT_CHASE_PLAN: ChasePlan = {
	name: 'Gentle',
	steps: [{ businessDaysFromDue: -2 }, { businessDaysFromDue: 1 }, { businessDaysFromDue: 3 }, { businessDaysFromDue: 7 }]
};

/** One step of a plan, placed on a day. */
export interface PlacedChaseStep {
	/** 1-based place in the plan */
	step: number;
	businessDaysFromDue: number;
	on: IsoDate;
}

/** Placed plans by calendar and plan: a forecast places the same few due dates many thousand times. */
const placed = new WeakMap<FirmCalendar, WeakMap<ChasePlan, Map<IsoDate, readonly PlacedChaseStep[]>>>();

/** Places every step of a plan around a due date. Days are business days, in ascending order. */
export function placeChaseSteps(dueOn: IsoDate, plan: ChasePlan, calendar: FirmCalendar): readonly PlacedChaseStep[] {
	let plans = placed.get(calendar);
	if (!plans) placed.set(calendar, (plans = new WeakMap()));
	let dates = plans.get(plan);
	if (!dates) plans.set(plan, (dates = new Map()));
	let steps = dates.get(dueOn);
	if (!steps) dates.set(dueOn, (steps = placeAnew(dueOn, plan, calendar)));
	return steps;
}

function placeAnew(dueOn: IsoDate, plan: ChasePlan, calendar: FirmCalendar): PlacedChaseStep[] {
	return plan.steps.map(({ businessDaysFromDue }, index) => ({
		step: index + 1,
		businessDaysFromDue,
		on:
			businessDaysFromDue === 0
				? addBusinessDays(addBusinessDays(dueOn, 1, calendar), -1, calendar)
				: addBusinessDays(dueOn, businessDaysFromDue, calendar)
	}));
}

/**
 * The first step that lies after the day up to which an item has been chased (the day it was asked
 * counts as such), or null when the plan has run out.
 */
export function nextChaseStep(
	item: { dueOn: IsoDate | null; chasedThrough: IsoDate },
	plan: ChasePlan,
	calendar: FirmCalendar
): PlacedChaseStep | null {
	if (!item.dueOn) return null;
	return placeChaseSteps(item.dueOn, plan, calendar).find((s) => s.on > item.chasedThrough) ?? null;
}
