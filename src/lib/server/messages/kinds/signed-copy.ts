import type { MessageKindDefinition } from '../message-kind';

export const signedCopy: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	mail: (_tx, { message: { content }, say, portal, paragraphs, act, finish }) =>
		finish(say('mail.signedCopy.subject', { title: content.itemTitle ?? '' }), {
			paragraphs: paragraphs(say('mail.signedCopy.body')),
			act: act(say('mail.signedCopy.act'), portal)
		})
};
