import { dateWords } from '$lib/words/dates';
import type { MessageKindDefinition } from '../message-kind';

/** Tells whoever has not signed a letter until when they can. */
export const letterLapses: MessageKindDefinition = {
	byItself: true,
	address: 'theirs now',
	async whyNot(tx, { messageId, content }) {
		const waits = await tx.first(
			`select 1 from message m join message_item mi on mi.message_id = m.id join letter_signer s on s.item_id = mi.item_id and s.state = 'asked'
				join letter l on l.id = s.letter_id and l.state = 'sent' and l.lapses_on = $2 join client c on c.id = l.client_id and c.state = 'active'
			where m.id = $1`,
			[messageId, content.at]
		);
		return waits ? null : 'it is signed by now, or can be signed longer';
	},
	mail: (_tx, { message: { content, recipient }, say, itemUrl, paragraphs, act, finish }) =>
		finish(say('mail.letterLapses.subject', { title: content.itemTitle ?? '', date: dateWords(recipient.locale, content.at!) }), {
			paragraphs: paragraphs(
				say('mail.letterLapses.body', {
					title: content.itemTitle ?? '',
					client: content.clientName ?? '',
					date: dateWords(recipient.locale, content.at!)
				})
			),
			act: act(say('mail.letterLapses.act'), itemUrl(content.itemId!))
		})
};
