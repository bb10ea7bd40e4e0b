import { ownFilledSheet } from '$lib/server/items/print-questionnaire';
import { openSignedAnswers } from '$lib/server/signing/sign-answers';
import { sendFile } from '$lib/web/send-file';
import { portalRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { pdfAnswer } from '$lib/web/pdf-answer';
import { answerReader } from '$lib/words/answers';

/** What somebody answered, as a sheet of their own to be kept; with `?signed` the sealed file of what they signed. */
export const GET = async (event) => {
	const portal = await portalRequest(event);
	const id = idParam(event.params.item);
	return inPage(async () => {
		if (event.url.searchParams.has('signed')) {
			const file = await portal.inFirm((tx) => openSignedAnswers(tx, portal.actor, id));
			return sendFile(portal.context.papers, { ...file, contentType: 'application/pdf' }, 'attachment', event.request);
		}
		const input = { reader: answerReader(portal.locale), locale: portal.locale };
		const sheet = await portal.read((tx) => ownFilledSheet(tx, portal.actor, id, input));
		return pdfAnswer((await portal.context.pdf.answers(sheet)).pdf, sheet.title);
	}, portal.locale);
};
