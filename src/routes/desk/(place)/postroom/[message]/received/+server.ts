import { error } from '@sveltejs/kit';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { readMessage } from '$lib/server/messages/read-postroom';
import { receivedMail } from '$lib/server/platform/mail/standin';

/**
 * The message as HTML, in a sandbox where nothing runs. With the mail stand-in it is what was received,
 * links and all; with a real mail server it is what we kept, its secret links blotted out.
 */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const message = await inPage(() => desk.inFirm((tx) => readMessage(tx, desk.actor, idParam(event.params.message))));
	const folder = desk.context.settings.MAIL_STANDIN_FOLDER;
	const received = folder ? await receivedMail(folder, message.messageId) : null;
	const html = (received?.html || null) ?? message.bodyHtml;
	if (!html) error(404, 'This message has not been written yet.');
	return new Response(html.replace('<head>', '<head><base target="_blank">'), {
		headers: {
			'content-type': 'text/html; charset=utf-8',
			'content-security-policy':
				"default-src 'none'; style-src 'unsafe-inline'; img-src data:; sandbox allow-popups allow-popups-to-escape-sandbox; frame-ancestors 'self'"
		}
	});
};
