import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { longText } from '$lib/core/people/plain-fields';
import { requireStaff } from '$lib/server/actor';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { readMessage } from '$lib/server/messages/read-postroom';
import { answerAsMailbox, receivedMail, reportAsUnwanted } from '$lib/server/platform/mail/standin';
import { answerAsPhone, receivedTextMessage } from '$lib/server/platform/text-messages/standin';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const message = await inPage(() => desk.read((tx) => readMessage(tx, desk.actor, idParam(event.params.message))));
	const { bodyHtml, bodyText, ...rest } = message;
	const { MAIL_STANDIN_FOLDER: mails, TEXT_STANDIN_FOLDER: texts } = desk.context.settings;
	const isText = message.channel === 'text';
	return {
		message: { ...rest, hasBody: bodyHtml !== null },
		// what the stand-in received, or what we kept
		text: isText ? (((texts && (await receivedTextMessage(texts, message.id))?.text) || null) ?? bodyText) : null,
		standin: (isText ? texts : mails) !== undefined,
		/** the stand-in's mailbox can answer it */
		reportable: !isText && mails !== undefined && message.contactId !== null && (await receivedMail(mails, message.messageId)) !== null,
		answerable: !isText && mails !== undefined && message.contactId !== null && Boolean((await receivedMail(mails, message.messageId))?.replyTo)
	};
};

const answerSchema = z.object({ answer: longText('what the phone answers', 300) });
const mailAnswerSchema = z.object({ answer: longText('what the mailbox answers', 4000) });

export const actions = {
	/** Only where the text gateway is the stand-in: the phone that got the message answers. */
	answer: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			requireStaff(desk.actor, 'judge_item');
			const message = await desk.inFirm((tx) => readMessage(tx, desk.actor, idParam(event.params.message)));
			const { TEXT_STANDIN_FOLDER, TEXT_GATEWAY_URL: url, TEXT_GATEWAY_KEY: key } = desk.context.settings;
			if (!TEXT_STANDIN_FOLDER || !url || !key || message.channel !== 'text')
				throw new DomainError('not_found', 'There is no phone here that answers.');
			await answerAsPhone({ url, key }, message.toAddress, answerSchema.parse(Object.fromEntries(form)).answer);
			return { done: true };
		});
	},
	/** Only where the mail server is the stand-in: the mail service of whoever got the mail reports it as unwanted. */
	report: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			requireStaff(desk.actor, 'judge_item');
			const message = await desk.inFirm((tx) => readMessage(tx, desk.actor, idParam(event.params.message)));
			const { MAIL_STANDIN_FOLDER: folder, BOUNCE_SMTP_PORT: port, BOUNCE_DOMAIN: domain } = desk.context.settings;
			const received = folder ? await receivedMail(folder, message.messageId) : null;
			if (!received || !port) throw new DomainError('not_found', 'There is no mailbox here that reports.');
			await reportAsUnwanted(received, { port, address: `complaints@${domain}` });
			return { done: true };
		});
	},
	/** Only where the mail server is the stand-in: the mailbox that got the mail answers. */
	answerMail: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			requireStaff(desk.actor, 'judge_item');
			const message = await desk.inFirm((tx) => readMessage(tx, desk.actor, idParam(event.params.message)));
			const { MAIL_STANDIN_FOLDER: folder, PAPERS_SMTP_PORT: port } = desk.context.settings;
			const received = folder ? await receivedMail(folder, message.messageId) : null;
			if (!received || !port) throw new DomainError('not_found', 'There is no mailbox here that answers.');
			const { answer } = mailAnswerSchema.parse(Object.fromEntries(form));
			const refused = await answerAsMailbox(received, { port, from: message.toAddress }, answer);
			if (refused) throw new DomainError('invalid', `It was not taken: ${refused}`);
			return { done: true };
		});
	}
};
