import type { MessageTextKind } from '$lib/core/messages/message-texts';
import type { Say } from '$lib/words/words';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import type { MailParts } from './mail-layout';
import type { MessageContent } from '../outbox/message-content';

/** An open item that a message names. */
export interface NamedItem {
	id: string;
	title: string;
	dueOn: string | null;
	/** the last day on which a letter can be signed */ until?: string | null;
	clientName: string;
}

export interface MessageToWrite {
	id: string;
	content: MessageContent;
	toAddress: string;
	/** a visitor is known by nothing but what they answered; they are not called by a name that anybody may have written */
	recipient: { id: string; kind: 'contact' | 'staff' | 'visitor'; name: string; locale: string };
	/** open items that it names, due first */
	items: NamedItem[];
	/** words of the firm's Library that stand for the catalogue's */
	ownWords?: { subject: string; body: string } | null;
}

export interface WritingPlace {
	origin: string;
	secretKey: string;
	/** instant */ now: string;
	/** only to be looked at: its link leads nowhere and nothing is written */ preview?: boolean;
	/** of a preview: whether its reader is shown the way in; left out, they are */ invited?: boolean;
	/** an answer to it reaches the firm here */ answerable?: boolean;
}

export interface WrittenMail {
	subject: string;
	text: string;
	html: string;
	/** what may be kept: the same with secret links blotted out */
	keptText: string;
	keptHtml: string;
	/** the subject as it may be kept; left out, it is the subject */
	keptSubject?: string;
	unsubscribeUrl: string | null;
}

/** A mail with a code, of which the code is not kept. */
export function withoutCode(written: WrittenMail, code: string): WrittenMail {
	const blot = (text: string) => text.replaceAll(code, '…');
	return { ...written, keptText: blot(written.keptText), keptHtml: blot(written.keptHtml) };
}

export interface WrittenTextMessage {
	/** what stands for it in lists; a text message has no subject of its own */
	subject: string;
	text: string;
	/** what may be kept: the same with secrets blotted out */
	keptText: string;
}

/** What every message is written with. */
interface Writing {
	firm: Firm;
	message: MessageToWrite;
	place: WritingPlace;
	say: Say;
	/** of the firm, `YYYY-MM-DD` */ today: string;
	/** address of the firm's portal */ portal: string;
	/** the way in of somebody who was invited; null for whoever needs none */ invitationUrl: string | null;
	/** where the reader finds an item: on their page, or by the link with which they sign it */ itemUrl(itemId: string): string;
	/** the link by which they sign all that the message names, which is one letter; null if there is more to it */ signUrl: string | null;
}

export interface MailWriting extends Writing {
	/** the address of the person's own page about signing in */ you: string;
	/** a greeting, unless the words greet themselves, and the paragraphs of the words */
	paragraphs(body: string): string[];
	line(item: NamedItem): { text: string; url?: string };
	act(words: string, url: string): NonNullable<MailParts['act']>;
	/** where somebody who was invited reads what this is about */ more: { words: string; url: string };
	/** how reminders are stopped */ stop(): NonNullable<MailParts['stop']>;
	/** Lays a mail out; links by which somebody comes in are blotted out in what is kept. @param secretUrl one more */
	finish(
		subject: string,
		parts: Pick<MailParts, 'paragraphs'> & Partial<Pick<MailParts, 'lists' | 'preheader' | 'act' | 'note' | 'more' | 'stop'>>,
		secretUrl?: string | null
	): WrittenMail;
}

export interface TextMessageWriting extends Writing {
	/** Plain words, one link, and how to stop. */
	withLink(subject: string, words: string): WrittenTextMessage;
	/** Words with `{secret}` in them. @param kept what stands for it in what is kept */
	finish(subject: string, words: string, secret: string | null, kept: string): WrittenTextMessage;
}

/** What is known of a message when it is about to leave. */
export interface AboutToLeave {
	messageId: string;
	/** whom it is for; null for somebody who is no contact */ contactId: string | null;
	/** its own copy: which invitation it shows may change */ content: MessageContent;
	items: readonly NamedItem[];
	/** the invitation that the person has and can take up, where they are not in yet */ invited: string | null;
	/** the person can sign in */ hasAccess: boolean;
}

/** One kind of message: when it leaves, whether it still may, and its words. */
export interface MessageKindDefinition {
	/** nobody presses for it, or not again once it was tried: it leaves in the firm's sending hours */
	byItself: boolean | 'when tried again';
	/** not for whoever has stopped reminders; the latest stands for those before it */
	reminds?: true;
	/** to the address that the person has by now; to the one it was meant for; or to that one as long as it is theirs */
	address: 'theirs now' | 'as planned' | 'only theirs';
	/** nothing in it has to be known at once: devices are not told that it came */
	quiet?: true;
	/** which open items it names: everything of the person, or what it was planned with */
	names?: 'everything open' | 'what is new';
	/** Why it does not go any more, in the words of the Postroom; null if it does. */
	whyNot?(tx: Tx, about: AboutToLeave): Promise<string | null>;
	/** the text of the Library that may stand for the product's words */
	ownWords?: { email?(items: readonly NamedItem[], today: string, content: MessageContent): MessageTextKind; text?: MessageTextKind };
	mail(tx: Tx, writing: MailWriting): Promise<WrittenMail> | WrittenMail;
	/** left out for what goes by mail only */
	text?(tx: Tx, writing: TextMessageWriting): Promise<WrittenTextMessage> | WrittenTextMessage;
}

/** Whether an invitation is neither taken up, nor withdrawn, nor replaced by another. */
export async function invitationWaits(tx: Tx, invitationId: string): Promise<boolean> {
	const row = await tx.first('select 1 from invitation where id = $1 and waits', [invitationId]);
	return row !== null;
}
export const INVITATION_OVER = 'the invitation does not wait any more';
