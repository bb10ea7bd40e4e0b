import { z } from 'zod';
import { contentDisposition } from '$lib/core/papers/file-name';
import { answersAsCsv, answersAsJson } from '$lib/server/requests/answers-of-many';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { deskAnswerReader } from '$lib/words/desk-answers';

/** What clients answered, as a file. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const as = z.enum(['csv', 'json']).catch('csv').parse(event.url.searchParams.get('as'));
	const id = idParam(event.params.questionnaire);
	const { name, text } = await inPage(() =>
		desk.inFirm((tx) => (as === 'csv' ? answersAsCsv(tx, desk.actor, id, deskAnswerReader()) : answersAsJson(tx, desk.actor, id)))
	);
	return new Response(text, {
		headers: {
			'content-type': as === 'csv' ? 'text/csv; charset=utf-8' : 'application/json',
			'content-disposition': contentDisposition('attachment', `${name}, answers.${as}`)
		}
	});
};
