import { dateWords, timeWords } from '$lib/words/dates';
import type { HoldWhy } from '$lib/core/chasing/hold';
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
export const HELD_AS: Record<HoldWhy, string> = {
	replied: 'they wrote to us',
	away: 'they are away',
	paused: 'reminders are paused'
};

const WAY_WORDS = { email: 'by e-mail', text: 'by text message', 'email and text': 'by e-mail and text message' } as const;

/** The next chase of an item in words: when, how, to whom, and why. */
export function chaseSentence(chase: ForecastChase, firm: Firm): ChaseSentence {
	const reasons = [...new Set(chase.because.map((b) => chaseStepWords(b.businessDaysFromDue, b.dueOn, firm)))];
	return {
		when: `${timeWords(firm.locale, chase.at, firm.calendar.timeZone)}, ${WAY_WORDS[chase.by.join(' and ') as keyof typeof WAY_WORDS] ?? WAY_WORDS.email} to ${chase.contactName}`,
		why: chase.heldBack
			? `held back, because ${HELD_BACK[chase.heldBack]}`
			: `because ${reasons.slice(0, 2).join(' and ')}${chase.held ? `, held since ${dateWords(firm.locale, chase.held.from)} as ${HELD_AS[chase.held.why]}` : ''}${chase.waitedFrom ? `, waiting since ${dateWords(firm.locale, chase.waitedFrom)} so that they are not written to too often` : ''}${chase.items.length > 1 ? `; one message about ${chase.items.length} things` : ''}`,
		heldBack: chase.heldBack !== null
	};
}

/** "it is 3 business days after Fri 1 May". */
export function chaseStepWords(businessDays: number, dueOn: string, firm: Firm): string {
	const n = Math.abs(businessDays);
	const due = dateWords(firm.locale, dueOn);
	if (n === 0) return `it is due on ${due}`;
	return `it is ${n} business ${n === 1 ? 'day' : 'days'} ${businessDays < 0 ? 'before' : 'after'} the due date, ${due}`;
}

/** The next chase of each open item of a client, by item. */
export async function readNextChases(tx: Tx, actor: Actor, firm: Firm, clientId: string): Promise<Record<string, ChaseSentence>> {
	const forecast = await readForecast(tx, actor, firm, await peopleOfClient(tx, clientId), 60);
	const byItem: Record<string, ChaseSentence> = {};
	for (const chase of forecast) if (!chase.leftOut) for (const item of chase.items) byItem[item.id] ??= chaseSentence(chase, firm);
	return byItem;
}
