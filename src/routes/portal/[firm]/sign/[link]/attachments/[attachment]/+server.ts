import { error } from '@sveltejs/kit';
import { isViewable } from '$lib/core/papers/file-name';
import { openAttachment } from '$lib/server/attachments/attachments';
import { firmOfPortal } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { letterRequest } from '$lib/web/letter-request';
import { sendFile } from '$lib/web/send-file';
import { say } from '$lib/words/words';

/** A file beside the letter, for whoever was let in to it. */
export const GET = async (event) => {
	const portal = await firmOfPortal(event);
	const { context, locale } = portal;
	const { visitor } = await inPage(() => letterRequest(event, portal), locale);
	if (!visitor) error(401, say(locale, 'wrong.letterLink.out'));
	const id = idParam(event.params.attachment);
	const file = await inPage(() => visitor.inFirm((tx) => openAttachment(tx, visitor.actor, id, visitor.itemId)), locale);
	return sendFile(
		context.papers,
		file,
		isViewable(file.contentType) && !event.url.searchParams.has('download') ? 'inline' : 'attachment',
		event.request
	);
};
