import type { MessageKindDefinition } from '../message-kind';

export const thanks: MessageKindDefinition = {
	byItself: true,
	address: 'theirs now',
	mail: (_tx, { message: { content }, say, portal, paragraphs, act, finish }) =>
		finish(content.subject!, { paragraphs: paragraphs(content.body!), act: act(say('mail.chase.act'), portal) })
};
