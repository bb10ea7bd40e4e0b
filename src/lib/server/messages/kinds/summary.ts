import type { Told } from '$lib/core/telling/told';
import { toldWords } from '$lib/words/told-words';
import type { Tx } from '../../platform/db/database';
import type { MailWriting, MessageKindDefinition, WrittenMail } from '../message-kind';

/** What somebody of the firm is told, without the clients that were closed to them after it was planned. */
async function stillTheirs(tx: Tx, staffId: string, told: Told): Promise<Told> {
	const named = [...told.clients.map(({ clientId }) => clientId), ...told.away.map(({ clientId }) => clientId)].filter((id) => id !== null);
	const open = await tx.rows<{ id: string }>(
		'select c.id from client c where c.id = any ($1) and exists (select from colleagues_who_see(c.id) s where s.id = $2)',
		[named, staffId]
	);
	const theirs = new Set(open.map(({ id }) => id));
	return {
		...told,
		clients: told.clients.filter(({ clientId }) => clientId === null || theirs.has(clientId)),
		away: told.away.filter(({ clientId }) => theirs.has(clientId))
	};
}

/** Writes it; what it says of clients is kept nowhere, for the Postroom is open to colleagues who may not see them. */
async function written(tx: Tx, { message, place, firm, say, paragraphs, act, finish }: MailWriting, which: 'summary' | 'told'): Promise<WrittenMail> {
	const told = await stillTheirs(tx, message.recipient.id, message.content.told!);
	const words = toldWords(told, { say, locale: message.recipient.locale, timeZone: firm.calendar.timeZone, which });
	const whole = finish(words.subject, {
		paragraphs: paragraphs(words.intro),
		lists: words.lists.map(({ heading, lines }) => ({
			heading,
			lines: lines.map(({ text, path }) => ({ text, ...(path ? { url: `${place.origin}${path}` } : {}) }))
		})),
		act: act(say('mail.told.act'), `${place.origin}/desk/rounds`),
		more: { words: say('mail.told.change'), url: `${place.origin}/desk/told` }
	});
	const kept = finish(words.subject, { paragraphs: paragraphs(say('mail.told.kept')) });
	return { ...whole, keptText: kept.keptText, keptHtml: kept.keptHtml, ...(which === 'told' ? { keptSubject: say('mail.told.subject.kept') } : {}) };
}

/** Tells somebody of the firm what happened since the last time, what waits for somebody, and who is away. */
export const summary: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	quiet: true,
	mail: (tx, writing) => written(tx, writing, 'summary')
};

/** Tells somebody of the firm what has just happened, of the kinds of which they want to know at once. */
export const toldAtOnce: MessageKindDefinition = {
	byItself: false,
	address: 'theirs now',
	whyNot: async (tx, { messageId, content }) => {
		const to = await tx.first<{ staff_id: string }>('select s.id staff_id from message m join staff s on s.id = m.staff_id where m.id = $1', [
			messageId
		]);
		const told = to && content.told ? await stillTheirs(tx, to.staff_id, content.told) : null;
		return told && told.clients.length > 0 ? null : 'they may not see it any more';
	},
	mail: (tx, writing) => written(tx, writing, 'told')
};
