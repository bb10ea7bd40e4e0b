import type { MessageKindDefinition } from '../message-kind';

/** Tells somebody of the firm that a colleague gave them what a client wrote to answer: its words, and where they answer it. */
export const givenToAnswer: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	async whyNot(tx, { messageId }) {
		const waits = await tx.first(
			`select 1 from message m join remark r on r.id = (m.content ->> 'remarkId')::uuid
			where m.id = $1 and r.seen_at is null and who_answers(r) = m.staff_id`,
			[messageId]
		);
		return waits ? null : 'it was answered, given to somebody else, or they may not see it any more';
	},
	mail: (_tx, { message: { content }, place, say, paragraphs, act, finish }) =>
		finish(say('mail.given.subject', { by: content.signedBy ?? '', about: content.itemTitle ?? '' }), {
			paragraphs: paragraphs(say('mail.given.body', { by: content.signedBy ?? '', client: content.clientName ?? '', words: content.reason ?? '' })),
			act: act(say('mail.named.act'), `${place.origin}/desk/rounds/${content.itemId ? `talk-${content.itemId}` : `words-${content.remarkId}`}`)
		})
};
