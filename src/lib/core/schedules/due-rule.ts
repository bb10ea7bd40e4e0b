import { Temporal } from 'temporal-polyfill';
import { z } from 'zod';
import { addBusinessDays, addDays, isBusinessDay, type FirmCalendar, type IsoDate } from '../calendar/firm-calendar';

/**
 * When a line falls due: so many days or business days after it is asked, or before or after the end of the period it is
 * about; then rolled onto a business day, if wished. The conventions are the usual ones of finance: following, preceding,
 * modified following (the next business day unless that lies in the next month, else the one before).
 */
export const dueRuleSchema = z.object({
	from: z.enum(['asked', 'period_end']),
	/** negative is before; after being asked it is never negative */
	offset: z.coerce.number('Write whole days.').int('Write whole days.').min(-60, 'At most 60 days before.').max(400, 'At most 400 days after.'),
	unit: z.enum(['days', 'business_days']),
	roll: z.enum(['none', 'following', 'preceding', 'modified'])
});
export type DueRule = z.infer<typeof dueRuleSchema>;

/** So many business days after being asked. */
export const afterBusinessDays = (offset: number): DueRule => ({ from: 'asked', offset, unit: 'business_days', roll: 'none' });

/** The day itself if it is a business day, else rolled by a convention. */
export function roll(day: IsoDate, convention: DueRule['roll'], calendar: FirmCalendar): IsoDate {
	if (convention === 'none' || isBusinessDay(day, calendar)) return day;
	const following = addBusinessDays(day, 1, calendar);
	if (convention === 'following') return following;
	if (convention === 'modified' && following.slice(0, 7) === day.slice(0, 7)) return following;
	return addBusinessDays(day, -1, calendar);
}

/**
 * The due date by a rule. Never earlier than the day on which it is asked: nobody is late before they were asked.
 * @param periodEnd the last day of the period; without one a rule about it counts from the day of asking
 */
export function dueDate(rule: DueRule, at: { askedOn: IsoDate; periodEnd: IsoDate | null }, calendar: FirmCalendar): IsoDate {
	const start = rule.from === 'period_end' ? (at.periodEnd ?? at.askedOn) : at.askedOn;
	const placed = rule.unit === 'business_days' ? addBusinessDays(start, rule.offset, calendar) : addDays(start, rule.offset);
	const due = roll(placed, rule.roll, calendar);
	return due < at.askedOn ? at.askedOn : due;
}

const ROLL_WORDS: Record<DueRule['roll'], string> = {
	none: '',
	following: ', or the next business day',
	preceding: ', or the business day before',
	modified: ', or the next business day of the same month, else the one before'
};

/** "10 business days after it is asked", "on the last day of the period, or the next business day". */
export function dueRuleInWords(rule: DueRule): string {
	const n = Math.abs(rule.offset);
	const days = `${n} ${rule.unit === 'business_days' ? 'business ' : ''}${n === 1 ? 'day' : 'days'}`;
	const from = rule.from === 'asked' ? 'it is asked' : 'the period ends';
	const on = rule.from === 'asked' ? 'on the day it is asked' : 'on the last day of the period';
	return `${n === 0 ? on : `${days} ${rule.offset < 0 ? 'before' : 'after'} ${from}`}${ROLL_WORDS[rule.roll]}`;
}

/** What a standing request is about: the period in which an occurrence lies, the one before, or none. */
export const PERIOD_KINDS = ['none', 'week', 'month', 'quarter', 'year'] as const;
export type PeriodKind = (typeof PERIOD_KINDS)[number];

export interface Period {
	kind: Exclude<PeriodKind, 'none'>;
	from: IsoDate;
	/** the last day, included */
	to: IsoDate;
}

/**
 * The period of an occurrence.
 * @param shift 0 for the period in which the day lies, -1 for the one before, 1 for the next
 */
export function periodOf(day: IsoDate, kind: PeriodKind, shift: number): Period | null {
	const date = Temporal.PlainDate.from(day);
	switch (kind) {
		case 'none':
			return null;
		case 'week': {
			const monday = date.subtract({ days: date.dayOfWeek - 1 }).add({ weeks: shift });
			return { kind, from: monday.toString(), to: monday.add({ days: 6 }).toString() };
		}
		case 'month':
			return span(kind, date.with({ day: 1 }).add({ months: shift }), 1);
		case 'quarter':
			return span(kind, date.with({ day: 1, month: Math.floor((date.month - 1) / 3) * 3 + 1 }).add({ months: 3 * shift }), 3);
		case 'year':
			return span(kind, date.with({ day: 1, month: 1 }).add({ years: shift }), 12);
	}
}

function span(kind: Period['kind'], first: Temporal.PlainDate, months: number): Period {
	return { kind, from: first.toString(), to: first.add({ months }).subtract({ days: 1 }).toString() };
}

/** The title of a standing request without any one period: "Your papers for each month". */
export function titleWithoutPeriod(title: string, period: { kind: PeriodKind }): string {
	return period.kind === 'none' ? title.replace(/,? ?\{period\}/g, '').trim() : title.replace(/\{period\}/g, `each ${period.kind}`);
}
