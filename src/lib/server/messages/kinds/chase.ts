import { byLateness } from '$lib/core/chasing/how-late';
import { dateWords } from '$lib/words/dates';
import { papersToName, tellPapersLater } from '../../outbox/papers-to-tell';
import type { MessageKindDefinition, NamedItem } from '../message-kind';

/** Its items by how late they are, and which part of them its words are about. */
function partsOf(items: readonly NamedItem[], today: string) {
	const parts = byLateness(items, today);
	return { parts, what: parts.late.length > 0 ? ('late' as const) : parts.soon.length > 0 ? ('soon' as const) : ('later' as const) };
}

export const chase: MessageKindDefinition = {
	byItself: true,
	reminds: true,
	address: 'theirs now',
	names: 'everything open',
	ownWords: {
		email: (items, today, { firmer }) => (partsOf(items, today).parts.late.length === 0 ? 'chase_soon' : firmer ? 'chase_firmer' : 'chase'),
		text: 'chase_sms'
	},
	async whyNot(tx, { content, contactId, items, invited }) {
		// who is not in yet is shown the way in
		if (invited) content.invitationId = invited;
		if (items.length > 0) return null;
		await tellPapersLater(tx, contactId, content.paperIds);
		return 'nothing is open any more';
	},
	async mail(
		tx,
		{ message: { content, recipient, items, ownWords }, say, today, portal, invitationUrl, signUrl, paragraphs, line, act, stop, finish }
	) {
		const { parts, what } = partsOf(items, today);
		const count = parts[what].length;
		// firmer only about what is late: before that there is nothing to be firm about
		const tone = content.firmer && what === 'late' ? 'firmer' : what;
		const papers = await papersToName(tx, recipient.id, content.paperIds ?? []);
		return finish(content.subject ?? ownWords?.subject ?? say(`mail.chase.subject.${tone}`, { count }), {
			paragraphs: [
				...paragraphs(content.body ?? ownWords?.body ?? say(`mail.chase.body.${tone}`, { count })),
				...(content.news ? [say('mail.chase.news', { count: content.news })] : [])
			],
			lists: [
				...(['late', 'soon', 'later'] as const)
					.filter((part) => parts[part].length > 0)
					.map((part) => ({ heading: say(`mail.chase.list.${part}`, { count: parts[part].length }), lines: parts[part].map(line) })),
				...(papers.length > 0 ? [{ heading: say('mail.papers.list', { count: papers.length }), lines: papers.map((text) => ({ text })) }] : [])
			],
			preheader: parts[what]
				.map((item) => item.title)
				.join(', ')
				.slice(0, 120),
			act: act(
				say(signUrl ? 'mail.letterLapses.act' : invitationUrl ? 'mail.request.actInvite' : 'mail.chase.act'),
				signUrl ?? invitationUrl ?? portal
			),
			stop: stop()
		});
	},
	text(_tx, { firm, message: { recipient, items, ownWords }, say, today, withLink }) {
		const { parts, what } = partsOf(items, today);
		const due = parts[what].find((item) => item.dueOn)?.dueOn;
		return withLink(
			say(`mail.chase.subject.${what}`, { count: parts[what].length }),
			ownWords?.body ??
				say(what === 'late' ? 'text.chase' : 'text.chase.soon', {
					name: recipient.name,
					firm: firm.name,
					count: parts[what].length,
					date: due ? dateWords(recipient.locale, due, 'short') : 'none'
				})
		);
	}
};
