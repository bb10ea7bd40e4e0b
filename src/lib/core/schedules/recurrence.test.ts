import fc from 'fast-check';
import ICAL from 'ical.js';
import { describe, expect, test } from 'vitest';
import { addDays, isBusinessDay, localDate, type FirmCalendar } from '../calendar/firm-calendar';
import { dueDate, dueRuleInWords, periodOf, roll, type DueRule } from './due-rule';
import { nextOccurrence, occurrences, patternToRule, requireOccurrence, ruleInWords, ruleSchema, type Pattern, type Schedule } from './recurrence';

const halifax: FirmCalendar = {
	timeZone: 'America/Halifax',
	businessDays: [1, 2, 3, 4, 5],
	holidays: ['2026-05-18', '2026-12-25', '2027-01-01'],
	sendFrom: '09:00',
	sendTo: '17:00'
};
const auckland: FirmCalendar = { timeZone: 'Pacific/Auckland', businessDays: [1, 2, 3, 4], holidays: [], sendFrom: '08:30', sendTo: '17:00' };
const schedule = (rule: string, more: Partial<Schedule> = {}): Schedule => ({
	rule,
	startsOn: '2026-01-01',
	endsOn: null,
	times: null,
	at: '09:00',
	roll: 'none',
	period: { kind: 'month', shift: -1 },
	skipped: [],
	moved: {},
	...more
});
const days = (s: Schedule, most: number, calendar = halifax) => occurrences(s, s.startsOn, most, calendar).map((o) => o.askedOn);
const month = (on: Extract<Pattern, { every: 'month' }>['on'], interval = 1): Pattern => ({ every: 'month', interval, on });

describe('what people say, as a rule', () => {
	test.each([
		[month({ by: 'day', day: 1 }), 'FREQ=MONTHLY;INTERVAL=1;BYMONTHDAY=1', 'every month, on the 1st', ['2026-01-01', '2026-02-01', '2026-03-01']],
		[
			month({ by: 'day', day: 31 }),
			'FREQ=MONTHLY;INTERVAL=1;BYMONTHDAY=28,29,30,31;BYSETPOS=-1',
			'every month, on the 31st, or the last day of a shorter month',
			['2026-01-31', '2026-02-28', '2026-03-31', '2026-04-30']
		],
		[month({ by: 'last_day' }), 'FREQ=MONTHLY;INTERVAL=1;BYMONTHDAY=-1', 'every month, on the last day', ['2026-01-31', '2026-02-28', '2026-03-31']],
		[
			month({ by: 'weekday', nth: 1, weekday: 1 }),
			'FREQ=MONTHLY;INTERVAL=1;BYDAY=1MO',
			'every month, on the first Monday',
			['2026-01-05', '2026-02-02', '2026-03-02']
		],
		[
			month({ by: 'weekday', nth: -1, weekday: 5 }),
			'FREQ=MONTHLY;INTERVAL=1;BYDAY=-1FR',
			'every month, on the last Friday',
			['2026-01-30', '2026-02-27']
		],
		[
			month({ by: 'business_day', nth: -1 }),
			'FREQ=MONTHLY;INTERVAL=1;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1',
			'every month, on the last business day',
			['2026-01-30', '2026-02-27', '2026-03-31']
		],
		[
			month({ by: 'day', day: 3 }, 3),
			'FREQ=MONTHLY;INTERVAL=3;BYMONTHDAY=3',
			'every quarter, on the 3rd',
			['2026-01-03', '2026-04-03', '2026-07-03']
		],
		[
			{ every: 'week', interval: 2, weekdays: [1, 4] } as Pattern,
			'FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,TH',
			'every 2 weeks, on Monday and Thursday',
			['2026-01-01', '2026-01-12', '2026-01-15', '2026-01-26']
		]
	] as [Pattern, string, string, string[]][])('%j', (pattern, rule, words, first) => {
		expect(patternToRule(pattern, halifax.businessDays)).toBe(rule);
		expect(ruleSchema.parse(rule)).toBe(rule);
		expect(ruleInWords(rule, halifax.businessDays)).toBe(words);
		expect(days(schedule(rule), first.length)).toEqual(first);
	});
	test('business days are the firm’s own', () => {
		const rule = patternToRule(month({ by: 'business_day', nth: -1 }), auckland.businessDays);
		expect(days(schedule(rule), 3, auckland)).toEqual(['2026-01-29', '2026-02-26', '2026-03-31']);
	});
	test('rules the editor does not make are followed, and shown as written', () => {
		expect(ruleSchema.parse(' rrule:freq=yearly;bymonth=2;bymonthday=29 ')).toBe('FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29');
		expect(days(schedule('FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29'), 2)).toEqual(['2028-02-29', '2032-02-29']);
		expect(ruleInWords('FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29', halifax.businessDays)).toBe('by the rule FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29');
	});
	test.each([
		'',
		'every month',
		'FREQ=SECONDLY',
		'FREQ=HOURLY;INTERVAL=1',
		'FREQ=DAILY;COUNT=1000000',
		'FREQ=DAILY;UNTIL=20300101',
		'FREQ=MONTHLY;BYDAY=XX',
		'FREQ=DAILY;BYHOUR=1,2',
		'FREQ=MONTHLY;BYMONTHDAY=99',
		'FREQ=MONTHLY;BYDAY',
		'FREQ=MONTHLY;BYDAY=MO;BYDAY=TU',
		'INTERVAL=2;FREQ=DAILY',
		// by RFC 5545 these parts do not go together
		'FREQ=WEEKLY;BYDAY=1MO',
		'FREQ=DAILY;BYDAY=-1FR',
		'FREQ=WEEKLY;BYMONTHDAY=1',
		'FREQ=MONTHLY;BYSETPOS=-1',
		'x'.repeat(400)
	])('refuses %j', (text) => expect(ruleSchema.safeParse(text).success).toBe(false));
});

describe('a rule in words', () => {
	const FREQUENCIES = ['DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'];
	test.each([
		['FREQ=DAILY', 'every day'],
		['FREQ=DAILY;INTERVAL=10', 'every 10 days'],
		['FREQ=WEEKLY;BYDAY=MO,WE,FR', 'every week, on Monday, Wednesday and Friday'],
		['FREQ=MONTHLY;BYMONTHDAY=1,15', 'every month, on the 1st and 15th'],
		['FREQ=MONTHLY;BYMONTHDAY=31', 'every month, on the 31st where the month has one'],
		['FREQ=MONTHLY;INTERVAL=12;BYMONTHDAY=22', 'every year, on the 22nd'],
		['FREQ=MONTHLY;INTERVAL=5;BYMONTHDAY=3', 'every 5 months, on the 3rd'],
		['FREQ=MONTHLY;BYMONTHDAY=11', 'every month, on the 11th'],
		['FREQ=MONTHLY;BYMONTHDAY=12,13', 'every month, on the 12th and 13th'],
		['FREQ=MONTHLY;BYDAY=-2TH', 'every month, on the second to last Thursday'],
		['FREQ=MONTHLY;BYDAY=TU;BYSETPOS=3', 'every month, on the third Tuesday'],
		['FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=6', 'every month, on the 6th business day'],
		['FREQ=MONTHLY;BYDAY=FR,TH,WE,TU,MO;BYSETPOS=-3', 'every month, on the third to last business day'],
		// these say something else than their parts seem to
		['FREQ=MONTHLY;BYDAY=SA,SU;BYSETPOS=1', null],
		['FREQ=MONTHLY;BYDAY=MO,TU,WE,TH;BYSETPOS=-1', null],
		['FREQ=MONTHLY;BYMONTHDAY=1,15;BYSETPOS=-1', null],
		['FREQ=MONTHLY;BYMONTHDAY=1,-1', null],
		['FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13', null],
		['FREQ=DAILY;BYDAY=MO', null],
		['FREQ=WEEKLY;BYDAY=MO,TU;BYSETPOS=1', null],
		['FREQ=WEEKLY;INTERVAL=2;BYDAY=SU,MO;WKST=SU', null],
		['FREQ=YEARLY;BYMONTHDAY=1', null]
	])('%s: %s', (rule, words) => {
		expect(ruleSchema.parse(rule)).toBe(rule);
		expect(ruleInWords(rule, halifax.businessDays)).toBe(words ?? `by the rule ${rule}`);
	});
	test('the business days are the firm’s: four of them elsewhere', () => {
		expect(ruleInWords('FREQ=MONTHLY;BYDAY=MO,TU,WE,TH;BYSETPOS=-1', auckland.businessDays)).toBe('every month, on the last business day');
	});
	test('what is said in the same words comes on the same days', () => {
		const part = (name: string, values: fc.Arbitrary<string>) =>
			fc.option(
				values.map((value) => `;${name}=${value}`),
				{ nil: '', freq: 2 }
			);
		const some = (values: readonly string[], most: number) =>
			fc.uniqueArray(fc.constantFrom(...values), { minLength: 1, maxLength: most }).map((all) => all.join());
		const rules = fc
			.tuple(
				fc.constantFrom(...FREQUENCIES).map((frequency) => `FREQ=${frequency}`),
				part('INTERVAL', fc.constantFrom('1', '2', '3')),
				part(
					'BYDAY',
					fc.oneof(some(['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'], 5), fc.constant('MO,TU,WE,TH,FR'), fc.constantFrom('1MO', '+1MO', '2TU', '-1FR'))
				),
				part('BYMONTHDAY', some(['1', '2', '15', '28', '29', '30', '31', '-1', '-2'], 4)),
				part('BYMONTH', some(['1', '2', '7'], 2)),
				part('BYSETPOS', fc.constantFrom('1', '2', '-1')),
				part('WKST', fc.constantFrom('MO', 'SU'))
			)
			.map((all) => all.join(''))
			.filter((rule) => ruleSchema.safeParse(rule).success);
		const meant = new Map<string, { rule: string; days: string[] }>();
		fc.assert(
			fc.property(rules, (rule) => {
				const words = ruleInWords(rule, halifax.businessDays);
				if (words.startsWith('by the rule')) return;
				const found = { rule, days: days(schedule(rule, { endsOn: '2027-12-31' }), 24) };
				const before = meant.get(words);
				if (before) expect(found.days, `${rule} and ${before.rule} are both “${words}”`).toEqual(before.days);
				else meant.set(words, found);
			}),
			{ numRuns: 3000 }
		);
		expect(meant.size).toBeGreaterThan(20);
	});
});

describe('what never comes', () => {
	test('30 February, and an end before the start, are refused with what to do', () => {
		expect(() => requireOccurrence(schedule('FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30'), halifax)).toThrow(/never appear/);
		expect(() => requireOccurrence(schedule('FREQ=DAILY', { endsOn: '2025-12-31' }), halifax)).toThrow(/end before it starts/);
		expect(() => requireOccurrence(schedule('FREQ=MONTHLY;BYMONTHDAY=20', { endsOn: '2026-01-19' }), halifax)).toThrow(/never appear/);
		expect(() => requireOccurrence(schedule('FREQ=MONTHLY;BYMONTHDAY=20', { endsOn: '2026-01-20' }), halifax)).not.toThrow();
	});
	test('so many times count from the first day of the rule, those left out too, whichever end comes first', () => {
		const s = schedule('FREQ=MONTHLY;BYMONTHDAY=31', { times: 3, skipped: ['2026-03-31'] });
		// the months without a 31st are none of them
		expect(occurrences(s, '2026-01-01', 9, halifax).map((o) => o.ruleDay)).toEqual(['2026-01-31', '2026-03-31', '2026-05-31']);
		expect(occurrences(s, '2026-04-01', 9, halifax).map((o) => o.ruleDay)).toEqual(['2026-05-31']);
		expect(nextOccurrence(s, '2026-01-31', halifax)?.ruleDay).toBe('2026-05-31');
		expect(nextOccurrence(s, '2026-05-31', halifax)).toBeNull();
		expect(days({ ...s, skipped: [], endsOn: '2026-04-30' }, 9)).toEqual(['2026-01-31', '2026-03-31']);
		expect(days(schedule('FREQ=WEEKLY;BYDAY=SU', { startsOn: '2026-09-20', times: 2 }), 9, auckland)).toEqual(['2026-09-20', '2026-09-27']);
	});
	test('a rule of every day for ever is asked for a few at a time', () => {
		expect(days(schedule('FREQ=DAILY', { startsOn: '1990-01-01' }), 2)).toEqual(['1990-01-01', '1990-01-02']);
		expect(nextOccurrence(schedule('FREQ=DAILY', { startsOn: '1990-01-01' }), '2026-05-04', halifax)?.ruleDay).toBe('2026-05-05');
	});
});

describe('an occurrence', () => {
	test('appears at the local time meant, on both sides of a clock change, in two time zones', () => {
		const weekly = schedule('FREQ=WEEKLY;INTERVAL=1;BYDAY=SU', { startsOn: '2026-03-01' });
		expect(occurrences(weekly, weekly.startsOn, 3, halifax).map((o) => o.at)).toEqual([
			'2026-03-01T13:00:00Z',
			'2026-03-08T12:00:00Z',
			'2026-03-15T12:00:00Z'
		]);
		const autumn = schedule('FREQ=WEEKLY;INTERVAL=1;BYDAY=SU', { startsOn: '2026-09-20', at: '02:30' });
		// 02:30 does not exist on 27 September in Auckland: the same length of time later
		expect(occurrences(autumn, autumn.startsOn, 3, auckland).map((o) => o.at)).toEqual([
			'2026-09-19T14:30:00Z',
			'2026-09-26T14:30:00Z',
			'2026-10-03T13:30:00Z'
		]);
	});
	test('is rolled around weekend and holiday, and its period is that of the day by the rule', () => {
		const s = schedule('FREQ=MONTHLY;BYMONTHDAY=1', { startsOn: '2026-11-01', roll: 'following' });
		expect(occurrences(s, s.startsOn, 3, halifax).map((o) => [o.ruleDay, o.askedOn, o.period?.from, o.period?.to])).toEqual([
			['2026-11-01', '2026-11-02', '2026-10-01', '2026-10-31'],
			['2026-12-01', '2026-12-01', '2026-11-01', '2026-11-30'],
			['2027-01-01', '2027-01-04', '2026-12-01', '2026-12-31']
		]);
	});
	test('skipped ones are shown, and passed over by the next; a moved one keeps its period', () => {
		const s = schedule('FREQ=MONTHLY;BYMONTHDAY=5', { skipped: ['2026-02-05'], moved: { '2026-03-05': '2026-03-20' } });
		expect(occurrences(s, '2026-01-01', 3, halifax).map((o) => [o.askedOn, o.skipped, o.moved, o.period?.from])).toEqual([
			['2026-01-05', false, false, '2025-12-01'],
			['2026-02-05', true, false, '2026-01-01'],
			['2026-03-20', false, true, '2026-02-01']
		]);
		expect(nextOccurrence(s, '2026-01-05', halifax)).toMatchObject({ ruleDay: '2026-03-05', askedOn: '2026-03-20' });
		expect(nextOccurrence({ ...s, endsOn: '2026-02-28' }, '2026-01-05', halifax)).toBeNull();
	});
});

test('an independent iCalendar library finds the same days', () => {
	const anyPattern: fc.Arbitrary<Pattern> = fc.oneof(
		fc.record({
			every: fc.constant('week' as const),
			interval: fc.integer({ min: 1, max: 6 }),
			weekdays: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 })
		}),
		fc.record({
			every: fc.constant('month' as const),
			interval: fc.constantFrom(1, 2, 3, 6, 12),
			on: fc.oneof(
				// it does not follow BYSETPOS beside BYMONTHDAY; days beyond the 28th are compared with the calendar below
				fc.record({ by: fc.constant('day' as const), day: fc.integer({ min: 1, max: 28 }) }),
				fc.constant({ by: 'last_day' as const }),
				fc.record({ by: fc.constant('weekday' as const), nth: fc.constantFrom(-1, 1, 2, 3, 4), weekday: fc.integer({ min: 1, max: 7 }) }),
				fc.record({ by: fc.constant('business_day' as const), nth: fc.constantFrom(-3, -1, 1, 2, 5) })
			)
		})
	);
	fc.assert(
		fc.property(anyPattern, fc.integer({ min: 0, max: 1500 }), (pattern, offset) => {
			const startsOn = addDays('2026-01-01', offset);
			const rule = patternToRule(pattern, halifax.businessDays);
			const other = ICAL.Recur.fromString(rule).iterator(ICAL.Time.fromDateString(startsOn));
			// it errs about BYSETPOS in the month of the start, and gives the start itself: what follows is compared
			const following = `${addDays(`${startsOn.slice(0, 8)}28`, 4).slice(0, 8)}01`;
			const theirs: string[] = [];
			for (let i = 0; i < 40 && theirs.length < 5; i++) {
				const day = other.next()?.toString().slice(0, 10);
				if (day && day >= following) theirs.push(day);
			}
			expect(occurrences(schedule(rule, { startsOn }), following, 5, halifax).map((o) => o.ruleDay)).toEqual(theirs);
		}),
		{ numRuns: 300 }
	);
}, 60_000);

test('a day that a month lacks is its last one', () => {
	for (let day = 1; day <= 31; day++) {
		const found = days(schedule(patternToRule(month({ by: 'day', day }), [1]), { startsOn: '2027-12-01' }), 15);
		expect(found).toEqual(
			Array.from({ length: 15 }, (_, i) => {
				const last = new Date(Date.UTC(2027, 12 + i, 0)).getUTCDate();
				return new Date(Date.UTC(2027, 11 + i, Math.min(day, last))).toISOString().slice(0, 10);
			})
		);
	}
});

test('occurrences are in order, never before the start, and the next one is the first that is not skipped', () => {
	fc.assert(
		fc.property(fc.integer({ min: 1, max: 31 }), fc.constantFrom(1, 2, 3), fc.integer({ min: 0, max: 800 }), (day, interval, offset) => {
			const s = schedule(patternToRule(month({ by: 'day', day }, interval), [1]), { startsOn: addDays('2026-01-01', offset) });
			const all = occurrences(s, s.startsOn, 5, halifax);
			expect(all).toHaveLength(5);
			expect(all.every((o, i) => o.ruleDay >= s.startsOn && (i === 0 || o.ruleDay > all[i - 1].ruleDay))).toBe(true);
			expect(nextOccurrence({ ...s, skipped: [all[0].ruleDay, all[1].ruleDay] }, null, halifax)?.ruleDay).toBe(all[2].ruleDay);
			for (const o of all) expect(localDate(o.at, halifax)).toBe(o.askedOn);
		}),
		{ numRuns: 100 }
	);
});

describe('due dates', () => {
	const rule = (more: Partial<DueRule>): DueRule => ({ from: 'asked', offset: 0, unit: 'days', roll: 'none', ...more });
	const at = { askedOn: '2026-05-01', periodEnd: '2026-04-30' };
	test.each([
		[rule({ offset: 10 }), at, '2026-05-11', '10 days after it is asked'],
		[rule({ offset: 1, unit: 'business_days' }), at, '2026-05-04', '1 business day after it is asked'],
		// 18 May is a holiday
		[rule({ offset: 11, unit: 'business_days' }), at, '2026-05-19', '11 business days after it is asked'],
		[rule({ from: 'period_end', offset: 15 }), at, '2026-05-15', '15 days after the period ends'],
		[rule({ from: 'period_end', offset: 0 }), { askedOn: '2026-05-01', periodEnd: '2026-05-31' }, '2026-05-31', 'on the last day of the period'],
		[
			rule({ from: 'period_end', roll: 'following' }),
			{ askedOn: '2026-05-01', periodEnd: '2026-05-31' },
			'2026-06-01',
			'on the last day of the period, or the next business day'
		],
		[
			rule({ from: 'period_end', roll: 'modified' }),
			{ askedOn: '2026-05-01', periodEnd: '2026-05-31' },
			'2026-05-29',
			'on the last day of the period, or the next business day of the same month, else the one before'
		],
		[
			rule({ from: 'period_end', offset: -5, unit: 'business_days' }),
			{ askedOn: '2026-05-01', periodEnd: '2026-05-31' },
			'2026-05-25',
			'5 business days before the period ends'
		],
		// nobody is late before they were asked
		[rule({ from: 'period_end', offset: -5 }), at, '2026-05-01', '5 days before the period ends'],
		// without a period the day of asking counts
		[rule({ from: 'period_end', offset: 3 }), { askedOn: '2026-05-01', periodEnd: null }, '2026-05-04', '3 days after the period ends']
	] as [DueRule, { askedOn: string; periodEnd: string | null }, string, string][])('%j', (given, when, due, words) => {
		expect(dueDate(given, when, halifax)).toBe(due);
		expect(dueRuleInWords(given)).toBe(words);
	});
	test('rolling lands on a business day, and modified stays in the month', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 0, max: 1500 }),
				fc.constantFrom('following' as const, 'preceding' as const, 'modified' as const),
				(offset, how) => {
					const day = addDays('2026-01-01', offset);
					const rolled = roll(day, how, halifax);
					expect(isBusinessDay(rolled, halifax)).toBe(true);
					if (how === 'following') expect(rolled >= day).toBe(true);
					if (how === 'preceding') expect(rolled <= day).toBe(true);
					if (how === 'modified') expect(rolled.slice(0, 7)).toBe(day.slice(0, 7));
				}
			)
		);
	});
});

test.each([
	['2026-03-01', 'month', -1, '2026-02-01', '2026-02-28'],
	['2028-03-31', 'month', -1, '2028-02-01', '2028-02-29'],
	['2026-01-15', 'quarter', -1, '2025-10-01', '2025-12-31'],
	['2026-05-31', 'quarter', 0, '2026-04-01', '2026-06-30'],
	['2026-05-31', 'year', -1, '2025-01-01', '2025-12-31'],
	['2026-01-01', 'week', 0, '2025-12-29', '2026-01-04'],
	['2026-01-31', 'month', 1, '2026-02-01', '2026-02-28']
] as const)('the %s’s %s, shifted by %i, goes from %s to %s', (day, kind, shift, from, to) =>
	expect(periodOf(day, kind, shift)).toEqual({ kind, from, to })
);

test('a rule that never comes true, or was passed over thousands of times, costs little more than one that comes true every day', () => {
	// the best of three, for a machine with other things to do
	const took = (work: () => void) =>
		Math.min(
			...[1, 2, 3].map(() => {
				const begun = performance.now();
				work();
				return performance.now() - begun;
			})
		);
	const years = () => occurrences(schedule('FREQ=DAILY'), '2026-01-01', 12 * 365, halifax);
	years();
	const floor = took(years);
	const never = [
		'FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30',
		'FREQ=DAILY;INTERVAL=7;BYDAY=SU',
		'FREQ=DAILY;BYDAY=MO;BYMONTHDAY=31;BYMONTH=2',
		'FREQ=WEEKLY;BYDAY=MO;BYSETPOS=5',
		'FREQ=MONTHLY;INTERVAL=12;BYMONTH=2',
		'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30',
		'FREQ=YEARLY;BYMONTH=1;BYMONTHDAY=5;BYSETPOS=3'
	];
	for (const rule of never) {
		expect(ruleSchema.safeParse(rule).success, rule).toBe(true);
		for (const endsOn of [null, '9999-12-31'])
			expect(
				took(() => expect(() => requireOccurrence(schedule(rule, { endsOn }), halifax)).toThrow('never appear')),
				rule
			).toBeLessThan(40 * floor);
	}
	const skipped = Array.from({ length: 4000 }, (_, n) => addDays('2026-01-01', n));
	expect(
		took(() => expect(nextOccurrence(schedule('FREQ=DAILY', { skipped }), null, halifax)?.ruleDay).toBe(addDays('2026-01-01', 4000)))
	).toBeLessThan(40 * floor);
	// a rule of every fourth year still shows its next ones
	expect(occurrences(schedule('FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29'), '2026-01-01', 3, halifax).map((one) => one.ruleDay)).toEqual([
		'2028-02-29',
		'2032-02-29',
		'2036-02-29'
	]);
});
