import type { MessageKindDefinition } from '../message-kind';

export const remark: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	mail: (_tx, { message: { content }, say, itemUrl, paragraphs, act, finish }) =>
		finish(say('mail.remark.subject', { title: content.itemTitle ?? '' }), {
			paragraphs: paragraphs(say('mail.remark.body', { title: content.itemTitle ?? '', words: content.reason ?? '' })),
			act: act(say('mail.remark.act'), itemUrl(content.itemId!))
		})
};
