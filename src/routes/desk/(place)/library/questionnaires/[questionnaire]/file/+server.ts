import { questionnaireFile } from '$lib/core/questionnaires/questionnaire-file';
import { contentDisposition } from '$lib/core/papers/file-name';
import { loadFacts } from '$lib/server/facts/firm-facts';
import { readQuestionnaire } from '$lib/server/library/questionnaires';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

/** A questionnaire as a file that another firm can add. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const { name, text } = await inPage(() =>
		desk.inFirm(async (tx) => {
			const questionnaire = await readQuestionnaire(tx, desk.actor, idParam(event.params.questionnaire));
			return { name: questionnaire.name, text: questionnaireFile(questionnaire, await loadFacts(tx)) };
		})
	);
	return new Response(text, {
		headers: { 'content-type': 'application/json', 'content-disposition': contentDisposition('attachment', `${name}.json`) }
	});
};
