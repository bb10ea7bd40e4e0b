import { papersToName, tellPapersLater } from '../../outbox/papers-to-tell';
import { INVITATION_OVER, invitationWaits, type MessageKindDefinition } from '../message-kind';

export const request: MessageKindDefinition = {
	// what could not leave when it was sent: nobody is woken by it at night
	byItself: 'when tried again',
	address: 'theirs now',
	names: 'what is new',
	ownWords: { text: 'request_sms' },
	async whyNot(tx, { content, contactId, items, invited, hasAccess }) {
		if (content.invitationId && !(await invitationWaits(tx, content.invitationId))) {
			// what is asked is told without the invitation once the person is in; another invitation has been sent by itself
			if (!invited && !hasAccess) return INVITATION_OVER;
			content.invitationId = invited ?? undefined;
		}
		// what was withdrawn before it left is not told
		if (items.length === 0 && !content.invitationId) {
			await tellPapersLater(tx, contactId, content.paperIds);
			return 'nothing of it is open any more';
		}
		// who is not in yet is shown the way in
		content.invitationId = invited ?? content.invitationId;
		return null;
	},
	async mail(tx, { message: { content, recipient, items }, say, portal, invitationUrl, signUrl, paragraphs, line, act, more, finish }) {
		const papers = await papersToName(tx, recipient.id, content.paperIds ?? []);
		return finish(content.subject ?? say('mail.request.subject', { title: '' }), {
			paragraphs: paragraphs(content.body ?? say('mail.request.body', { client: content.clientName ?? '' })),
			lists: [
				{ heading: say('mail.request.list', { count: items.length }), lines: items.map(line) },
				...(papers.length > 0 ? [{ heading: say('mail.papers.list', { count: papers.length }), lines: papers.map((text) => ({ text })) }] : [])
			],
			preheader: items
				.map((item) => item.title)
				.join(', ')
				.slice(0, 120),
			act: act(
				say(signUrl ? 'mail.letterLapses.act' : invitationUrl ? 'mail.request.actInvite' : 'mail.request.act'),
				signUrl ?? invitationUrl ?? portal
			),
			...(invitationUrl && !signUrl ? { more } : {})
		});
	},
	text: (_tx, { firm, message: { content, recipient, items, ownWords }, say, withLink }) =>
		withLink(
			content.subject ?? say('mail.request.subject', { title: '' }),
			ownWords?.body ?? say('text.request', { name: recipient.name, firm: firm.name, count: items.length, client: content.clientName ?? '' })
		)
};
