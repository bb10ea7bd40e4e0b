import { CHASE_BY, type ChaseStep } from '$lib/core/chasing/chase-plan';

/** The kinds of steps as they are chosen: what stands before and after the number of days. */
export const STEP_KINDS = [
	{ kind: 'before', words: 'business days before it is due' },
	{ kind: 'after_due', words: 'business days after it was due' },
	{ kind: 'asked', words: 'business days after it was asked' },
	{ kind: 'after', words: 'business days after the step before' },
	{ kind: 'silent', words: 'business days without a sign of life' },
	{ kind: 'every_business', words: 'business days, again and again' },
	{ kind: 'every', words: 'days, again and again' },
	{ kind: 'weekly', words: 'once a week' }
] as const;
export type StepKind = (typeof STEP_KINDS)[number]['kind'];

/** What a step does, as it is chosen. */
export const STEP_BY: Record<(typeof CHASE_BY)[number], string> = {
	usual: 'by mail or text, as they wish',
	email: 'by e-mail',
	text: 'by text, who gets texts',
	both: 'by e-mail and text',
	call: 'a call, by who looks after them',
	partner: 'a partner is told'
};

/** A step while somebody writes it: days are as they are typed. */
export interface StepInHand {
	id: number;
	kind: StepKind;
	days: string;
	weekday: string;
	times: string;
	by: ChaseStep['by'];
	firmer: boolean;
}

/** A step as it is written. @param id tells rows apart */
export function inHand(step: ChaseStep, id: number): StepInHand {
	const { when, by, firmer } = step;
	const same = { id, by, firmer, weekday: '1', times: '3', days: when.kind === 'weekly' ? '7' : String(Math.abs(when.days)) };
	switch (when.kind) {
		case 'due':
			return { ...same, kind: when.days < 0 ? 'before' : 'after_due' };
		case 'every':
			return { ...same, kind: when.unit === 'days' ? 'every' : 'every_business', times: String(when.times) };
		case 'weekly':
			return { ...same, kind: 'weekly', weekday: String(when.weekday), times: String(when.times) };
		default:
			return { ...same, kind: when.kind };
	}
}

/** What is sent of a step: numbers as they were typed, which the form's rule reads and refuses by itself. */
export function typedStep({ kind, days, weekday, times, by, firmer }: StepInHand): object {
	const typed = days.trim() === '' ? 'x' : days.trim();
	const when = {
		before: { kind: 'due', days: typed === '0' ? '0' : `-${typed}` },
		after_due: { kind: 'due', days: typed },
		asked: { kind: 'asked', days: typed },
		after: { kind: 'after', days: typed },
		silent: { kind: 'silent', days: typed },
		every_business: { kind: 'every', days: typed, unit: 'business_days', times },
		every: { kind: 'every', days: typed, unit: 'days', times },
		weekly: { kind: 'weekly', weekday, times }
	}[kind];
	return { when, by, firmer };
}
