import type { MessageKindDefinition } from '../message-kind';

export const passwordChanged: MessageKindDefinition = {
	byItself: false,
	address: 'as planned',
	mail: (_tx, { message: { recipient }, place, say, portal, paragraphs, act, finish }) =>
		finish(say('mail.changed.subject'), {
			paragraphs: paragraphs(say('mail.changed.body')),
			act: act(say('mail.changed.act'), recipient.kind === 'staff' ? `${place.origin}/desk/sign-in` : `${portal}/sign-in`)
		})
};
