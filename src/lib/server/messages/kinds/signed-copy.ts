import { SEALED_BY_LINK_DAYS } from '$lib/core/signing/ways';
import type { MessageKindDefinition } from '../message-kind';

export const signedCopy: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	mail: (_tx, { message: { content, recipient }, place, say, portal, signUrl, paragraphs, act, finish }) => {
		const title = content.itemTitle ?? '';
		// whoever files it for the firm goes by the client's name
		if (recipient.kind === 'staff')
			return finish(say('mail.signedCopy.staff.subject', { client: content.clientName ?? '', title }), {
				paragraphs: paragraphs(say('mail.signedCopy.staff.body', { client: content.clientName ?? '', title })),
				act: act(say('mail.told.act'), `${place.origin}/desk/items/${content.itemId}`)
			});
		// who gets a copy and has neither a page of their own nor a link finds it nowhere else
		if (content.reason === 'attached')
			return finish(say('mail.signedCopy.subject', { title }), { paragraphs: paragraphs(say('mail.signedCopy.bodyAttached', { title })) });
		return finish(say('mail.signedCopy.subject', { title }), {
			paragraphs: paragraphs(signUrl ? say('mail.signedCopy.bodyLink', { days: SEALED_BY_LINK_DAYS }) : say('mail.signedCopy.body')),
			act: signUrl ? act(say('mail.signedCopy.actLink'), signUrl) : act(say('mail.signedCopy.act'), portal)
		});
	}
};
