import { localDate } from '$lib/core/calendar/firm-calendar';
import { greeted } from '$lib/core/letters/merge-fields';
import { greetsItself } from '$lib/core/messages/greeting';
import type { MessageKind } from '$lib/core/messages/message-states';
import { plainSigns } from '$lib/core/messages/text-message';
import { phoneInWords } from '$lib/core/people/phone';
import { dateWords } from '$lib/words/dates';
import { sayer } from '$lib/words/words';
import { logoPath, type Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { invitationLink, letterLinks, stopUrl } from './links';
import { mailHtml, plainPartOfMail } from './mail-layout';
import type { MailWriting, MessageToWrite, NamedItem, TextMessageWriting, WritingPlace, WrittenMail, WrittenTextMessage } from './message-kind';
import { MESSAGE_KIND_DEFINITIONS } from './message-kinds';

/** Why a message came, at its foot. */
const FOOTERS = { contact: 'mail.footer.account', staff: 'mail.footer.staff', visitor: 'mail.footer.visitor' } as const;

/** A link that only its reader may know, with what is kept in its place. */
const blotted = (url: string) => [url, url.replace(/[^/]+$/, '…')] as const;

/** What a message of any kind and way is written with. */
async function writingOf(tx: Tx, firm: Firm, message: MessageToWrite, place: WritingPlace) {
	const portal = `${place.origin}/portal/${firm.slug}`;
	const { invitationId } = message.content;
	const invitationUrl = place.preview
		? place.invited === false
			? null
			: `${portal}/join/…`
		: invitationId
			? await invitationLink(tx, invitationId, portal, place.secretKey)
			: null;
	const { recipient, items, content } = message;
	const named = [...items.map(({ id }) => id), ...(content.itemId ? [content.itemId] : [])];
	const links =
		recipient.kind === 'contact' && !place.preview ? await letterLinks(tx, recipient.id, named, portal, place.secretKey) : new Map<string, string>();
	const [only] = new Set(named);
	return {
		firm,
		message,
		place,
		portal,
		invitationUrl,
		itemUrl: (id: string) => links.get(id) ?? `${portal}/item/${id}`,
		signUrl: new Set(named).size === 1 ? (links.get(only) ?? null) : null,
		secrets: [...links.values(), ...(invitationUrl ? [invitationUrl] : [])].map(blotted),
		say: sayer(message.recipient.locale),
		today: localDate(place.now, firm.calendar)
	};
}

/**
 * Writes a mail in the reader's language and the firm's brand. Links with secrets are made here, their hashes stored; what is kept of the
 * text does not hold them.
 */
export async function writeMail(tx: Tx, firm: Firm, kind: MessageKind, message: MessageToWrite, place: WritingPlace): Promise<WrittenMail> {
	const writing = await writingOf(tx, firm, message, place);
	const { content, recipient, items } = message;
	const { say, portal, secrets, itemUrl } = writing;
	const common = {
		firmName: firm.name,
		logoUrl: logoPath(firm) && `${place.origin}${logoPath(firm)}`,
		firmAddress: firm.address,
		color: firm.color,
		locale: recipient.locale,
		signature: say('mail.signature', { name: content.signedBy ?? firm.name, firm: content.signedBy ? firm.name : '' }).trim(),
		footer: [
			say('mail.footer', { firm: firm.name, address: firm.address }),
			...(place.answerable ? [say('mail.footer.answer', { firm: firm.name })] : []),
			...(firm.phone ? [say('mail.footer.phone', { phone: phoneInWords(firm.phone, firm.country) })] : []),
			say(FOOTERS[recipient.kind], { email: message.toAddress, firm: firm.name })
		]
	};
	const greeting = say('mail.greeting', greeted(recipient.name));
	const withEnd = ({ until }: NamedItem, line: string) => (until ? say('mail.item.until', { line, date: dateWords(recipient.locale, until) }) : line);
	const severalClients = new Set(items.map((i) => i.clientName)).size > 1;
	const mailWriting: MailWriting = {
		...writing,
		you: recipient.kind === 'staff' ? `${place.origin}/desk/you` : `${portal}/you`,
		paragraphs: (body) => [...(greetsItself(body) ? [] : [greeting]), ...body.split(/\n{2,}/)],
		line: (item: NamedItem) => ({
			text: withEnd(
				item,
				item.dueOn
					? say(severalClients ? 'mail.item.dueClient' : 'mail.item.due', {
							title: item.title,
							client: item.clientName,
							date: dateWords(recipient.locale, item.dueOn)
						})
					: item.title
			),
			// whoever is not in yet would only be asked for a password there
			...(content.invitationId && itemUrl(item.id).startsWith(`${portal}/item/`) ? {} : { url: itemUrl(item.id) })
		}),
		act: (words, url) => ({ words, url, help: say('mail.help', { url }) }),
		more: { words: say('mail.invitation.help'), url: `${portal}/help` },
		stop() {
			const url = stopUrl(place.origin, message.id, place.secretKey);
			return { words: say('mail.chase.stop', { url }), link: say('mail.chase.stopLink'), url };
		},
		finish(subject, parts, secretUrl = null) {
			const whole = { ...common, ...parts };
			const [text, html] = [plainPartOfMail(whole), mailHtml(whole)];
			const all = secretUrl ? [...secrets, blotted(secretUrl)] : secrets;
			const blot = (t: string) => all.reduce((text, [url, kept]) => text.replaceAll(url, kept), t);
			return { subject, text, html, keptText: blot(text), keptHtml: blot(html), unsubscribeUrl: parts.stop?.url ?? null };
		}
	};
	return MESSAGE_KIND_DEFINITIONS[kind].mail(tx, mailWriting);
}

/**
 * Writes a text message in the reader's language: who writes, what about, one link, and how to stop. Links with secrets
 * and codes are made here, their hashes stored.
 * @throws Error for a kind that only goes by mail
 */
export async function writeText(tx: Tx, firm: Firm, kind: MessageKind, message: MessageToWrite, place: WritingPlace): Promise<WrittenTextMessage> {
	const { text } = MESSAGE_KIND_DEFINITIONS[kind];
	if (!text) throw new Error(`a message of kind ${kind} does not go by text`);
	const writing = await writingOf(tx, firm, message, place);
	const { say, portal, invitationUrl, signUrl, secrets } = writing;
	const secretUrl = signUrl ?? invitationUrl;
	const finish: TextMessageWriting['finish'] = (subject, words, secret, kept) => ({
		subject,
		text: secret ? words.replace('{secret}', secret) : words,
		keptText: words.replace('{secret}', kept)
	});
	return text(tx, {
		...writing,
		finish,
		// a person's words are made of plain signs; the link and the firm's own name stay as they are
		withLink: (subject, words) =>
			finish(
				subject,
				`${plainSigns(words)} ${secretUrl ? '{secret}' : portal} ${say('text.stop')}`,
				secretUrl,
				secrets.find(([url]) => url === secretUrl)?.[1] ?? ''
			)
	});
}
