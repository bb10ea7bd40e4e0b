import { z } from 'zod';
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

/** What every firm starts with: 2 business days before the due date, then 1, 3 and 7 after it. */
export const DEFAULT_CHASE_PLAN: ChasePlan = {
	name: 'Gentle',
	steps: [{ businessDaysFromDue: -2 }, { businessDaysFromDue: 1 }, { businessDaysFromDue: 3 }, { businessDaysFromDue: 7 }]
};

/** One step of a plan, placed on a day. */
export interface PlacedStep {
	/** 1-based place in the plan */
	step: number;
	businessDaysFromDue: number;
	on: IsoDate;
}

/** Placed plans by calendar and plan: a forecast places the same few due dates many thousand times. */
const placed = new WeakMap<FirmCalendar, WeakMap<ChasePlan, Map<IsoDate, readonly PlacedStep[]>>>();

/** Places every step of a plan around a due date. Days are business days, in ascending order. */
export function placeSteps(dueOn: IsoDate, plan: ChasePlan, calendar: FirmCalendar): readonly PlacedStep[] {
	let plans = placed.get(calendar);
	if (!plans) placed.set(calendar, (plans = new WeakMap()));
	let dates = plans.get(plan);
	if (!dates) plans.set(plan, (dates = new Map()));
	let steps = dates.get(dueOn);
	if (!steps) dates.set(dueOn, (steps = placeAnew(dueOn, plan, calendar)));
	return steps;
}

function placeAnew(dueOn: IsoDate, plan: ChasePlan, calendar: FirmCalendar): PlacedStep[] {
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
export function nextStep(item: { dueOn: IsoDate | null; chasedThrough: IsoDate }, plan: ChasePlan, calendar: FirmCalendar): PlacedStep | null {
	if (!item.dueOn) return null;
	return placeSteps(item.dueOn, plan, calendar).find((s) => s.on > item.chasedThrough) ?? null;
}
