import {
	addBusinessDays,
	addDays,
	compareInstants,
	localDate,
	onOrAfterBusinessDay,
	openingOf,
	type FirmCalendar,
	type IsoDate,
	type IsoInstant
} from '../calendar/firm-calendar';
import { nextTimeFor, type TheirTimes } from '../calendar/their-times';
import type { Channel } from '../messages/ways';
import { isOpen, type ItemState } from '../requests/item-states';
import {
	isToCome,
	nextChaseStep,
	placeChaseSteps,
	type ChaseBy,
	type ChasedSoFar,
	type ChaseDates,
	type ChasePlan,
	type ChaseWhen,
	type PlacedChaseStep
} from './chase-plan';
import { CALL_HOLDS_DAYS, type Hold } from './hold';
import { paceAllows, withReminder, type ReminderPace } from './pace';

/** An item as chasing sees it. */
export interface ChasedItem extends ChaseDates, ChasedSoFar {
	id: string;
	state: ItemState;
	plan: ChasePlan;
	/** the client has asked for time until this day; until shortly before it nobody is reminded of it */
	putOffUntil: IsoDate | null;
	/** its person has asked us something that is not answered: until then nobody is reminded of it, whatever else they are reminded of */
	asksUs: boolean;
	/** the last day on which it can be done: then it lapses by itself, and nobody is reminded of it any more; null without one */
	endsOn: IsoDate | null;
	/** until when nobody is reminded of it, and why; null if nothing holds it. What fell due meanwhile goes then, in one message */
	hold: Hold | null;
}

/** All that decides what one person is sent. */
export interface ChasedPerson {
	items: readonly ChasedItem[];
	/** the local days of the last reminders of this person */
	remindedOn: readonly IsoDate[];
	/** the local day on which anything went to them last */
	toldOn: IsoDate | null;
	/** how often they are reminded at most */
	pace: ReminderPace;
	/** when they may be written to, besides the firm's hours; null without times of their own */
	times: TheirTimes | null;
	/** days whose reminder somebody of the firm has left out */
	leftOut: readonly IsoDate[];
	/** why nothing may be sent, if so */
	heldBack: 'bounced' | 'opted_out' | 'no_address' | 'suspended' | null;
	/** by which ways reminders go to this person; empty while held back */
	by: readonly Channel[];
}

/** The item and the step for whose sake a chase goes out. */
export interface ChaseReason {
	itemId: string;
	step: number;
	stepsInPlan: number;
	turn: number;
	/** the how-manieth time of a step that comes again */
	time: number;
	when: ChaseWhen;
	by: ChaseBy;
	firmer: boolean;
	dueOn: IsoDate | null;
	askedOn: IsoDate;
}

export interface Chase {
	at: IsoInstant;
	localDay: IsoDate;
	/** everything that is open for this person then, due first; what they asked time for is left out until shortly before */
	itemIds: string[];
	/** the day on which it would have gone, if it waited so that they are not written to too often; what falls due until then goes along */
	waitedFrom: IsoDate | null;
	/** when it would have gone by the firm's hours alone, if it waits for the person's own; null if it does not */
	firmsHoursFrom: IsoInstant | null;
	/** what held it back until this day, and the day on which it would have gone; null if nothing did */
	held: (Hold & { from: IsoDate }) | null;
	/** the steps that made it go out on this day, in the order of their items */
	because: ChaseReason[];
	heldBack: ChasedPerson['heldBack'];
	/** somebody of the firm has left it out: it does not go, and what fell due by then is behind us */
	leftOut: boolean;
	/** by which ways something is written; none where a step only has somebody call, or a partner told */
	by: readonly Channel[];
	/** in the firmer words */
	firmer: boolean;
	/** until when a call that is to be made holds what comes after it; null without one */
	holdsUntil: IsoDate | null;
}

/** Whether a step writes to its person. */
export const writes = (by: ChaseBy): boolean => by !== 'call' && by !== 'partner';

/** By which ways the steps of one day write to somebody: as each step says among the ways of that person, or else by those they have. */
function waysOf(because: readonly ChaseReason[], theirs: readonly Channel[]): Channel[] {
	const wished = new Set(
		because
			.filter(({ by }) => writes(by))
			.flatMap(({ by }) => {
				const among = by === 'email' || by === 'text' ? theirs.filter((way) => way === by) : theirs;
				return among.length > 0 ? among : theirs;
			})
	);
	return theirs.filter((way) => wished.has(way));
}

/** What is held by now, or will be: the longer of two. */
const longer = (one: Hold | null, other: Hold): Hold => (one && one.until >= other.until ? one : other);

/**
 * The next chase one person will get if nothing changes: the one rule that both the forecast shown at
 * the desk and the worker follow. Answers null when nothing more will go out.
 *
 * A chase falls due on the day of a step of any open item. It goes out at the opening of sending
 * hours of that day; if that has passed (a worker was down, a due date moved) at once while sending
 * hours last, else at the next opening. One person gets at most one message a local day, and no more
 * reminders than the firm's pace allows: what falls due meanwhile goes along.
 * @param now nothing is placed earlier than this instant
 */
export function nextChase(person: ChasedPerson, calendar: FirmCalendar, now: IsoInstant): Chase | null {
	const open = person.items.filter((item) => isOpen(item.state) && !item.asksUs);
	let earliest: IsoDate | null = null;
	for (const item of open) {
		const step = stepToCome(item, calendar);
		if (step && (earliest === null || step.on < earliest)) earliest = step.on;
	}
	if (earliest === null) return null;

	const byFirm = sendingOn(earliest, calendar, now);
	const wanted = sendingOn(earliest, calendar, now, person.times);
	const { at, localDay } = remindingOn(person, earliest, calendar, now);

	// what lapses before then is not open any more when this goes
	const still = person.items.filter((item) => item.endsOn === null || item.endsOn >= localDay);
	if (still.length < person.items.length) return nextChase({ ...person, items: still }, calendar, now);

	const due = open.filter((item) => !isHeld(item, localDay));
	const because = due.flatMap((item): ChaseReason[] => {
		const step = placeChaseSteps(item, item.plan, calendar).findLast((s) => isToCome(s, item) && s.on <= localDay);
		if (!step) return [];
		const { on: _on, ...reason } = step;
		return [{ itemId: item.id, stepsInPlan: item.plan.steps.length, dueOn: item.dueOn, askedOn: item.askedOn, ...reason }];
	});
	const itsTurn = new Set(because.map(({ itemId }) => itemId));
	const [held] = due
		.flatMap(({ hold, ...item }) => {
			const from = hold && itsTurn.has(item.id) ? nextChaseStep(item, item.plan, calendar)!.on : null;
			return hold && from !== null && from < hold.until ? [{ ...hold, from }] : [];
		})
		.sort((a, b) => compareDates(a.from, b.from));
	return {
		at,
		localDay,
		itemIds: person.items
			.filter((item) => isOpen(item.state) && !item.asksUs && !isHeld(item, localDay) && (itsTurn.has(item.id) || !isPutOff(item, localDay)))
			.sort((a, b) => compareDates(a.dueOn, b.dueOn))
			.map((item) => item.id),
		because,
		waitedFrom: localDay === wanted.localDay ? null : wanted.localDay,
		firmsHoursFrom: wanted.at === byFirm.at ? null : byFirm.at,
		held: held ?? null,
		heldBack: person.heldBack,
		// also where the worker comes to it later than on its day
		leftOut: person.leftOut.some((day) => earliest <= day && day <= localDay),
		by: waysOf(because, person.by),
		firmer: because.some(({ firmer }) => firmer),
		holdsUntil: because.some(({ by }) => by === 'call') ? addBusinessDays(localDay, CALL_HOLDS_DAYS, calendar) : null
	};
}

/**
 * The reminder of an item that comes next by its plan, or null: what is not open, or is held while a question about it waits, has none,
 * and nothing comes once it has lapsed. What falls due while something holds it comes when that ends.
 */
export function stepToCome(item: Omit<ChasedItem, 'id' | 'putOffUntil'>, calendar: FirmCalendar): PlacedChaseStep | null {
	const next = isOpen(item.state) && !item.asksUs ? nextChaseStep(item, item.plan, calendar) : null;
	const step = next && isHeld(item, next.on) ? { ...next, on: item.hold!.until } : next;
	return step && (item.endsOn === null || step.on <= item.endsOn) ? step : null;
}

/** Whether nobody is reminded of an item on a day, because something holds it. */
const isHeld = ({ hold }: Pick<ChasedItem, 'hold'>, day: IsoDate): boolean => hold !== null && day < hold.until;

/** Whether a client asked for time for something that has not passed yet on a day. */
export const isPutOff = (item: Pick<ChasedItem, 'putOffUntil'>, day: IsoDate): boolean => item.putOffUntil !== null && day < item.putOffUntil;

/** What decides when one person may be reminded again. */
export interface Reminded extends Pick<ChasedPerson, 'remindedOn' | 'toldOn' | 'pace' | 'times'> {
	/** nobody reminds them of anything before this day */
	heldUntil?: IsoDate | null;
}

/** Whether a reminder may go to somebody on a day: nothing else has gone to them on it, and the pace allows it. */
const mayBeRemindedOn = (person: Reminded, day: IsoDate): boolean =>
	(person.toldOn === null || day > person.toldOn) && !(person.heldUntil && day < person.heldUntil) && paceAllows(day, person.remindedOn, person.pace);

/** When a reminder that falls due on a day goes to somebody: in sending hours, and theirs, on the first day on which they may be reminded. */
export function remindingOn(person: Reminded, day: IsoDate, calendar: FirmCalendar, now: IsoInstant): { at: IsoInstant; localDay: IsoDate } {
	let sending = sendingOn(day, calendar, now, person.times);
	while (!mayBeRemindedOn(person, sending.localDay)) sending = sendingOn(addDays(sending.localDay, 1), calendar, now, person.times);
	return sending;
}

/** Earliest first, those without a date last. ISO dates sort as text. */
function compareDates(a: IsoDate | null, b: IsoDate | null): number {
	if (a === b) return 0;
	return (a ?? '9999') < (b ?? '9999') ? -1 : 1;
}

/**
 * When a chase that falls due on a day goes out: at the opening of sending hours of that business day, or, if that
 * has passed, as soon as sending hours allow.
 * @param times whom it goes to has times of their own, which must allow it as well
 */
export function sendingOn(
	day: IsoDate,
	calendar: FirmCalendar,
	now: IsoInstant,
	times: TheirTimes | null = null
): { at: IsoInstant; localDay: IsoDate } {
	const businessDay = onOrAfterBusinessDay(day, calendar);
	const opening = openingOf(businessDay, calendar);
	const isAhead = compareInstants(opening, now) >= 0;
	if (isAhead && !times) return { at: opening, localDay: businessDay };
	const at = nextTimeFor(isAhead ? opening : now, times, calendar);
	return { at, localDay: localDate(at, calendar) };
}

/** Whether a chase writes to its person, and so counts for how often they are reminded. */
export const wroteTo = (chase: Pick<Chase, 'leftOut' | 'because'>): boolean => !chase.leftOut && chase.because.some(({ by }) => writes(by));

/** The person as they are once a chase has gone out: every step up to its day is behind them, but for what is held, which comes when that ends. */
export function afterChase(person: ChasedPerson, chase: Chase): ChasedPerson {
	const turns = new Map(chase.because.map(({ itemId, turn }) => [itemId, turn]));
	const hold: Hold | null = chase.holdsUntil && !chase.leftOut ? { until: chase.holdsUntil, why: 'called' } : null;
	return {
		...person,
		// what was left out is no message, and neither is a call: they do not count for how often somebody is written to
		remindedOn: wroteTo(chase) ? withReminder(person.remindedOn, chase.localDay) : person.remindedOn,
		items: person.items.map((item) => ({
			...item,
			chasedThrough: item.chasedThrough < chase.localDay && !isHeld(item, chase.localDay) ? chase.localDay : item.chasedThrough,
			chasedTurn: turns.get(item.id) ?? item.chasedTurn,
			hold: hold ? longer(item.hold, hold) : item.hold
		}))
	};
}

/**
 * Every chase that will go to one person up to and including a day, if nothing changes.
 * @param through the last local day to look at
 */
export function forecastChases(person: ChasedPerson, calendar: FirmCalendar, now: IsoInstant, through: IsoDate): Chase[] {
	const chases: Chase[] = [];
	let current = person;
	let from = now;
	for (;;) {
		const chase = nextChase(current, calendar, from);
		if (!chase || chase.localDay > through) return chases;
		chases.push(chase);
		current = afterChase(current, chase);
		from = chase.at;
	}
}

/** The chase that is to go out now, or null: what the worker asks at every beat. */
export function chaseDueNow(person: ChasedPerson, calendar: FirmCalendar, now: IsoInstant): Chase | null {
	const chase = nextChase(person, calendar, now);
	return chase && compareInstants(chase.at, now) <= 0 ? chase : null;
}
