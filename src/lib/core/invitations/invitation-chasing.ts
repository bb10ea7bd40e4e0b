import { remindingOn, type Reminded } from '../chasing/forecast';
import { withReminder } from '../chasing/pace';
import { addBusinessDays, openingOf, compareInstants, localDate, type FirmCalendar, type IsoDate, type IsoInstant } from '../calendar/firm-calendar';

/** What every firm starts with: an invitation that was not taken up is chased so many business days after it was sent. */
export const DEFAULT_INVITATION_STEPS: readonly number[] = [3, 7];

/**
 * The next chase of an invitation: its day, and which of the plan's steps it is. Null when the plan has run out, or
 * when the invitation will have lapsed by then.
 * @param chased how many chases have gone out
 * @param steps business days after the sending, ascending
 */
export function nextInvitationChase(
	invitation: { sentAt: IsoInstant; expiresAt: IsoInstant; chased: number },
	calendar: FirmCalendar,
	steps: readonly number[]
): { on: IsoDate; step: number } | null {
	if (invitation.chased >= steps.length) return null;
	const on = addBusinessDays(localDate(invitation.sentAt, calendar), steps[invitation.chased], calendar);
	if (compareInstants(openingOf(on, calendar), invitation.expiresAt) >= 0) return null;
	return { on, step: invitation.chased + 1 };
}

/** An invitation that waits, with what decides when its person may be reminded. */
export interface RemindedInvitation extends Reminded {
	sentAt: IsoInstant;
	expiresAt: IsoInstant;
	chased: number;
}

/** A reminder of an invitation, and how many business days after the sending its step lies. */
export interface InvitationReminder {
	at: IsoInstant;
	localDay: IsoDate;
	step: number;
	businessDays: number;
}

/**
 * Every reminder of an invitation up to a day, if nothing changes: the one rule of forecast and worker.
 * @param through the last local day to look at
 */
export function forecastInvitation(
	invitation: RemindedInvitation,
	calendar: FirmCalendar,
	steps: readonly number[],
	now: IsoInstant,
	through: IsoDate
): InvitationReminder[] {
	const reminders: InvitationReminder[] = [];
	let current = invitation;
	for (;;) {
		const next = nextInvitationChase(current, calendar, steps);
		if (!next) return reminders;
		const { at, localDay } = remindingOn(current, next.on, calendar, now);
		// an invitation that has lapsed by then is not reminded of
		if (localDay > through || compareInstants(at, invitation.expiresAt) >= 0) return reminders;
		reminders.push({ at, localDay, step: next.step, businessDays: steps[next.step - 1] });
		current = { ...current, chased: next.step, remindedOn: withReminder(current.remindedOn, localDay) };
	}
}
