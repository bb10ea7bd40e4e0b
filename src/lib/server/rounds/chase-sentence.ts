import { dateWords, timeWords } from '$lib/words/dates';
import { WEEKDAYS, type ChaseBy } from '$lib/core/chasing/chase-plan';
import type { ChaseReason } from '$lib/core/chasing/forecast';
import type { Hold, HoldWhy } from '$lib/core/chasing/hold';
import { soonerInWords } from '$lib/core/chasing/sooner';
import type { TheirTimes } from '$lib/core/calendar/their-times';
import { timesInWords } from '$lib/core/calendar/times-in-words';
import type { Actor } from '../actor';
import { peopleOfClient, readForecast, type ForecastChase } from '../chasing/read-forecast';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

export interface ChaseSentence {
	/** "Mon 4 May 09:00, by e-mail to Mara Whitlock" */
	when: string;
	why: string;
	heldBack: boolean;
}

const HELD_BACK = {
	bounced: 'mail to this address came back',
	opted_out: 'they have stopped reminders',
	no_address: 'there is no address yet',
	suspended: 'they are suspended'
} as const;

/** Why reminders waited, as the end of a sentence. */
const HELD_AS: Record<HoldWhy, string> = {
	replied: 'they wrote to us',
	away: 'they are away',
	paused: 'reminders are paused',
	called: 'they are to be called first',
	promised: 'they promised it on the telephone'
};

/** Why reminders wait, and what would let them go sooner. */
export const heldAs = ({ why, sooner }: Pick<Hold, 'why' | 'sooner'>): string =>
	`${HELD_AS[why]}${sooner ? ` (sooner ${soonerInWords(sooner)})` : ''}`;

const WAY_WORDS = { email: 'by e-mail', text: 'by text message', 'email and text': 'by e-mail and text message' } as const;

/** The next chase of an item in words: when, how, to whom, and why. */
export function chaseSentence(chase: ForecastChase, firm: Firm): ChaseSentence {
	const reasons = [...new Set(chase.because.map((b) => chaseStepWords(b, firm)))];
	return {
		when: `${timeWords(firm.locale, chase.at, firm.calendar.timeZone)}, ${chaseWays(chase)}`,
		why: chase.heldBack
			? `held back, because ${HELD_BACK[chase.heldBack]}`
			: `because ${reasons.slice(0, 2).join(' and ')}${chase.held ? `, held since ${dateWords(firm.locale, chase.held.from)} as ${heldAs(chase.held)}` : ''}${chase.waitedFrom ? `, waiting since ${dateWords(firm.locale, chase.waitedFrom)} so that they are not written to too often` : ''}${chase.firmsHoursFrom ? `, ${waitsForTheirs(chase.firmsHoursFrom, chase.times, firm)}` : ''}${chase.items.length > 1 ? `; one message about ${chase.items.length} things` : ''}`,
		heldBack: chase.heldBack !== null
	};
}

/** "not at Mon 4 May 09:00, for they are written to from 18:00 to 20:00 in Vancouver". */
const waitsForTheirs = (firmsHoursFrom: string, times: TheirTimes | null, firm: Firm): string =>
	`not at ${timeWords(firm.locale, firmsHoursFrom, firm.calendar.timeZone)}, for they are written to ${timesInWords(times && { ...times, perWeek: null })}`;

/** What goes on the day of a chase: "by e-mail to Mara Whitlock", "a call to Mara Whitlock", or both. */
export function chaseWays(chase: Pick<ForecastChase, 'by' | 'because' | 'contactName' | 'heldBack'>): string {
	const way = WAY_WORDS[chase.by.join(' and ') as keyof typeof WAY_WORDS];
	const asks = (by: ChaseBy) => chase.because.some((one) => one.by === by);
	const parts = [
		...(way || chase.heldBack ? [`${way ?? WAY_WORDS.email} to ${chase.contactName}`] : []),
		...(asks('call') ? [`a call to ${chase.contactName}`] : []),
		...(asks('partner') ? [`a partner is told about ${chase.contactName}`] : [])
	];
	return parts.join(', and ');
}

/** Why a step has its turn: "it is 3 business days after the due date, Fri 1 May". */
export function chaseStepWords(step: Pick<ChaseReason, 'when' | 'time' | 'dueOn' | 'askedOn'>, firm: Firm): string {
	const { when, time } = step;
	if (when.kind === 'weekly') return `it is ${WEEKDAYS[when.weekday - 1]}, time ${time} of ${when.times}`;
	const n = Math.abs(when.days);
	const days = `${n} business ${n === 1 ? 'day' : 'days'}`;
	switch (when.kind) {
		case 'due': {
			const due = dateWords(firm.locale, step.dueOn!);
			return n === 0 ? `it is due on ${due}` : `it is ${days} ${when.days < 0 ? 'before' : 'after'} the due date, ${due}`;
		}
		case 'asked':
			return `it was asked ${days} ago, on ${dateWords(firm.locale, step.askedOn)}`;
		case 'after':
			return `it is ${days} after the step before`;
		case 'every':
			return `it comes every ${when.unit === 'days' ? (n === 1 ? 'day' : `${n} days`) : days}, time ${time} of ${when.times}`;
		case 'silent':
			return `nothing was heard from them for ${days}`;
	}
}

/** The next chase of each open item of a client, by item. */
export async function readNextChases(tx: Tx, actor: Actor, firm: Firm, clientId: string): Promise<Record<string, ChaseSentence>> {
	const forecast = await readForecast(tx, actor, firm, await peopleOfClient(tx, clientId), 60);
	const byItem: Record<string, ChaseSentence> = {};
	for (const chase of forecast) if (!chase.leftOut) for (const item of chase.items) byItem[item.id] ??= chaseSentence(chase, firm);
	return byItem;
}
