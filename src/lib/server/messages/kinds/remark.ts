import type { MessageKindDefinition } from '../message-kind';

export const remark: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	mail: (_tx, { message: { content }, firm, portal, say, itemUrl, paragraphs, act, finish }) => {
		if (!content.itemId)
			return finish(content.subject ?? say('mail.words.subject', { firm: firm.name }), {
				paragraphs: paragraphs(content.reason ?? ''),
				act: act(say('mail.words.act'), `${portal}/words`)
			});
		return finish(say('mail.remark.subject', { title: content.itemTitle ?? '' }), {
			paragraphs: paragraphs(say('mail.remark.body', { title: content.itemTitle ?? '', words: content.reason ?? '' })),
			act: act(say('mail.remark.act'), itemUrl(content.itemId))
		});
	}
};
