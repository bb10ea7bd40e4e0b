import { z } from 'zod';
import { chasePlanKeySchema } from '../chasing/chase-plan';
import { isOpen, ITEM_STATE_WORDS, itemStateAfter, type ItemState } from './item-states';
import type { IsoDate } from '../calendar/firm-calendar';

/** What can be done with many things that are asked at once. */
export const ITEM_ACTS = ['extend', 'plan', 'person', 'accept', 'waive', 'withdraw'] as const;
/** What can be done with many drafts at once. */
export const DRAFT_ACTS = ['extend', 'plan', 'person', 'send', 'remove'] as const;
export type ItemAct = (typeof ITEM_ACTS)[number];
export type DraftAct = (typeof DRAFT_ACTS)[number];
export type ManyAct = ItemAct | DraftAct;

/** Most lines or drafts in one go. */
export const MANY_MOST = 500;

/** What an act needs to be told beside what it is done with. */
const actFields = {
	/** the new due date */
	dueOn: z.iso.date('Choose a day.').nullable().default(null),
	/** by which plan they are chased from now on */
	plan: chasePlanKeySchema.nullable().default(null),
	/** who answers: the first, second or third person of each client */
	rank: z.coerce.number().int().min(1).max(3).nullable().default(null)
};
const chosenVersions = z
	.array(z.object({ id: z.uuid(), version: z.number().int() }))
	.min(1, 'Choose at least one line.')
	.max(MANY_MOST, `At most ${MANY_MOST} lines at once. Choose fewer, or do it in two goes.`);

export const itemsActSchema = z.object({ act: z.enum(ITEM_ACTS), items: chosenVersions, ...actFields });
export const draftsActSchema = z.object({ act: z.enum(DRAFT_ACTS), items: chosenVersions, ...actFields });
export type ItemsAct = z.output<typeof itemsActSchema>;
export type DraftsAct = z.output<typeof draftsActSchema>;

/**
 * Why an act cannot be done with something in this state, or null. Accepting says so itself, for letters too.
 * @returns a sentence for the person who chose it
 */
export function whyNotInState(act: ItemAct, state: ItemState): string | null {
	const words = ITEM_STATE_WORDS[state];
	switch (act) {
		case 'extend':
			return isOpen(state) ? null : `It is ${words}: there is nothing to wait for.`;
		case 'plan':
			return isOpen(state) ? null : `It is ${words}: there is nothing to remind of.`;
		case 'person':
			return isOpen(state) ? null : `It is ${words}: nobody has to answer.`;
		case 'waive':
		case 'withdraw':
			return itemStateAfter(state, 'waive', 'firm') ? null : `It is ${words} already.`;
		case 'accept':
			return null;
	}
}

/** What doing it with one of them does, or why it stays as it is. */
export interface ManyOutcome {
	clientId: string;
	/** who answers from then on */
	contactName: string;
	/** null where it is done */
	problem: string | null;
	dueBefore: IsoDate | null;
	dueAfter: IsoDate | null;
	chaseBefore: IsoDate | null;
	chaseAfter: IsoDate | null;
	canBeTakenBack: boolean;
}

/** What doing it does beside changing the lines themselves. */
export interface ManyEffects {
	/** messages of thanks that go because a request is finished by it */
	thanks: number;
	/** requests of which nothing is left to ask */
	withdrawn: number;
	/** announcements that have not left yet and now do not */
	unsent: number;
}

const count = (n: number, one: string, many: string) => (n === 1 ? `one ${one}` : `${n} ${many}`);
const capital = (words: string) => words[0].toUpperCase() + words.slice(1);
const different = <T>(values: readonly T[]): T[] => [...new Set(values)];

/** "Mara Whitlock", "Mara Whitlock and Jonas Reed", "Mara Whitlock, Jonas Reed and 3 others". */
function names(people: readonly string[]): string {
	const all = different(people);
	if (all.length === 1) return all[0];
	if (all.length === 2) return all.join(' and ');
	return `${all.slice(0, 2).join(', ')} and ${count(all.length - 2, 'other', 'others')}`;
}

function fromTo(dates: readonly (IsoDate | null)[], day: (date: IsoDate) => string): string {
	const set = dates.filter((date) => date !== null).sort();
	if (set.length === 0) return '';
	return set[0] === set.at(-1) ? `, not ${day(set[0])}` : `, instead of between ${day(set[0])} and ${day(set.at(-1)!)}`;
}

/** How the reminders go on for those that are still open. */
function remindersInWords(done: readonly ManyOutcome[], day: (date: IsoDate) => string): string[] {
	const reminded = done.filter((one) => one.chaseAfter !== null);
	const words: string[] = [];
	if (reminded.length > 0) {
		const first = reminded.map((one) => one.chaseAfter!).sort()[0];
		words.push(`The next reminder goes on ${day(first)}, to ${names(reminded.map((one) => one.contactName))}.`);
	}
	const silent = done.length - reminded.length;
	if (silent > 0 && reminded.length > 0) words.push(`${capital(count(silent, 'of them has', 'of them have'))} no reminder left.`);
	return words;
}

/**
 * What will happen, in sentences, before it is done with what was chosen.
 * @param day a date in words
 * @returns nothing where it can be done with none of them
 */
export function itemsActInWords(
	act: ItemAct,
	outcomes: readonly ManyOutcome[],
	given: { dueOn: IsoDate | null; planName: string | null },
	effects: ManyEffects,
	day: (date: IsoDate) => string
): string[] {
	const done = outcomes.filter((one) => one.problem === null);
	if (done.length === 0) return [];
	const clients = different(done.map((one) => one.clientId)).length;
	const lines = `${capital(count(done.length, 'line', 'lines'))} of ${count(clients, 'client', 'clients')}`;
	const is = done.length === 1 ? 'is' : 'are';
	const words: string[] = [];
	if (act === 'extend') {
		words.push(
			`${lines} ${is} due on ${day(given.dueOn!)}${fromTo(
				done.map((one) => one.dueBefore),
				day
			)}.`,
			...remindersInWords(done, day)
		);
	} else if (act === 'plan') {
		if (done.every((one) => one.chaseAfter === null)) words.push(`Nobody is reminded of ${lines.toLowerCase()} any more.`);
		else words.push(`${lines} ${is} reminded of by “${given.planName}” from now on.`, ...remindersInWords(done, day));
	} else if (act === 'person') {
		words.push(`${lines} ${is} asked of ${names(done.map((one) => one.contactName))} from now on.`, ...remindersInWords(done, day));
	} else if (act === 'accept') {
		words.push(`${lines} ${is} accepted.`);
	} else {
		words.push(`${lines} ${is} not asked for any more.`);
		const chased = done.filter((one) => one.chaseBefore !== null).length;
		if (chased > 0)
			words.push(
				`The reminders of ${chased === done.length ? (chased === 1 ? 'it' : 'all of them') : `${chased === 1 ? 'one' : chased} of them`} do not go.`
			);
		if (effects.withdrawn > 0) words.push(`${capital(count(effects.withdrawn, 'request is', 'requests are'))} withdrawn as a whole.`);
		if (effects.unsent > 0)
			words.push(`${capital(count(effects.unsent, 'message', 'messages'))} that ${effects.unsent === 1 ? 'has' : 'have'} not left yet will not.`);
	}
	words.push(
		effects.thanks > 0
			? `${capital(count(effects.thanks, 'request is', 'requests are'))} finished by it, and your thanks go out.`
			: 'No message goes out by this.'
	);
	const back = done.filter((one) => one.canBeTakenBack).length;
	words.push(
		back === done.length
			? 'It can be taken back.'
			: back === 0
				? 'It cannot be taken back.'
				: `It can be taken back, but for ${count(done.length - back, 'letter', 'letters')}.`
	);
	return words;
}

/** Why a draft cannot go as it is, as far as can be told without looking at its lines. */
export const DRAFT_STANDS = {
	no_contact: 'Nobody is chosen to get it. Open it and choose.',
	no_address: 'Whom it goes to has no e-mail address yet.',
	bounced: 'Mail to whom it goes came back.',
	suspended: 'Whom it goes to is suspended.',
	closed: 'The firm does not work for this client just now.',
	waits: 'It goes by itself once its letter is signed by all. To send it now, open it.'
} as const;
export type DraftStands = keyof typeof DRAFT_STANDS;

/** What doing it with one draft does, or why it stays. */
export interface DraftOutcome {
	contactName: string | null;
	/** lines that are asked */
	lines: number;
	/** told by nobody: put up quietly */
	quiet: boolean;
	/** invited by the same message */
	invited: boolean;
	/** told tomorrow, since something was announced to them today already */
	later: boolean;
	problem: string | null;
}

/** What will happen, in sentences, before it is done with the drafts that were chosen. */
export function draftsActInWords(
	act: DraftAct,
	outcomes: readonly DraftOutcome[],
	given: { dueOn: IsoDate | null; planName: string | null },
	day: (date: IsoDate) => string
): string[] {
	const done = outcomes.filter((one) => one.problem === null);
	if (done.length === 0) return [];
	const sum = done.reduce((lines, one) => lines + one.lines, 0);
	const drafts = count(done.length, 'draft', 'drafts');
	const people = different(done.flatMap((one) => one.contactName ?? []));
	if (act === 'send') {
		const told = different(done.filter((one) => !one.quiet).flatMap((one) => one.contactName ?? []));
		const later = different(done.filter((one) => one.later && !one.quiet).flatMap((one) => one.contactName ?? []));
		const quiet = done.filter((one) => one.quiet).length;
		const untold = done.filter((one) => one.quiet || one.later).length;
		const invited = done.filter((one) => one.invited && !one.quiet).length;
		return [
			`${capital(count(done.length, 'request', 'requests'))} with ${count(sum, 'line', 'lines')} ${done.length === 1 ? 'goes' : 'go'} to ${names(people)}.`,
			...(told.length > 0 ? ['Each person gets one message about everything that is asked of them today.'] : []),
			...(later.length > 0
				? [
						`${names(later)} ${later.length === 1 ? 'was' : 'were'} told of something today already, and ${later.length === 1 ? 'hears' : 'hear'} of this tomorrow.`
					]
				: []),
			...(invited > 0 ? [`${capital(count(invited, 'of them invites', 'of them invite'))} somebody who has no access yet.`] : []),
			...(quiet > 0 ? [`${capital(count(quiet, 'is', 'are'))} put up quietly: nobody is told.`] : []),
			untold === done.length
				? 'It can be taken back until they are told.'
				: untold > 0
					? 'What nobody is told of yet can be taken back; the rest can be withdrawn, and not be unsent.'
					: 'What was sent can be withdrawn, and not be unsent.'
		];
	}
	const all = `${capital(count(sum, 'line', 'lines'))} of ${drafts}`;
	const is = sum === 1 ? 'is' : 'are';
	if (act === 'remove')
		return [`${capital(drafts)} with ${count(sum, 'line', 'lines')} ${done.length === 1 ? 'is' : 'are'} thrown away.`, 'It can be taken back.'];
	return [
		act === 'extend'
			? `${all} ${is} due on ${day(given.dueOn!)}.`
			: act === 'plan'
				? `${all} ${is} reminded of by “${given.planName}”.`
				: `${capital(drafts)} ${done.length === 1 ? 'goes' : 'go'} to ${names(people)}.`,
		'Nothing is sent by this. It can be taken back.'
	];
}

/** What taking back needs: the version something has now, and how it was before. */
export const undoItemsSchema = z
	.array(
		z.object({
			id: z.uuid(),
			version: z.number().int(),
			state: z.string(),
			dueOn: z.iso.date().nullable(),
			contactId: z.uuid(),
			plan: chasePlanKeySchema.nullable()
		})
	)
	.min(1)
	.max(MANY_MOST);
export type UndoItems = z.output<typeof undoItemsSchema>;
export const undoDraftsSchema = chosenVersions;
