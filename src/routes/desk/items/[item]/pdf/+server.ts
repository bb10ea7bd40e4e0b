import { filledSheet } from '$lib/server/items/print-questionnaire';
import { openSignedAnswers } from '$lib/server/signing/sign-answers';
import { sendFile } from '$lib/web/send-file';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { pdfAnswer } from '$lib/web/pdf-answer';
import { deskAnswerReader } from '$lib/words/desk-answers';

/** What a client answered, as a sheet to be kept; with `?signed` the sealed file of what they signed. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const explanations = event.url.searchParams.get('explanations') !== 'no';
	const id = idParam(event.params.item);
	return inPage(async () => {
		if (event.url.searchParams.has('signed')) {
			const file = await desk.inFirm((tx) => openSignedAnswers(tx, desk.actor, id));
			return sendFile(desk.context.papers, { ...file, contentType: 'application/pdf' }, 'inline', event.request);
		}
		const reader = deskAnswerReader();
		const sheet = await desk.inFirm((tx) => filledSheet(tx, desk.actor, id, { explanations, reader }));
		return pdfAnswer((await desk.context.pdf.answers(sheet)).pdf, sheet.title);
	});
};
