import { expect, test } from 'vitest';
import { addDays, addToInstant, isBusinessDay, localDate, localInstant, weekdayOf, type FirmCalendar } from '../calendar/firm-calendar';
import { EVENT_WORDS } from '../audit/event-words';
import { byClient, isSummaryDue, isTold, kindsFor, mayTellAgain, nextSummary, TOLD_NOTHING, verbsTold, type Telling } from './telling';

const halifax: FirmCalendar = {
	timeZone: 'America/Halifax',
	businessDays: [1, 2, 3, 4, 5],
	holidays: ['2026-05-18', '2026-12-25', '2026-12-28'],
	sendFrom: '09:00',
	sendTo: '17:00'
};
const auckland: FirmCalendar = { ...halifax, timeZone: 'Pacific/Auckland', holidays: ['2026-04-03', '2026-04-06'] };
const daily: Telling = { ...TOLD_NOTHING, summary: 'daily', time: '07:30' };
const weekly: Telling = { ...daily, summary: 'weekly', weekday: 1 };

/** When summaries go if a worker looks every ten minutes. */
function played(telling: Telling, calendar: FirmCalendar, from: string, days: number): string[] {
	let lastAt = from;
	const went: string[] = [];
	for (let minutes = 0; minutes < days * 1440; minutes += 10) {
		const now = addToInstant(from, { minutes });
		const foreseen = nextSummary(telling, calendar, lastAt, now);
		if (!isSummaryDue(telling, calendar, lastAt, now)) {
			// what the screen promises lies ahead
			expect(foreseen! > now).toBe(true);
			continue;
		}
		expect(foreseen).toBe(now);
		went.push(now);
		lastAt = now;
	}
	return went;
}

test.each([
	['Halifax, over the change to summer time', halifax, '2026-03-04T15:00:00Z'],
	['Halifax, over the change to winter time', halifax, '2026-10-28T15:00:00Z'],
	['Auckland, over the change to winter time and Easter', auckland, '2026-03-31T15:00:00Z']
])('a daily summary goes once on each business day, at the wall clock’s hour: %s', (_, calendar, from) => {
	const went = played(daily, calendar, from, 14);
	const days = Array.from({ length: 14 }, (_, n) => addDays(localDate(from, calendar), n + 1)).filter(
		(day) => isBusinessDay(day, calendar) && localInstant(day, '07:30', calendar) < addToInstant(from, { minutes: 14 * 1440 })
	);
	expect(went.map((at) => localDate(at, calendar))).toEqual(days);
	for (const at of went) expect(at).toBe(localInstant(localDate(at, calendar), '07:30', calendar).replace('.000', ''));
});

test('a weekly summary goes once a week, after the days off that its day falls into', () => {
	const went = played(weekly, halifax, '2026-05-06T15:00:00Z', 28).map((at) => localDate(at, halifax));
	// the 18th is a holiday
	expect(went).toEqual(['2026-05-11', '2026-05-19', '2026-05-25', '2026-06-01']);
	expect(weekdayOf('2026-05-19')).toBe(2);
});

test('whoever chooses a summary has the first one on another day, and one a day at most whatever they change', () => {
	expect(isSummaryDue(daily, halifax, '2026-05-05T09:00:00Z', '2026-05-05T10:31:00Z')).toBe(false);
	expect(nextSummary(daily, halifax, '2026-05-05T09:00:00Z', '2026-05-05T09:00:00Z')).toBe('2026-05-06T10:30:00Z');
	// it went at half past seven; moved to nine, the next one goes tomorrow
	expect(isSummaryDue({ ...daily, time: '09:00' }, halifax, '2026-05-05T10:30:00Z', '2026-05-05T13:00:00Z')).toBe(false);
	expect(nextSummary({ ...daily, time: '09:00' }, halifax, '2026-05-05T10:30:00Z', '2026-05-05T11:00:00Z')).toBe('2026-05-06T12:00:00Z');
});

test('a worker that was down sends it when it is back, and not for each day that was missed', () => {
	expect(isSummaryDue(daily, halifax, '2026-05-05T10:30:00Z', '2026-05-08T18:00:00Z')).toBe(true);
	expect(isSummaryDue(daily, halifax, '2026-05-08T18:00:00Z', '2026-05-08T18:10:00Z')).toBe(false);
});

test('without a summary, or in a year without business days, none is due and none is foreseen', () => {
	const never = { ...halifax, businessDays: [1], holidays: Array.from({ length: 60 }, (_, n) => addDays('2026-05-04', 7 * n)) };
	for (const [telling, calendar] of [[TOLD_NOTHING, halifax] as const, [daily, never] as const, [weekly, never] as const]) {
		expect(isSummaryDue(telling, calendar, '2026-05-04T10:00:00Z', '2026-06-04T10:00:00Z')).toBe(false);
		expect(nextSummary(telling, calendar, '2026-05-04T10:00:00Z', '2026-06-04T10:00:00Z')).toBeNull();
	}
});

test('nobody is told of what their role cannot deal with', () => {
	const all: Telling = { ...daily, kinds: { ...daily.kinds, words: 'at_once', letters: 'at_once', arrivals: 'at_once' } };
	expect(kindsFor('filing').map(({ kind }) => kind)).toEqual(['arrivals', 'away']);
	expect(verbsTold(all, 'filing', 'at_once')).toEqual(['paper_arrived', 'paper_mailed', 'paper_held']);
	expect(verbsTold(all, 'coordinator', 'at_once')).toContain('letter_signed');
	expect(verbsTold(all, 'coordinator', 'at_once').every((verb) => verb in EVENT_WORDS)).toBe(true);
	expect(isTold({ ...TOLD_NOTHING, kinds: { ...TOLD_NOTHING.kinds, words: 'at_once' } }, 'filing')).toBe(false);
	expect(isTold({ ...TOLD_NOTHING, kinds: { ...TOLD_NOTHING.kinds, words: 'at_once' } }, 'bookkeeper')).toBe(true);
});

test('what follows what was told at once waits a quarter of an hour', () => {
	expect(mayTellAgain(null, '2026-05-04T13:00:00Z')).toBe(true);
	expect(mayTellAgain('2026-05-04T13:00:00Z', '2026-05-04T13:14:00Z')).toBe(false);
	expect(mayTellAgain('2026-05-04T13:00:00Z', '2026-05-04T13:15:00Z')).toBe(true);
});

test('what happened stands by client, each thing once, and no mail grows beyond what is read', () => {
	const doing = (n: number, sentence: string) => ({ clientId: `c${n}`, clientName: `Client ${n}`, by: 'Mara Gullstring', sentence });
	const { clients, moreClients } = byClient([
		doing(1, 'handed in “Statement”'),
		doing(2, 'wrote: “Hello”'),
		doing(1, 'handed in “Statement”'),
		...Array.from({ length: 12 }, (_, n) => doing(1, `handed in “Paper ${n}”`)),
		{ clientId: null, clientName: null, by: 'Somebody', sentence: `answered “${'long '.repeat(100)}”` },
		...Array.from({ length: 60 }, (_, n) => doing(n + 3, 'handed in “One”'))
	]);
	expect(clients).toHaveLength(40);
	expect(moreClients).toBe(23);
	expect(clients[0]).toMatchObject({ name: 'Client 1', more: 5 });
	expect(clients[0].lines[0]).toBe('Mara Gullstring handed in “Statement” (2 times)');
	expect(clients[1].lines).toEqual(['Mara Gullstring wrote: “Hello”']);
	expect(clients[2].name).toBeNull();
	expect([...clients[2].lines[0]].length).toBe(220);
	expect(clients[2].lines[0].endsWith('…')).toBe(true);
});
