import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { longText } from '$lib/core/people/plain-fields';
import { requireStaff } from '$lib/server/actor';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { readMessage } from '$lib/server/messages/read-postroom';
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
		standin: (isText ? texts : mails) !== undefined
	};
};

const answerSchema = z.object({ answer: longText('what the phone answers', 300) });

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
	}
};
