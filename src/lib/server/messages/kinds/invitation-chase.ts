import { localDate } from '$lib/core/calendar/firm-calendar';
import { dateWords } from '$lib/words/dates';
import { invitationEnd } from '../links';
import { INVITATION_OVER, type MessageKindDefinition } from '../message-kind';

export const invitationChase: MessageKindDefinition = {
	byItself: true,
	reminds: true,
	address: 'theirs now',
	async whyNot(_tx, { content, invited }) {
		if (!invited) return INVITATION_OVER;
		// another one has been sent meanwhile
		content.invitationId = invited;
		return null;
	},
	async mail(tx, { firm, message: { content, recipient }, say, invitationUrl, paragraphs, act, more, stop, finish }) {
		const expires = await invitationEnd(tx, content.invitationId!);
		return finish(
			say('mail.invitationChase.subject', { firm: firm.name }),
			{
				paragraphs: paragraphs(say('mail.invitationChase.body', { client: content.clientName ?? '', firm: firm.name })),
				act: act(say('mail.invitation.act'), invitationUrl!),
				note: say('mail.invitation.note', { date: dateWords(recipient.locale, localDate(expires, firm.calendar), 'withYear') }),
				more,
				stop: stop()
			},
			invitationUrl
		);
	},
	text: (_tx, { firm, message: { recipient }, say, withLink }) =>
		withLink(say('mail.invitationChase.subject', { firm: firm.name }), say('text.invitationChase', { name: recipient.name, firm: firm.name }))
};
