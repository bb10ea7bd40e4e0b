import { isViewable } from '$lib/core/papers/file-name';
import { openPublicPicture } from '$lib/server/public-pages/answer-page';
import { firmOfPortal } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { sendFile } from '$lib/web/send-file';

/** A picture in the explanations of a page that anybody may open. */
export const GET = async (event) => {
	const { context, firm, locale } = await firmOfPortal(event);
	const { page, version, picture } = event.params;
	const file = await inPage(
		() =>
			context.db.inFirm(firm.id, (tx) =>
				openPublicPicture(tx, event.locals.actor, { name: page, version: Number(version), pictureId: idParam(picture) })
			),
		locale
	);
	return sendFile(context.papers, file, isViewable(file.contentType) ? 'inline' : 'attachment', event.request);
};
