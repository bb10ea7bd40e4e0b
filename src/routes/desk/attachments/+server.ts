import { requireStaff } from '$lib/server/actor';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';
import { takeInAttachment } from '$lib/server/attachments/attachments';
import { takeInFile } from '$lib/web/take-in-file';

/** Takes one file of the firm, to stand beside a line; see `takeInFile`. */
export const POST = async (event) => {
	const desk = await deskRequest(event);
	await inPage(async () => requireStaff(desk.actor, 'send_request'));
	return takeInFile(event, 'en', 'Choose a file first.', (file) => takeInAttachment(desk.context, desk.firmId, desk.actor, file));
};
