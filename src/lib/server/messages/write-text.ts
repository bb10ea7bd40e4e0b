import { localDate } from '$lib/core/calendar/firm-calendar';
import { byLateness } from '$lib/core/chasing/how-late';
import { dateWords } from '$lib/words/dates';
import { sayer } from '$lib/words/words';
import { plainSigns } from '$lib/core/messages/text-message';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { makeFactorCode } from '../people/text-codes';
import { makeMailedCode } from '../people/sign-in';
import { invitationLink, type MessageToWrite } from './write-message';

export interface WrittenText {
	/** what stands for it in lists; a text message has no subject of its own */
	subject: string;
	text: string;
	/** what may be kept: the same with secrets blotted out */
	keptText: string;
}

/**
 * Writes a text message in the reader's language: who writes, what about, one link, and how to stop. Links with secrets
 * and codes are made here, their hashes stored.
 * @throws Error for a kind that only goes by mail
 */
export async function writeText(
	tx: Tx,
	firm: Firm,
	message: MessageToWrite,
	place: {
		origin: string;
		secretKey: string;
		now: string;
		/** only to be looked at: its link leads nowhere and nothing is written */ preview?: boolean;
	}
): Promise<WrittenText> {
	const { content, recipient, items } = message;
	const say = sayer(recipient.locale);
	const portal = `${place.origin}/portal/${firm.slug}`;
	const secretUrl = place.preview
		? `${portal}/join/…`
		: content.invitationId
			? await invitationLink(tx, content.invitationId, portal, place.secretKey)
			: null;
	const finish = (subject: string, words: string, secret: string | null, kept: string): WrittenText => ({
		subject,
		text: secret ? words.replace('{secret}', secret) : words,
		keptText: words.replace('{secret}', kept)
	});
	// a person's words are made of plain signs; the link and the firm's own name stay as they are
	const withLink = (subject: string, words: string) => {
		const url = secretUrl ? '{secret}' : portal;
		const whole = `${plainSigns(words)} ${url} ${say('text.stop')}`;
		return finish(subject, whole, secretUrl, secretUrl?.replace(/[^/]+$/, '…') ?? '');
	};
	const firmName = firm.name;
	switch (message.kind) {
		case 'invitation':
			return withLink(
				say('mail.invitation.subject', { firm: firmName }),
				content.body ?? say('text.invitation', { name: recipient.name, firm: firmName })
			);
		case 'invitation_chase':
			return withLink(say('mail.invitationChase.subject', { firm: firmName }), say('text.invitationChase', { name: recipient.name, firm: firmName }));
		case 'request':
			return withLink(
				content.subject ?? say('mail.request.subject', { title: '' }),
				message.ownWords?.body ?? say('text.request', { name: recipient.name, firm: firmName, count: items.length, client: content.clientName ?? '' })
			);
		case 'chase': {
			const parts = byLateness(items, localDate(place.now, firm.calendar));
			const what = parts.late.length > 0 ? 'late' : parts.soon.length > 0 ? 'soon' : 'later';
			const due = parts[what].find((item) => item.dueOn)?.dueOn;
			return withLink(
				say(`mail.chase.subject.${what}`, { count: parts[what].length }),
				message.ownWords?.body ??
					say(what === 'late' ? 'text.chase' : 'text.chase.soon', {
						name: recipient.name,
						firm: firmName,
						count: parts[what].length,
						date: due ? dateWords(recipient.locale, due, 'short') : 'none'
					})
			);
		}
		case 'sign_in_code': {
			const code = content.factorId ? await makeFactorCode(tx, content.factorId) : await makeMailedCode(tx, content.stepId!);
			return finish(
				say('mail.code.subject', { firm: firmName }),
				say('text.code', { code: '{secret}', firm: firmName }),
				`${code.slice(0, 4)} ${code.slice(4)}`,
				'…'
			);
		}
		default:
			throw new Error(`a message of kind ${message.kind} does not go by text`);
	}
}
