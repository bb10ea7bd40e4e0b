import { addBusinessDays, openingOf, compareInstants, localDate, type FirmCalendar, type IsoDate, type IsoInstant } from '../calendar/firm-calendar';

/** An invitation that was not taken up is chased this many business days after it was sent. */
export const INVITATION_CHASE_STEPS = [3, 7] as const;

/**
 * The next chase of an invitation: its day, and which of the plan's steps it is. Null when the plan has run out, or
 * when the invitation will have lapsed by then.
 * @param chased how many chases have gone out
 */
export function nextInvitationChase(
	invitation: { sentAt: IsoInstant; expiresAt: IsoInstant; chased: number },
	calendar: FirmCalendar
): { on: IsoDate; step: number } | null {
	if (invitation.chased >= INVITATION_CHASE_STEPS.length) return null;
	const on = addBusinessDays(localDate(invitation.sentAt, calendar), INVITATION_CHASE_STEPS[invitation.chased], calendar);
	if (compareInstants(openingOf(on, calendar), invitation.expiresAt) >= 0) return null;
	return { on, step: invitation.chased + 1 };
}
