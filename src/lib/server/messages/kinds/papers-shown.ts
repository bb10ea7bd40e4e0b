import { papersToName } from '../../outbox/papers-to-tell';
import type { MessageKindDefinition } from '../message-kind';

export const papersShown: MessageKindDefinition = {
	byItself: true,
	address: 'theirs now',
	async whyNot(tx, { content, invited, contactId }) {
		if ((await papersToName(tx, contactId!, content.paperIds ?? [])).length === 0) return 'they do not see any of these papers any more';
		// who is not in yet is shown the way in
		if (invited) content.invitationId = invited;
		return null;
	},
	async mail(tx, { message: { content, recipient }, say, portal, invitationUrl, paragraphs, act, more, finish }) {
		const names = await papersToName(tx, recipient.id, content.paperIds ?? []);
		return finish(
			say('mail.papers.subject', { count: names.length }),
			{
				paragraphs: paragraphs(say('mail.papers.body', { client: content.clientName ?? '', count: names.length })),
				lists: [{ heading: say('mail.papers.list', { count: names.length }), lines: names.map((text) => ({ text })) }],
				preheader: names.join(', ').slice(0, 120),
				act: act(say(invitationUrl ? 'mail.request.actInvite' : 'mail.papers.act'), invitationUrl ?? `${portal}/papers`),
				...(invitationUrl ? { more } : {})
			},
			invitationUrl
		);
	},
	async text(tx, { firm, message: { content, recipient }, say, withLink }) {
		const { length: count } = await papersToName(tx, recipient.id, content.paperIds ?? []);
		return withLink(say('mail.papers.subject', { count }), say('text.papers', { name: recipient.name, firm: firm.name, count }));
	}
};
