import { localDate } from '$lib/core/calendar/firm-calendar';
import { invitationExpiry } from '$lib/core/invitations/invitation-states';
import { dateWords } from '$lib/words/dates';
import { invitationEnd } from '../links';
import { INVITATION_OVER, invitationWaits, type MessageKindDefinition } from '../message-kind';

export const invitation: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	whyNot: async (tx, { content }) => ((await invitationWaits(tx, content.invitationId!)) ? null : INVITATION_OVER),
	async mail(tx, { firm, message: { content, recipient }, place, say, invitationUrl, paragraphs, act, more, finish }) {
		const expires = place.preview ? invitationExpiry(place.now) : await invitationEnd(tx, content.invitationId!);
		return finish(
			content.subject ?? say('mail.invitation.subject', { firm: firm.name }),
			{
				paragraphs: paragraphs(content.body ?? say('mail.invitation.body', { client: content.clientName ?? '' })),
				act: act(say('mail.invitation.act'), invitationUrl!),
				note: say('mail.invitation.note', { date: dateWords(recipient.locale, localDate(expires, firm.calendar), 'withYear') }),
				more
			},
			invitationUrl
		);
	},
	text: (_tx, { firm, message: { content, recipient }, say, withLink }) =>
		withLink(say('mail.invitation.subject', { firm: firm.name }), content.body ?? say('text.invitation', { name: recipient.name, firm: firm.name }))
};
