import type { MessageKindDefinition } from '../message-kind';

/** Tells somebody of the firm of an answer that a questionnaire says they are told of: which one, and where it is read. */
export const answerTold: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	mail: (_tx, { message: { content }, place, say, paragraphs, act, finish }) =>
		finish(content.subject!, {
			paragraphs: [
				...paragraphs(say('mail.told.body', { client: content.clientName ?? '', title: content.itemTitle ?? '' })),
				...(content.body ? [content.body] : [])
			],
			act: act(say('mail.told.act'), `${place.origin}/desk/items/${content.itemId}`)
		})
};
