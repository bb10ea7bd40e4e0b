import { z } from 'zod';
import type { EventVerb } from '../audit/event-words';
import {
	addDays,
	addToInstant,
	compareInstants,
	isBusinessDay,
	localDate,
	localInstant,
	onOrAfterBusinessDay,
	weekdayOf,
	type FirmCalendar,
	type IsoDate,
	type IsoInstant
} from '../calendar/firm-calendar';
import { may, type Act, type Role } from '../people/roles';
import type { Told } from './told';

/** What somebody of the firm can be told of, with the act it takes to deal with it. */
export const TOLD_KINDS = [
	{ kind: 'words', act: 'judge_item', title: 'Somebody wrote to us or asked something' },
	{ kind: 'handed_in', act: 'judge_item', title: 'Something was handed in, answered with no, or put off' },
	{ kind: 'arrivals', act: 'file_papers', title: 'Files came that nobody had asked for' },
	{ kind: 'letters', act: 'judge_item', title: 'A letter was signed, declined or lapsed' },
	{ kind: 'no_help', act: 'judge_item', title: 'Reminders ran out, a call is due, or mail did not arrive' },
	{ kind: 'access', act: 'invite', title: 'An invitation was accepted, or a new one asked for' },
	{ kind: 'away', act: 'look', title: 'Somebody is away, or back' }
] as const satisfies readonly { kind: string; act: Act; title: string }[];
export type ToldKind = (typeof TOLD_KINDS)[number]['kind'];

/** Which events of the history count for what somebody is told of. What colleagues do is not among it. */
const TOLD_BY: Record<ToldKind, readonly EventVerb[]> = {
	words: ['own_words_written', 'remark_written', 'text_received', 'mail_received', 'mail_waits', 'new_address_noted'],
	handed_in: ['item_handed_in', 'item_answered_no', 'item_asked_for_time', 'request_raised', 'public_answer_came'],
	arrivals: ['paper_arrived', 'paper_mailed', 'paper_held'],
	letters: ['letter_signed', 'item_declined', 'item_lapsed', 'letter_sealed', 'letter_check_failed', 'letter_check_unknown'],
	no_help: ['chasing_ran_out', 'call_wanted', 'message_failed', 'message_unclear', 'reminders_stopped', 'mail_unwanted', 'texts_stopped'],
	access: ['invitation_taken_up', 'invitation_asked_for'],
	away: ['said_away', 'said_back', 'away_noted']
};

/** What a role can be told of: what it may deal with. */
export const kindsFor = (role: Role): readonly (typeof TOLD_KINDS)[number][] => TOLD_KINDS.filter(({ act }) => may(role, act));

export const TOLD_HOW = ['at_once', 'summary', 'not'] as const;
export type ToldHow = (typeof TOLD_HOW)[number];

/** The times of day at which a summary can go: half hours of the firm's time. */
export const SUMMARY_TIMES: readonly string[] = Array.from(
	{ length: 32 },
	(_, n) => `${String(5 + Math.floor(n / 2)).padStart(2, '0')}:${n % 2 === 0 ? '00' : '30'}`
);

const how = z.enum(TOLD_HOW, 'Choose how you are told.');
export const tellingSchema = z.object({
	/** the clients they look after, or all that they may see */
	whose: z.enum(['mine', 'all'], 'Choose of which clients.'),
	summary: z.enum(['daily', 'weekly', 'none'], 'Choose whether there is a summary.'),
	time: z.string().refine((time) => SUMMARY_TIMES.includes(time), 'Choose a time from the list.'),
	/** of a weekly summary: the ISO weekday, 1 is Monday */
	weekday: z.coerce.number('Choose a day of the week.').int().min(1, 'Choose a day of the week.').max(7, 'Choose a day of the week.'),
	kinds: z.object({ words: how, handed_in: how, arrivals: how, letters: how, no_help: how, access: how, away: how } satisfies Record<
		ToldKind,
		typeof how
	>)
});
/** Of what somebody of the firm is told by mail, and how. */
export type Telling = z.output<typeof tellingSchema>;

/** What holds until an administrator chooses a usual way: nobody is sent anything. */
export const TOLD_NOTHING: Telling = {
	whose: 'mine',
	summary: 'none',
	time: '08:00',
	weekday: 1,
	kinds: { words: 'summary', handed_in: 'summary', arrivals: 'summary', letters: 'summary', no_help: 'summary', access: 'summary', away: 'summary' }
};

/** The events of which somebody is told in one way, as far as their role can deal with them. */
export function verbsTold(telling: Telling, role: Role, how: ToldHow): EventVerb[] {
	return kindsFor(role).flatMap(({ kind }) => (telling.kinds[kind] === how ? TOLD_BY[kind] : []));
}

/** Whether somebody is sent anything at all. */
export const isTold = (telling: Telling, role: Role): boolean => telling.summary !== 'none' || verbsTold(telling, role, 'at_once').length > 0;

/** How long is waited until everything that happened by an instant is sure to be written down. */
const SETTLED_MINUTES = 2;
/** How long what follows waits after something was told at once: ten files in a row are one message, or two. */
const GAP_MINUTES = 15;

/** Up to when what happened is told by something that goes now. */
export const settledBy = (now: IsoInstant): IsoInstant => addToInstant(now, { minutes: -SETTLED_MINUTES });

/** Whether what is to be told at once may go, after the last time it did. */
export const mayTellAgain = (lastAt: IsoInstant | null, now: IsoInstant): boolean =>
	lastAt === null || compareInstants(addToInstant(lastAt, { minutes: GAP_MINUTES }), now) <= 0;

/** How many days off in a row a summary may wait for. */
const LONGEST_BREAK = 21;

/** Whether a summary goes on a day: on business days, or once a week, then on the first business day on or after the chosen one. */
function goesOn(telling: Telling, day: IsoDate, calendar: FirmCalendar): boolean {
	if (telling.summary === 'none' || !isBusinessDay(day, calendar)) return false;
	if (telling.summary === 'daily') return true;
	for (let back = 0; back < LONGEST_BREAK; back++) {
		const chosen = addDays(day, -back);
		if (weekdayOf(chosen) === telling.weekday) return onOrAfterBusinessDay(chosen, calendar) === day;
	}
	return false;
}

/** When the latest summary was to go, at or before an instant; null if there is none within three weeks. */
function latestSummary(telling: Telling, calendar: FirmCalendar, now: IsoInstant): IsoInstant | null {
	for (let back = 0; back <= LONGEST_BREAK; back++) {
		const at = summaryOn(telling, addDays(localDate(now, calendar), -back), calendar);
		if (at && compareInstants(at, now) <= 0) return at;
	}
	return null;
}

/** Whether a summary is due: one a day at most, whatever is chosen meanwhile. @param lastAt when the last one went, or when somebody first chose to have them */
export function isSummaryDue(telling: Telling, calendar: FirmCalendar, lastAt: IsoInstant, now: IsoInstant): boolean {
	const latest = latestSummary(telling, calendar, now);
	return latest !== null && localDate(latest, calendar) > localDate(lastAt, calendar);
}

/** When the next summary goes; null if there is none within three weeks. @param lastAt as in `isSummaryDue` */
export function nextSummary(telling: Telling, calendar: FirmCalendar, lastAt: IsoInstant, now: IsoInstant): IsoInstant | null {
	if (isSummaryDue(telling, calendar, lastAt, now)) return now;
	for (let days = 0; days <= LONGEST_BREAK; days++) {
		const day = addDays(localDate(now, calendar), days);
		const at = summaryOn(telling, day, calendar);
		if (at && compareInstants(at, now) > 0 && day > localDate(lastAt, calendar)) return at;
	}
	return null;
}

const summaryOn = (telling: Telling, day: IsoDate, calendar: FirmCalendar): IsoInstant | null =>
	goesOn(telling, day, calendar) ? localInstant(day, telling.time, calendar) : null;

/** Something that happened, as it is told. */
export interface Doing {
	clientId: string | null;
	clientName: string | null;
	by: string;
	/** the sentence of the history, without who did it */
	sentence: string;
}

const MOST_CLIENTS = 40;
const MOST_LINES = 8;
const LONGEST_LINE = 220;

/**
 * What happened, by client in the order of what happened first, each thing once however often it did: as much as somebody reads in a mail.
 * @returns how many clients are left out of it, too
 */
export function byClient(doings: readonly Doing[]): { clients: Told['clients']; moreClients: number } {
	const clients = new Map<string, { clientId: string | null; name: string | null; lines: Map<string, number> }>();
	for (const { clientId, clientName, by, sentence } of doings) {
		const client = clients.get(clientId ?? '') ?? { clientId, name: clientName, lines: new Map<string, number>() };
		clients.set(clientId ?? '', client);
		const line = shortened(`${by} ${sentence}`);
		client.lines.set(line, (client.lines.get(line) ?? 0) + 1);
	}
	const all = [...clients.values()].map(({ lines, ...client }) => {
		const said = [...lines].map(([line, times]) => (times > 1 ? `${line} (${times} times)` : line));
		return { ...client, lines: said.slice(0, MOST_LINES), more: Math.max(0, said.length - MOST_LINES) };
	});
	return { clients: all.slice(0, MOST_CLIENTS), moreClients: Math.max(0, all.length - MOST_CLIENTS) };
}

/** A line that is not longer than a mail bears; what is cut off is seen to be. */
function shortened(line: string): string {
	const signs = [...line.replace(/\s+/g, ' ')];
	return signs.length <= LONGEST_LINE ? signs.join('') : `${signs.slice(0, LONGEST_LINE - 1).join('')}…`;
}
