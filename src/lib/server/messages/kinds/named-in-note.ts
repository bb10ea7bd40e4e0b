import type { MessageKindDefinition } from '../message-kind';

/** Tells somebody of the firm that a colleague named them in a note: its words, and where they deal with it. */
export const namedInNote: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	async whyNot(tx, { messageId }) {
		const waits = await tx.first(
			`select 1 from message m join note_told t on t.staff_id = m.staff_id and t.note_id = (m.content ->> 'noteId')::uuid join client_note n on n.id = t.note_id
			where m.id = $1 and t.seen_at is null and n.removed_at is null and exists (select from colleagues_who_see(n.client_id) s where s.id = t.staff_id)`,
			[messageId]
		);
		return waits ? null : 'they have seen it by now, it was taken away, or they may not see it any more';
	},
	mail: (_tx, { message: { content }, place, say, paragraphs, act, finish }) =>
		finish(say('mail.named.subject', { by: content.signedBy ?? '', about: content.itemTitle ?? '' }), {
			paragraphs: paragraphs(say('mail.named.body', { by: content.signedBy ?? '', client: content.clientName ?? '', words: content.reason ?? '' })),
			act: act(say('mail.named.act'), `${place.origin}/desk/rounds/named-${content.noteId}`)
		})
};
