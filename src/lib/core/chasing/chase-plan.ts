import { z } from 'zod';
import { DEFAULT_PACE, type ReminderPace } from './pace';
import { addBusinessDays, addDays, daysBetween, onOrAfterBusinessDay, type FirmCalendar, type IsoDate } from '../calendar/firm-calendar';

const wholeDays = (least: number, most: number) =>
	z.coerce
		.number('Write whole days.')
		.int('Write whole days.')
		.min(least, least < 0 ? `At most ${-least} days before.` : least === 0 ? 'At the earliest on the day itself.' : 'At least one day.')
		.max(most, `At most ${most} days.`);
const times = z.coerce.number('Write a whole number.').int('Write a whole number.').min(1, 'At least once.').max(12, 'At most twelve times.');

/**
 * When a step of a chase plan falls due. Days are business days unless it says otherwise.
 * - `due`: around the due date, negative before it; nothing where there is none
 * - `asked`: after it was asked, also without a due date
 * - `after`: after the step before it, or after it was asked for the first
 * - `every`: again and again after the step before
 * - `weekly`: on a day of the week, from the step before on; 1 is Monday
 * - `silent`: once nothing was heard from its person for so long, counted from the step before at the earliest
 */
export const chaseWhenSchema = z.discriminatedUnion('kind', [
	z.object({ kind: z.literal('due'), days: wholeDays(-30, 60) }),
	z.object({ kind: z.literal('asked'), days: wholeDays(1, 120) }),
	z.object({ kind: z.literal('after'), days: wholeDays(1, 60) }),
	z.object({ kind: z.literal('every'), days: wholeDays(1, 60), unit: z.enum(['business_days', 'days']), times }),
	z.object({ kind: z.literal('weekly'), weekday: z.coerce.number().int().min(1).max(7), times }),
	z.object({ kind: z.literal('silent'), days: wholeDays(1, 60) })
]);
export type ChaseWhen = z.infer<typeof chaseWhenSchema>;

/** What a step does: writes as each person wishes, or by one way or both; has somebody of the firm call; tells a partner. */
export const CHASE_BY = ['usual', 'email', 'text', 'both', 'call', 'partner'] as const;
export type ChaseBy = (typeof CHASE_BY)[number];

export const chaseStepSchema = z.object({
	when: chaseWhenSchema,
	by: z.enum(CHASE_BY),
	/** in the firmer words of the Library */
	firmer: z.boolean()
});
export type ChaseStep = z.infer<typeof chaseStepSchema>;

/** A step around the due date, as each person wishes. @param days business days, negative before it */
export const aroundDue = (days: number): ChaseStep => ({ when: { kind: 'due', days }, by: 'usual', firmer: false });

/** Which step goes before the one in front of it, where that can be told without an item; null if none does. */
export function stepOutOfOrder(steps: readonly ChaseStep[]): number | null {
	for (const kind of ['due', 'asked'] as const) {
		let last = -Infinity;
		for (const [at, { when }] of steps.entries()) {
			if (when.kind !== kind) continue;
			if (when.days <= last) return at;
			last = when.days;
		}
	}
	return null;
}

const STEPS_MOST = 12;
const stepsField = z
	.array(chaseStepSchema)
	.min(1, 'A plan needs at least one step.')
	.max(STEPS_MOST, 'Twelve steps are enough.')
	.superRefine((steps, context) => {
		const at = stepOutOfOrder(steps);
		if (at !== null)
			context.addIssue({
				code: 'custom',
				path: [at, 'when', 'days'],
				message: 'This is not later than a step before it. Two on one day would be one message: take one out, or give it another day.'
			});
	});

/** A chase plan: steps in order. A step that would come no earlier than a later one is left out: the later one says more. */
export const chasePlanSchema = z.object({ name: z.string().min(1).max(80), steps: stepsField });
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

/** Whether a key names something that can be chosen: a plan may have been removed since. */
export const isPlanOf = (firm: Pick<ChasingFirm, 'furtherPlans'>, key: string): boolean =>
	key === 'usual' || key === 'none' || firm.furtherPlans.some((plan) => plan.key === key);

/** What can be chosen, in words. */
export function chasePlanChoices(firm: Pick<ChasingFirm, 'chasePlan' | 'furtherPlans'>): { key: string; name: string; words: string }[] {
	return [
		{ key: 'usual', name: firm.chasePlan.name, words: chasePlanInWords(firm.chasePlan) },
		...firm.furtherPlans.map((plan) => ({ key: plan.key, name: plan.name, words: chasePlanInWords(plan) })),
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

/** When a step falls due, in words. */
export function chaseWhenInWords(when: ChaseWhen): string {
	const n = Math.abs(when.kind === 'weekly' ? 0 : when.days);
	const days = `${n} business ${n === 1 ? 'day' : 'days'}`;
	const often = (most: number) => (most === 1 ? 'once' : `at most ${most} times`);
	switch (when.kind) {
		case 'due':
			return when.days === 0 ? 'on the day it is due' : when.days < 0 ? `${days} before it is due` : `${days} after it was due`;
		case 'asked':
			return `${days} after it was asked`;
		case 'after':
			return `${days} after the step before`;
		case 'every':
			return `every ${when.unit === 'days' ? `${n === 1 ? 'day' : `${n} days`}` : days}, ${often(when.times)}`;
		case 'weekly':
			return `every ${WEEKDAYS[when.weekday - 1]}, ${often(when.times)}`;
		case 'silent':
			return `after ${days} without a sign of life`;
	}
}
export const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;

/** What a step does, in words. */
export const CHASE_BY_WORDS: Record<ChaseBy, string> = {
	usual: 'as they wish',
	email: 'by e-mail',
	text: 'by text message',
	both: 'by e-mail and text message',
	call: 'a call',
	partner: 'a partner is told'
};

/** A plan in one line: reminders around the due date together, whatever else step by step. */
export function chasePlanInWords(plan: ChasePlan): string {
	const plain = plan.steps.flatMap(({ when, by, firmer }) => (when.kind === 'due' && by === 'usual' && !firmer ? [when.days] : []));
	if (plain.length === plan.steps.length) return chaseStepsInWords(plain).around;
	return plan.steps
		.map(({ when, by, firmer }) =>
			[chaseWhenInWords(when), ...(by === 'usual' ? [] : [CHASE_BY_WORDS[by]]), ...(firmer ? ['firmer'] : [])].join(', ')
		)
		.join('; ');
}

const nameField = z.string().trim().min(1, 'Give the plan a name.').max(80, 'Please keep the name to 80 characters.');

/** The form of a plan. */
export const chasePlanForm = z.object({ name: nameField, steps: stepsField });

/** The form in which a firm says how often one person is reminded at most, and when invitations are. */
export const chasePaceForm = z.object({
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
export const DEFAULT_CHASE_PLAN: ChasePlan = { name: 'Gentle', steps: [-2, 1, 3, 7].map(aroundDue) };

/** What decides on which days something is chased. */
export interface ChaseDates {
	dueOn: IsoDate | null;
	/** the day on which it was asked */
	askedOn: IsoDate;
	/** the last day on which anything was heard from its person */
	heardOn: IsoDate | null;
}

/** One step of a plan, placed on a day. */
export interface PlacedChaseStep extends ChaseStep {
	/** 1-based place in the plan */
	step: number;
	/** 1-based place among all days of the plan: a step that comes again has several */
	turn: number;
	/** the how-manieth time of its step, from 1 */
	time: number;
	on: IsoDate;
}

/** Which dates the days of a plan hang on. */
const hangsOn = (plan: ChasePlan, dates: ChaseDates): string =>
	`${dates.dueOn}${plan.steps.every(({ when }) => when.kind === 'due') ? '' : ` ${dates.askedOn}`}${plan.steps.some(({ when }) => when.kind === 'silent') ? ` ${dates.heardOn}` : ''}`;

/** Placed plans by calendar and plan: a forecast places the same few dates many thousand times. */
const placed = new WeakMap<FirmCalendar, WeakMap<ChasePlan, Map<string, readonly PlacedChaseStep[]>>>();

/** Places every step of a plan. Days are business days, in ascending order. */
export function placeChaseSteps(dates: ChaseDates, plan: ChasePlan, calendar: FirmCalendar): readonly PlacedChaseStep[] {
	let plans = placed.get(calendar);
	if (!plans) placed.set(calendar, (plans = new WeakMap()));
	let known = plans.get(plan);
	if (!known) plans.set(plan, (known = new Map()));
	const key = hangsOn(plan, dates);
	let steps = known.get(key);
	if (!steps) known.set(key, (steps = placeAnew(dates, plan, calendar)));
	return steps;
}

function placeAnew(dates: ChaseDates, plan: ChasePlan, calendar: FirmCalendar): PlacedChaseStep[] {
	const all: Omit<PlacedChaseStep, 'turn'>[] = [];
	let before = dates.askedOn;
	for (const [at, step] of plan.steps.entries())
		for (const [nth, on] of daysOf(step.when, before, dates, calendar).entries()) {
			all.push({ ...step, step: at + 1, time: nth + 1, on });
			before = on;
		}
	return all.map((one, at) => ({ ...one, turn: at + 1 })).filter((one, at) => all.slice(at + 1).every((later) => later.on > one.on));
}

/** The days of one step. @param before the day of the step before it, or on which it was asked */
function daysOf(when: ChaseWhen, before: IsoDate, { dueOn, askedOn, heardOn }: ChaseDates, calendar: FirmCalendar): IsoDate[] {
	switch (when.kind) {
		case 'due':
			if (!dueOn) return [];
			return [when.days === 0 ? addBusinessDays(addBusinessDays(dueOn, 1, calendar), -1, calendar) : addBusinessDays(dueOn, when.days, calendar)];
		case 'asked':
			return [addBusinessDays(askedOn, when.days, calendar)];
		case 'after':
			return [addBusinessDays(before, when.days, calendar)];
		case 'silent':
			return [addBusinessDays(heardOn !== null && heardOn > before ? heardOn : before, when.days, calendar)];
		case 'every': {
			const days: IsoDate[] = [];
			for (let on = before; days.length < when.times; days.push(on))
				on = when.unit === 'days' ? onOrAfterBusinessDay(addDays(on, when.days), calendar) : addBusinessDays(on, when.days, calendar);
			return days;
		}
		case 'weekly': {
			// 5 January 1970 was a Monday
			const weekday = (((daysBetween('1970-01-05', before) % 7) + 7) % 7) + 1;
			const first = addDays(before, ((when.weekday - weekday + 6) % 7) + 1);
			return [...new Set(Array.from({ length: when.times }, (_, week) => onOrAfterBusinessDay(addDays(first, 7 * week), calendar)))];
		}
	}
}

/**
 * The first step that has not had its turn and lies after the day up to which an item has been chased (the day it was asked
 * counts as such), or null when the plan has run out.
 */
export function nextChaseStep(item: ChaseDates & ChasedSoFar, plan: ChasePlan, calendar: FirmCalendar): PlacedChaseStep | null {
	return placeChaseSteps(item, plan, calendar).find((step) => isToCome(step, item)) ?? null;
}

/** How far something has been chased. */
export interface ChasedSoFar {
	/** steps on or before this day are behind us */
	chasedThrough: IsoDate;
	/** so are the turns up to this one, also where their day moves on */
	chasedTurn: number;
}

/** Whether a step is still ahead. */
export const isToCome = (step: PlacedChaseStep, { chasedThrough, chasedTurn }: ChasedSoFar): boolean =>
	step.turn > chasedTurn && step.on > chasedThrough;
