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
