import { z } from 'zod';
import { oneLine, optionalText } from '../people/plain-fields';
import { LINES_MAX, listLineSchema } from '../requests/request-list';
import { PERIOD_KINDS } from './due-rule';
import { patternSchema, patternToRule, ruleSchema, type Schedule } from './recurrence';

/** What happens after a pause with occurrences that lie behind. */
export const CATCH_UP = ['all', 'last', 'none'] as const;
export type CatchUp = (typeof CATCH_UP)[number];

/** How often a standing request comes at most, if that is said. */
const TIMES_MAX = 999;

/** A standing request as it is written. */
export const recurringSchema = z
	.object({
		contactId: z.uuid('Choose who gets it.'),
		others: z.array(z.uuid()).max(20).default([]),
		listId: z.uuid().nullable().default(null),
		title: oneLine('a title; {period} stands for the period', 120),
		message: optionalText('the words of the message', 4000).transform((text) => text ?? ''),
		lines: z
			.array(listLineSchema)
			.min(1, 'A standing request needs at least one line.')
			.max(LINES_MAX)
			.refine(
				(lines) => lines.every((line) => line.kind !== 'letter'),
				'A letter is not asked for again and again. Send it in a request of its own.'
			),
		pattern: patternSchema.nullable(),
		/** written by hand where there is no pattern */
		rule: z.string().max(400).default(''),
		startsOn: z.iso.date('Choose the first day.').refine((day) => day >= '2000-01-01', 'Choose a first day in this century.'),
		endsOn: z
			.union([z.literal('').transform(() => null), z.iso.date('Choose a day, or leave it empty.')])
			.nullable()
			.default(null),
		times: z
			.union([z.literal('').transform(() => null), z.coerce.number().int().min(1, 'At least once.').max(TIMES_MAX, `At most ${TIMES_MAX} times.`)])
			.nullable()
			.default(null),
		at: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Write the time as HH:MM.'),
		roll: z.enum(['none', 'following', 'preceding', 'modified']),
		period: z.object({ kind: z.enum(PERIOD_KINDS), shift: z.coerce.number().int().min(-2).max(2) }),
		quiet: z.boolean().default(false),
		catchUp: z.enum(CATCH_UP).default('last')
	})
	.transform((form, context) => {
		if (form.pattern) return form;
		// how often is kept apart from the rule, and may be written in it
		const parts = form.rule.trim().split(';');
		const counts = parts.filter((part) => /^COUNT=/i.test(part));
		const rule = ruleSchema.safeParse(parts.filter((part) => !counts.includes(part)).join(';'));
		const count = Number(counts[0]?.slice('COUNT='.length) ?? form.times ?? 1);
		if (counts.length > 1 || !(Number.isInteger(count) && count >= 1 && count <= TIMES_MAX)) {
			context.addIssue({ code: 'custom', path: ['rule'], message: `COUNT is written once, from 1 to ${TIMES_MAX}.` });
			return z.NEVER;
		}
		if (rule.success) return { ...form, rule: rule.data, times: counts.length > 0 ? count : form.times };
		context.addIssue({ code: 'custom', path: ['rule'], message: rule.error.issues[0].message });
		return z.NEVER;
	});
export type RecurringForm = z.output<typeof recurringSchema>;

/** When a standing request appears, by what was written. @param businessDays the firm's */
export function scheduleOf(form: RecurringForm, businessDays: readonly number[]): Schedule {
	return {
		rule: form.pattern ? patternToRule(form.pattern, businessDays) : form.rule,
		startsOn: form.startsOn,
		endsOn: form.endsOn,
		times: form.times,
		at: form.at,
		roll: form.roll,
		period: form.period,
		skipped: [],
		moved: {}
	};
}

/**
 * Which of the occurrences that are due are made, after a pause or a long rest of the machine.
 * @param due in order; `at` their instants
 * @param resumedAt what lies before it was missed by a pause; null if there was none
 */
export function toCatchUp<Due extends { at: string }>(
	due: readonly Due[],
	resumedAt: string | null,
	rule: CatchUp
): { made: Due[]; passedOver: Due[] } {
	const missed = resumedAt === null ? [] : due.filter((one) => Date.parse(one.at) < Date.parse(resumedAt));
	const kept = rule === 'all' ? missed : rule === 'last' ? missed.slice(-1) : [];
	const passedOver = missed.filter((one) => !kept.includes(one));
	return { made: due.filter((one) => !passedOver.includes(one)), passedOver };
}
