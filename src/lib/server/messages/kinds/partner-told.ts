import type { MessageKindDefinition } from '../message-kind';

/** Tells a partner that the reminders of a chase plan did not help: of whom, what is open, and where it is dealt with. */
export const partnerTold: MessageKindDefinition = {
	byItself: true,
	address: 'theirs now',
	async whyNot(tx, { content }) {
		const waits = await tx.first('select 1 from chase_call where id = $1 and done_at is null', [content.callId]);
		return waits ? null : 'somebody has dealt with it by now';
	},
	mail: (_tx, { message: { content }, place, say, paragraphs, act, finish }) =>
		finish(say('mail.partner.subject', { client: content.clientName ?? '' }), {
			paragraphs: paragraphs(say('mail.partner.body', { client: content.clientName ?? '', contact: content.contactName ?? '' })),
			lists: [{ heading: say('mail.partner.list'), lines: (content.titles ?? []).map((text) => ({ text })) }],
			act: act(say('mail.partner.act'), `${place.origin}/desk/rounds/call-${content.callId}`)
		})
};
