import { z } from 'zod';
import { addBusinessDays, addDays, type FirmCalendar, type IsoDate } from '../calendar/firm-calendar';
import type { PauseEnd, Sooner } from './sooner';

/**
 * Why reminders are held: their person wrote to the firm, is away, or somebody of the firm paused it; a call is to be made, or was, and it
 * was promised.
 */
export const HOLD_REASONS = ['replied', 'away', 'paused', 'called', 'promised'] as const;
export type HoldWhy = (typeof HOLD_REASONS)[number];

/** Reminders wait. */
export interface Hold {
	/** the first day on which they may go again */
	until: IsoDate;
	why: HoldWhy;
	/** what lets them go again before that day; not given where the day alone does */
	sooner?: Sooner | null;
}

/** The first day on which reminders go again after what a pause waited for has happened: nobody is reminded within the hour of having done something. */
export const goesOnAfter = (today: IsoDate, until: IsoDate, calendar: FirmCalendar): IsoDate => {
	const next = addBusinessDays(today, 1, calendar);
	return next < until ? next : until;
};

/** How many business days somebody who wrote is not reminded, unless the firm has dealt with it before. */
export const REPLY_HOLDS_DAYS = 3;
/** How many business days a call that is to be made holds the reminders of whom it is to, unless it is noted before. */
export const CALL_HOLDS_DAYS = 3;
/** The longest that reminders are held at a time, in days. */
export const HOLD_MOST_DAYS = 366;

/** Until when what somebody wrote holds their reminders. */
export const heldByReply = (today: IsoDate, calendar: FirmCalendar): IsoDate => addBusinessDays(today, REPLY_HOLDS_DAYS, calendar);

/**
 * The form in which somebody of the firm pauses reminders.
 * @param today the day on which it is filled in
 */
export const pauseSchema = (today: IsoDate) =>
	z.object({
		until: z.iso
			.date('Please choose a day.')
			.refine((day) => day > today, 'The day must lie ahead: reminders go again from then on.')
			.refine((day) => day <= addDays(today, HOLD_MOST_DAYS), 'At most a year. Somebody should look at it then.'),
		reason: z
			.string()
			.trim()
			.min(1, 'Say why, in a few words: whoever looks at this next wants to know.')
			.max(300, 'Please keep it to 300 characters.'),
		/** nothing for the day alone, `heard`, or the id of what has to be done */
		sooner: z
			.union([
				z.literal('').transform(() => null),
				z.literal('heard').transform((): PauseEnd => ({ endsWith: 'heard' })),
				z.uuid().transform((itemId): PauseEnd => ({ endsWith: 'done', itemId }))
			])
			.default(null)
	});

/** The same by which a client says until when they are away: the day on which they are back. */
export const awaySchema = (today: IsoDate) =>
	z.object({
		until: z.iso
			.date('wrong.away.day')
			.refine((day) => day > today, 'wrong.away.past')
			.refine((day) => day <= addDays(today, HOLD_MOST_DAYS), 'wrong.away.far')
	});
