import type { MessageKindDefinition } from '../message-kind';

/** Tells somebody who was asked to sign, or has signed, that nobody needs to any more: somebody declined, the firm withdrew it, or it has lapsed. */
export const letterStopped: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	mail: (_tx, { message: { content }, firm, say, portal, signUrl, paragraphs, act, finish }) =>
		finish(say('mail.letterStopped.subject', { title: content.itemTitle ?? '' }), {
			paragraphs: paragraphs(
				content.subject
					? say('mail.letterStopped.declined', { name: content.subject, title: content.itemTitle ?? '', firm: firm.name })
					: say(content.reason === 'lapsed' ? 'mail.letterStopped.lapsed' : 'mail.letterStopped.withdrawn', {
							title: content.itemTitle ?? '',
							firm: firm.name
						})
			),
			// whoever has only a link has no page of their own
			...(signUrl ? {} : { act: act(say('mail.signedCopy.act'), portal) })
		})
};
