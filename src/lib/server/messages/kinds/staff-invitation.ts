import { STAFF_INVITATION_HOURS } from '$lib/core/people/sign-in';
import { makeResetLink } from '../links';
import type { MessageKindDefinition } from '../message-kind';

export const staffInvitation: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	async mail(tx, { firm, message: { recipient }, place, say, portal, paragraphs, act, finish }) {
		const url = await makeResetLink(tx, recipient, portal, place, STAFF_INVITATION_HOURS);
		return finish(
			say('mail.staff.subject', { firm: firm.name }),
			{ paragraphs: paragraphs(say('mail.staff.body', { firm: firm.name })), act: act(say('mail.invitation.act'), url) },
			url
		);
	}
};
