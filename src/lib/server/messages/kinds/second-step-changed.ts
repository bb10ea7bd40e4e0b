import type { MessageKindDefinition } from '../message-kind';

export const secondStepChanged: MessageKindDefinition = {
	byItself: false,
	address: 'as planned',
	mail: (_tx, { firm, message: { content }, say, you, paragraphs, act, finish }) =>
		finish(say('mail.secondStep.subject', { firm: firm.name }), {
			paragraphs: paragraphs(say(`mail.secondStep.${content.change!}`)),
			// whoever has the old mailbox is led nowhere
			act: content.change === 'address_changed' ? undefined : act(say('mail.you.act'), you)
		})
};
