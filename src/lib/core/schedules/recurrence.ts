import rrule from 'rrule';
import { z } from 'zod';
import { addDays, daysBetween, localInstant, type FirmCalendar, type IsoDate, type IsoInstant } from '../calendar/firm-calendar';
import { DomainError } from '../errors/domain-error';
import { dueDate, periodOf, roll, PERIOD_KINDS, type DueRule, type Period } from './due-rule';

const { RRule } = rrule;

/** The plain editor of a rule: what people say, before it is written as an iCalendar rule. */
export const patternSchema = z.discriminatedUnion('every', [
	z.object({
		every: z.literal('week'),
		interval: z.coerce.number().int().min(1, 'At least every week.').max(52, 'At most every 52 weeks.'),
		weekdays: z.array(z.coerce.number().int().min(1).max(7)).min(1, 'Choose at least one day of the week.').max(7)
	}),
	z.object({
		every: z.literal('month'),
		interval: z.coerce.number().int().min(1, 'At least every month.').max(60, 'At most every 60 months.'),
		on: z.discriminatedUnion('by', [
			z.object({ by: z.literal('day'), day: z.coerce.number().int().min(1, 'Days go from 1 to 31.').max(31, 'Days go from 1 to 31.') }),
			z.object({ by: z.literal('last_day') }),
			z.object({
				by: z.literal('weekday'),
				nth: z.coerce
					.number()
					.int()
					.min(-1)
					.max(4)
					.refine((n) => n !== 0),
				weekday: z.coerce.number().int().min(1).max(7)
			}),
			z.object({
				by: z.literal('business_day'),
				nth: z.coerce
					.number()
					.int()
					.min(-10)
					.max(10)
					.refine((n) => n !== 0)
			})
		])
	})
]);
export type Pattern = z.infer<typeof patternSchema>;

const DAY_CODES = ['', 'MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const;

/**
 * A pattern as an iCalendar recurrence rule (RFC 5545, 3.3.10). A day that a month lacks is its last one: "on the 31st" is
 * the 30th of November.
 * @param businessDays the firm's, ISO weekdays; what "last business day" counts. Holidays are no part of a rule; see `roll`.
 */
export function patternToRule(pattern: Pattern, businessDays: readonly number[]): string {
	if (pattern.every === 'week')
		return `FREQ=WEEKLY;INTERVAL=${pattern.interval};BYDAY=${[...new Set(pattern.weekdays)]
			.sort()
			.map((day) => DAY_CODES[day])
			.join(',')}`;
	const monthly = `FREQ=MONTHLY;INTERVAL=${pattern.interval}`;
	switch (pattern.on.by) {
		case 'day': {
			if (pattern.on.day <= 28) return `${monthly};BYMONTHDAY=${pattern.on.day}`;
			const days = [28, 29, 30, 31].filter((day) => day <= (pattern.on as { day: number }).day);
			return `${monthly};BYMONTHDAY=${days.join(',')};BYSETPOS=-1`;
		}
		case 'last_day':
			return `${monthly};BYMONTHDAY=-1`;
		case 'weekday':
			return `${monthly};BYDAY=${pattern.on.nth}${DAY_CODES[pattern.on.weekday]}`;
		case 'business_day':
			return `${monthly};BYDAY=${businessDays.map((day) => DAY_CODES[day]).join(',')};BYSETPOS=${pattern.on.nth}`;
	}
}

/** The parts of a rule, and how their values look by RFC 5545, 3.3.10. */
const RULE_PARTS: Record<string, RegExp> = {
	FREQ: /^(DAILY|WEEKLY|MONTHLY|YEARLY)$/,
	INTERVAL: /^[1-9]\d{0,2}$/,
	BYDAY: /^([+-]?[1-5])?(MO|TU|WE|TH|FR|SA|SU)(,([+-]?[1-5])?(MO|TU|WE|TH|FR|SA|SU)){0,30}$/,
	BYMONTHDAY: /^-?([1-9]|[12]\d|3[01])(,-?([1-9]|[12]\d|3[01])){0,30}$/,
	BYMONTH: /^([1-9]|1[0-2])(,([1-9]|1[0-2])){0,11}$/,
	BYSETPOS: /^-?([1-9]|[12]\d|3[01])$/,
	WKST: /^(MO|TU|WE|TH|FR|SA|SU)$/
};

/**
 * A rule as written: days and longer only, without its own end, which a standing request keeps apart.
 * @throws through Zod what is wrong with it
 */
export const ruleSchema = z
	.string()
	.trim()
	.transform((text) => text.replace(/^RRULE:/i, '').toUpperCase())
	.superRefine((text, context) => {
		const wrong = (message: string) => context.addIssue({ code: 'custom', message });
		if (text.length > 300) return wrong('This rule is too long.');
		const parts = text.split(';').map((part) => part.split('='));
		const unknown = parts.find(([name]) => !(name in RULE_PARTS));
		if (unknown) return wrong(`“${unknown[0].slice(0, 20)}” is not a part of a rule here. Use ${Object.keys(RULE_PARTS).join(', ')}.`);
		if (parts[0][0] !== 'FREQ') return wrong('A rule begins with FREQ=DAILY, WEEKLY, MONTHLY or YEARLY.');
		const odd = parts.find(([name, value]) => !RULE_PARTS[name].test(value ?? ''));
		if (odd) return wrong(`“${odd.join('=').slice(0, 60)}” is not written as iCalendar writes it.`);
		if (new Set(parts.map(([name]) => name)).size < parts.length) return wrong('A part stands in this rule twice.');
		const { FREQ, BYDAY, ...others } = Object.fromEntries(parts) as Record<string, string | undefined>;
		if (/\d/.test(BYDAY ?? '') && (FREQ === 'DAILY' || FREQ === 'WEEKLY'))
			return wrong('“First Monday” and the like go with months and years only. Write BYDAY=MO, or FREQ=MONTHLY.');
		if (FREQ === 'WEEKLY' && others.BYMONTHDAY) return wrong('Days of a month do not go with weeks. Use FREQ=MONTHLY.');
		if (others.BYSETPOS && !BYDAY && !others.BYMONTHDAY && !others.BYMONTH)
			return wrong('BYSETPOS chooses among days: say which, with BYDAY or BYMONTHDAY.');
	});

/** Everything that decides when a standing request appears. */
export interface Schedule {
	/** RRULE without DTSTART, UNTIL and COUNT */
	rule: string;
	/** the first day on which it may appear */
	startsOn: IsoDate;
	/** the last day on which it may appear, or null */
	endsOn: IsoDate | null;
	/** after how many days of the rule it ends, those that are left out counted too (COUNT of RFC 5545), or null */
	times: number | null;
	/** local time of day at which it appears, HH:MM */
	at: string;
	/** onto which business day the day of the rule is rolled */
	roll: DueRule['roll'];
	period: { kind: (typeof PERIOD_KINDS)[number]; shift: number };
	/** days of the rule that are left out */
	skipped: readonly IsoDate[];
	/** days of the rule that appear on another day */
	moved: Readonly<Record<IsoDate, IsoDate>>;
}

/** One appearance of a standing request. */
export interface Occurrence {
	/** the day by the rule: what it is known by, whatever day it is moved to */
	ruleDay: IsoDate;
	/** the day on which it appears */
	askedOn: IsoDate;
	/** the moment, in the firm's time zone */
	at: IsoInstant;
	period: Period | null;
	skipped: boolean;
	moved: boolean;
}

const utc = (day: IsoDate) => new Date(`${day}T00:00:00Z`);
const dayOf = (date: Date): IsoDate => date.toISOString().slice(0, 10);

/** How far ahead a rule is followed: twelve times of a yearly one are shown, and leap days come every eight years at worst. */
const SEARCH_YEARS = 13;

/** Days by which a step of a rule goes on at least, by its frequency. */
const SHORTEST_STEP: Record<number, number> = { [RRule.DAILY]: 1, [RRule.WEEKLY]: 7, [RRule.MONTHLY]: 28, [RRule.YEARLY]: 365 };

/**
 * Calls with each day of the rule from one day on, in order, until it is told to stop or there are no more. However a rule is written, it is
 * followed day by day at most through the years that are searched: one that never comes true costs no more than one that does.
 * @param visit answers whether to go on
 */
function eachRuleDay(schedule: Pick<Schedule, 'rule' | 'startsOn' | 'endsOn' | 'times'>, from: IsoDate, visit: (day: IsoDate) => boolean): void {
	const first = from > schedule.startsOn ? from : schedule.startsOn;
	const searched = addDays(first, SEARCH_YEARS * 366);
	const until = schedule.endsOn && schedule.endsOn < searched ? schedule.endsOn : searched;
	if (until < schedule.startsOn) return;
	const rule = new RRule({ ...RRule.parseString(schedule.rule), dtstart: utc(schedule.startsOn), until: utc(until), count: schedule.times }, true);
	// Between two days that fit the package looks at no end: it would follow a rule without any up to the year 9999. At every step it
	// stops at an interval of 0, so that is what it reads once its steps are over.
	const { interval, freq } = rule.options;
	let steps = 2 * Math.ceil(daysBetween(schedule.startsOn, until) / SHORTEST_STEP[freq]) + 20;
	Object.defineProperty(rule.options, 'interval', { get: () => (steps-- > 0 ? interval : 0) });
	rule.all((date) => {
		const day = dayOf(date);
		return day < first || visit(day);
	});
}

/** One day of the rule with all that follows from it. */
function occurrenceOf(schedule: Schedule, ruleDay: IsoDate, calendar: FirmCalendar): Occurrence {
	const moved = schedule.moved[ruleDay];
	const askedOn = moved ?? roll(ruleDay, schedule.roll, calendar);
	return {
		ruleDay,
		askedOn,
		at: localInstant(askedOn, schedule.at, calendar),
		period: periodOf(ruleDay, schedule.period.kind, schedule.period.shift),
		skipped: schedule.skipped.includes(ruleDay),
		moved: moved !== undefined
	};
}

/**
 * The occurrences from a day of the rule on, skipped ones included and marked, at most so many.
 * @param from the first day of the rule to look at
 */
export function occurrences(schedule: Schedule, from: IsoDate, most: number, calendar: FirmCalendar): Occurrence[] {
	const found: Occurrence[] = [];
	if (most <= 0) return found;
	eachRuleDay(schedule, from, (day) => found.push(occurrenceOf(schedule, day, calendar)) < most);
	return found;
}

/** Days by which rolling onto a business day moves an occurrence at most: a weekend among holidays. */
const ROLLED_MOST = 10;

/**
 * The occurrences that may appear through a day, wherever they were rolled or moved to, and the first one after them that is
 * not skipped.
 */
export function occurrencesThrough(schedule: Schedule, from: IsoDate, through: IsoDate, most: number, calendar: FirmCalendar): Occurrence[] {
	const last = Object.keys(schedule.moved).reduce((latest, day) => (day > latest ? day : latest), addDays(through, ROLLED_MOST));
	const found: Occurrence[] = [];
	eachRuleDay(schedule, from, (day) => {
		const occurrence = occurrenceOf(schedule, day, calendar);
		return found.push(occurrence) < most && (day <= last || occurrence.skipped);
	});
	return found;
}

/** The first occurrence after a day of the rule that is not skipped, or null if there is none. */
export function nextOccurrence(schedule: Schedule, afterRuleDay: IsoDate | null, calendar: FirmCalendar): Occurrence | null {
	const skipped = new Set(schedule.skipped);
	let next: IsoDate | null = null;
	eachRuleDay(schedule, afterRuleDay ? addDays(afterRuleDay, 1) : schedule.startsOn, (day) => {
		if (!skipped.has(day)) next = day;
		return next === null;
	});
	return next && occurrenceOf(schedule, next, calendar);
}

/**
 * Refuses a schedule that would never appear.
 * @throws DomainError invalid
 */
export function requireOccurrence(schedule: Schedule, calendar: FirmCalendar): void {
	if (schedule.endsOn && schedule.endsOn < schedule.startsOn)
		throw new DomainError('invalid', 'It would end before it starts. Choose a later end.', { endsOn: 'Choose a day after the start.' });
	if (!nextOccurrence({ ...schedule, skipped: [] }, null, calendar))
		throw new DomainError('invalid', 'By this rule it would never appear. Choose another day, or a later end.', { rule: 'There is no such day.' });
}

/** The due date of a line in an occurrence. */
export function dueIn(occurrence: Pick<Occurrence, 'askedOn' | 'period'>, rule: DueRule, calendar: FirmCalendar): IsoDate {
	return dueDate(rule, { askedOn: occurrence.askedOn, periodEnd: occurrence.period?.to ?? null }, calendar);
}

const DAY_WORDS: Record<string, string> = {
	MO: 'Monday',
	TU: 'Tuesday',
	WE: 'Wednesday',
	TH: 'Thursday',
	FR: 'Friday',
	SA: 'Saturday',
	SU: 'Sunday'
};
const NTH_WORDS = ['', 'first', 'second', 'third', 'fourth', 'fifth'];
const ordinal = (n: number): string =>
	`${n}${n % 10 === 1 && n !== 11 ? 'st' : n % 10 === 2 && n !== 12 ? 'nd' : n % 10 === 3 && n !== 13 ? 'rd' : 'th'}`;
const nth = (n: number): string => (n === -1 ? 'last' : n < 0 ? `${nth(-n)} to last` : (NTH_WORDS[n] ?? ordinal(n)));
const list = (parts: readonly string[]) => (parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`);

/**
 * A rule in words: "every month, on the last business day"; a rule with parts the editor does not make is given as written. What is
 * said in the same words comes on the same days.
 * @param businessDays the firm's, ISO weekdays
 */
export function ruleInWords(rule: string, businessDays: readonly number[]): string {
	const parts = Object.fromEntries(rule.split(';').map((part) => part.split('='))) as Record<string, string | undefined>;
	const { FREQ, INTERVAL, WKST, ...by } = parts;
	const n = Number(INTERVAL ?? '1');
	const asWritten = `by the rule ${rule}`;
	if (WKST && WKST !== 'MO') return asWritten;
	const names = Object.keys(by).sort().join();
	if (FREQ === 'DAILY' && names === '') return n === 1 ? 'every day' : `every ${n} days`;
	if (FREQ === 'WEEKLY' && names === 'BYDAY') {
		const days = by.BYDAY!.split(',').map((day) => DAY_WORDS[day]);
		return days.includes(undefined!) ? asWritten : `${n === 1 ? 'every week' : `every ${n} weeks`}, on ${list(days)}`;
	}
	const on = FREQ === 'MONTHLY' ? monthlyWords(names, by, businessDays) : null;
	if (!on) return asWritten;
	return `${n === 1 ? 'every month' : n === 3 ? 'every quarter' : n === 12 ? 'every year' : `every ${n} months`}, ${on}`;
}

/** When a schedule appears, in words, with how often if that is said: "every month, on the 5th, 6 times". */
export function scheduleInWords({ rule, times }: Pick<Schedule, 'rule' | 'times'>, businessDays: readonly number[]): string {
	return `${ruleInWords(rule, businessDays)}${times === null ? '' : times === 1 ? ', once' : `, ${times} times`}`;
}

function monthlyWords(names: string, by: Record<string, string | undefined>, businessDays: readonly number[]): string | null {
	const days = (by.BYDAY ?? by.BYMONTHDAY ?? '').split(',');
	switch (names) {
		case 'BYMONTHDAY': {
			if (by.BYMONTHDAY === '-1') return 'on the last day';
			if (days.some((day) => Number(day) < 0)) return null;
			return `on the ${list(days.map((day) => ordinal(Number(day))))}${days.some((day) => Number(day) > 28) ? ' where the month has one' : ''}`;
		}
		case 'BYMONTHDAY,BYSETPOS':
			// how a day that a month lacks becomes its last one
			return by.BYSETPOS === '-1' && days.length > 1 && days.every((day, i) => Number(day) === 28 + i)
				? `on the ${ordinal(27 + days.length)}, or the last day of a shorter month`
				: null;
		case 'BYDAY': {
			const single = /^([+-]?\d+)([A-Z]{2})$/.exec(by.BYDAY!);
			return single && `on the ${nth(Number(single[1]))} ${DAY_WORDS[single[2]]}`;
		}
		case 'BYDAY,BYSETPOS': {
			const at = nth(Number(by.BYSETPOS));
			if (days.length === 1) return DAY_WORDS[days[0]] ? `on the ${at} ${DAY_WORDS[days[0]]}` : null;
			const ours = businessDays.length === days.length && businessDays.every((day) => days.includes(DAY_CODES[day]));
			return ours ? `on the ${at} business day` : null;
		}
		default:
			return null;
	}
}
