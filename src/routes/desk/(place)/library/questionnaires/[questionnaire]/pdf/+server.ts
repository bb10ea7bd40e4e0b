import { blankSheet } from '$lib/server/items/print-questionnaire';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { pdfAnswer } from '$lib/web/pdf-answer';
import { answerReader } from '$lib/words/answers';

/** A questionnaire as a sheet to be filled in by hand. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const explanations = event.url.searchParams.get('explanations') !== 'no';
	const id = idParam(event.params.questionnaire);
	return inPage(async () => {
		const sheet = await desk.inFirm((tx) => blankSheet(tx, desk.actor, id, { explanations, reader: answerReader('en') }));
		return pdfAnswer((await desk.context.pdf.answers(sheet)).pdf, sheet.title);
	});
};
