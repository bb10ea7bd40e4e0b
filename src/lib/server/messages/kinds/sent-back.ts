import type { MessageKindDefinition } from '../message-kind';

export const sentBack: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	async whyNot(tx, { messageId }) {
		const item = await tx.first(
			`select 1 from message_item mi join item i on i.id = mi.item_id and i.state = 'sent_back' join client c on c.id = i.client_id and c.state = 'active'
			where mi.message_id = $1`,
			[messageId]
		);
		return item ? null : 'it is answered or waived by now';
	},
	mail: (_tx, { message: { content }, say, portal, paragraphs, act, finish }) =>
		finish(say('mail.sentBack.subject', { title: content.itemTitle ?? '' }), {
			paragraphs: paragraphs(
				say(content.renewed ? 'mail.newVersion.body' : 'mail.sentBack.body', { title: content.itemTitle ?? '', reason: content.reason ?? '' })
			),
			act: act(say(content.renewed ? 'mail.newVersion.act' : 'mail.sentBack.act'), `${portal}/item/${content.itemId}`)
		})
};
