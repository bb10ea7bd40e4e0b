import { ownFilledSheet } from '$lib/server/requests/print-questionnaire';
import { portalRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { pdfAnswer } from '$lib/web/pdf-answer';
import { answerReader } from '$lib/words/answers';

/** What somebody answered, as a sheet of their own to be kept. */
export const GET = async (event) => {
	const portal = await portalRequest(event);
	const id = idParam(event.params.item);
	return inPage(async () => {
		const input = { reader: answerReader(portal.locale), locale: portal.locale };
		const sheet = await portal.read((tx) => ownFilledSheet(tx, portal.actor, id, input));
		return pdfAnswer(await portal.context.pdf.answers(sheet), sheet.title);
	}, portal.locale);
};
