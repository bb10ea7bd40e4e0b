import { deskRequest } from '$lib/server/desk-request';
import { idParam, inPage } from '$lib/server/form-errors';
import { readMessage } from '$lib/server/messages/read-postroom';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const message = await inPage(() => desk.inFirm((tx) => readMessage(tx, desk.actor, idParam(event.params.message))));
	const { bodyHtml, ...rest } = message;
	return { message: { ...rest, hasBody: bodyHtml !== null }, standin: desk.house.settings.MAIL_STANDIN_FOLDER !== undefined };
};
