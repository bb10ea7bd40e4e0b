/** How somebody wants to be written to. Mail about their own sign-in always goes by e-mail. */
export const CHANNELS = ['email', 'text', 'both'] as const;
export type Channels = (typeof CHANNELS)[number];

export type Channel = 'email' | 'text';

/** All that decides how somebody can be reached. */
export interface Reachable {
	email: string | null;
	phone: string | null;
	channels: Channels;
	mailProblem: 'bounced' | 'opted_out' | 'no_address' | null;
	textProblem: 'failed' | 'stopped' | null;
}

/** Whether a text message may go to somebody at all: a number, and no STOP from it. */
export function mayText(person: { phone: string | null; textProblem: string | null }): boolean {
	return person.phone !== null && person.textProblem === null;
}

/**
 * By which ways a reminder goes. Where text was wished and cannot go, e-mail goes, and the other way round only if both
 * were wished: nobody gets texts who did not ask for them. Whoever stopped reminders gets none. Without an e-mail
 * address there is no sign-in, so that a reminder would lead nowhere.
 */
export function remindedBy(person: Omit<Reachable, 'email'>): Channel[] {
	if (person.mailProblem === 'opted_out' || person.mailProblem === 'no_address') return [];
	const mail: Channel[] = person.mailProblem === null ? ['email'] : [];
	if (person.channels === 'email' || !mayText(person)) return mail;
	return person.channels === 'both' ? [...mail, 'text'] : ['text'];
}

/** The column `contact.reminded_by` in the terms of this file. */
export function waysOfColumn(column: 'none' | Channel | 'both'): Channel[] {
	return column === 'none' ? [] : column === 'both' ? ['email', 'text'] : [column];
}

/**
 * By which ways something new is announced: as reminders go, but stopping reminders does not stop what is new, and if
 * nothing works it is planned as mail, so that it is held back where a person sees it.
 */
export function announcedBy(person: Omit<Reachable, 'email'>): Channel[] {
	const ways = remindedBy({ ...person, mailProblem: person.mailProblem === 'opted_out' ? null : person.mailProblem });
	return ways.length > 0 ? ways : ['email'];
}
