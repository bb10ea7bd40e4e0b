import { addToInstant, compareInstants, type IsoInstant } from '../calendar/firm-calendar';

export const INVITATION_STATES = ['sent', 'taken_up', 'expired', 'withdrawn', 'replaced'] as const;
export type InvitationState = (typeof INVITATION_STATES)[number];

/** An invitation can be taken up for this many days. */
export const INVITATION_DAYS = 14;

export function invitationExpiry(sentAt: IsoInstant): IsoInstant {
	return addToInstant(sentAt, { hours: INVITATION_DAYS * 24 });
}

/** What an invitation is at an instant; expiry is a fact of time and not written by anybody. */
export function invitationStateAt(
	invitation: {
		expiresAt: IsoInstant;
		takenUpAt: IsoInstant | null;
		withdrawnAt: IsoInstant | null;
		replacedAt: IsoInstant | null;
	},
	now: IsoInstant
): InvitationState {
	if (invitation.takenUpAt) return 'taken_up';
	if (invitation.withdrawnAt) return 'withdrawn';
	if (invitation.replacedAt) return 'replaced';
	return compareInstants(invitation.expiresAt, now) <= 0 ? 'expired' : 'sent';
}
