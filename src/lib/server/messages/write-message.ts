import { byLateness } from '$lib/core/chasing/how-late';
import { phoneInWords } from '$lib/core/people/phone';
import { greeted } from '$lib/core/letters/merge-fields';
import { greetsItself } from '$lib/core/messages/greeting';
import { createHmac, randomUUID, timingSafeEqual } from 'node:crypto';
import { addToInstant, localDate } from '$lib/core/calendar/firm-calendar';
import { invitationExpiry } from '$lib/core/invitations/invitation-states';
import type { MessageKind } from '$lib/core/messages/message-states';
import { RESET_HOURS, STAFF_INVITATION_HOURS } from '$lib/core/people/sign-in';
import { deviceInWords } from '$lib/core/people/device-words';
import { dateWords, timeWords } from '$lib/words/dates';
import { sayer } from '$lib/words/words';
import { logoPath, type Firm } from '../firms/firm';
import { makeMailedCode } from '../people/sign-in';
import type { Tx } from '../platform/db/database';
import { derivedToken, keysOf, newToken } from '../platform/tokens';
import { mailHtml, mailText, type MailParts } from './mail-layout';
import type { MessageContent } from './message-content';

export interface MessageToWrite {
	id: string;
	kind: MessageKind;
	content: MessageContent;
	toAddress: string;
	recipient: { id: string; kind: 'contact' | 'staff'; name: string; locale: string };
	/** open items that it names, due first */
	items: { id: string; title: string; dueOn: string | null; clientName: string }[];
	/** words of the firm's Library that stand for the catalogue's */
	ownWords?: { subject: string; body: string } | null;
}

export interface WrittenMessage {
	subject: string;
	text: string;
	html: string;
	/** what may be kept: the same with secret links blotted out */
	keptText: string;
	keptHtml: string;
	unsubscribeUrl: string | null;
}

/** The address under which one person's reminders are stopped, with proof that it came from us. */
export function stopUrl(origin: string, messageId: string, secretKey: string): string {
	return `${origin}/mail/stop/${messageId}.${stopProof(messageId, keysOf(secretKey)[0])}`;
}

function stopProof(messageId: string, key: Buffer): string {
	return createHmac('sha256', key).update(`stop ${messageId}`).digest('base64url').slice(0, 32);
}

/** The message id in a stop link, or null if the link is not ours. */
export function readStopLink(link: string, secretKey: string): string | null {
	const [id, proof] = link.split('.');
	if (!/^[0-9a-f-]{36}$/.test(id ?? '') || !proof) return null;
	const given = Buffer.from(proof);
	const isOurs = keysOf(secretKey).some((key) => {
		const expected = Buffer.from(stopProof(id, key));
		return expected.length === given.length && timingSafeEqual(expected, given);
	});
	return isOurs ? id : null;
}

/**
 * Writes a message in the reader's language and the firm's brand. Links with secrets are made here,
 * their hashes stored; what is kept of the text does not hold them.
 */
export async function writeMessage(
	tx: Tx,
	firm: Firm,
	message: MessageToWrite,
	place: {
		origin: string;
		secretKey: string;
		now: string;
		/** only to be looked at: its link leads nowhere and nothing is written */ preview?: boolean;
	}
): Promise<WrittenMessage> {
	const { content, recipient, items } = message;
	const say = sayer(recipient.locale);
	const portal = `${place.origin}/portal/${firm.slug}`;
	const today = localDate(place.now, firm.calendar);
	const common = {
		firmName: firm.name,
		logoUrl: logoPath(firm) && `${place.origin}${logoPath(firm)}`,
		firmAddress: firm.address,
		color: firm.color,
		locale: recipient.locale,
		signature: say('mail.signature', { name: content.signedBy ?? firm.name, firm: content.signedBy ? firm.name : '' }).trim(),
		footer: [
			say('mail.footer', { firm: firm.name, address: firm.address }),
			...(firm.phone ? [say('mail.footer.phone', { phone: phoneInWords(firm.phone, firm.country) })] : []),
			say('mail.footer.account', { email: message.toAddress, firm: firm.name })
		]
	};
	const greeting = say('mail.greeting', greeted(recipient.name));
	const client = content.clientName ?? '';
	const severalClients = new Set(items.map((i) => i.clientName)).size > 1;
	const line = (item: (typeof items)[number]) => ({
		text: item.dueOn
			? say(severalClients ? 'mail.item.dueClient' : 'mail.item.due', {
					title: item.title,
					client: item.clientName,
					date: dateWords(recipient.locale, item.dueOn)
				})
			: item.title,
		// whoever is not in yet would only be asked for a password there
		...(content.invitationId ? {} : { url: `${portal}/item/${item.id}` })
	});
	const act = (words: string, url: string) => ({ words, url, help: say('mail.help', { url }) });
	const invitationUrl = place.preview
		? `${portal}/join/…`
		: content.invitationId
			? await invitationLink(tx, content.invitationId, portal, place.secretKey)
			: null;
	const more = { words: say('mail.invitation.help'), url: `${portal}/help` };

	const finish = (
		subject: string,
		parts: Omit<MailParts, keyof typeof common>,
		secretUrl: string | null,
		unsubscribeUrl: string | null = null
	): WrittenMessage => {
		const whole = { ...common, ...parts };
		const text = mailText(whole);
		const html = mailHtml(whole);
		const blot = (t: string) => (secretUrl ? t.replaceAll(secretUrl, secretUrl.replace(/[^/]+$/, '…')) : t);
		return { subject, text, html, keptText: blot(text), keptHtml: blot(html), unsubscribeUrl };
	};
	const you = recipient.kind === 'staff' ? `${place.origin}/desk/you` : `${portal}/you`;
	const paragraphs = (body: string) => [...(greetsItself(body) ? [] : [greeting]), ...body.split(/\n{2,}/)];

	switch (message.kind) {
		case 'invitation': {
			const expires = place.preview ? invitationExpiry(place.now) : await invitationEnd(tx, content.invitationId!);
			return finish(
				content.subject ?? say('mail.invitation.subject', { firm: firm.name }),
				{
					paragraphs: paragraphs(content.body ?? say('mail.invitation.body', { client })),
					act: act(say('mail.invitation.act'), invitationUrl!),
					note: say('mail.invitation.note', { date: dateWords(recipient.locale, localDate(expires, firm.calendar), 'withYear') }),
					more
				},
				invitationUrl
			);
		}
		case 'invitation_chase': {
			const expires = await invitationEnd(tx, content.invitationId!);
			const stop = stopUrl(place.origin, message.id, place.secretKey);
			return finish(
				say('mail.invitationChase.subject', { firm: firm.name }),
				{
					paragraphs: paragraphs(say('mail.invitationChase.body', { client, firm: firm.name })),
					act: act(say('mail.invitation.act'), invitationUrl!),
					note: say('mail.invitation.note', { date: dateWords(recipient.locale, localDate(expires, firm.calendar), 'withYear') }),
					more,
					stop: { words: say('mail.chase.stop', { url: stop }), link: say('mail.chase.stopLink'), url: stop }
				},
				invitationUrl,
				stop
			);
		}
		case 'request':
			return finish(
				content.subject ?? say('mail.request.subject', { title: '' }),
				{
					paragraphs: paragraphs(content.body ?? say('mail.request.body', { client })),
					lists: [{ heading: say('mail.request.list', { count: items.length }), lines: items.map(line) }],
					preheader: items
						.map((item) => item.title)
						.join(', ')
						.slice(0, 120),
					act: act(say(invitationUrl ? 'mail.request.actInvite' : 'mail.request.act'), invitationUrl ?? portal),
					...(invitationUrl ? { more } : {})
				},
				invitationUrl
			);
		case 'chase': {
			const stop = stopUrl(place.origin, message.id, place.secretKey);
			const parts = byLateness(items, today);
			const what = parts.late.length > 0 ? 'late' : parts.soon.length > 0 ? 'soon' : 'later';
			const count = parts[what].length;
			const body = message.ownWords?.body ?? say(`mail.chase.body.${what}`, { count });
			return finish(
				message.ownWords?.subject ?? say(`mail.chase.subject.${what}`, { count }),
				{
					paragraphs: [...paragraphs(body), ...(content.news ? [say('mail.chase.news', { count: content.news })] : [])],
					lists: (['late', 'soon', 'later'] as const)
						.filter((part) => parts[part].length > 0)
						.map((part) => ({ heading: say(`mail.chase.list.${part}`, { count: parts[part].length }), lines: parts[part].map(line) })),
					preheader: parts[what]
						.map((item) => item.title)
						.join(', ')
						.slice(0, 120),
					act: act(say(invitationUrl ? 'mail.request.actInvite' : 'mail.chase.act'), invitationUrl ?? portal),
					stop: { words: say('mail.chase.stop', { url: stop }), link: say('mail.chase.stopLink'), url: stop }
				},
				invitationUrl,
				stop
			);
		}
		case 'thanks':
			return finish(content.subject!, { paragraphs: paragraphs(content.body!), act: act(say('mail.chase.act'), portal) }, null);
		case 'sent_back':
			return finish(
				say('mail.sentBack.subject', { title: content.itemTitle ?? '' }),
				{
					paragraphs: paragraphs(
						say(content.renewed ? 'mail.newVersion.body' : 'mail.sentBack.body', { title: content.itemTitle ?? '', reason: content.reason ?? '' })
					),
					act: act(say(content.renewed ? 'mail.newVersion.act' : 'mail.sentBack.act'), `${portal}/item/${content.itemId}`)
				},
				null
			);
		case 'remark':
			return finish(
				say('mail.remark.subject', { title: content.itemTitle ?? '' }),
				{
					paragraphs: paragraphs(say('mail.remark.body', { title: content.itemTitle ?? '', words: content.reason ?? '' })),
					act: act(say('mail.remark.act'), `${portal}/item/${content.itemId}`)
				},
				null
			);
		case 'signed_copy':
			return finish(
				say('mail.signedCopy.subject', { title: content.itemTitle ?? '' }),
				{ paragraphs: paragraphs(say('mail.signedCopy.body')), act: act(say('mail.signedCopy.act'), portal) },
				null
			);
		case 'password_reset': {
			const url = await makeResetLink(tx, message, portal, place);
			return finish(say('mail.reset.subject'), { paragraphs: paragraphs(say('mail.reset.body')), act: act(say('mail.reset.act'), url) }, url);
		}
		case 'staff_invitation': {
			const url = await makeResetLink(tx, message, portal, place, STAFF_INVITATION_HOURS);
			return finish(
				say('mail.staff.subject', { firm: firm.name }),
				{ paragraphs: paragraphs(say('mail.staff.body', { firm: firm.name })), act: act(say('mail.invitation.act'), url) },
				url
			);
		}
		case 'sign_in_code': {
			const code = await makeMailedCode(tx, content.stepId!);
			const spaced = `${code.slice(0, 4)} ${code.slice(4)}`;
			const written = finish(
				say('mail.code.subject', { firm: firm.name }),
				{ paragraphs: [...paragraphs(say('mail.code.body', { code: spaced }))] },
				null
			);
			const blot = (text: string) => text.replaceAll(spaced, '…');
			return { ...written, keptText: blot(written.keptText), keptHtml: blot(written.keptHtml) };
		}
		case 'new_device': {
			const device = deviceInWords(content.device ?? '');
			return finish(
				say('mail.newDevice.subject', { firm: firm.name }),
				{
					paragraphs: paragraphs(
						say('mail.newDevice.body', {
							at: timeWords(recipient.locale, content.at ?? place.now, firm.calendar.timeZone),
							device: device ? say('you.device', device) : say('you.device.unknown')
						})
					),
					act: act(say('mail.you.act'), you)
				},
				null
			);
		}
		case 'second_step_changed':
			return finish(
				say('mail.secondStep.subject', { firm: firm.name }),
				{
					paragraphs: paragraphs(say(`mail.secondStep.${content.change!}`)),
					// whoever has the old mailbox is led nowhere
					act: content.change === 'address_changed' ? undefined : act(say('mail.you.act'), you)
				},
				null
			);
		case 'password_changed':
			return finish(
				say('mail.changed.subject'),
				{
					paragraphs: paragraphs(say('mail.changed.body')),
					act: act(say('mail.changed.act'), recipient.kind === 'staff' ? `${place.origin}/desk/sign-in` : `${portal}/sign-in`)
				},
				null
			);
	}
}

/** Whether nothing a reminder is about is late yet. */
export function isDueSoon(items: readonly { dueOn: string | null }[], today: string): boolean {
	return byLateness(items, today).late.length === 0;
}

/** The link of an invitation, the same in every message that holds it; only its hash is kept. */
export async function invitationLink(tx: Tx, invitationId: string, portal: string, secretKey: string): Promise<string> {
	const kept = await tx.first<{ token_hash: Buffer }>('select token_hash from invitation where id = $1', [invitationId]);
	const links = keysOf(secretKey).map((key) => derivedToken('invitation', invitationId, key));
	// while the key is changed, a link that is out already goes on leading in
	const { token, hash } = links.find((link) => kept?.token_hash.equals(link.hash)) ?? links[0];
	await tx.rows('update invitation set token_hash = $2 where id = $1 and token_hash <> $2', [invitationId, hash]);
	return `${portal}/join/${token}`;
}

async function invitationEnd(tx: Tx, invitationId: string): Promise<string> {
	const row = await tx.first<{ expires_at: string }>('select expires_at from invitation where id = $1', [invitationId]);
	return row!.expires_at;
}

async function makeResetLink(
	tx: Tx,
	message: MessageToWrite,
	portal: string,
	place: { origin: string; now: string },
	hours = RESET_HOURS
): Promise<string> {
	const { token, hash } = newToken();
	const { id, kind } = message.recipient;
	await tx.rows(
		`insert into password_reset (id, firm_id, contact_id, staff_id, token_hash, created_at, expires_at) values ($1, $2, $3, $4, $5, $6, $7)`,
		[randomUUID(), tx.firmId, kind === 'contact' ? id : null, kind === 'staff' ? id : null, hash, place.now, addToInstant(place.now, { hours })]
	);
	return kind === 'staff' ? `${place.origin}/desk/reset/${token}` : `${portal}/reset/${token}`;
}
