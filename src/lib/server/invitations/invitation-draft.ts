import { say } from '$lib/words/words';
import type { Firm } from '../firms/firm';

export interface InvitationDraft {
	subject: string;
	body: string;
	/** what would go by text message */
	text: string;
}

/** The words of an invitation before anybody has changed them. */
export function invitationDraft(firm: Firm, clientName: string): InvitationDraft {
	return {
		subject: say(firm.locale, 'mail.invitation.subject', { firm: firm.name }),
		body: say(firm.locale, 'mail.invitation.body', { client: clientName }),
		text: say(firm.locale, 'text.invitation', { name: '{contact_first_name}', firm: firm.name })
	};
}
