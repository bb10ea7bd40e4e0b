import type { MessageKindDefinition } from '../message-kind';

/** Tells somebody that another one of their client asks them for some answers, or that these are there. */
export const answerPassed: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	async whyNot(tx, { messageId }) {
		const item = await tx.first(
			`select 1 from message_item mi join item i on i.id = mi.item_id and i.phase = 'open' join client c on c.id = i.client_id and c.state = 'active'
			where mi.message_id = $1`,
			[messageId]
		);
		return item ? null : 'it is answered or waived by now';
	},
	mail: (_tx, { message: { content }, say, portal, paragraphs, act, finish }) => {
		const values = { name: content.subject ?? '', title: content.itemTitle ?? '' };
		const done = content.renewed === true;
		return finish(say(done ? 'mail.passed.done.subject' : 'mail.passed.subject', values), {
			paragraphs: [
				...paragraphs(say(done ? 'mail.passed.done.body' : 'mail.passed.body', values)),
				...(content.body ?? '').split('\n').slice(0, 12),
				...(!done && content.reason ? [say('mail.passed.words', { name: values.name, words: content.reason })] : [])
			],
			act: act(say(done ? 'mail.passed.done.act' : 'mail.passed.act'), `${portal}/item/${content.itemId}`)
		});
	}
};
