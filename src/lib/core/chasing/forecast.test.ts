import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { addDays, addToInstant, compareInstants, isSendingTime, localDate, type FirmCalendar } from '../calendar/firm-calendar';
import { isTimeFor, timesMeet, type TheirTimes } from '../calendar/their-times';
import { ITEM_STATES, isOpen } from '../requests/item-states';
import {
	aroundDue,
	CHASE_BY,
	chasePlanForm,
	chasePlanInWords,
	DEFAULT_CHASE_PLAN,
	nextChaseStep,
	placeChaseSteps,
	type ChasePlan,
	type ChaseStep,
	type ChaseWhen
} from './chase-plan';
import { HOLD_REASONS } from './hold';
import { DEFAULT_PACE, paceFor } from './pace';
import { afterChase, chaseDueNow, forecastChases, nextChase, writes, type Chase, type ChasedItem, type ChasedPerson } from './forecast';

const halifax: FirmCalendar = {
	timeZone: 'America/Halifax',
	businessDays: [1, 2, 3, 4, 5],
	holidays: ['2026-05-18'],
	sendFrom: '09:00',
	sendTo: '17:00'
};
const sydney: FirmCalendar = {
	timeZone: 'Australia/Sydney',
	businessDays: [1, 2, 3, 4, 6],
	holidays: ['2026-10-05'],
	sendFrom: '10:15',
	sendTo: '15:00'
};

const item = (more: Partial<ChasedItem> = {}): ChasedItem => ({
	id: 'a',
	state: 'asked',
	dueOn: '2026-05-08',
	askedOn: '2026-05-04',
	heardOn: null,
	chasedThrough: '2026-05-04',
	chasedTurn: 0,
	plan: DEFAULT_CHASE_PLAN,
	putOffUntil: null,
	asksUs: false,
	endsOn: null,
	hold: null,
	...more
});
const person = (...items: ChasedItem[]): ChasedPerson => ({
	items,
	remindedOn: [],
	toldOn: null,
	leftOut: [],
	pace: DEFAULT_PACE,
	times: null,
	heldBack: null,
	by: ['email']
});
const NOW = '2026-05-04T15:00:00Z';
const around = (dueOn: string) => ({ dueOn, askedOn: '2026-05-04', heardOn: null });
const step = (when: ChaseWhen, more: Partial<ChaseStep> = {}): ChaseStep => ({ when, by: 'usual', firmer: false, ...more });
const planOf = (...steps: ChaseStep[]): ChasePlan => ({ name: 'x', steps });

describe('the default plan', () => {
	test('lies 2 business days before, then 1, 3 and 7 after, around weekend and holiday', () => {
		expect(placeChaseSteps(around('2026-05-15'), DEFAULT_CHASE_PLAN, halifax).map((s) => s.on)).toEqual([
			'2026-05-13',
			'2026-05-19',
			'2026-05-21',
			'2026-05-27'
		]);
	});
	test('a due date on a day off counts from there', () => {
		expect(placeChaseSteps(around('2026-05-16'), DEFAULT_CHASE_PLAN, halifax).map((s) => s.on)).toEqual([
			'2026-05-14',
			'2026-05-19',
			'2026-05-21',
			'2026-05-27'
		]);
	});
	test('steps at or before the day it was asked are skipped', () => {
		expect(nextChaseStep({ ...around('2026-05-05'), chasedThrough: '2026-05-04', chasedTurn: 0 }, DEFAULT_CHASE_PLAN, halifax)).toMatchObject({
			step: 2,
			on: '2026-05-06'
		});
	});
	test('a plan that goes back in time is refused at the step that does', () => {
		const refused = chasePlanForm.safeParse(planOf(aroundDue(1), step({ kind: 'after', days: 2 }), aroundDue(1)));
		expect(refused.error?.issues.map(({ path }) => path.join('.'))).toEqual(['steps.2.when.days']);
		expect(chasePlanForm.safeParse(planOf(...Array.from({ length: 12 }, () => aroundDue(3)))).success).toBe(false);
		expect(chasePlanForm.safeParse(planOf()).success).toBe(false);
	});
});

describe('unlike steps', () => {
	const daysOf = (plan: ChasePlan, more: Partial<ChasedItem> = {}) =>
		placeChaseSteps(item(more), plan, halifax).map(({ step: n, on }) => `${n} ${on}`);

	test('after it was asked, also without a due date; then after the step before', () => {
		const plan = planOf(step({ kind: 'asked', days: 3 }), step({ kind: 'after', days: 2 }));
		expect(daysOf(plan, { dueOn: null })).toEqual(['1 2026-05-07', '2 2026-05-11']);
		expect(daysOf(plan, { dueOn: '2026-07-01' })).toEqual(['1 2026-05-07', '2 2026-05-11']);
	});
	test('steps around the due date are left out where there is none, and what follows hangs on the asking', () => {
		expect(daysOf(planOf(aroundDue(1), step({ kind: 'after', days: 5 })), { dueOn: null })).toEqual(['2 2026-05-11']);
		expect(nextChase(person(item({ dueOn: null })), halifax, NOW)).toBeNull();
	});
	test('again and again: every so many days or business days, or on a day of the week; past days off', () => {
		expect(daysOf(planOf(step({ kind: 'every', days: 7, unit: 'days', times: 3 })))).toEqual(['1 2026-05-11', '1 2026-05-19', '1 2026-05-26']);
		expect(daysOf(planOf(step({ kind: 'every', days: 5, unit: 'business_days', times: 2 })))).toEqual(['1 2026-05-11', '1 2026-05-19']);
		expect(daysOf(planOf(step({ kind: 'weekly', weekday: 1, times: 3 })))).toEqual(['1 2026-05-11', '1 2026-05-19', '1 2026-05-25']);
		expect(daysOf(planOf(step({ kind: 'weekly', weekday: 4, times: 2 })))).toEqual(['1 2026-05-07', '1 2026-05-14']);
		// on the very day of the week it begins a week later
		expect(daysOf(planOf(aroundDue(1), step({ kind: 'weekly', weekday: 1, times: 1 })), { dueOn: '2026-05-08' })).toEqual([
			'1 2026-05-11',
			'2 2026-05-19'
		]);
	});
	test('a week keeps its day and hour across a change of the clock, in either time zone', () => {
		const weekly = planOf(step({ kind: 'weekly', weekday: 2, times: 3 }));
		const before = (askedOn: string) => item({ dueOn: null, askedOn, chasedThrough: askedOn, plan: weekly });
		expect(forecastChases(person(before('2026-10-20')), halifax, '2026-10-20T15:00:00Z', '2026-12-01').map(({ at }) => at)).toEqual([
			'2026-10-27T12:00:00Z',
			'2026-11-03T13:00:00Z',
			'2026-11-10T13:00:00Z'
		]);
		expect(forecastChases(person(before('2026-09-25')), sydney, '2026-09-25T03:00:00Z', '2026-10-31').map(({ at }) => at)).toEqual([
			'2026-09-29T00:15:00Z',
			'2026-10-05T23:15:00Z',
			'2026-10-12T23:15:00Z'
		]);
	});
	test('after silence: who was heard from meanwhile is left alone for as long again, and once it went it does not come again', () => {
		const plan = planOf(step({ kind: 'silent', days: 4 }));
		expect(daysOf(plan)).toEqual(['1 2026-05-08']);
		expect(daysOf(plan, { heardOn: '2026-05-06' })).toEqual(['1 2026-05-12']);
		const chase = nextChase(person(item({ plan })), halifax, NOW)!;
		const after = afterChase(person(item({ plan })), chase);
		const heard = { ...after, items: after.items.map((one) => ({ ...one, heardOn: '2026-05-20' })) };
		expect(nextChase(heard, halifax, '2026-05-20T15:00:00Z')).toBeNull();
	});
	test('a step that would come no earlier than a later one gives way to it', () => {
		const plan = planOf(step({ kind: 'silent', days: 4 }), aroundDue(1));
		expect(daysOf(plan)).toEqual(['1 2026-05-08', '2 2026-05-11']);
		expect(daysOf(plan, { heardOn: '2026-05-07' })).toEqual(['2 2026-05-11']);
	});
	test('each step by its own way among those of the person; with neither by what there is', () => {
		const by = (way: ChaseStep['by'], theirs: ChasedPerson['by']) =>
			nextChase({ ...person(item({ plan: planOf(step({ kind: 'due', days: 1 }, { by: way })) })), by: theirs }, halifax, NOW)!.by;
		expect(by('usual', ['email', 'text'])).toEqual(['email', 'text']);
		expect(by('text', ['email', 'text'])).toEqual(['text']);
		expect(by('text', ['email'])).toEqual(['email']);
		expect(by('email', ['text'])).toEqual(['text']);
		expect(by('both', ['email', 'text'])).toEqual(['email', 'text']);
		expect(by('call', ['email', 'text'])).toEqual([]);
		expect(by('partner', ['email'])).toEqual([]);
	});
	test('steps of one day are one message, by all the ways they ask for; firmer if one of them is', () => {
		const two = person(
			item({ plan: planOf(step({ kind: 'due', days: 1 }, { by: 'text' })) }),
			item({ id: 'b', plan: planOf(step({ kind: 'due', days: 1 }, { by: 'email', firmer: true })) })
		);
		expect(nextChase({ ...two, by: ['email', 'text'] }, halifax, NOW)).toMatchObject({ by: ['email', 'text'], firmer: true, itemIds: ['a', 'b'] });
	});
	test('a call holds what comes after it for three business days, and is no reminder that counts', () => {
		const plan = planOf(step({ kind: 'due', days: 1 }, { by: 'call' }), aroundDue(2), aroundDue(7));
		const chases = forecastChases({ ...person(item({ plan })), pace: { gapDays: 7, perWeek: 1 } }, halifax, NOW, '2026-06-30');
		expect(chases.map(({ localDay, by }) => [localDay, by])).toEqual([
			['2026-05-11', []],
			['2026-05-14', ['email']],
			['2026-05-21', ['email']]
		]);
		expect(chases[1].held).toEqual({ until: '2026-05-14', why: 'called', from: '2026-05-12' });
	});
	test('in words', () => {
		expect(chasePlanInWords(DEFAULT_CHASE_PLAN)).toBe('2 business days before it is due, then 1, 3 and 7 after');
		expect(
			chasePlanInWords(
				planOf(
					step({ kind: 'asked', days: 5 }),
					step({ kind: 'weekly', weekday: 1, times: 4 }, { by: 'text' }),
					step({ kind: 'every', days: 3, unit: 'days', times: 1 }, { firmer: true }),
					step({ kind: 'silent', days: 1 }, { by: 'call' }),
					step({ kind: 'after', days: 2 }, { by: 'partner' })
				)
			)
		).toBe(
			'5 business days after it was asked; every Monday, at most 4 times, by text message; every 3 days, once, firmer; after 1 business day without a sign of life, a call; 2 business days after the step before, a partner is told'
		);
	});
});

describe('the next chase', () => {
	test('goes at the opening of the day of the step, and says why', () => {
		expect(nextChase(person(item()), halifax, NOW)).toEqual({
			at: '2026-05-06T12:00:00Z',
			localDay: '2026-05-06',
			itemIds: ['a'],
			because: [
				{
					itemId: 'a',
					step: 1,
					stepsInPlan: 4,
					turn: 1,
					time: 1,
					...aroundDue(-2),
					dueOn: '2026-05-08',
					askedOn: '2026-05-04'
				}
			],
			by: ['email'],
			firmer: false,
			holdsUntil: null,
			heldBack: null,
			leftOut: false,
			waitedFrom: null,
			firmsHoursFrom: null,
			held: null
		});
	});
	test('names everything open, due first, also what has no step that day', () => {
		const chase = nextChase(
			person(item({ id: 'late', dueOn: '2026-06-30' }), item(), item({ id: 'done', state: 'handed_in' }), item({ id: 'no date', dueOn: null })),
			halifax,
			NOW
		);
		expect(chase?.itemIds).toEqual(['a', 'late', 'no date']);
		expect(chase?.because.map((b) => b.itemId)).toEqual(['a']);
	});
	test.each(ITEM_STATES)('an item that is %s is chased only if it is open', (state) => {
		expect(nextChase(person(item({ state })), halifax, NOW) !== null).toBe(isOpen(state));
	});
	test('a missed step goes at once within sending hours, and only the latest of several', () => {
		const chase = chaseDueNow(person(item({ dueOn: '2026-04-28', chasedThrough: '2026-04-20' })), halifax, NOW);
		expect(chase).toMatchObject({ at: NOW, localDay: '2026-05-04' });
		expect(chase?.because).toHaveLength(1);
		expect(chase?.because[0].step).toBe(3);
	});
	test('a missed step outside sending hours waits for the next opening', () => {
		const late = person(item({ dueOn: '2026-04-28', chasedThrough: '2026-04-20' }));
		expect(nextChase(late, halifax, '2026-05-08T22:00:00Z')?.at).toBe('2026-05-11T12:00:00Z');
		expect(chaseDueNow(late, halifax, '2026-05-08T22:00:00Z')).toBeNull();
	});
	test('nobody gets a reminder on a day on which something else has gone to them', () => {
		const today = { ...person(item({ dueOn: '2026-05-01', chasedThrough: '2026-04-20' })), toldOn: '2026-05-04' };
		expect(nextChase(today, halifax, NOW)).toMatchObject({ localDay: '2026-05-05', waitedFrom: '2026-05-04' });
	});
	test('due dates that follow each other do not add up: not two days in a row, at most two in seven days, and what waits goes along', () => {
		const many = ['2026-05-06', '2026-05-07', '2026-05-08', '2026-05-11', '2026-05-12', '2026-05-13'].map((dueOn, i) => item({ id: `i${i}`, dueOn }));
		const chases = forecastChases(person(...many), halifax, NOW, '2026-06-05');
		const days = chases.map((chase) => chase.localDay);
		for (const [i, day] of days.entries()) {
			expect(i === 0 || day >= addDays(days[i - 1], 2), days.join(' ')).toBe(true);
			expect(days.filter((other) => other <= day && other > addDays(day, -7)).length, days.join(' ')).toBeLessThanOrEqual(2);
		}
		// every item still has had its last step
		expect(new Set(chases.flatMap((chase) => chase.because.filter((b) => b.step === b.stepsInPlan).map((b) => b.itemId))).size).toBe(6);
		expect(chases.some((chase) => chase.waitedFrom !== null && chase.because.length > 1)).toBe(true);
	});
	test('what a client asked time for is not named until its own reminder, shortly before that day', () => {
		const putOff = item({ id: 'later', dueOn: '2026-06-02', putOffUntil: '2026-06-02' });
		const chases = forecastChases(person(item(), putOff), halifax, NOW, '2026-06-30');
		const naming = chases.filter((chase) => chase.itemIds.includes('later')).map((chase) => chase.localDay);
		expect(chases[0]).toMatchObject({ localDay: '2026-05-06', itemIds: ['a'] });
		expect(naming[0]).toBe('2026-05-29');
		expect(chases.filter((chase) => chase.localDay < '2026-05-29').every((chase) => !chase.itemIds.includes('later'))).toBe(true);
	});
	test('what somebody has asked about is neither named nor a reason, until it is answered', () => {
		const asked = item({ id: 'asked', asksUs: true });
		expect(nextChase(person(asked), halifax, NOW)).toBeNull();
		const chases = forecastChases(person(item(), asked), halifax, NOW, '2026-06-30');
		expect(chases.length).toBeGreaterThan(2);
		expect(chases.every(({ itemIds, because }) => itemIds.join() === 'a' && because.every(({ itemId }) => itemId === 'a'))).toBe(true);
	});
	test('what is held goes when that ends: one message with all that fell due meanwhile, and why it waited', () => {
		const hold = { until: '2026-05-13', why: 'replied' as const };
		const chases = forecastChases(person(item({ hold }), item({ id: 'b', dueOn: '2026-05-11', hold })), halifax, NOW, '2026-05-20');
		expect(chases.map(({ localDay }) => localDay)).toEqual(['2026-05-13', '2026-05-15', '2026-05-20']);
		expect(chases[0]).toMatchObject({ itemIds: ['a', 'b'], held: { ...hold, from: '2026-05-06' } });
		// of two steps that passed, the later one
		expect(chases[0].because.map(({ step }) => step)).toEqual([3, 2]);
		expect(chases[1].held).toBeNull();
	});
	test('a hold that ends on a day off ends with the next day on which reminders go, in either time zone', () => {
		const hold = { until: '2026-05-16', why: 'away' as const };
		expect(nextChase(person(item({ hold })), halifax, NOW)).toMatchObject({ localDay: '2026-05-19', at: '2026-05-19T12:00:00Z' });
		expect(nextChase(person(item({ hold: { ...hold, until: '2026-10-04' }, dueOn: '2026-10-01' })), sydney, NOW)).toMatchObject({
			localDay: '2026-10-06',
			at: '2026-10-05T23:15:00Z'
		});
	});
	test('one held line leaves the others alone, and is not named with them', () => {
		const held = item({ id: 'held', hold: { until: '2026-06-01', why: 'paused' } });
		const chases = forecastChases(person(item(), held), halifax, NOW, '2026-05-29');
		expect(chases.length).toBeGreaterThan(2);
		expect(chases.every(({ itemIds }) => itemIds.join() === 'a')).toBe(true);
	});
	test('a hold that has ended holds nothing', () => {
		expect(nextChase(person(item({ hold: { until: '2026-05-06', why: 'away' } })), halifax, NOW)).toMatchObject({
			localDay: '2026-05-06',
			held: null
		});
	});
	test('one that is left out is behind us: the next step comes as planned, and it counts for nothing in how often they are written to', () => {
		const chases = forecastChases({ ...person(item()), leftOut: ['2026-05-06'] }, halifax, NOW, '2026-05-20');
		expect(chases.map(({ localDay, leftOut }) => [localDay, leftOut])).toEqual([
			['2026-05-06', true],
			['2026-05-11', false],
			['2026-05-13', false],
			['2026-05-20', false]
		]);
		// a worker that comes a day late sends it no more than one that comes in time
		const late = { ...person(item()), leftOut: ['2026-05-06'] };
		expect(chaseDueNow(late, halifax, '2026-05-07T13:00:00Z')).toMatchObject({ localDay: '2026-05-07', leftOut: true });
		// the day of another reminder leaves this one alone
		expect(nextChase({ ...person(item()), leftOut: ['2026-05-11'] }, halifax, NOW)).toMatchObject({ localDay: '2026-05-06', leftOut: false });
	});
	test('nobody is reminded of what has lapsed by then, also where a reminder waited past its last day', () => {
		const lapses = item({ id: 'letter', endsOn: '2026-05-11' });
		expect(forecastChases(person(lapses), halifax, NOW, '2026-06-30').map(({ localDay }) => localDay)).toEqual(['2026-05-06', '2026-05-11']);
		// its reminder of the 11th has to wait until the 13th
		const waits = { ...person({ ...lapses, chasedThrough: '2026-05-06' }), remindedOn: ['2026-05-10'], pace: { gapDays: 3, perWeek: 7 } };
		expect(nextChase(waits, halifax, NOW)).toBeNull();
		const withOther = { ...waits, items: [...waits.items, item({ chasedThrough: '2026-05-06' })] };
		expect(nextChase(withOther, halifax, NOW)).toMatchObject({ localDay: '2026-05-13', itemIds: ['a'] });
	});
	test('the clock change keeps 09:00 local', () => {
		const spring = { ...item({ dueOn: '2026-03-10', chasedThrough: '2026-03-02' }) };
		expect(forecastChases(person(spring), halifax, '2026-03-02T15:00:00Z', '2026-03-31').map((c) => c.at)).toEqual([
			'2026-03-06T13:00:00Z',
			'2026-03-11T12:00:00Z',
			'2026-03-13T12:00:00Z',
			'2026-03-19T12:00:00Z'
		]);
	});
	test('when the plan has run out, nothing more goes', () => {
		const out = item({ dueOn: '2026-04-10', chasedThrough: '2026-04-21' });
		expect(nextChase(person(out), halifax, NOW)).toBeNull();
	});
});

/** What the worker does: looks again and again at uneven moments, carries out what is due, remembers it. */
function execute(start: ChasedPerson, calendar: FirmCalendar, from: string, through: string, pauses: number[]): Chase[] {
	const done: Chase[] = [];
	let current = start;
	let now = from;
	for (let beat = 0; localDate(now, calendar) <= through; beat++) {
		const chase = chaseDueNow(current, calendar, now);
		if (chase) {
			done.push(chase);
			current = afterChase(current, chase);
		}
		now = addToInstant(now, { minutes: pauses[beat % pauses.length] });
	}
	return done;
}

const day = fc.integer({ min: 0, max: 45 }).map((n) => addDays('2026-09-01', n));
const few = fc.integer({ min: 1, max: 4 });
const arbitraryWhen: fc.Arbitrary<ChaseWhen> = fc.oneof(
	fc.record({ kind: fc.constant('due' as const), days: fc.integer({ min: -8, max: 12 }) }),
	fc.record({ kind: fc.constantFrom('asked' as const, 'after' as const, 'silent' as const), days: fc.integer({ min: 1, max: 9 }) }),
	fc.record({
		kind: fc.constant('every' as const),
		days: fc.integer({ min: 1, max: 9 }),
		unit: fc.constantFrom('days' as const, 'business_days' as const),
		times: few
	}),
	fc.record({ kind: fc.constant('weekly' as const), weekday: fc.integer({ min: 1, max: 7 }), times: few })
);
const arbitraryPlan: fc.Arbitrary<ChasePlan> = fc.record({
	name: fc.constant('x'),
	steps: fc.array(fc.record({ when: arbitraryWhen, by: fc.constantFrom(...CHASE_BY), firmer: fc.boolean() }), { minLength: 1, maxLength: 6 })
});
const arbitraryItem = fc.record({
	id: fc.uuid(),
	state: fc.constantFrom(...ITEM_STATES),
	dueOn: fc.option(day, { nil: null }),
	chasedThrough: day,
	askedOn: day,
	heardOn: fc.option(day, { nil: null }),
	chasedTurn: fc.integer({ min: 0, max: 3 }),
	plan: fc.oneof(fc.constant(DEFAULT_CHASE_PLAN), arbitraryPlan),
	putOffUntil: fc.option(day, { nil: null }),
	asksUs: fc.boolean(),
	endsOn: fc.option(day, { nil: null }),
	hold: fc.option(fc.record({ until: day, why: fc.constantFrom(...HOLD_REASONS) }), { nil: null })
});
/** Hours of at least three with each firm's, so that a worker that looks every three hours finds them. */
const arbitraryTimes = (calendar: FirmCalendar): fc.Arbitrary<TheirTimes> =>
	fc
		.record({
			timeZone: fc.constantFrom(null, ...(calendar === halifax ? ['America/Vancouver', 'Europe/London'] : ['Australia/Perth', 'Pacific/Auckland'])),
			isEarly: fc.boolean(),
			quietDays: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { maxLength: 4 }),
			perWeek: fc.option(fc.integer({ min: 1, max: 7 }), { nil: null })
		})
		.map(({ isEarly, ...times }) => ({ ...times, from: isEarly ? '07:30' : null, to: isEarly ? '21:00' : null }));
const arbitraryPerson: fc.Arbitrary<ChasedPerson> = fc.record({
	times: fc.constant(null),
	items: fc.array(arbitraryItem, { maxLength: 6 }),
	remindedOn: fc.uniqueArray(day, { maxLength: 3 }),
	toldOn: fc.option(day, { nil: null }),
	pace: fc.record({ gapDays: fc.integer({ min: 1, max: 4 }), perWeek: fc.integer({ min: 1, max: 7 }) }),
	leftOut: fc.uniqueArray(day, { maxLength: 2 }),
	heldBack: fc.constant(null),
	by: fc.constantFrom<ChasedPerson['by'][]>(['email'], ['text'], ['email', 'text'])
});
const calendars = fc.constantFrom(halifax, sydney);
/** Anybody of a firm's, every other with times of their own. */
const arbitraryOf = (calendar: FirmCalendar): fc.Arbitrary<ChasedPerson> =>
	fc
		.tuple(arbitraryPerson, fc.option(arbitraryTimes(calendar), { nil: null }))
		.map(([someone, times]) => ({ ...someone, times, pace: paceFor(someone.pace, times) }));
const peopleOfFirms = calendars.chain((calendar) => fc.record({ calendar: fc.constant(calendar), someone: arbitraryOf(calendar) }));

describe('forecast equals fact', () => {
	test('a worker that looks at any moments sends on the forecast days, for the forecast reasons', () => {
		fc.assert(
			fc.property(peopleOfFirms, fc.array(fc.integer({ min: 25, max: 170 }), { minLength: 1, maxLength: 7 }), ({ someone, calendar }, pauses) => {
				const from = '2026-09-14T04:00:00Z';
				const through = '2026-11-13';
				const promised = forecastChases(someone, calendar, from, through);
				const done = execute(someone, calendar, from, through, pauses);
				const essence = (c: Chase) => ({ day: c.localDay, items: c.itemIds, because: c.because, by: c.by });
				expect(done.map(essence)).toEqual(promised.map(essence));
				for (const [i, chase] of done.entries()) expect(compareInstants(chase.at, promised[i].at)).toBeGreaterThanOrEqual(0);
			}),
			{ numRuns: 40 }
		);
	});

	test('whatever is forecast lies in sending hours, one a day, never for what is not open', () => {
		fc.assert(
			fc.property(peopleOfFirms, ({ someone, calendar }) => {
				const chases = forecastChases(someone, calendar, '2026-09-14T04:00:00Z', '2027-03-01');
				expect(new Set(chases.map((c) => c.localDay)).size).toBe(chases.length);
				const open = new Set(someone.items.filter((i) => isOpen(i.state)).map((i) => i.id));
				for (const chase of chases) {
					expect(isSendingTime(chase.at, calendar)).toBe(true);
					if (someone.times && timesMeet(someone.times, calendar, chase.localDay)) expect(isTimeFor(chase.at, someone.times, calendar)).toBe(true);
					expect(chase.because.length).toBeGreaterThan(0);
					expect(chase.itemIds.every((id) => open.has(id))).toBe(true);
					for (const { id, endsOn } of someone.items) if (endsOn !== null && endsOn < chase.localDay) expect(chase.itemIds).not.toContain(id);
					expect(chase.by.length > 0).toBe(chase.because.some(({ by }) => writes(by)));
					for (const { id, hold } of someone.items) if (hold && chase.localDay < hold.until) expect(chase.itemIds).not.toContain(id);
				}
			}),
			{ numRuns: 200 }
		);
	});

	test('dealing with one thing never adds a message, nor a call', () => {
		const counted = (someone: ChasedPerson, calendar: FirmCalendar) => forecastChases(someone, calendar, '2026-09-14T04:00:00Z', '2027-06-01').length;
		fc.assert(
			fc.property(peopleOfFirms, fc.nat(), ({ someone, calendar }, pick) => {
				fc.pre(someone.items.length > 0);
				const without = { ...someone, items: someone.items.filter((_, at) => at !== pick % someone.items.length) };
				expect(counted(without, calendar)).toBeLessThanOrEqual(counted(someone, calendar));
			}),
			{ numRuns: 200 }
		);
	});
});
