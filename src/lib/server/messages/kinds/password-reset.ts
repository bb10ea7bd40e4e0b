import { makeResetLink } from '../links';
import type { MessageKindDefinition } from '../message-kind';

export const passwordReset: MessageKindDefinition = {
	byItself: false,
	address: 'only theirs',
	async mail(tx, { message: { recipient }, place, say, portal, paragraphs, act, finish }) {
		const url = await makeResetLink(tx, recipient, portal, place);
		return finish(say('mail.reset.subject'), { paragraphs: paragraphs(say('mail.reset.body')), act: act(say('mail.reset.act'), url) }, url);
	}
};
